import type { CSSProperties } from 'react';
import { usePlayer } from '../../../player/context.ts';
import { useLongLines } from '../../../player/long-lines.ts';
import { lineAt, linesOf, perLineOf, ROW_HEIGHT, type DrawnList } from './view-rows.tsx';

/** The records of a long list: only those near the view exist, and they are asked for as they come. */
export default function LongRows({ e }: { e: DrawnList }) {
  const { room } = usePlayer();
  const perLine = perLineOf(e, room);
  const lines = linesOf(e);
  const { box, virtual, items } = useLongLines({
    key: e.key,
    total: e.total,
    from: e.from,
    loadedTo: e.from + lines.length,
    perLine,
    gap: e.gap,
    height: ROW_HEIGHT,
  });
  return (
    <div ref={box} className="k-rows" style={{ height: virtual.getTotalSize() }}>
      {items.map((line) => (
        <div
          key={line.key}
          data-index={line.index}
          ref={virtual.measureElement}
          className="k-line k-line-placed"
          data-per={perLine}
          style={
            {
              '--k-per': perLine,
              transform: `translateY(${line.start - virtual.options.scrollMargin}px)`,
              gap: e.gap,
            } as CSSProperties
          }
        >
          {Array.from({ length: perLine }, (_, k) => line.index * perLine + k)
            .filter((i) => i < e.total)
            .map((i) => lineAt(e, lines, i))}
        </div>
      ))}
    </div>
  );
}
