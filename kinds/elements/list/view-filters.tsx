import { useId, useState } from 'react';
import type { FilterSet, OfferedFilter } from '../../../core/records/narrow.ts';
import { usePlayer } from '../../../player/context.ts';
import { iconOf } from '../../../player/icons.tsx';

/** As much of a drawn list, board or calendar as its filters go by. */
export interface Filtered {
  key: string;
  filters: OfferedFilter[];
  filtered: number;
  records: number;
}

/** The filters of a list: a chip each, which opens what can be chosen; what is chosen stands in the chip. */
export default function Filters({ e }: { e: Filtered }) {
  const { look } = usePlayer();
  const [open, setOpen] = useState<string | null>(null);
  const id = useId();
  const shown = e.filters.find((f) => f.field === open);
  const setAll = (filters: Record<string, FilterSet>): void => look(e.key, { filters, from: 0 });
  const set = (field: string, change: FilterSet): void =>
    setAll({ ...Object.fromEntries(e.filters.map((f) => [f.field, f.set])), [field]: change });
  const Down = iconOf('chevron-down')!;
  return (
    <div className="k-filters">
      <div className="k-filter-chips" role="group" aria-label="Filters">
        {e.filters.map((f) => {
          const said = saidOf(f);
          return (
            <button
              key={f.field}
              type="button"
              className="k-chip"
              data-set={said ? true : undefined}
              aria-expanded={open === f.field}
              aria-controls={open === f.field ? id : undefined}
              onClick={() => setOpen(open === f.field ? null : f.field)}
            >
              {said ? `${f.label}: ${said}` : f.label} <Down size={16} aria-hidden />
            </button>
          );
        })}
      </div>
      {shown && (
        <div className="k-filter-open" id={id} role="group" aria-label={shown.label}>
          {shown.as === 'choices' ? (
            <Choices f={shown} set={(change) => set(shown.field, change)} />
          ) : (
            <Ends key={shown.field} f={shown} set={(change) => set(shown.field, change)} />
          )}
        </div>
      )}
      {e.filtered > 0 && (
        <div className="k-filter-foot">
          <span role="status">{e.records === 1 ? '1 fits' : `${e.records.toLocaleString('en-GB')} fit`}</span>
          <button
            type="button"
            className="k-link"
            onClick={() => {
              setOpen(null);
              setAll({});
            }}
          >
            {e.filtered === 1 ? 'Clear the filter' : `Clear all ${e.filtered} filters`}
          </button>
        </div>
      )}
    </div>
  );
}

/** What is chosen, in few words. */
function saidOf({ set, options, as }: OfferedFilter): string {
  if (as === 'choices') {
    const chosen = options.filter((o) => set.in?.includes(o.key));
    return chosen.length > 2
      ? `${chosen[0]!.label} and ${chosen.length - 1} more`
      : chosen.map((o) => o.label).join(' or ');
  }
  const [from, to] = [set.from, set.to].map((v) => v && (as === 'dates' ? dayWords(v) : v));
  return from && to ? `${from} to ${to}` : from ? `from ${from}` : to ? `up to ${to}` : '';
}

const dayWords = (day: string): string => {
  const at = new Date(`${day}T00:00:00Z`);
  return Number.isNaN(at.getTime())
    ? day
    : at.toLocaleDateString('en-GB', { day: 'numeric', month: 'short', year: 'numeric', timeZone: 'UTC' });
};

function Choices({ f, set }: { f: OfferedFilter; set(change: FilterSet): void }) {
  const chosen = f.set.in ?? [];
  return f.options.map((o) => {
    const isChosen = chosen.includes(o.key);
    return (
      <button
        key={o.key}
        type="button"
        className="k-chip"
        data-set={isChosen || undefined}
        data-none={o.count === 0 || undefined}
        aria-pressed={isChosen}
        onClick={() => set({ in: isChosen ? chosen.filter((k) => k !== o.key) : [...chosen, o.key] })}
      >
        {o.label} <small>{o.count}</small>
      </button>
    );
  });
}

/** The two ends of a range of numbers or days. */
function Ends({ f, set }: { f: OfferedFilter; set(change: FilterSet): void }) {
  const [typed, setTyped] = useState<FilterSet>(f.set);
  return (['from', 'to'] as const).map((end) => (
    <label key={end} className="k-end">
      <span>{end === 'from' ? 'From' : 'Up to'}</span>
      <input
        type={f.as === 'dates' ? 'date' : 'text'}
        inputMode={f.as === 'dates' ? undefined : 'decimal'}
        value={typed[end] ?? ''}
        aria-invalid={f.wrong === end}
        onChange={(ev) => {
          const next = { ...typed, [end]: ev.target.value };
          setTyped(next);
          set(next);
        }}
      />
      {f.wrong === end && <span className="k-problem">Type a number.</span>}
    </label>
  ));
}
