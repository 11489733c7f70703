import { useState } from 'react';
import { readSeveral, severalText, type SetsSeveral } from '../../core/app/one-of-several.ts';
import type { Field } from '../../core/tables/schema.ts';
import { ChoiceChip, type Choice } from './ChoiceChip.tsx';
import type { FormulaPlace } from './place.ts';
import { ValueChip } from './ValueChip.tsx';

const HOW: readonly Choice<SetsSeveral['how']>[] = [
  { value: 'to', label: 'to' },
  { value: 'with', label: 'by adding' },
  { value: 'without', label: 'by removing' },
];

/** How a field of several is set: to other values, with one more, or without one of them. */
export function OneOfSeveral({
  held,
  field,
  at,
  value,
  place,
  onChange,
}: {
  /** What the field holds, as a formula. */
  held: string;
  field: Field;
  at: number;
  value: string;
  place: FormulaPlace;
  onChange(value: string): void;
}) {
  // Until a value is chosen there is no formula that could say how.
  const [begun, setBegun] = useState<SetsSeveral['how']>('to');
  const now: SetsSeveral = value ? readSeveral(held, value) : { how: begun, value: '' };
  const one = now.how !== 'to';
  const table = field.link?.table;
  return (
    <>
      <ChoiceChip
        name={`How ${field.name} is set`}
        value={now.how}
        choices={HOW}
        onChange={(how) => {
          setBegun(how);
          const keeps = now.value !== '' && how !== 'to' && one;
          onChange(keeps ? severalText(held, { how, value: now.value }) : '');
        }}
      />{' '}
      <ValueChip
        name={`Value ${at}`}
        value={now.value}
        field={one ? { ...field, several: false } : field}
        wanted={table ? (one ? { record: table } : { records: table }) : 'value'}
        literals={!table}
        place={place}
        onChange={(v) => onChange(severalText(held, { how: now.how, value: v }))}
      />
    </>
  );
}
