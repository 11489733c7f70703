import { createContext, lazy, Suspense, useContext, useEffect, useId, useState, type CSSProperties } from 'react';
import { listCell, toListCell, type Cell } from '../core/records/lists.ts';
import type { DrawnForm, DrawnInput } from '../core/screens/drawn.ts';
import { usePlayer } from './context.ts';
import { ElementView } from './elements.tsx';
import { LinkInput, LinksInput } from './LinkInput.tsx';
import { PhotoInput } from './PhotoInput.tsx';

interface FormState {
  values: Record<string, Cell>;
  problems: Record<string, string>;
  saving: boolean;
  set(field: string, cell: Cell): void;
  save(): void;
}

const FormContext = createContext<FormState | null>(null);
export const useForm = (): FormState | null => useContext(FormContext);

const fieldsIn = (e: DrawnForm): string[] => {
  const ids: string[] = [];
  const walk = (list: DrawnForm['children']): void => {
    for (const c of list) {
      if (c.kind === 'input') ids.push(c.field);
      else if ('children' in c) walk(c.children);
    }
  };
  walk(e.children);
  return ids;
};

/** A form for a new or present record. What is typed stays until it is saved or the screen is left. */
export function FormView({ e, style }: { e: DrawnForm; style: CSSProperties }) {
  const { api, saved, say } = usePlayer();
  const [changed, setChanged] = useState<Record<string, Cell>>({});
  const [problems, setProblems] = useState<Record<string, string>>({});
  const [saving, setSaving] = useState(false);
  useEffect(() => {
    setChanged({});
    setProblems({});
  }, [e.id, e.record]);

  const save = (): void => {
    if (saving) return;
    setSaving(true);
    const all = Object.fromEntries(
      fieldsIn(e).map((f) => [f, changed[f] ?? (f in changed ? null : (e.values[f] ?? null))]),
    );
    api.saveForm(e.table, e.record, e.record ? { ...changed } : all).then(
      (answer) => {
        setSaving(false);
        if ('problems' in answer) {
          setProblems(answer.problems);
          const first = Object.values(answer.problems)[0];
          if (first) say(first);
        } else {
          setChanged({});
          saved(answer.created);
        }
      },
      (error: Error) => {
        setSaving(false);
        say(error.message);
      },
    );
  };

  const form: FormState = {
    values: { ...e.values, ...changed },
    problems,
    saving,
    save,
    set: (field, cell) => {
      setChanged((c) => ({ ...c, [field]: cell }));
      setProblems(({ [field]: _mended, ...rest }) => rest);
    },
  };
  return (
    <FormContext.Provider value={form}>
      <form
        className="k-form"
        data-e={e.id}
        style={style}
        noValidate
        onSubmit={(ev) => {
          ev.preventDefault();
          save();
        }}
      >
        {e.children.map((c) => (
          <ElementView key={c.id} e={c} />
        ))}
      </form>
    </FormContext.Provider>
  );
}

/** One field of a form, by its type. */
export function InputView({ e }: { e: DrawnInput }) {
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
const RareInput = lazy(() => import('./RareInput.tsx'));

function Control({ e, id, value, set }: { e: DrawnInput; id: string; value: Cell; set(cell: Cell): void }) {
  const text = value === null ? '' : String(value);
  if (!e.writable) return <p className="k-none">{text || 'The app fills this in.'}</p>;
  if (e.link && e.several)
    return <LinksInput id={id} table={e.link.table} value={listCell(value)} set={set} label={e.label} />;
  if (e.link)
    return <LinkInput id={id} table={e.link.table} value={value === null ? null : text} set={set} label={e.label} />;
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
  if (RARE.has(e.type) && (e.type !== 'plan' || e.plan))
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
      {...(KEYBOARDS[e.type] ?? { type: 'text' })}
      value={shown}
      {...(e.type === 'duration' && { placeholder: '1 h 30 min' })}
      {...(e.type === 'person' && { autoComplete: 'name' })}
      onChange={(ev) => set(ev.target.value || null)}
    />
  );
}
