import type { Query } from '../../core/document/pieces.ts';
import type { Field } from '../../core/tables/schema.ts';
import type { FormulaPlace } from './place.ts';
import { ValueChip } from './ValueChip.tsx';

const COUNT: Field = { id: 'f_count0000', name: 'how many', type: 'number', decimals: 0, least: 1, most: 100_000 };
const OFFERED = [
  ['', 'all of them'],
  ...[1, 3, 5, 10, 20, 50, 100].map((n) => [String(n), String(n)] as const),
] as const;

/** How many of the records that are found, as part of a sentence: all, a number, or what a formula gives. */
export function LimitChip({
  limit,
  place,
  onChange,
}: {
  limit: Query['limit'];
  place: FormulaPlace;
  onChange(limit: Query['limit']): void;
}) {
  return (
    <>
      {limit !== null && limit !== '' && 'the first '}
      <ValueChip
        name="How many"
        value={limit === null ? '' : String(limit)}
        empty="all of them"
        optional
        field={COUNT}
        fixed={OFFERED}
        place={{ ...place, self: null }}
        onChange={(stored) => {
          const n = Number(stored);
          onChange(!stored ? null : Number.isInteger(n) && n >= 1 && n <= 100_000 ? n : stored);
        }}
      />
    </>
  );
}
