import { CirclePlus, X } from 'lucide-react';
import type { FieldValue } from '../../core/document/pieces.ts';
import type { Field } from '../../core/tables/schema.ts';
import { ChoiceChip } from './ChoiceChip.tsx';
import { OneOfSeveral } from './OneOfSeveral.tsx';
import type { FormulaPlace } from './place.ts';
import { ValueChip } from './ValueChip.tsx';

/** Fields with the values they get. */
export function FieldValues({
  fields,
  values,
  place,
  onChange,
  joiner,
  none = 'its fields',
  of,
}: {
  /** Where the fields come from; absent while that is not known. */
  fields: readonly Field[] | undefined;
  values: FieldValue[];
  place: FormulaPlace;
  onChange(values: FieldValue[]): void;
  joiner: 'to' | 'as' | 'by';
  /** What stands there while it is not known where the fields come from. */
  none?: string;
  /** The record whose fields they are, as a formula: of what a field of it holds, one can be added or taken out. */
  of?: string;
}) {
  const writable = (fields ?? []).filter((f) => f.type !== 'formula');
  const set = (i: number, change: Partial<FieldValue>): void =>
    onChange(values.map((v, k) => (k === i ? { ...v, ...change } : v)));
  if (!fields) return <span className="text-ink-faint">{none}</span>;
  const free = writable.filter((f) => !values.some((v) => v.field === f.id));
  return (
    <>
      {values.map((v, i) => {
        const field = writable.find((f) => f.id === v.field);
        return (
          <span key={i} className="group/value relative">
            {i > 0 && (i === values.length - 1 ? ' and ' : ', ')}
            <ChoiceChip
              name={`Field ${i + 1}`}
              value={v.field || null}
              empty="choose a field"
              choices={[...(field ? [field] : []), ...free].map((f) => ({ value: f.id, label: f.name }))}
              onChange={(id) => set(i, { field: id, value: '' })}
            />{' '}
            {of && field?.several ? (
              <OneOfSeveral
                held={`${of}.${field.id}`}
                field={field}
                at={i + 1}
                value={v.value}
                place={place}
                onChange={(value) => set(i, { value })}
              />
            ) : (
              <>
                {joiner}{' '}
                <ValueChip
                  name={`Value ${i + 1}`}
                  value={v.value}
                  field={field}
                  wanted={
                    field?.link
                      ? field.several
                        ? { records: field.link.table }
                        : { record: field.link.table }
                      : 'value'
                  }
                  literals={!field?.link}
                  place={place}
                  onChange={(value) => set(i, { value })}
                />
              </>
            )}
            <button
              type="button"
              aria-label={`Remove ${field?.name ?? 'this field'}`}
              onClick={() => onChange(values.filter((_, k) => k !== i))}
              className="absolute -top-2.5 -right-1.5 grid size-4 place-items-center rounded-full border border-line-strong bg-raised text-ink-soft opacity-0 group-hover/value:opacity-100 focus-visible:opacity-100"
            >
              <X size={10} aria-hidden />
            </button>
          </span>
        );
      })}
      {values.length > 0 && ' '}
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
