import { useVirtualizer } from '@tanstack/react-virtual';
import { useEffect, useLayoutEffect, useRef, useState, type CSSProperties } from 'react';
import type { DrawnList } from '../core/screens/drawn.ts';
import { usePlayer } from './context.ts';
import { ElementView, tappable } from './elements.tsx';
import { iconOf } from './icons.ts';

const CHUNK = 40;

/** A list of records. Long ones are virtual: only the rows near the view exist, and are asked for as they come. */
export function ListView({ e, style }: { e: DrawnList; style: CSSProperties }) {
  const { scroller, tap, view } = usePlayer();
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
    view(e.id, { from, count: Math.max(CHUNK * 3, last - from + CHUNK) });
  }, [firstLine, lastLine, e.from, loadedTo, e.total, e.id, perLine, across, view]);

  const row = (i: number) => {
    const r = e.rows[i - e.from];
    if (!r) return <div className="k-row k-row-waiting" data-surface={e.surface} key={`waiting-${i}`} />;
    const acts =
      e.tap.do === 'nothing'
        ? undefined
        : () =>
            tap(
              e.tap,
              [
                ...e.scope.filter((s) => s.table !== r.table),
                { thing: `this_${r.table}`, table: r.table, record: r.record },
              ],
              e.id,
            );
    return (
      <div className="k-row" data-surface={e.surface} data-record={r.record} key={r.record} {...tappable(acts)}>
        {r.children.length ? (
          r.children.map((c) => <ElementView key={c.id} e={c} />)
        ) : (
          <p className="k-text k-none">Nothing is shown of this record yet</p>
        )}
      </div>
    );
  };

  return (
    <section className="k-list" data-e={e.id} style={style} aria-label={`${e.total} records`}>
      {e.search && <SearchBox id={e.id} />}
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

function SearchBox({ id }: { id: string }) {
  const { view } = usePlayer();
  const [text, setText] = useState('');
  const Icon = iconOf('search')!;
  useEffect(() => {
    const t = setTimeout(() => view(id, { search: text, from: 0 }), text ? 120 : 0);
    return () => clearTimeout(t);
  }, [text, id, view]);
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
