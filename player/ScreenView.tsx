import { lazy, Suspense, useEffect, useMemo, useRef, useSyncExternalStore } from 'react';
import type { PhoneApi } from '../core/phone/api.ts';
import { draftsAt, type Place } from '../core/phone/places.ts';
import type { Room } from '../core/phone/walk.ts';
import { PlayerContext, type PlayerContextValue } from './context.ts';
import type { PageDrafts } from './drafts.ts';
import { ElementView } from './ElementView.tsx';
import { iconOf } from './icons.tsx';
import type { ScreenStore } from './screen-store.ts';

const WhoLine = lazy(() => import('./WhoLine.tsx'));

interface Props {
  api: PhoneApi;
  /** What the screen shows. */
  store: ScreenStore;
  drafts: PageDrafts;
  /** The screens that look otherwise for each person, and the table of people. */
  personal: { screens: ReadonlySet<string>; people: string | null; signsIn: boolean };
  place: Place;
  /** The way back, and what lies there. */
  back?: { to: string; go(): void } | undefined;
  /** Opens the drawer. */
  menu?: (() => void) | undefined;
  saved(created: boolean, said?: string): void;
  say(words: string, tone?: 'plain' | 'bad'): void;
  room: Room;
  onTap?: ((elementId: string) => void) | undefined;
}

/** How far down people were on screens that are open, by opening. */
const scrolled = new Map<string, number>();

/** One screen, drawn from what the phone behind the page tells of it. */
export function ScreenView(props: Props) {
  const { api, store, drafts, personal, place, back, menu, say, saved, room, onTap } = props;
  const view = place.opening;
  const shown = useSyncExternalStore(store.hearFrame, store.shown);
  const scroller = useRef<HTMLDivElement>(null);
  const isShown = shown !== null;

  useEffect(() => {
    const before = scrolled.get(view);
    if (isShown && before) requestAnimationFrame(() => scroller.current?.scrollTo(0, before));
  }, [view, isShown]);

  const context = useMemo(
    (): PlayerContextValue => ({
      api,
      store,
      room,
      scroller,
      begins: place.values,
      drafts,
      draftOf: (form) => draftsAt(place) + form,
      tap: (key, element, property, knows) => {
        onTap?.(element);
        void api.tapped(view, key, property, knows).catch((e: Error) => say(e.message, 'bad'));
      },
      move: (key, before) => void api.moved(view, key, before).catch((e: Error) => say(e.message, 'bad')),
      look: (key, change) => void api.look(view, key, change),
      saved,
      say,
    }),
    [api, store, drafts, view, place, room, onTap, say, saved],
  );
  return (
    <PlayerContext.Provider value={context}>
      <div
        className="k-scroll"
        ref={scroller}
        onPointerDown={({ target, nativeEvent }) => {
          const on = (target as Element).closest<HTMLElement>('[data-long]');
          if (!on) return;
          // The finger may be lifted before what hears it is here.
          const lifted = new AbortController();
          addEventListener('pointerup', () => lifted.abort(), { once: true });
          void import('./long-press.ts').then((m) => m.begin(nativeEvent, on, lifted, context.tap));
        }}
        onKeyDown={({ key, target }) => {
          const { e, long } = (target as HTMLElement).dataset;
          if (key === 'ContextMenu' && long) context.tap(long, e!, 'long');
        }}
        onScroll={(e) => {
          if (isShown) scrolled.set(view, e.currentTarget.scrollTop);
        }}
      >
        {(back || menu) && (
          <div className="k-top">
            {menu && (
              <button className="k-menu" onClick={menu} aria-label="Open the menu">
                <Sign name="menu" size={22} />
              </button>
            )}
            {back && (
              <button className="k-back" onClick={back.go} aria-label={`Back to ${back.to}`}>
                <Sign name="chevron-left" size={18} /> <span>{back.to}</span>
              </button>
            )}
          </div>
        )}
        {personal.screens.has(place.screen) && shown && (
          <Suspense fallback={<p className="k-who" />}>
            <WhoLine api={api} {...personal} drawn={shown} />
          </Suspense>
        )}
        {!shown ? null : shown.missing ? (
          <p className="k-missing">{shown.missing}</p>
        ) : (
          <main>
            <ElementView k={shown.root} />
          </main>
        )}
      </div>
    </PlayerContext.Provider>
  );
}

export function Sign({ name, size }: { name: string; size: number }) {
  const Icon = iconOf(name)!;
  return <Icon size={size} aria-hidden />;
}
