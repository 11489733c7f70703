import { useRef, type KeyboardEvent } from 'react';
import type { Drawn } from '../../../core/screens/element.ts';
import { usePlayer } from '../../../player/context.ts';
import { iconOf } from '../../../player/icons.tsx';
import { ListFrame, NoneShown, RecordRow } from '../list/view-frame.tsx';
import type { calendar } from './definition.ts';
import './calendar.css';

const WEEK = ['Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat', 'Sun'];
const two = (n: number): string => String(n).padStart(2, '0');
/** How far the arrow keys go, in days. */
const STEPS: Record<string, number> = { ArrowLeft: -1, ArrowRight: 1, ArrowUp: -7, ArrowDown: 7 };

/** A month to choose a day from; what stands at the day is listed below. */
export default function CalendarView({ e }: { e: Drawn<typeof calendar> }) {
  const { look } = usePlayer();
  const grid = useRef<HTMLDivElement>(null);
  const Back = iconOf('chevron-left')!;
  const On = iconOf('chevron-right')!;
  const show = (year: number, month: number): void => {
    const at = new Date(Date.UTC(year, month - 1, 1));
    look(e.key, { month: `${at.getUTCFullYear()}-${two(at.getUTCMonth() + 1)}` });
  };
  const choose = (day: string): void => look(e.key, { day, month: day.slice(0, 7) });
  const dayAt = (i: number): string => `${e.year}-${two(e.month)}-${two(i + 1)}`;
  const name = new Date(Date.UTC(e.year, e.month - 1, 1)).toLocaleDateString('en-GB', {
    month: 'long',
    year: 'numeric',
    timeZone: 'UTC',
  });
  const keys = (k: KeyboardEvent): void => {
    const step = STEPS[k.key];
    if (!step) return;
    k.preventDefault();
    const at = new Date(`${e.chosen}T00:00:00Z`);
    at.setUTCDate(at.getUTCDate() + step);
    choose(at.toISOString().slice(0, 10));
    requestAnimationFrame(() => grid.current?.querySelector<HTMLElement>('[aria-pressed=true]')?.focus());
  };
  return (
    <ListFrame e={e} label={`${e.records} records by day`}>
      <div className="k-month">
        <div className="k-month-head">
          <button type="button" aria-label="The month before" onClick={() => show(e.year, e.month - 1)}>
            <Back size={20} aria-hidden />
          </button>
          <h3 aria-live="polite">{name}</h3>
          <button type="button" aria-label="The month after" onClick={() => show(e.year, e.month + 1)}>
            <On size={20} aria-hidden />
          </button>
        </div>
        <div className="k-week" aria-hidden>
          {WEEK.map((d) => (
            <span key={d}>
              {d.slice(0, 2)}
              <span>{d.slice(2)}</span>
            </span>
          ))}
        </div>
        <div className="k-days" ref={grid} role="group" aria-label={name} onKeyDown={keys}>
          {e.counts.map((count, i) => {
            const day = dayAt(i);
            return (
              <button
                key={day}
                type="button"
                style={i === 0 ? { gridColumnStart: e.lead + 1 } : undefined}
                aria-pressed={day === e.chosen}
                aria-current={day === e.today ? 'date' : undefined}
                tabIndex={day === e.chosen || (i === 0 && !e.chosen.startsWith(day.slice(0, 7))) ? 0 : -1}
                onClick={() => choose(day)}
              >
                <span>{i + 1}</span>
                <span className="k-hidden">
                  {' '}
                  {name}, {count === 0 ? 'nothing' : count === 1 ? 'one' : count}
                </span>
                <span aria-hidden>
                  <Marks count={count} />
                </span>
              </button>
            );
          })}
        </div>
      </div>
      <h3 className="k-head">
        <span>{e.chosenWords}</span>
        {e.chosen === e.today ? (
          <span>{e.onDay || ''}</span>
        ) : (
          <button type="button" className="k-link k-today" onClick={() => choose(e.today)}>
            Today
          </button>
        )}
      </h3>
      {e.rows.length === 0 && <NoneShown e={e} />}
      <div className="k-rows k-line" style={{ gap: e.gap }}>
        {e.rows.map((row) => (
          <RecordRow key={row.record} e={e} row={row} surface={e.surface} />
        ))}
      </div>
      {e.onDay > e.rows.length && <p className="k-help">{`${e.onDay - e.rows.length} more are not shown here.`}</p>}
      {e.without > 0 && <p className="k-help">{e.without === 1 ? 'One has no day.' : `${e.without} have no day.`}</p>}
    </ListFrame>
  );
}

/** A dot for each record of a day, up to three; more than that as a number. */
function Marks({ count }: { count: number }) {
  if (count > 3) return <small>{count > 99 ? '99+' : count}</small>;
  return <i aria-hidden>{'•'.repeat(count)}</i>;
}
