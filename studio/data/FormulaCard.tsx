import { useEffect, useMemo, useRef, useState } from 'react';
import { clsx } from 'clsx';
import type { Field, Table } from '../../core/app/schema.ts';
import { builtins } from '../../core/formula/builtins/index.ts';
import { Problems, useTrial } from '../chips/FormulaBox.tsx';
import { useModel } from '../state/model.ts';
import { useStudio } from '../state/studio.ts';

/** Writes a formula field: names to put in, problems in words, results for real records while typing. */
export function FormulaCard({ table, field }: { table: Table; field: Field }) {
  const model = useModel();
  const { edit } = useStudio();
  const shown = model.shown(field.formula ?? '');
  const [text, setText] = useState(shown);
  const area = useRef<HTMLTextAreaElement>(null);
  const editing = useRef(false);
  const place = useMemo(() => ({ self: table.id, given: null }), [table.id]);
  const trial = useTrial(place, text, 4);
  const circle = model.formula(table.id, field).problems.find((p) => /circle|itself/.test(p.message));
  useEffect(() => { if (!editing.current) setText(shown); }, [shown]);

  // What is typed is kept as it stands, so that closing the tab loses nothing; a broken formula gives nothing until it is mended.
  useEffect(() => {
    if (!trial || !editing.current || trial.stored === field.formula) return;
    void edit(`Changed the formula of ${field.name}`, (a) => { a.tables.find((t) => t.id === table.id)!.fields.find((f) => f.id === field.id)!.formula = trial.stored; }, { merge: `formula-${field.id}` });
  }, [trial]); // eslint-disable-line react-hooks/exhaustive-deps

  const insert = (what: string): void => {
    const a = area.current!;
    const next = text.slice(0, a.selectionStart) + what + text.slice(a.selectionEnd);
    const at = a.selectionStart + what.length;
    editing.current = true;
    setText(next);
    requestAnimationFrame(() => { a.focus(); a.setSelectionRange(at, at); });
  };
  const broken = trial?.problems.some((p) => p.severity === 'error');
  return (
    <div className="mt-3 grid grid-cols-[1fr_190px] gap-4 max-[1100px]:grid-cols-1">
      <div className="min-w-0">
        <textarea
          ref={area} rows={2} spellCheck={false} aria-label={`Formula of ${field.name}`} aria-invalid={broken} value={text}
          onFocus={() => { editing.current = true; }} onBlur={() => { editing.current = false; }}
          onChange={(e) => { editing.current = true; setText(e.target.value); }}
          placeholder="for example: sum(Visits.Fed litres)"
          className="field field-sizing-content min-h-[52px] resize-none !bg-paper font-mono text-[12.5px] leading-5"
        />
        {circle && <p className="mt-2 text-sm text-persimmon-deep">{circle.message}</p>}
        <Problems text={text} trial={trial} />
        {trial && !broken && (
          <p className="mt-2 flex flex-wrap gap-x-5 gap-y-1 text-sm">
            {trial.samples.map((s, i) => <span key={i}><b className="font-semibold">{s.title}</b> <span className="text-kelp">{s.value || 'nothing'}</span></span>)}
            <span className="text-ink-faint">a {trial.type}</span>
          </p>
        )}
        {!text && <p className="mt-2 text-sm text-ink-soft">A formula works a value out from the record and what it links to. Press a name to put it in.</p>}
      </div>
      <div className="thin-scroll flex max-h-32 flex-wrap content-start gap-1 overflow-auto" aria-label="Names to put in">
        {model.members(table.id).filter((m) => m.id !== field.id).map((m) => (
          <button key={m.id} type="button" onMouseDown={(e) => e.preventDefault()} onClick={() => insert(m.name)} className={clsx('rounded px-1.5 py-px text-xs', m.type.k === 'record' || m.type.k === 'list' ? 'bg-dusk-wash text-dusk' : 'bg-kelp-wash text-kelp')}>{m.name}</button>
        ))}
        {['sum', 'count', 'max', 'min', 'mean', 'string join', 'today', 'now'].map((f) => (
          <button key={f} type="button" title={builtins().get(f)?.help} onMouseDown={(e) => e.preventDefault()} onClick={() => insert(f === 'today' || f === 'now' ? `${f}()` : `${f}(`)} className="rounded bg-sunk px-1.5 py-px font-mono text-[11px]">{f}</button>
        ))}
      </div>
    </div>
  );
}
