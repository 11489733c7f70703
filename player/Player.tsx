import {
  lazy,
  Suspense,
  useCallback,
  useEffect,
  useLayoutEffect,
  useMemo,
  useRef,
  useState,
  type CSSProperties,
} from 'react';
import { FONTS, type FontId } from '../core/app/theme.ts';
import type { Answer } from '../core/routines/asks.ts';
import type { NewPlace, Place } from '../core/phone/places.ts';
import type { WalkApi } from '../core/phone/walk.ts';
import type { PhoneApi } from '../core/phone/api.ts';
import type { Frame, StandIn } from './api.ts';
import { HostsContext } from './context.ts';
import { MessageLine, useMessages, type Message } from './Messages.tsx';
import type { ScreenStore } from './screen-store.ts';
import { ScreenView } from './ScreenView.tsx';
import { useRoom, useWalk } from './use-walk.ts';
import { HEAD_ID } from '../core/app/frames.ts';
import { seenWays, Tabs, useFrameValues } from './Ways.tsx';
import './player.css';

// Sheets, the drawer and the question before leaving come when there are any.
const over = (): Promise<typeof import('./Over.tsx')> => import('./Over.tsx');
const Sheet = lazy(async () => ({ default: (await over()).Sheet }));
const Drawer = lazy(async () => ({ default: (await over()).Drawer }));
const LeaveAsk = lazy(async () => ({ default: (await over()).LeaveAsk }));
const AskedOf = lazy(() => import('./Asked.tsx'));

export interface PlayerProps {
  api: PhoneApi;
  /** Leads whoever uses it through the app. */
  walk: WalkApi;
  frame: Frame;
  dark?: boolean;
  /** The address bar follows the screens: in a released app, not in the studio. */
  inAddress?: boolean;
  /** A screen to show instead of the one the person is on, as when the studio selects one. */
  show?: NewPlace | null;
  /** Called when another place is shown, with what is drawn there. */
  onWhere?: (place: Place, store: ScreenStore) => void;
  /** Called when anything drawn has changed. */
  onDrawn?: (store: ScreenStore) => void;
  onTap?: (elementId: string) => void;
  /** In place of a camera and the like, where there is none. */
  standIn?: StandIn;
  notice?: { words: string; key: number } | null;
}

