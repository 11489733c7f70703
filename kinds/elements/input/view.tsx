import { lazy, Suspense, useId } from 'react';
import { listCell, toListCell, type Cell } from '../../../core/fields/lists.ts';
import type { Drawn } from '../../../core/screens/element.ts';
import { useForm } from '../../../player/form.ts';
import { LinkInput, LinksInput } from '../../../player/LinkInput.tsx';
import { PhotoInput } from '../../../player/PhotoInput.tsx';
import type { input } from './definition.ts';

/** One field of a form, by its type. */
export default function InputView({ e }: { e: Drawn<typeof input> }) {
  const form = useForm();
  const id = useId();
  if (!form)
    return (
      <p className="k-text k-none" data-e={e.id}>
        {e.label}: put this input inside a form
      </p>
    );
  const value = form.values[e.field] ?? null;
  const problem = form.problems[e.field];
  const set = (cell: Cell): void => form.set(e.field, cell);
  return (
    <div className="k-field" data-e={e.id} data-problem={problem ? true : undefined}>
      {e.type !== 'yesno' && (
        <label htmlFor={id}>
          {e.label}
          {e.unit ? <span className="k-unit"> in {e.unit}</span> : null}
        </label>
      )}
      <Control e={e} id={id} value={value} set={set} />
      {problem && (
        <p className="k-problem" role="alert">
          {problem}
        </p>
      )}
    </div>
  );
}

const KEYBOARDS: Record<string, { type: string; inputMode?: 'decimal' | 'tel' | 'email' | 'url' }> = {
  number: { type: 'text', inputMode: 'decimal' },
  money: { type: 'text', inputMode: 'decimal' },
  percent: { type: 'text', inputMode: 'decimal' },
  time: { type: 'time' },
  mail: { type: 'email', inputMode: 'email' },
  phone: { type: 'tel', inputMode: 'tel' },
  web: { type: 'url', inputMode: 'url' },
  date: { type: 'date' },
  datetime: { type: 'datetime-local' },
};

/** Inputs that few forms have; they are loaded when one does. */
const RARE = new Set(['file', 'sound', 'place', 'plan', 'code']);
const RareInput = lazy(() => import('../../../player/RareInput.tsx'));

function Control({ e, id, value, set }: { e: Drawn<typeof input>; id: string; value: Cell; set(cell: Cell): void }) {
  const text = value === null ? '' : String(value);
  if (!e.writable) return <p className="k-none">{text || 'The app fills this in.'}</p>;
  if (e.link && e.several)
    return <LinksInput id={id} table={e.link} value={listCell(value)} set={set} label={e.label} />;
  if (e.link)
    return <LinkInput id={id} table={e.link} value={value === null ? null : text} set={set} label={e.label} />;
  if (e.type === 'yesno') {
    return (
      <label className="k-switch" htmlFor={id}>
        <input
          id={id}
          type="checkbox"
          role="switch"
          checked={value === true}
          onChange={(ev) => set(ev.target.checked)}
        />
        <span>{e.label}</span>
      </label>
    );
  }
  if (e.type === 'longtext') return <textarea id={id} rows={4} value={text} onChange={(ev) => set(ev.target.value)} />;
  if (e.type === 'picture') return <PhotoInput id={id} value={text} set={set} />;
  if (RARE.has(e.type ?? '') && (e.type !== 'plan' || e.plan))
    return (
      <Suspense fallback={<p className="k-none">One moment</p>}>
        <RareInput e={e} id={id} value={text} set={set} />
      </Suspense>
    );
  if (e.type === 'choice' && e.several) {
    const chosen = listCell(value);
    return (
      <div className="k-choices" role="group" aria-label={e.label} id={id}>
        {[...new Set([...e.choices, ...chosen])].map((c) => (
          <button
            type="button"
            aria-pressed={chosen.includes(c)}
            key={c}
            onClick={() => set(toListCell(chosen.includes(c) ? chosen.filter((x) => x !== c) : [...chosen, c]))}
          >
            {c}
          </button>
        ))}
      </div>
    );
  }
  if (e.type === 'choice' && e.choices.length > 0 && e.choices.length <= 5) {
    return (
      <div className="k-choices" role="radiogroup" aria-label={e.label} id={id}>
        {e.choices.map((c) => (
          <button
            type="button"
            role="radio"
            aria-checked={text === c}
            key={c}
            onClick={() => set(text === c ? null : c)}
          >
            {c}
          </button>
        ))}
      </div>
    );
  }
  if (e.type === 'choice' && e.choices.length > 0) {
    return (
      <select id={id} value={text} onChange={(ev) => set(ev.target.value || null)}>
        <option value="">Choose</option>
        {e.choices.map((c) => (
          <option key={c} value={c}>
            {c}
          </option>
        ))}
      </select>
    );
  }
  // A percent is kept as a share: a number here came from the record, a text was typed.
  const shown =
    e.type === 'datetime'
      ? text.slice(0, 16)
      : e.type === 'percent' && typeof value === 'number'
        ? `${Number((value * 100).toPrecision(12))} %`
        : text;
  return (
    <input
      id={id}
      {...(KEYBOARDS[e.type ?? ''] ?? { type: 'text' })}
      value={shown}
      {...(e.type === 'duration' && { placeholder: '1 h 30 min' })}
      {...(e.type === 'person' && { autoComplete: 'name' })}
      onChange={(ev) => set(ev.target.value || null)}
    />
  );
}
