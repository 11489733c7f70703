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
  type RefObject,
} from 'react';
import { FONTS, type FontId } from '../core/app/theme.ts';
import type { Answer } from '../core/routines/asks.ts';
import type { Effect } from '../core/session/effects.ts';
import type { PhoneApi } from '../core/phone/api.ts';
import type { Asked, Effects, Frame, StandIn } from './api.ts';
import { HostsContext, type Room } from './context.ts';
import { MessageLine, useMessages, type Message } from './Messages.tsx';
import { useNavigation, type Leaving, type Place } from './navigation.ts';
import type { ScreenStore } from './screen-store.ts';
import { ScreenView } from './ScreenView.tsx';
import { useStart } from './start.ts';
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
  frame: Frame;
  /** Where effects of taps and routines come from. */
  effects: Effects;
  dark?: boolean;
  /** The address bar follows the screens: in a released app, not in the studio. */
  inAddress?: boolean;
  /** A screen to show instead of the one the person is on, as when the studio selects one. */
  show?: Place | null;
  /** Called when another place is shown, with what is drawn there. */
  onWhere?: (place: Place, store: ScreenStore) => void;
  /** Called when anything drawn has changed. */
  onDrawn?: (store: ScreenStore) => void;
  onTap?: (elementId: string) => void;
  /** In place of a camera and the like, where there is none. */
  standIn?: StandIn;
  notice?: { words: string; key: number } | null;
}