/** Draws an app and lets it be used. Knows nothing of where records live, nor of where somebody is. */
export function Player({
  api,
  walk,
  frame,
  dark = false,
  inAddress = false,
  show = null,
  onWhere,
  onDrawn,
  onTap,
  standIn,
  notice,
}: PlayerProps) {
  const first = frame.tabs[0]?.screen ?? frame.screens[0]?.id ?? '';
  const values = useFrameValues(api, frame);
  const [messages, put, drop] = useMessages();
  const [drawer, setDrawer] = useState(false);
  const root = useRef<HTMLDivElement>(null);
  const say = useCallback((words: string, tone: Message['tone'] = 'bad') => put({ words, tone }), [put]);
  const room = useRoom(root);
  const hears = useRef({ onWhere, onDrawn });
  useLayoutEffect(() => {
    hears.current = { onWhere, onDrawn };
  });
  const walked = useWalk(walk, {
    inAddress,
    room,
    drawn: (opening, where, isFirst) => {
      const top = where?.stack.at(-1);
      if (top?.opening !== opening) return;
      const store = screens.of(opening);
      if (isFirst) hears.current.onWhere?.(top, store);
      hears.current.onDrawn?.(store);
    },
    does: async (e) => {
      if (e.do === 'message') put(e);
      else (await import('./element-effect.ts')).tellElement(root.current!, e);
    },
  });
  const { where, screens, drafts, go, asked } = walked;

  useEffect(() => {
    if (!show) return;
    const alone = !show.record && frame.tabs.some((t) => t.screen === show.screen);
    const below = alone || show.screen === first ? [] : [{ screen: first, record: null }];
    go({ to: 'set', stack: [...below, show] });
  }, [show]);

  useEffect(() => {
    if (notice) put({ words: notice.words, tone: 'plain' });
  }, [notice, put]);

  const answer = useCallback((id: string, given: Answer) => void api.answered(id, given), [api]);
  const saved = useCallback(
    (created: boolean, words?: string) => {
      say(words ?? (created ? 'Saved' : 'Changes saved'), 'plain');
      void walk.saved();
    },
    [say, walk],
  );

  const personal = useMemo(
    () => ({
      screens: new Set(frame.screens.flatMap((s) => (s.isPersonal ? [s.id] : []))),
      people: frame.people,
      signsIn: frame.signsIn,
    }),
    [frame],
  );
  const nameOf = (p: Place | undefined): string => frame.screens.find((s) => s.id === p?.screen)?.name ?? '';
  const stack = where?.stack ?? [];
  const seen = where ? stack[where.seen]! : null;
  const sheets = where ? stack.slice(where.seen + 1) : [];
  const before = where ? stack.slice(0, where.seen).findLast((p) => !p.sheet) : undefined;
  const beside = where?.beside === null || where?.beside === undefined ? null : stack[where.beside]!;
  const back = useCallback((): void => go({ to: 'back' }), [go]);
  const tabbed = stack[0]?.screen ?? first;
  const common = { api, drafts, personal, say, saved, room, onTap };
  const hasDrawer = (frame.drawer?.ways.length ?? 0) > 0;
  const toRoot = (screen: string): void => {
    setDrawer(false);
    go({ to: 'tab', screen });
  };
  const isStart = where?.isStart ?? false;
  const swiped = (): void => {
    if (sheets.length === 0 && before) back();
    else if (hasDrawer && !before && sheets.length === 0) setDrawer(true);
  };

  return (
    <HostsContext value={frame.hosts}>
      <div
        className="k-app"
        ref={root}
        style={themeStyle(frame, dark)}
        data-screen={stack.at(-1)?.screen}
        data-room={room}
        data-beside={beside ? true : undefined}
        onTouchStart={({ nativeEvent, currentTarget }) =>
          void import('./swipe.ts').then((m) => m.begin(nativeEvent, currentTarget, swiped))
        }
      >
        <div className="k-panes">
          {beside && <ScreenView {...common} key={beside.opening} place={beside} store={screens.of(beside.opening)} />}
          {seen && (
            <ScreenView
              {...common}
              key={seen.opening}
              place={seen}
              store={screens.of(seen.opening)}
              back={before && !beside ? { to: nameOf(before), go: back } : undefined}
              menu={hasDrawer && !before && !isStart ? () => setDrawer(true) : undefined}
            />
          )}
        </div>
        <Suspense fallback={null}>
          {sheets.map((p) => (
            <Sheet key={p.opening} height={p.sheet!} label={nameOf(p)} onClose={back}>
              <ScreenView {...common} place={p} store={screens.of(p.opening)} />
            </Sheet>
          ))}
          {drawer && (
            <Drawer
              logo={frame.logo}
              head={frame.drawer?.head ? values(HEAD_ID) : null}
              ways={seenWays(frame.drawer?.ways ?? [], 'dra', values)}
              current={tabbed}
              onOpen={toRoot}
              onClose={() => setDrawer(false)}
            />
          )}
          {/* One question at a time, and a notice over it. */}
          {[true, false].map((isNotice) => {
            const a = asked.find((x) => (x.do === 'notice') === isNotice);
            return a && <AskedOf key={a.id} asked={a} api={api} standIn={standIn} answer={answer} />;
          })}
          {walked.isLeaving && <LeaveAsk onStay={walked.stay} onLeave={walked.leaveAnyway} />}
        </Suspense>
        <div className="k-messages">
          {messages.map((m) => (
            <MessageLine key={m.key} m={m} drop={drop} press={(id) => void api.answered(id, { ok: true })} />
          ))}
        </div>
        {!isStart && <Tabs frame={frame} current={tabbed} values={values} onOpen={toRoot} />}
      </div>
    </HostsContext>
  );
}

/** The look of an app as CSS custom properties. */
export function themeStyle({ look }: Pick<Frame, 'look'>, dark: boolean): CSSProperties {
  const p = dark ? look.dark : look.light;
  const font = (id: FontId): string => `'${FONTS[id]}'`;
  return {
    '--k-ground': p.ground,
    '--k-card': p.card,
    '--k-tint': p.tint,
    '--k-edge': p.edge,
    '--k-ink': p.ink,
    '--k-soft': p.soft,
    '--k-accent': p.accent,
    '--k-on-accent': p.onAccent,
    '--k-good': p.good,
    '--k-look': p.look,
    '--k-bad': p.bad,
    '--k-corner': `${look.corners}px`,
    '--k-density': look.density,
    '--k-title': TITLE_SIZES[look.titles],
    '--k-line': look.surfaces === 'edged' ? '1px' : '0px',
    '--k-shadow': look.surfaces === 'raised' ? (dark ? RAISED_DARK : RAISED) : 'none',
    '--font-text': font(look.text),
    '--k-head': font(look.head),
    colorScheme: dark ? 'dark' : 'light',
  } as CSSProperties;
}

const TITLE_SIZES = { quiet: 0.85, usual: 1, grand: 1.25 } as const;
const RAISED = '0 1px 2px rgb(0 0 0 / 8%), 0 4px 14px rgb(0 0 0 / 9%)';
const RAISED_DARK = '0 1px 2px rgb(0 0 0 / 40%), 0 4px 14px rgb(0 0 0 / 35%)';
