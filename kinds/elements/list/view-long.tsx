import { elementScroll, useVirtualizer } from '@tanstack/react-virtual';
import { useEffect, useLayoutEffect, useRef, useState } from 'react';
import { usePlayer } from '../../../player/context.ts';
import { CHUNK, perLineOf, ROW_HEIGHT, rowAt, type DrawnList } from './view-rows.tsx';

/** The records of a long list: only those near the view exist, and they are asked for as they come. */
export default function LongRows({ e }: { e: DrawnList }) {
  const { scroller, look } = usePlayer();
  const box = useRef<HTMLDivElement>(null);
  const [offset, setOffset] = useState(0);
  const perLine = perLineOf(e);
  const begun = useRef(false);
  const virtual = useVirtualizer({
    count: Math.ceil(e.total / perLine),
    getScrollElement: () => scroller.current,
    // People may have scrolled on while this was fetched: where they are is where it begins.
    initialOffset: () => scroller.current?.scrollTop ?? 0,
    scrollToFn: (offset, options, instance) => {
      if (begun.current) elementScroll(offset, options, instance);
      begun.current = true;
    },
    estimateSize: () => ROW_HEIGHT,
    overscan: 6,
    scrollMargin: offset,
    gap: e.gap,
  });

  useLayoutEffect(() => {
    if (!box.current || !scroller.current) return;
    const [own, around] = [box.current.getBoundingClientRect(), scroller.current.getBoundingClientRect()];
    // Beside the work the phone is drawn smaller than it is.
    const scale = around.height / scroller.current.offsetHeight || 1;
    const top = (own.top - around.top) / scale + scroller.current.scrollTop;
    if (Math.abs(top - offset) > 1) setOffset(top);
  });

  const items = virtual.getVirtualItems();
  const firstLine = items[0]?.index ?? 0;
  const lastLine = items.at(-1)?.index ?? 0;
  const loadedTo = e.from + e.rows.length;
  useEffect(() => {
    const [first, last] = [firstLine * perLine, Math.min(e.total, (lastLine + 1) * perLine)];
    if (first >= e.from && last <= loadedTo) return;
    const from = Math.max(0, Math.floor(first / CHUNK) * CHUNK - CHUNK);
    look(e.key, { from, count: Math.max(CHUNK * 3, last - from + CHUNK) });
  }, [firstLine, lastLine, e.from, loadedTo, e.total, e.key, perLine, look]);

  return (
    <div ref={box} className="k-rows" style={{ height: virtual.getTotalSize() }}>
      {items.map((line) => (
        <div
          key={line.key}
          data-index={line.index}
          ref={virtual.measureElement}
          className="k-line k-line-placed"
          data-per={perLine}
          style={{ transform: `translateY(${line.start - virtual.options.scrollMargin}px)`, gap: e.gap }}
        >
          {Array.from({ length: perLine }, (_, k) => line.index * perLine + k)
            .filter((i) => i < e.total)
            .map((i) => rowAt(e, i))}
        </div>
      ))}
    </div>
  );
}
