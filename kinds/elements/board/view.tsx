import { useState, type KeyboardEvent, type PointerEvent } from 'react';
import type { Drawn, DrawnRow } from '../../../core/screens/element.ts';
import { usePlayer } from '../../../player/context.ts';
import { beginDrag } from '../../../player/drag.ts';
import { Inside } from '../../../player/ElementView.tsx';
import { iconOf } from '../../../player/icons.tsx';
import { ListFrame, RecordRow } from '../list/view-frame.tsx';
import type { board } from './definition.ts';
import './board.css';

type DrawnBoard = Drawn<typeof board>;
type Column = DrawnBoard['columns'][number];

/** Records in columns. A card is dragged by its handle, or moved with the arrow keys, to another column. */
export default function BoardView({ e }: { e: DrawnBoard }) {
  const { look, api, say } = usePlayer();
  const [more, setMore] = useState<Record<string, number>>({});
  const ask = (key: string): void => {
    const next = { ...more, [key]: (more[key] ?? 0) + 1 };
    setMore(next);
    look(e.key, { more: next });
  };
  const move = (record: string, column: Column): void => {
    api.saveForm(e.table, record, { [e.by]: column.cell }, true).then(
      (answer) => {
        if ('problems' in answer) say(Object.values(answer.problems)[0] ?? 'That did not work.', 'bad');
        else say(`Moved to ${column.label}`);
      },
      (error: Error) => say(error.message, 'bad'),
    );
  };
  const columns = e.columns.map((column) => ({ column, rows: e.rows.slice(column.from, column.from + column.shown) }));
  return (
    <ListFrame e={e} label={`${e.records} records`} isEmpty={e.records === 0}>
      <div className="k-board" tabIndex={0} aria-label="Columns">
        {columns.map(({ column, rows }, i) => (
          <section key={column.key} className="k-column" data-column={i} aria-label={column.label}>
            <h3 className="k-head">
              <span>{column.label}</span>
              <span>{column.sum ? `${column.count} · ${column.sum}` : column.count}</span>
            </h3>
            {rows.map((row) => (
              <Card key={row.record} e={e} row={row} at={i} move={move} />
            ))}
            {rows.length === 0 && <p className="k-column-empty">None</p>}
            {column.count > column.shown && (
              <button type="button" className="k-link" onClick={() => ask(column.key)}>
                Show more of {column.count.toLocaleString('en-GB')}
              </button>
            )}
          </section>
        ))}
      </div>
    </ListFrame>
  );
}

function Card({
  e,
  row,
  at,
  move,
}: {
  e: DrawnBoard;
  row: DrawnRow;
  at: number;
  move(record: string, column: Column): void;
}) {
  const Grip = iconOf('grip')!;
  const drag = (ev: PointerEvent<HTMLElement>): void =>
    beginDrag(ev, ev.currentTarget.parentElement!, '[data-column]', (place) => {
      const to = Number(place.dataset['column']);
      if (to !== at && e.columns[to]) move(row.record, e.columns[to]);
    });
  const step = (k: KeyboardEvent): void => {
    if (k.key !== 'ArrowLeft' && k.key !== 'ArrowRight') return;
    k.preventDefault();
    const to = e.columns[at + (k.key === 'ArrowLeft' ? -1 : 1)];
    if (to) move(row.record, to);
  };
  return (
    <div className="k-card">
      <RecordRow e={e} row={row} surface={e.surface}>
        {row.children.length ? (
          <Inside of={row.children} />
        ) : (
          <p className="k-text k-none">Nothing is shown of this record yet</p>
        )}
      </RecordRow>
      {e.drags && !e.stay.includes(row.record) && (
        <button
          type="button"
          className="k-handle"
          aria-label="Drag to another column, or press left and right"
          onPointerDown={drag}
          onKeyDown={step}
        >
          <Grip size={18} aria-hidden />
        </button>
      )}
    </div>
  );
}
