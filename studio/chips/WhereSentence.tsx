import { CirclePlus, X } from 'lucide-react';
import type { Condition, Where } from '../../core/document/pieces.ts';
import type { Field } from '../../core/tables/schema.ts';
import { isUnary } from '../../core/records/conditions.ts';
import type { FormulaPlace } from './place.ts';
import { useApp } from '../state/studio.ts';
import { ChoiceChip } from './ChoiceChip.tsx';
import { ValueChip } from './ValueChip.tsx';

const OPS: { value: Condition['op']; label: string }[] = [
  { value: 'is', label: 'is' },
  { value: 'is not', label: 'is not' },
  { value: 'over', label: 'is over' },
  { value: 'under', label: 'is under' },
  { value: 'at least', label: 'is at least' },
  { value: 'at most', label: 'is at most' },
  { value: 'contains', label: 'contains' },
  { value: 'is empty', label: 'is empty' },
  { value: 'is filled', label: 'is filled in' },
  { value: 'holds', label: 'holds' },
];

/** Conditions as a sentence: what, how it compares, with what; joined by and or or. */
export function WhereSentence({
  where,
  onChange,
  place,
  lead = 'where',
  bare = 'any',
  ops,
}: {
  where: Where;
  onChange(where: Where): void;
  place: FormulaPlace;
  lead?: string;
  bare?: string;
  ops?: readonly Condition['op'][];
}) {
  const app = useApp();
  const fields = new Map(app.tables.flatMap((t) => t.fields.map((f) => [f.id, f] as const)));
  const fieldOf = (formula: string): Field | undefined => fields.get(formula.split('.').at(-1) ?? '');
  const set = (i: number, change: Partial<Condition>): void =>
    onChange({ ...where, conditions: where.conditions.map((c, k) => (k === i ? { ...c, ...change } : c)) });
  const add = (): void => onChange({ ...where, conditions: [...where.conditions, { left: '', op: 'is', right: '' }] });
  return (
    <>
      {lead}{' '}
      {where.conditions.length === 0 && (
        <button
          type="button"
          onClick={add}
          className="mx-px inline-flex h-[23px] items-center rounded-[7px] border border-line-strong bg-raised px-[7px] align-middle text-[13px] leading-none font-semibold text-ink hover:bg-paper"
          aria-label={`${bare}: add a condition`}
        >
          {bare}
        </button>
      )}
      {where.conditions.map((c, i) => (
        <span key={i} className="group/cond">
          {i > 0 && (
            <>
              {' '}
              <button
                type="button"
                className="rounded px-1 font-semibold text-ink hover:bg-sunk"
                aria-label="Join by and or or"
                onClick={() => onChange({ ...where, match: where.match === 'all' ? 'any' : 'all' })}
              >
                {where.match === 'all' ? 'and' : 'or'}
              </button>{' '}
            </>
          )}
          <ValueChip
            name={`Condition ${i + 1}`}
            value={c.left}
            empty="choose a field"
            wanted="any"
            literals={false}
            place={place}
            onChange={(left) => set(i, { left, ...(fieldOf(left)?.type === 'yesno' && !c.right && { right: 'true' }) })}
          />{' '}
          <ChoiceChip
            name="Comparison"
            value={c.op}
            choices={ops ? OPS.filter((o) => ops.includes(o.value)) : OPS}
            onChange={(op) => set(i, { op })}
          />{' '}
          {!isUnary(c.op) && (
            <ValueChip
              name={`Compared with ${i + 1}`}
              value={c.right}
              empty="choose a value"
              wanted="any"
              field={fieldOf(c.left)}
              place={place}
              onChange={(right) => set(i, { right })}
            />
          )}
          <button
            type="button"
            aria-label={`Remove condition ${i + 1}`}
            onClick={() => onChange({ ...where, conditions: where.conditions.filter((_, k) => k !== i) })}
            className="ml-0.5 inline-grid size-5 place-items-center rounded align-middle text-ink-faint opacity-0 group-hover/cond:opacity-100 hover:bg-sunk focus-visible:opacity-100"
          >
            <X size={12} aria-hidden />
          </button>
        </span>
      ))}
      {where.conditions.length > 0 && (
        <button
          type="button"
          aria-label="Add a condition"
          onClick={add}
          className="ml-1 inline-grid size-5 place-items-center rounded-full align-middle text-ink-soft hover:bg-sunk"
        >
          <CirclePlus size={15} aria-hidden />
        </button>
      )}
    </>
  );
}
