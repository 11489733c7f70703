import { CirclePlus, X } from 'lucide-react';
import type { Condition, Where } from '../../core/document/pieces.ts';
import type { Field } from '../../core/tables/schema.ts';
import { isUnary } from '../../core/records/conditions.ts';
import type { FormulaPlace } from './place.ts';
import { useMemo } from 'react';
import { readyConditions } from '../../core/app/ready-conditions.ts';
import { compile } from '../../core/formula/compile.ts';
import { useModel } from '../state/model.ts';
import { useApp } from '../state/studio.ts';
import { ChoiceChip } from './ChoiceChip.tsx';
import { NameCondition } from './NameCondition.tsx';
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
  { value: 'holds', label: 'is true' },
];

interface Props {
  where: Where;
  onChange(where: Where): void;
  place: FormulaPlace;
  lead?: string;
  bare?: string;
  ops?: readonly Condition['op'][];
  /** Groups may stand among the conditions. */
  grouped?: boolean;
}

const iconButton = 'inline-grid size-5 place-items-center align-middle hover:bg-sunk';

/** Conditions as a sentence: what, how it compares, with what; joined by and or or, with groups in brackets. */
export function WhereSentence({ where, onChange, place, lead = 'where', bare = 'any', ops, grouped = false }: Props) {
  const { conditions, groups = [] } = where;
  const add = (): void => onChange({ ...where, conditions: [...conditions, NEW] });
  const turn = (): void => onChange({ ...where, match: where.match === 'all' ? 'any' : 'all' });
  const joiner = (
    <>
      {' '}
      <button
        type="button"
        className="rounded px-1 font-semibold text-ink hover:bg-sunk"
        aria-label="Join by and or or"
        onClick={turn}
      >
        {where.match === 'all' ? 'and' : 'or'}
      </button>{' '}
    </>
  );
  const setGroups = (list: Where[]): void => {
    const { groups: _before, ...rest } = where;
    onChange(list.length ? { ...rest, groups: list } : rest);
  };
  return (
    <>
      {lead}{' '}
      {conditions.length + groups.length === 0 && (
        <button
          type="button"
          onClick={add}
          className="mx-px inline-flex h-[23px] items-center rounded-[7px] border border-line-strong bg-raised px-[7px] align-middle text-[13px] leading-none font-semibold text-ink hover:bg-paper"
          aria-label={`${bare}: add a condition`}
        >
          {bare}
        </button>
      )}
      {conditions.map((c, i) => (
        <span key={i} className="group/cond relative">
          {i > 0 && joiner}
          <OneCondition
            condition={c}
            at={i + 1}
            place={place}
            ops={ops}
            onChange={(next) => onChange({ ...where, conditions: conditions.map((x, k) => (k === i ? next : x)) })}
          />
          <button
            type="button"
            aria-label={`Remove condition ${i + 1}`}
            onClick={() => onChange({ ...where, conditions: conditions.filter((_, k) => k !== i) })}
            className="absolute -top-2.5 -right-1.5 grid size-4 place-items-center rounded-full border border-line-strong bg-raised text-ink-soft opacity-0 group-hover/cond:opacity-100 focus-visible:opacity-100"
          >
            <X size={10} aria-hidden />
          </button>
        </span>
      ))}
      {groups.map((g, i) => (
        <span key={`g${i}`} role="group" aria-label={`Group ${i + 1}`}>
          {conditions.length + i > 0 && joiner}
          <span className="text-ink-faint">(</span>
          <WhereSentence
            where={g}
            lead=""
            place={place}
            {...(ops && { ops })}
            grouped
            onChange={(next) =>
              setGroups(
                next.conditions.length + (next.groups?.length ?? 0) === 0
                  ? groups.filter((_, k) => k !== i)
                  : groups.map((x, k) => (k === i ? next : x)),
              )
            }
          />
          <span className="text-ink-faint">)</span>
        </span>
      ))}
      {conditions.length + groups.length > 0 && (
        <button
          type="button"
          aria-label="Add a condition"
          onClick={add}
          className={`${iconButton} ml-1 rounded-full text-ink-soft`}
        >
          <CirclePlus size={15} aria-hidden />
        </button>
      )}
      {place.self !== null && conditions.length > 0 && (
        <NameCondition where={where} table={place.self} onChange={onChange} />
      )}
      {grouped && conditions.length > 0 && (
        <button
          type="button"
          aria-label="Add a group of conditions"
          title="A group of conditions in brackets"
          onClick={() =>
            setGroups([...groups, { match: where.match === 'all' ? 'any' : 'all', conditions: [NEW, NEW] }])
          }
          className="mx-0.5 inline-flex h-[23px] items-center rounded-[7px] px-1 align-middle text-xs text-ink-soft hover:bg-sunk"
        >
          ( … )
        </button>
      )}
    </>
  );
}

