import { elementScroll, useVirtualizer } from '@tanstack/react-virtual';
import { useEffect, useLayoutEffect, useRef, useState } from 'react';
import { usePlayer } from './context.ts';

/** So many lines are fetched at once. */
export const CHUNK = 40;

/** What of a long list is here, and how its lines stand. */
export interface LongLines {
  /** The key of the element, whose `look` is told which part is wanted. */
  key: string;
  /** Entries in all, the first that is here and the one behind the last. */
  total: number;
  from: number;
  loadedTo: number;
  /** Entries beside one another in a line. */
  perLine: number;
  gap: number;
  /** What a line is taken to be high until it is drawn, in pixels. */
  height: number;
}

/** Lays out the lines near the view, and asks for their entries as they come into it. */
export function useLongLines({ key, total, from, loadedTo, perLine, gap, height }: LongLines) {
  const { scroller, look } = usePlayer();
  const box = useRef<HTMLDivElement>(null);
  const [offset, setOffset] = useState(0);
  const [late, setLate] = useState(false);
  const begun = useRef(false);
  const virtual = useVirtualizer({
    count: Math.ceil(total / perLine),
    getScrollElement: () => scroller.current,
    // People may have scrolled on while this was fetched: where they are is where it begins.
    initialOffset: () => scroller.current?.scrollTop ?? 0,
    scrollToFn: (to, options, instance) => {
      if (begun.current) elementScroll(to, options, instance);
      begun.current = true;
    },
    estimateSize: () => height,
    overscan: 6,
    scrollMargin: offset,
    gap,
  });

  useLayoutEffect(() => {
    const [lines, around] = [box.current, scroller.current];
    // What it scrolls in may be put into the page together with it, and is there a moment later.
    if (!around) setLate(true);
    if (!lines || !around) return undefined;
    const measure = (): void => {
      const [own, outer] = [lines.getBoundingClientRect(), around.getBoundingClientRect()];
      // Beside the work the phone is drawn smaller than it is.
      const scale = outer.height / around.offsetHeight || 1;
      const top = (own.top - outer.top) / scale + around.scrollTop;
      setOffset((before) => (Math.abs(top - before) > 1 ? top : before));
    };
    measure();
    // What stands above may grow. Measured while it is drawn, the page would be laid out once more for every frame.
    const watch = new ResizeObserver(measure);
    watch.observe(lines.closest('main') ?? lines);
    return () => watch.disconnect();
  }, [scroller, late]);

  const items = virtual.getVirtualItems();
  const firstLine = items[0]?.index ?? 0;
  const lastLine = items.at(-1)?.index ?? 0;
  useEffect(() => {
    const [first, last] = [firstLine * perLine, Math.min(total, (lastLine + 1) * perLine)];
    if (first >= from && last <= loadedTo) return;
    const wanted = Math.max(0, Math.floor(first / CHUNK) * CHUNK - CHUNK);
    look(key, { from: wanted, count: Math.max(CHUNK * 3, last - wanted + CHUNK) });
  }, [firstLine, lastLine, from, loadedTo, total, key, perLine, look]);
  return { box, virtual, items };
}
