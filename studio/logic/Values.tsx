import { CirclePlus, X } from 'lucide-react';
import type { Routine } from '../../core/app/schema.ts';
import type { FieldValue } from '../../core/document/pieces.ts';
import { thingsInRoutine } from '../../core/routines/program.ts';
import type { Table } from '../../core/tables/schema.ts';
import { stepKinds } from '../../kinds/steps/index.ts';
import { ChoiceChip } from '../chips/ChoiceChip.tsx';
import type { FormulaPlace } from '../chips/place.ts';
import { ValueChip } from '../chips/ValueChip.tsx';
import { useModel } from '../state/model.ts';
import { useApp } from '../state/studio.ts';

/** The table a stored path leads to, when it leads to one record. */
export function useTableOf(routine: Routine): (formula: string) => Table | undefined {
  const app = useApp();
  const model = useModel();
  return (formula) => {
    const [head, ...rest] = formula.split('.');
    const thing = thingsInRoutine(stepKinds, model, routine).find((t) => t.id === head);
    let table: string | null = thing?.type.k === 'record' ? thing.type.table : null;
    for (const hop of rest) {
      const type = table ? model.members(table).find((m) => m.id === hop)?.type : undefined;
      table = type?.k === 'record' ? type.table : null;
    }
    return app.tables.find((t) => t.id === table);
  };
}

/** Fields with the values they get. */
export function Values({
  table,
  values,
  place,
  onChange,
  joiner,
}: {
  table: Table | undefined;
  values: FieldValue[];
  place: FormulaPlace;
  onChange(values: FieldValue[]): void;
  joiner: 'to' | 'as';
}) {
  const writable = (table?.fields ?? []).filter((f) => f.type !== 'formula');
  const set = (i: number, change: Partial<FieldValue>): void =>
    onChange(values.map((v, k) => (k === i ? { ...v, ...change } : v)));
  if (!table) return <span className="text-ink-faint">its fields</span>;
  const free = writable.filter((f) => !values.some((v) => v.field === f.id));
  return (
    <>
      {values.map((v, i) => {
        const field = writable.find((f) => f.id === v.field);
        return (
          <span key={i} className="group/value">
            {i > 0 && (i === values.length - 1 ? ' and ' : ', ')}
            <ChoiceChip
              name={`Field ${i + 1}`}
              value={v.field || null}
              empty="choose a field"
              choices={[...(field ? [field] : []), ...free].map((f) => ({ value: f.id, label: f.name }))}
              onChange={(id) => set(i, { field: id, value: '' })}
            />{' '}
            {joiner}{' '}
            <ValueChip
              name={`Value ${i + 1}`}
              value={v.value}
              field={field}
              wanted={field?.link ? { record: field.link.table } : 'value'}
              literals={!field?.link}
              place={place}
              onChange={(value) => set(i, { value })}
            />
            <button
              type="button"
              aria-label={`Remove ${field?.name ?? 'this field'}`}
              onClick={() => onChange(values.filter((_, k) => k !== i))}
              className="ml-0.5 inline-grid size-5 place-items-center rounded align-middle text-ink-faint opacity-0 group-hover/value:opacity-100 hover:bg-sunk focus-visible:opacity-100"
            >
              <X size={12} aria-hidden />
            </button>
          </span>
        );
      })}
      {free.length > 0 && (
        <ChoiceChip
          label={values.length ? 'and more' : 'choose a field'}
          tone={values.length ? 'plain' : 'empty'}
          icon={CirclePlus}
          name="Add a field"
          value={null}
          choices={free.map((f) => ({ value: f.id, label: f.name }))}
          onChange={(id) => onChange([...values, { field: id as string, value: '' }])}
        />
      )}
    </>
  );
}