const NEW: Condition = { left: '', op: 'is', right: '' };

function OneCondition({
  condition: c,
  at,
  place,
  ops,
  onChange,
}: {
  condition: Condition;
  at: number;
  place: FormulaPlace;
  ops: readonly Condition['op'][] | undefined;
  onChange(c: Condition): void;
}) {
  const app = useApp();
  const fields = new Map([...app.tables.flatMap((t) => t.fields), ...(app.variables ?? [])].map((f) => [f.id, f]));
  const model = useModel();
  const ready = useMemo(
    () => (c.left ? [] : readyConditions(app, model, place).filter((r) => !ops || ops.includes(r.condition.op))),
    [app, model, place, ops, c.left],
  );
  /** A yes or no, kept or worked out: what is meant is that it is so. */
  const isYesNo = (formula: string): boolean =>
    compile(formula, model.optionsFor(place.self, [...place.things])).type.k === 'boolean';
  const fieldOf = (formula: string): Field | undefined => fields.get(formula.split('.').at(-1) ?? '');
  // What people fill in on the phone can be empty; then a condition of a list mostly means nothing.
  const filledIn = (formula: string): boolean =>
    place.self !== null && (app.variables ?? []).some((v) => formula.split(/[^a-z0-9_]+/).includes(v.id));
  const compared = (right: string): Condition => {
    const { whileFilled: _before, ...rest } = c;
    return { ...rest, right, ...(filledIn(right) && (c.whileFilled || !filledIn(c.right)) && { whileFilled: true }) };
  };
  return (
    <>
      <ValueChip
        name={`Condition ${at}`}
        value={c.left}
        empty="choose a field"
        wanted="any"
        literals={false}
        place={place}
        {...(ready.length > 0 && { fixed: ready.map((r) => [r.words, r.words] as const), fixedGroup: 'Ready-made' })}
        onChange={(left) => {
          const whole = ready.find((r) => r.words === left);
          onChange(whole?.condition ?? { ...c, left, ...(!c.right && isYesNo(left) && { right: 'true' }) });
        }}
      />{' '}
      <ChoiceChip
        name="Comparison"
        value={c.op}
        choices={ops ? OPS.filter((o) => ops.includes(o.value)) : OPS}
        onChange={(op) => onChange({ ...c, op })}
      />{' '}
      {!isUnary(c.op) && (
        <>
          <ValueChip
            name={`Compared with ${at}`}
            value={c.right}
            empty="choose a value"
            wanted="any"
            field={fieldOf(c.left)}
            place={place}
            onChange={(right) => onChange(compared(right))}
          />
          {filledIn(c.right) && (
            <>
              {' '}
              <ChoiceChip
                name="When that is empty"
                value={c.whileFilled ?? false}
                choices={[
                  { value: true, label: 'while it is filled in' },
                  { value: false, label: 'also while it is empty' },
                ]}
                onChange={(on) => {
                  const { whileFilled: _before, ...rest } = c;
                  onChange(on ? { ...rest, whileFilled: true } : rest);
                }}
              />
            </>
          )}
        </>
      )}
    </>
  );
}
