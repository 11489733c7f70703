import { useEffect, useId, useMemo, useState, useSyncExternalStore } from 'react';
import { FRAME_SCREEN, TABS_SHOWN, wayId, type Way } from '../core/app/frames.ts';
import type { PhoneApi } from '../core/phone/api.ts';
import type { Frame } from './api.ts';
import { iconOf } from './icons.tsx';
import { ScreenStore } from './screen-store.ts';

/** What the frame shows that changes: the words of an element of its screen, null where it is not to be seen. */
export type FrameValues = (element: string) => string | null;
const STILL: FrameValues = () => '';

/** Follows the counts of tabs and drawer, where there are any. */
export function useFrameValues(api: PhoneApi, frame: Frame): FrameValues {
  const store = useMemo(() => new ScreenStore(), []);
  const version = useSyncExternalStore(store.hearFrame, () => store.version);
  const view = useId();
  useEffect(() => {
    if (!frame.isLive) return;
    let current = true;
    const take = async (patch: Parameters<ScreenStore['take']>[1]): Promise<void> => {
      if (current) store.take('frame', patch);
    };
    api.show(view, FRAME_SCREEN, null, take).catch(() => undefined);
    return () => {
      current = false;
      void api.leave(view);
    };
  }, [api, store, frame.isLive]);
  return useMemo(() => {
    const shown = store.shown();
    if (!frame.isLive || !shown) return STILL;
    return (element) => {
      const node = store.node(element);
      return node ? String(node['words'] ?? '') : null;
    };
  }, [store, version, frame.isLive]);
}

/** The ways of a tab bar that are seen now, with their place in the document. */
export const seenWays = (ways: readonly Way[], of: 'tab' | 'dra', values: FrameValues): [Way, string | null][] =>
  ways.flatMap((w, i): [Way, string | null][] => {
    const words = values(wayId(of, i));
    // A count of nothing is no count.
    return words === null ? [] : [[w, words === '0' ? null : words]];
  });

/** The tab bar: up to five ways; when there are more, the last place holds the rest. */
export function Tabs({
  frame,
  current,
  values,
  onOpen,
}: {
  frame: Frame;
  current: string;
  values: FrameValues;
  onOpen(screen: string): void;
}) {
  const [more, setMore] = useState(false);
  const ways = seenWays(frame.tabs, 'tab', values);
  if (ways.length < 2) return null;
  const first = ways.length > TABS_SHOWN ? ways.slice(0, TABS_SHOWN - 1) : ways;
  const rest = ways.slice(first.length);
  const inRest = rest.some(([w]) => w.screen === current);
  const tab = ([w, words]: [Way, string | null], late = false) => {
    const Icon = iconOf(w.icon);
    const isCurrent = current === w.screen;
    return (
      <button
        key={w.screen}
        data-tab={w.screen}
        data-late={late || undefined}
        aria-current={isCurrent ? 'page' : undefined}
        onClick={() => {
          setMore(false);
          onOpen(w.screen);
        }}
      >
        <i>
          {Icon && <Icon size={22} strokeWidth={isCurrent ? 2.2 : 1.8} aria-hidden />}
          {words && <b className="k-count">{words}</b>}
        </i>
        <span>{w.name}</span>
      </button>
    );
  };
  const More = iconOf('more');
  return (
    <nav className="k-tabs" aria-label="Main">
      {first.map((w) => tab(w))}
      {rest.length > 0 && (
        <button
          className="k-more"
          aria-expanded={more}
          aria-current={inRest ? 'page' : undefined}
          onClick={() => setMore(!more)}
        >
          <i>{More && <More size={22} aria-hidden />}</i>
          <span>More</span>
        </button>
      )}
      {rest.length > 0 && (
        <div className="k-rest" data-open={more || undefined}>
          {rest.map((w) => tab(w, true))}
        </div>
      )}
    </nav>
  );
}
