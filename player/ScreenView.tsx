import { lazy, Suspense, useEffect, useId, useLayoutEffect, useMemo, useRef, useSyncExternalStore } from 'react';
import type { PhoneApi } from '../core/phone/api.ts';
import { PlayerContext, type PlayerContextValue, type Room } from './context.ts';
import { ElementView } from './ElementView.tsx';
import { iconOf } from './icons.tsx';
import type { Place } from './navigation.ts';
import { ScreenStore } from './screen-store.ts';
import { loadViews } from './views.ts';

const WhoLine = lazy(() => import('./WhoLine.tsx'));

interface Props {
  api: PhoneApi;
  /** The screens that look otherwise for each person, and the table of people. */
  personal: { screens: ReadonlySet<string>; people: string | null };
  place: Place;
  /** Every opening that there is, this one among them. */
  open: readonly string[];
  /** The screen exists in the app as it is now. */
  there: boolean;
  /** The way back, and what lies there. */
  back?: { to: string; go(): void } | undefined;
  /** Opens the drawer. */
  menu?: (() => void) | undefined;
  saved(created: boolean): void;
  say(words: string, tone?: 'plain' | 'bad'): void;
  setDirty(form: string, dirty: boolean): void;
  room: Room;
  onTap?: ((elementId: string) => void) | undefined;
  onWhere?: ((place: Place, store: ScreenStore) => void) | undefined;
  onDrawn?: ((store: ScreenStore) => void) | undefined;
}

/** How far down people were on screens that are open, by opening. */
const scrolled = new Map<string, number>();

/** One screen, drawn from what the engine tells of it. */
export function ScreenView(props: Props) {
  const { api, personal, place, there, back, menu, say, saved, setDirty, room, onTap } = props;
  const view = useId();
  const store = useMemo(() => new ScreenStore(), []);
  const shown = useSyncExternalStore(store.hearFrame, store.shown);
  const scroller = useRef<HTMLDivElement>(null);
  const placeKey = `${place.screen}/${place.record ?? ''}/${place.opening ?? ''}`;
  const now = useRef(props);
  useLayoutEffect(() => {
    now.current = props;
  });

  useEffect(() => {
    const box = scroller.current;
    box?.scrollTo(0, 0);
    let current = true;
    let told = false;
    const take = async (patch: Parameters<ScreenStore['take']>[1]): Promise<void> => {
      await loadViews(patch.set.map((n) => n.kind));
      if (!current) return;
      store.take(placeKey, patch);
      if (!told) {
        now.current.onWhere?.(place, store);
        const before = scrolled.get(placeKey);
        if (before) requestAnimationFrame(() => box?.scrollTo(0, before));
      }
      told = true;
      now.current.onDrawn?.(store);
    };
    const opening = { key: place.opening ?? '', open: [...now.current.open], values: place.values };
    api.show(view, place.screen, place.record, take, opening).catch((e: Error) => current && say(e.message, 'bad'));
    return () => {
      current = false;
    };
  }, [api, view, store, placeKey, there]);

  useEffect(() => () => void api.leave(view), [api, view]);

  const context = useMemo(
    (): PlayerContextValue => ({
      api,
      store,
      room,
      scroller,
      begins: place.values,
      draftOf: (form) => `${place.screen}/${place.record ?? ''}/${form}`,
      tap: (key, element, property, knows) => {
        onTap?.(element);
        void api.tapped(view, key, property, knows).catch((e: Error) => say(e.message, 'bad'));
      },
      move: (key, before) => void api.moved(view, key, before).catch((e: Error) => say(e.message, 'bad')),
      look: (key, change) => void api.look(view, key, change),
      saved,
      say,
      setDirty,
    }),
    [api, store, view, placeKey, room, onTap, say, saved, setDirty],
  );
  return (
    <PlayerContext.Provider value={context}>
      <div
        className="k-scroll"
        ref={scroller}
        onPointerDown={({ target, nativeEvent }) => {
          const on = (target as Element).closest<HTMLElement>('[data-long]');
          const { e, long } = on?.dataset ?? {};
          if (!on) return;
          // The finger may be lifted before what hears it is here.
          const lifted = new AbortController();
          addEventListener('pointerup', () => lifted.abort(), { once: true });
          void import('./long-press.ts').then((m) =>
            m.begin(nativeEvent, on, lifted, () => context.tap(long!, e!, 'long')),
          );
        }}
        onKeyDown={({ key, target }) => {
          const { e, long } = (target as HTMLElement).dataset;
          if (key === 'ContextMenu' && long) context.tap(long, e!, 'long');
        }}
        onScroll={(e) => {
          if (shown?.showing === placeKey) scrolled.set(placeKey, e.currentTarget.scrollTop);
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
        {personal.screens.has(place.screen) && shown?.showing === placeKey && (
          <Suspense fallback={<p className="k-who" />}>
            <WhoLine api={api} people={personal.people} drawn={shown} />
          </Suspense>
        )}
        {shown?.showing !== placeKey ? null : shown.missing ? (
          <p className="k-missing">{shown.missing}</p>
        ) : (
          <main key={placeKey}>
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
