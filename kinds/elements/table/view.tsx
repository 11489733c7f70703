import { type CSSProperties, type ReactNode } from 'react';
import type { Drawn } from '../../../core/screens/element.ts';
import { usePlayer } from '../../../player/context.ts';
import { Inside } from '../../../player/ElementView.tsx';
import { useLongLines } from '../../../player/long-lines.ts';
import { iconOf } from '../../../player/icons.tsx';
import { ListFrame } from '../list/view-frame.tsx';
import type { table } from './definition.ts';
import './table.css';

type DrawnTable = Drawn<typeof table>;
const LINE = 44;

/** Records in lines and columns. A press on a head orders by it; lines far from the view do not exist. */
export default function TableView({ e }: { e: DrawnTable }) {
  return (
    <ListFrame e={e} label={`${e.records} records`} isEmpty={e.total === 0}>
      {e.heads.length === 0 ? <p className="k-text k-none">No columns are chosen yet</p> : <Lines e={e} />}
    </ListFrame>
  );
}

function Lines({ e }: { e: DrawnTable }) {
  const { look, tap } = usePlayer();
  const hasEnd = e.rows.some((r) => r.children.length > 0);
  const { box, virtual, items } = useLongLines({
    key: e.key,
    total: e.total,
    from: e.from,
    loadedTo: e.from + e.rows.length,
    perLine: 1,
    gap: 0,
    height: LINE,
  });
  const columns = [
    ...e.widths.map((n) => `minmax(calc(${n} * 0.56em + 16px), ${n}fr)`),
    ...(hasEnd ? ['minmax(44px, auto)'] : []),
  ].join(' ');
  const chars = e.widths.reduce((a, b) => a + b, 0);
  const wide = `calc(${chars} * 0.56em + ${e.widths.length * 16 + (hasEnd ? 120 : 0) + 14}px)`;
  const order = (field: string): void => {
    const again = e.order?.field === field;
    // Pressed a third time, the order is again the one of the list.
    look(e.key, { order: again && e.order?.descending ? null : { field, descending: again }, from: 0 });
  };
  const Down = iconOf('chevron-down')!;
  const placed = (index: number, start: number): ReactNode => {
    const row = e.rows[index - e.from];
    const acts = row && e.tap === 'act';
    return (
      <div
        key={row?.record ?? `waiting-${index}`}
        role="row"
        data-index={index}
        data-record={row?.record}
        data-acts={acts || undefined}
        className="k-table-line"
        style={{ transform: `translateY(${start - virtual.options.scrollMargin}px)` }}
        onClick={acts ? () => tap(row.key, e.id) : undefined}
      >
        {row &&
          e.heads.map((h, i) => {
            const said = e.cells[index - e.from]?.[i] ?? '';
            return (
              <span key={h.field} role="cell" data-figure={h.isFigure || undefined} title={said}>
                {acts && i === 0 ? (
                  <button type="button" className="k-table-open">
                    {said || '–'}
                  </button>
                ) : (
                  said
                )}
              </span>
            );
          })}
        {row && hasEnd && (
          <span role="cell" className="k-table-end">
            <Inside of={row.children} />
          </span>
        )}
      </div>
    );
  };
  return (
    <div className="k-table-scroll" tabIndex={0} role="region" aria-label="Table">
      <div className="k-table" role="table" style={{ '--k-columns': columns, '--k-wide': wide } as CSSProperties}>
        <div role="row" className="k-table-line k-table-heads">
          {e.heads.map((h) => {
            const by = e.order?.field === h.field ? e.order : null;
            return (
              <span
                key={h.field}
                role="columnheader"
                data-figure={h.isFigure || undefined}
                aria-sort={by ? (by.descending ? 'descending' : 'ascending') : 'none'}
              >
                <button type="button" onClick={() => order(h.field)}>
                  {h.label}
                  {by && <Down size={15} aria-hidden data-up={!by.descending || undefined} />}
                </button>
              </span>
            );
          })}
          {hasEnd && <span role="columnheader" aria-label="More" />}
        </div>
        <div ref={box} role="rowgroup" className="k-rows" style={{ height: virtual.getTotalSize() }}>
          {items.map((line) => placed(line.index, line.start))}
        </div>
        {e.sum && (
          <p className="k-table-sum">
            {e.sum.label} <b>{e.sum.said || '–'}</b>
          </p>
        )}
      </div>
    </div>
  );
}
