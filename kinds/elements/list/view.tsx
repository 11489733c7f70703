import { useVirtualizer } from '@tanstack/react-virtual';
import { memo, useEffect, useLayoutEffect, useRef, useState } from 'react';
import type { Drawn, DrawnRow } from '../../../core/screens/element.ts';
import { usePlayer } from '../../../player/context.ts';
import { Inside, sizeOf, tappable } from '../../../player/ElementView.tsx';
import { iconOf } from '../../../player/icons.ts';
import type { list } from './definition.ts';

const CHUNK = 40;

/** A list of records. Long ones are virtual: only the rows near the view exist, and are asked for as they come. */
export default function ListView({ e }: { e: Drawn<typeof list> }) {
  const { scroller, look } = usePlayer();
  const box = useRef<HTMLDivElement>(null);
  const [offset, setOffset] = useState(0);
  const across = e.runs === 'across';
  const perLine = e.runs === 'grid' ? 2 : 1;
  const lines = Math.ceil(e.total / perLine);
  const virtual = useVirtualizer({
    count: across ? 0 : lines,
    getScrollElement: () => scroller.current,
    estimateSize: () => 66,
    overscan: 6,
    scrollMargin: offset,
    gap: e.gap,
  });

  useLayoutEffect(() => {
    if (!box.current || !scroller.current) return;
    const top =
      box.current.getBoundingClientRect().top -
      scroller.current.getBoundingClientRect().top +
      scroller.current.scrollTop;
    if (Math.abs(top - offset) > 1) setOffset(top);
  });

  const items = virtual.getVirtualItems();
  const firstLine = items[0]?.index ?? 0;
  const lastLine = items.at(-1)?.index ?? 0;
  const loadedTo = e.from + e.rows.length;
  useEffect(() => {
    if (across) return;
    const [first, last] = [firstLine * perLine, Math.min(e.total, (lastLine + 1) * perLine)];
    if (first >= e.from && last <= loadedTo) return;
    const from = Math.max(0, Math.floor(first / CHUNK) * CHUNK - CHUNK);
    look(e.key, { from, count: Math.max(CHUNK * 3, last - from + CHUNK) });
  }, [firstLine, lastLine, e.from, loadedTo, e.total, e.key, perLine, across, look]);

  const row = (i: number) => {
    const r = e.rows[i - e.from];
    if (!r) return <div className="k-row k-row-waiting" data-surface={e.surface} key={`waiting-${i}`} />;
    return <RowView key={r.record} row={r} surface={e.surface} acts={e.tap === 'act'} list={e.id} />;
  };

  return (
    <section className="k-list" data-e={e.id} style={sizeOf(e)} aria-label={`${e.total} records`}>
      {e.search && <SearchBox of={e.key} />}
      {e.total === 0 ? (
        <p className="k-empty">{e.empty}</p>
      ) : across ? (
        <div className="k-strip" style={{ gap: e.gap }}>
          {e.rows.map((_, i) => row(e.from + i))}
        </div>
      ) : (
        <div ref={box} className="k-rows" style={{ height: virtual.getTotalSize() }}>
          {items.map((line) => (
            <div
              key={line.key}
              data-index={line.index}
              ref={virtual.measureElement}
              className="k-line"
              data-per={perLine}
              style={{ transform: `translateY(${line.start - virtual.options.scrollMargin}px)`, gap: e.gap }}
            >
              {Array.from({ length: perLine }, (_, k) => line.index * perLine + k)
                .filter((i) => i < e.total)
                .map(row)}
            </div>
          ))}
        </div>
      )}
    </section>
  );
}

/** One record of a list. It renders when it is another record, not when something in it changes. */
const RowView = memo(function RowView({
  row,
  surface,
  acts,
  list,
}: {
  row: DrawnRow;
  surface: string;
  acts: boolean;
  list: string;
}) {
  const { tap } = usePlayer();
  return (
    <div
      className="k-row"
      data-surface={surface}
      data-record={row.record}
      {...tappable(acts ? () => tap(row.key, list) : undefined)}
    >
      {row.children.length ? (
        <Inside of={row.children} />
      ) : (
        <p className="k-text k-none">Nothing is shown of this record yet</p>
      )}
    </div>
  );
});

function SearchBox({ of }: { of: string }) {
  const { look } = usePlayer();
  const [text, setText] = useState('');
  const Icon = iconOf('search')!;
  useEffect(() => {
    const t = setTimeout(() => look(of, { search: text, from: 0 }), text ? 80 : 0);
    return () => clearTimeout(t);
  }, [text, of, look]);
  return (
    <label className="k-search">
      <Icon size={18} aria-hidden />
      <input
        type="search"
        value={text}
        placeholder="Search"
        aria-label="Search this list"
        onChange={(ev) => setText(ev.target.value)}
      />
    </label>
  );
}