/** Draws an app and lets it be used. Knows nothing of where records live. */
export function Player({
  api,
  frame,
  effects,
  dark = false,
  inAddress = false,
  show = null,
  onWhere,
  onDrawn,
  onTap,
  standIn,
  notice,
}: PlayerProps) {
  const first: Place = { screen: frame.tabs[0]?.screen ?? frame.screens[0]?.id ?? '', record: null };
  const start = useStart(frame, inAddress);
  const [asking, setAsking] = useState<{ go(): void } | null>(null);
  const dirty = useRef(new Set<string>());
  const leaving = useMemo(
    (): Leaving => ({ isDirty: () => dirty.current.size > 0, ask: (go) => setAsking({ go }) }),
    [],
  );
  const nav = useNavigation(first, inAddress, start, leaving);
  const { stack } = nav.where;
  const values = useFrameValues(api, frame);
  const [messages, put, drop] = useMessages();
  const [drawer, setDrawer] = useState(false);
  const [asked, setAsked] = useState<Asked[]>([]);
  const root = useRef<HTMLDivElement>(null);
  const say = useCallback((words: string, tone: Message['tone'] = 'bad') => put({ words, tone }), [put]);
  const setDirty = useCallback((form: string, is: boolean) => {
    if (is) dirty.current.add(form);
    else dirty.current.delete(form);
  }, []);
  /** Does something that leaves a screen, after asking where words would be thrown away. */
  const leave = useCallback((go: () => void) => (leaving.isDirty() ? leaving.ask(go) : go()), [leaving]);

  useEffect(() => {
    if (show)
      nav.set(
        show.record || !frame.tabs.some((t) => t.screen === show.screen)
          ? [...(show.screen === first.screen ? [] : [first]), show]
          : [show],
      );
  }, [show]);

  useEffect(() => {
    if (notice) put({ words: notice.words, tone: 'plain' });
  }, [notice, put]);

  /** The last tap was in the list beside what is seen: what it opens takes the place of that. */
  const fromList = useRef(false);
  const at = useRef(stack.at(-1)!);
  useLayoutEffect(() => {
    at.current = stack.at(-1)!;
  });
  const inStart = start !== null && stack.length === 1 && stack[0]!.screen === start;
  /** One screen back; from a start screen, on to the first. */
  const goBack = useCallback(
    () => (inStart ? nav.tab(first.screen) : nav.back()),
    [inStart, first.screen, nav.tab, nav.back],
  );

  useEffect(
    () =>
      effects.listen((e: Effect) => {
        if (e.do === 'open') {
          const { do: _open, as, height, ...place } = e;
          const sheet = as === 'sheet' ? { sheet: height ?? 'half' } : {};
          if (inStart && as !== 'sheet') nav.set(place.screen === first.screen ? [place] : [first, place]);
          else if (as === 'instead' || (fromList.current && as !== 'sheet')) leave(() => nav.instead(place));
          else nav.push({ ...place, ...sheet });
        } else if (e.do === 'message') put(e);
        else if (e.do === 'element') void import('./told.ts').then((m) => m.tellElement(root.current!, e));
        else if (e.do !== 'back') setAsked((now) => [...now, e]);
        else if (e.to === 'start') leave(() => nav.tab(first.screen));
        else if (e.to !== 'under' || at.current.sheet) leave(goBack);
      }),
    [effects, put, nav.push, nav.instead, nav.set, nav.tab, goBack, leave, inStart, first.screen],
  );

  const answer = useCallback(
    (id: string, given: Answer) => {
      setAsked((now) => now.filter((a) => a.id !== id));
      void api.answered(id, given);
    },
    [api],
  );
  const unanswered = useRef(asked);
  useLayoutEffect(() => {
    unanswered.current = asked;
  });
  // A routine whose question goes away with the phone would wait for ever.
  useEffect(
    () => () => {
      const none = { ok: false, reason: 'The phone was put away before it was answered.' } as const;
      for (const a of unanswered.current) void api.answered(a.id, none);
    },
    [api],
  );
  const saved = useCallback(
    (created: boolean) => {
      dirty.current.clear();
      say(created ? 'Saved' : 'Changes saved', 'plain');
      goBack();
    },
    [say, goBack],
  );

  const room = useRoom(root);
  const open = stack.flatMap((p) => p.opening ?? []);
  const sheets = stack.filter((p) => p.sheet);
  const seen = stack.findLast((p) => !p.sheet)!;
  const seenAt = stack.indexOf(seen);
  const before = stack.slice(0, seenAt).findLast((p) => !p.sheet);
  const back = (): void => leave(nav.back);
  const tabbed = stack[0]!.screen;
  const nameOf = (p: Place | undefined): string => frame.screens.find((s) => s.id === p?.screen)?.name ?? '';
  // On a wide screen a list and the record that was opened from it stand side by side.
  const beside = room !== 'narrow' && before && seen.record ? before : null;
  const pressed = useCallback(
    (inList: boolean, id: string) => {
      fromList.current = inList;
      onTap?.(id);
    },
    [onTap],
  );
  const inList = useCallback((id: string) => pressed(true, id), [pressed]);
  const inSeen = useCallback((id: string) => pressed(false, id), [pressed]);
  const personal = useMemo(
    () => ({ screens: new Set(frame.screens.flatMap((s) => (s.isPersonal ? [s.id] : []))), people: frame.people }),
    [frame],
  );
  const common = { api, personal, open, say, saved, setDirty, room };
  const there = (p: Place): boolean => frame.screens.some((s) => s.id === p.screen);
  const hasDrawer = (frame.drawer?.ways.length ?? 0) > 0;
  const toRoot = (screen: string): void =>
    leave(() => {
      setDrawer(false);
      nav.tab(screen);
    });
  const top = stack.at(-1)!;
  const isStart = start !== null && seenAt === 0 && seen.screen === start;
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
        data-screen={top.screen}
        data-room={room}
        data-beside={beside ? true : undefined}
        onTouchStart={({ nativeEvent, currentTarget }) =>
          void import('./swipe.ts').then((m) => m.begin(nativeEvent, currentTarget, swiped))
        }
      >
        <div className="k-panes">
          {beside && (
            <ScreenView {...common} key={beside.opening} place={beside} there={there(beside)} onTap={inList} />
          )}
          <ScreenView
            {...common}
            key={seen.opening}
            onTap={inSeen}
            place={seen}
            there={there(seen)}
            back={before && !beside ? { to: nameOf(before), go: back } : undefined}
            menu={hasDrawer && !before && !isStart ? () => setDrawer(true) : undefined}
            {...(sheets.length === 0 && { onWhere, onDrawn })}
          />
        </div>
        <Suspense fallback={null}>
          {sheets.map((p) => (
            <Sheet key={p.opening} height={p.sheet!} label={nameOf(p)} onClose={back}>
              <ScreenView
                {...common}
                onTap={inSeen}
                place={p}
                there={there(p)}
                {...(p === top && { onWhere, onDrawn })}
              />
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
          {asking && (
            <LeaveAsk
              onStay={() => setAsking(null)}
              onLeave={() => {
                const thrown = [...dirty.current];
                void import('./drafts.ts').then((m) => thrown.forEach((draft) => m.keepDraft(draft, {})));
                dirty.current.clear();
                setAsking(null);
                asking.go();
              }}
            />
          )}
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

/** So wide, in pixels, an app is drawn as on a tablet, and as on a laptop. */
const WIDE = 700;
const WIDEST = 1040;

/** How much room there is to draw an app in. */
function useRoom(root: RefObject<HTMLDivElement | null>): Room {
  const [room, setRoom] = useState<Room>('narrow');
  useLayoutEffect(() => {
    const box = root.current;
    if (!box) return undefined;
    const measure = (): void =>
      setRoom(box.offsetWidth >= WIDEST ? 'widest' : box.offsetWidth >= WIDE ? 'wide' : 'narrow');
    measure();
    const watch = new ResizeObserver(measure);
    watch.observe(box);
    return () => watch.disconnect();
  }, [root]);
  return room;
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
