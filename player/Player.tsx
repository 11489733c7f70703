import {
  useCallback,
  useEffect,
  useId,
  useMemo,
  useRef,
  useState,
  useSyncExternalStore,
  type CSSProperties,
} from 'react';
import { FONTS, type FontId } from '../core/app/theme.ts';
import { dressed } from '../core/app/themes.ts';
import type { Effect } from '../core/session/effects.ts';
import type { Effects, Frame, PlayerApi } from './api.ts';
import { ElementView } from './ElementView.tsx';
import { iconOf } from './icons.tsx';
import { PlayerContext, type PlayerContextValue } from './context.ts';
import { useNavigation, type Place } from './navigation.ts';
import { ScreenStore } from './screen-store.ts';
import { loadViews } from './views.ts';
import './player.css';

export interface PlayerProps {
  api: PlayerApi;
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
  notice?: { words: string; key: number } | null;
}

interface Message {
  words: string;
  tone: 'plain' | 'bad';
  key: number;
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
  notice,
}: PlayerProps) {
  const first: Place = { screen: frame.tabs[0]?.screen ?? frame.screens[0]?.id ?? '', record: null };
  const nav = useNavigation(first, inAddress);
  const { stack } = nav.where;
  const top = stack.at(-1)!;
  const view = useId();
  const store = useMemo(() => new ScreenStore(), []);
  const shown = useSyncExternalStore(store.hearFrame, store.shown);
  const [message, setMessage] = useState<Message | null>(null);
  const scroller = useRef<HTMLDivElement>(null);
  const placeKey = `${top.screen}/${top.record ?? ''}/${top.opening ?? ''}`;
  const there = frame.screens.some((s) => s.id === top.screen);
  const say = useCallback(
    (words: string, tone: Message['tone'] = 'bad') => setMessage({ words, tone, key: Date.now() }),
    [],
  );

  useEffect(() => {
    if (show)
      nav.set(
        show.record || !frame.tabs.some((t) => t.screen === show.screen)
          ? [...(show.screen === first.screen ? [] : [first]), show]
          : [show],
      );
  }, [show]);

  useEffect(() => {
    scroller.current?.scrollTo(0, 0);
    let current = true;
    let told = false;
    const take = async (patch: Parameters<ScreenStore['take']>[1]): Promise<void> => {
      await loadViews(patch.set.map((n) => n.kind));
      if (!current) return;
      store.take(placeKey, patch);
      if (!told) onWhere?.(top, store);
      told = true;
      onDrawn?.(store);
    };
    const open = stack.flatMap((p) => p.opening ?? []);
    api
      .show(view, top.screen, top.record, take, { key: top.opening ?? '', open })
      .catch((e: Error) => current && say(e.message));
    return () => {
      current = false;
    };
  }, [api, view, store, placeKey, there]);

  useEffect(() => () => void api.leave(view), [api, view]);

  useEffect(() => {
    if (!message) return;
    const t = setTimeout(() => setMessage(null), message.tone === 'bad' ? 7000 : 4000);
    return () => clearTimeout(t);
  }, [message]);

  useEffect(() => {
    if (notice) setMessage({ ...notice, tone: 'plain' });
  }, [notice]);

  useEffect(
    () =>
      effects.listen((e: Effect) => {
        if (e.do === 'open') nav.push({ screen: e.screen, record: e.record });
        else if (e.do === 'back') nav.back();
        else say(e.words, e.tone);
      }),
    [effects, nav.push, nav.back, say],
  );

  const context = useMemo(
    (): PlayerContextValue => ({
      api,
      store,
      scroller,
      tap: (key, element) => {
        onTap?.(element);
        void api.tapped(view, key).catch((e: Error) => say(e.message));
      },
      look: (key, change) => void api.look(view, key, change),
      saved: (created) => {
        say(created ? 'Saved' : 'Changes saved', 'plain');
        nav.back();
      },
      say,
    }),
    [api, store, view, onTap, say, nav.back],
  );

  const before = stack.at(-2);
  const beforeName = before && frame.screens.find((s) => s.id === before.screen)?.name;
  const tabbed = stack[0]!.screen;

  return (
    <PlayerContext.Provider value={context}>
      <div className="k-app" style={themeStyle(frame, dark)} data-screen={top.screen}>
        <div className="k-scroll" ref={scroller}>
          {before && (
            <button className="k-back" onClick={nav.back} aria-label={`Back to ${beforeName}`}>
              <BackIcon /> <span>{beforeName}</span>
            </button>
          )}
          {shown?.showing !== placeKey ? null : shown.missing ? (
            <p className="k-missing">{shown.missing}</p>
          ) : (
            <main key={placeKey}>
              <ElementView k={shown.root} />
            </main>
          )}
        </div>
        {message && (
          <div className="k-message" data-tone={message.tone} role="status" key={message.key}>
            {message.words}
          </div>
        )}
        {frame.tabs.length > 1 && (
          <nav className="k-tabs" aria-label="Main">
            {frame.tabs.map((t) => {
              const Icon = iconOf(t.icon);
              const current = tabbed === t.screen;
              return (
                <button
                  key={t.screen}
                  data-tab={t.screen}
                  aria-current={current ? 'page' : undefined}
                  onClick={() => nav.tab(t.screen)}
                >
                  {Icon && <Icon size={22} strokeWidth={current ? 2.2 : 1.8} aria-hidden />}
                  <span>{t.name}</span>
                </button>
              );
            })}
          </nav>
        )}
      </div>
    </PlayerContext.Provider>
  );
}

function BackIcon() {
  const Icon = iconOf('chevron-left')!;
  return <Icon size={18} aria-hidden />;
}

/** The look of an app as CSS custom properties. */
export function themeStyle(frame: Pick<Frame, 'look'>, dark: boolean): CSSProperties {
  const look = dressed(frame.look);
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
