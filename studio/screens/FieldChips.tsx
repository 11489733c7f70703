import { Plus, X } from 'lucide-react';
import type { Field } from '../../core/tables/schema.ts';
import { ChoiceChip } from '../chips/ChoiceChip.tsx';

/** One field of a table, or none. */
export function FieldChip({
  name,
  value,
  fields,
  none,
  onChange,
}: {
  name: string;
  value: string | undefined;
  fields: readonly Field[];
  /** What none is called; without it a field must be chosen. */
  none?: string;
  onChange(id: string | undefined): void;
}) {
  return (
    <ChoiceChip
      name={name}
      tone={value ? 'data' : 'plain'}
      value={value || (none === undefined ? null : '')}
      empty="choose a field"
      choices={[
        ...(none === undefined ? [] : [{ value: '', label: none }]),
        ...fields.map((f) => ({ value: f.id, label: f.name })),
      ]}
      onChange={(id) => onChange(id || undefined)}
    />
  );
}

/** Several fields in an order, each with a way to take it out, and one more to add. */
export function FieldChips({
  name,
  value,
  fields,
  add,
  onChange,
}: {
  name: string;
  value: readonly string[];
  fields: readonly Field[];
  add: string;
  onChange(ids: string[]): void;
}) {
  const rest = fields.filter((f) => !value.includes(f.id));
  return (
    <>
      {value.map((id, i) => {
        const label = fields.find((f) => f.id === id)?.name ?? 'a field that is gone';
        return (
          <span key={id} className="group/field relative whitespace-nowrap">
            {i > 0 && ', '}
            <ChoiceChip
              name={`${name} ${i + 1}`}
              tone="data"
              value={id}
              choices={[{ value: id, label }, ...rest.map((f) => ({ value: f.id, label: f.name }))]}
              onChange={(next) => onChange(value.map((x) => (x === id ? next : x)))}
            />
            <button
              type="button"
              aria-label={`Take out ${label}`}
              onClick={() => onChange(value.filter((x) => x !== id))}
              className="absolute -top-2 -right-2 grid size-4 place-items-center rounded-full border border-line-strong bg-raised text-ink-soft opacity-0 group-hover/field:opacity-100 focus-visible:opacity-100"
            >
              <X size={10} aria-hidden />
            </button>
          </span>
        );
      })}{' '}
      {rest.length > 0 && (
        <ChoiceChip
          name={`Add to ${name.toLowerCase()}`}
          value={null as string | null}
          label={add}
          icon={Plus}
          choices={rest.map((f) => ({ value: f.id as string | null, label: f.name }))}
          onChange={(id) => id && onChange([...value, id])}
        />
      )}
    </>
  );
}
