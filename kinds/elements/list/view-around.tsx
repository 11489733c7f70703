import { createContext, useContext, useMemo, useRef, useState, type PointerEvent, type ReactNode } from 'react';
import { usePlayer } from '../../../player/context.ts';
import { beginDrag } from '../../../player/drag.ts';
import { iconOf } from '../../../player/icons.tsx';
import { RowAround, type AroundRow, type DrawnList } from './view-rows.tsx';

interface Around {
  e: DrawnList;
  /** Keys of the rows that are marked; null while none are being marked. */
  marked: ReadonlySet<string> | null;
  mark(key: string): void;
}
const ListAround = createContext<Around | null>(null);

/** So far a row is drawn aside until its swipe is done, in pixels. */
const FAR = 96;

/** What the rows of a list can have around them: a swipe, a mark, a handle to drag them into an order. */
export default function AroundRows({ e, children }: { e: DrawnList; children: ReactNode }) {
  const { tap } = usePlayer();
  const [marked, setMarked] = useState<ReadonlySet<string> | null>(null);
  const around = useMemo(
    (): Around => ({
      e,
      marked,
      mark: (key) =>
        setMarked((now) => {
          const next = new Set(now);
          if (!next.delete(key)) next.add(key);
          return next;
        }),
    }),
    [e, marked],
  );
  const act = (): void => {
    for (const key of marked ?? []) tap(key, e.id, 'several');
    setMarked(null);
  };
  const isMarked = (marked?.size ?? 0) > 0;
  return (
    <ListAround.Provider value={around}>
      {e.several && (
        <div className="k-marking">
          {marked && (
            <button type="button" className="k-button" data-look="main" disabled={!isMarked} onClick={act}>
              {isMarked ? `${e.several} (${marked.size})` : e.several}
            </button>
          )}
          <button type="button" className="k-link" onClick={() => setMarked(marked ? null : new Set())}>
            {marked ? 'Give up' : 'Mark several'}
          </button>
        </div>
      )}
      <RowAround.Provider value={RowWith}>{children}</RowAround.Provider>
    </ListAround.Provider>
  );
}

function RowWith({ row, press, children }: AroundRow) {
  const { e, marked, mark } = useContext(ListAround)!;
  const Grip = iconOf('grip')!;
  if (marked)
    return (
      <label className="k-around">
        <input
          type="checkbox"
          className="k-mark"
          checked={marked.has(row.key)}
          disabled={e.refused?.several?.includes(row.record)}
          onChange={() => mark(row.key)}
          aria-label="Mark this one"
        />
        {children(undefined)}
      </label>
    );
  const inside =
    e.swipe && !e.refused?.swipe?.includes(row.record) ? (
      <Swiped row={row} press={press} draw={children} />
    ) : (
      children(press)
    );
  if (!e.ordered || e.refused?.ordered?.includes(row.record)) return inside;
  return (
    <div className="k-around k-orders">
      {inside}
      <Handle row={row.key} icon={<Grip size={20} aria-hidden />} />
    </div>
  );
}

/** Drags a row before another, or moves it by the arrow keys. */
function Handle({ row, icon }: { row: string; icon: ReactNode }) {
  const { move } = usePlayer();
  const { e } = useContext(ListAround)!;
  const at = e.rows.findIndex((r) => r.key === row);
  const before = (i: number): void => move(row, e.rows[i]?.record ?? null);
  return (
    <button
      type="button"
      className="k-handle"
      aria-label="Drag into order, or press up and down"
      onKeyDown={(k) => {
        if (k.key !== 'ArrowUp' && k.key !== 'ArrowDown') return;
        k.preventDefault();
        if (k.key === 'ArrowUp' ? at > 0 : at < e.rows.length - 1) before(k.key === 'ArrowUp' ? at - 1 : at + 2);
      }}
      onPointerDown={(ev) => {
        const own = ev.currentTarget.parentElement!;
        beginDrag(ev, own, '.k-orders', (place, isLowerHalf) => {
          const record = place.querySelector<HTMLElement>('[data-record]')?.dataset['record'];
          const to = e.rows.findIndex((r) => r.record === record);
          if (to >= 0) before(isLowerHalf ? to + 1 : to);
        });
      }}
    >
      {icon}
    </button>
  );
}

/** A row that does something when it is drawn to the left; the same stands behind a button for keys and mouse. */
function Swiped({
  row,
  press,
  draw,
}: {
  row: AroundRow['row'];
  press: AroundRow['press'];
  draw: AroundRow['children'];
}) {
  const { tap } = usePlayer();
  const { e } = useContext(ListAround)!;
  const [by, setBy] = useState(0);
  const start = useRef<{ x: number; y: number; on: boolean; swiped: boolean } | null>(null);
  const act = (): void => tap(row.key, e.id, 'swipe');
  const move = (ev: PointerEvent<HTMLElement>): void => {
    const from = start.current;
    if (!from) return;
    const [x, y] = [ev.clientX - from.x, ev.clientY - from.y];
    if (!from.on && Math.abs(x) > 10 && Math.abs(x) > Math.abs(y)) {
      from.on = from.swiped = true;
      ev.currentTarget.setPointerCapture(ev.pointerId);
    }
    if (from.on) setBy(Math.max(-FAR * 1.4, Math.min(0, x)));
  };
  const end = (does: boolean): void => {
    if (start.current?.on && does && by <= -FAR) act();
    if (start.current) start.current.on = false;
    setBy(0);
  };
  return (
    <div
      className="k-swipe"
      // The click that ends a swipe is no tap.
      onClickCapture={(ev) => {
        if (start.current?.swiped) ev.stopPropagation();
        start.current = null;
      }}
      onPointerDown={(ev) => {
        start.current = { x: ev.clientX, y: ev.clientY, on: false, swiped: false };
      }}
      onPointerMove={move}
      onPointerUp={() => end(true)}
      onPointerCancel={() => end(false)}
    >
      <button type="button" className="k-swipe-does" data-far={by <= -FAR || undefined} onClick={act}>
        {e.swipe}
      </button>
      <div className="k-swipe-row" style={by ? { transform: `translateX(${by}px)`, transition: 'none' } : undefined}>
        {draw(press)}
      </div>
    </div>
  );
}
