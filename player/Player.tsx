import { useCallback, useEffect, useMemo, useRef, useState, type CSSProperties } from 'react';
import { textOn, themeOf } from '../core/app/themes.ts';
import type { Tap } from '../core/app/schema.ts';
import type { ListView } from '../core/screens/draw.ts';
import type { DrawnScreen, ScopeRef } from '../core/screens/drawn.ts';
import type { Effect } from '../core/session/session.ts';
import type { Frame, PlayerApi } from './api.ts';
import { ElementView } from './elements.tsx';
import { iconOf } from './icons.ts';
import { PlayerContext, type PlayerContextValue } from './context.ts';
import { useNavigation, type Place } from './navigation.ts';
import './player.css';

export interface PlayerProps {
  api: PlayerApi;
  frame: Frame;
  /** Changes whenever records or the app have changed, so that the screen is drawn again. */
  revision: number;
  dark?: boolean;
  /** The address bar follows the screens: in a released app, not in the studio. */
  inAddress?: boolean;
  /** A screen to show instead of the one the person is on, as when the studio selects one. */
  show?: Place | null;
  onWhere?: (place: Place, drawn: DrawnScreen | null) => void;
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
  revision,
  dark = false,
  inAddress = false,
  show = null,
  onWhere,
  onTap,
  notice,
}: PlayerProps) {
  const first: Place = { screen: frame.tabs[0]?.screen ?? frame.screens[0]?.id ?? '', record: null };
  const nav = useNavigation(first, inAddress);
  const { stack } = nav.where;
  const top = stack.at(-1)!;
  const [drawn, setDrawn] = useState<DrawnScreen | null>(null);
  const [lists, setLists] = useState<Record<string, ListView>>({});
  const [message, setMessage] = useState<Message | null>(null);
  const scroller = useRef<HTMLDivElement>(null);
  const placeKey = `${top.screen}/${top.record ?? ''}`;

  useEffect(() => {
    if (show)
      nav.set(
        show.record || !frame.tabs.some((t) => t.screen === show.screen)
          ? [...(show.screen === first.screen ? [] : [first]), show]
          : [show],
      );
  }, [show]); // eslint-disable-line react-hooks/exhaustive-deps

  useEffect(() => {
    setLists((l) => (Object.keys(l).length ? {} : l));
    scroller.current?.scrollTo(0, 0);
  }, [placeKey]);

  useEffect(() => {
    let current = true;
    api.draw(top.screen, { record: top.record, lists }).then(
      (d) => {
        if (!current) return;
        setDrawn(d);
        onWhere?.(top, d);
      },
      (e: Error) => current && setMessage({ words: e.message, tone: 'bad', key: Date.now() }),
    );
    return () => {
      current = false;
    };
  }, [api, placeKey, lists, revision, frame]); // eslint-disable-line react-hooks/exhaustive-deps

  useEffect(() => {
    if (!message) return;
    const t = setTimeout(() => setMessage(null), message.tone === 'bad' ? 7000 : 4000);
    return () => clearTimeout(t);
  }, [message]);

  useEffect(() => {
    if (notice) setMessage({ ...notice, tone: 'plain' });
  }, [notice]);

  const perform = useCallback(
    (effects: Effect[]) => {
      for (const e of effects) {
        if (e.do === 'open') nav.push({ screen: e.screen, record: e.record });
        else if (e.do === 'back') nav.back();
        else setMessage({ words: e.words, tone: e.tone, key: Date.now() });
      }
    },
    [nav.push, nav.back],
  ); // eslint-disable-line react-hooks/exhaustive-deps

  const context = useMemo(
    (): PlayerContextValue => ({
      api,
      scroller,
      tap: (tap: Tap, scope: ScopeRef[], element: string) => {
        onTap?.(element);
        void api
          .tap(tap, scope)
          .then(perform, (e: Error) => setMessage({ words: e.message, tone: 'bad', key: Date.now() }));
      },
      view: (list: string, view: ListView) => setLists((l) => ({ ...l, [list]: { ...l[list], ...view } })),
      saved: (created: boolean) => {
        setMessage({ words: created ? 'Saved' : 'Changes saved', tone: 'plain', key: Date.now() });
        nav.back();
      },
      say: (words: string) => setMessage({ words, tone: 'bad', key: Date.now() }),
    }),
    [api, perform, onTap],
  ); // eslint-disable-line react-hooks/exhaustive-deps

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
          {!drawn || drawn.screen !== top.screen ? null : drawn.missing ? (
            <p className="k-missing">{drawn.missing}</p>
          ) : (
            <main key={placeKey}>
              <ElementView e={drawn.root} />
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

/** The theme as CSS custom properties. */
export function themeStyle(frame: Pick<Frame, 'look'>, dark: boolean): CSSProperties {
  const theme = themeOf(frame.look.theme);
  const p = dark ? theme.dark : theme.light;
  const accent = frame.look.accent && !dark ? frame.look.accent : p.accent;
  return {
    '--k-ground': p.ground,
    '--k-card': p.card,
    '--k-tint': p.tint,
    '--k-edge': p.edge,
    '--k-ink': p.ink,
    '--k-soft': p.soft,
    '--k-accent': accent,
    '--k-on-accent': frame.look.accent && !dark ? textOn(accent) : p.onAccent,
    '--k-good': p.good,
    '--k-look': p.look,
    '--k-bad': p.bad,
    '--k-corner': `${theme.corners}px`,
    '--k-density': theme.density,
    '--k-head': theme.headings === 'head' ? 'var(--font-head)' : 'var(--font-text)',
    colorScheme: dark ? 'dark' : 'light',
  } as CSSProperties;
}
