import type { Field } from '../../core/tables/schema.ts';
import { ChoiceChip } from '../chips/ChoiceChip.tsx';
import type { Change } from './TypeSettings.tsx';

const DECIMALS = [undefined, 0, 1, 2, 3, 4] as const;

/** How many digits behind the point are shown. */
export function Decimals({ field, change }: { field: Field; change: Change }) {
  return (
    <ChoiceChip
      name="Decimals"
      value={field.decimals ?? -1}
      choices={DECIMALS.map((n) => ({
        value: n ?? -1,
        label:
          n === undefined
            ? 'as many decimals as it has'
            : n === 0
              ? 'no decimals'
              : `${n} ${n === 1 ? 'decimal' : 'decimals'}`,
      }))}
      onChange={(n) =>
        change(`Set the decimals of ${field.name}`, (f) => {
          if (n < 0) delete f.decimals;
          else f.decimals = n;
        })
      }
    />
  );
}

/** What stands behind a number, or before an amount of money. */
export function UnitBox({
  field,
  change,
  label,
  placeholder,
  longest,
}: {
  field: Field;
  change: Change;
  label: string;
  placeholder: string;
  longest: number;
}) {
  return (
    <input
      aria-label={label}
      value={field.unit ?? ''}
      placeholder={placeholder}
      maxLength={longest}
      onChange={(e) =>
        change(
          `Set the ${label.toLowerCase()} of ${field.name}`,
          (f) => {
            if (e.target.value) f.unit = e.target.value;
            else delete f.unit;
          },
          `unit-${field.id}`,
        )
      }
      className="field mx-1 !inline !w-24"
    />
  );
}
