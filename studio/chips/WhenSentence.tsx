import { useState } from 'react';
import { noConditions } from '../../core/document/queries.ts';
import type { Where } from '../../core/document/pieces.ts';
import { whereOf, whereText } from '../../core/formula/guided.ts';
import type { FormulaPlace } from './place.ts';
import { ValueChip } from './ValueChip.tsx';
import { WhereSentence } from './WhereSentence.tsx';

/**
 * A formula that is yes or no, as the conditions it is made of where it can be read so: “Status is done and Owner is the
 * person using the app”. Others are chips that open as formulas.
 */
export function WhenSentence({
  name,
  formula,
  none,
  fixed,
  place,
  onChange,
}: {
  name: string;
  /** The stored formula; undefined or empty for none. */
  formula: string | undefined;
  /** What it is without one: “always”, “never”. */
  none: string;
  /** Fixed formulas that can be chosen, with their words. */
  fixed?: readonly (readonly [stored: string, label: string])[];
  place: FormulaPlace;
  onChange(formula: string | undefined): void;
}) {
  // Conditions of which a place is not filled in yet are no formula.
  const [draft, setDraft] = useState<Where | null>(null);
  const [asFormula, setAsFormula] = useState(false);
  const plain = fixed?.some(([stored]) => stored === formula);
  const read = formula ? (plain ? null : whereOf(formula)) : noConditions();
  const where = draft ?? read;
  const change = (next: Where): void => {
    const text = whereText(next);
    setDraft(text === null ? next : null);
    if (text !== null) onChange(text || undefined);
  };
  const clear = (): void => {
    setDraft(null);
    setAsFormula(false);
    onChange(undefined);
  };
  if (!where || asFormula)
    return (
      <>
        <ValueChip
          name={name}
          value={formula ?? ''}
          empty="write a formula"
          wanted="yesno"
          literals={false}
          fixed={fixed ?? []}
          place={place}
          onChange={(v) => (v ? onChange(v) : clear())}
        />{' '}
        <button type="button" className={QUIET} onClick={clear}>
          {none}
        </button>
      </>
    );
  const any = where.conditions.length > 0;
  return (
    <span role="group" aria-label={name}>
      <WhereSentence lead="" bare={none} where={where} place={place} onChange={change} />{' '}
      {any && (
        <button type="button" className={QUIET} onClick={clear}>
          {none}
        </button>
      )}
      {!any &&
        (fixed ?? []).map(([stored, label]) =>
          label === none ? null : (
            <button key={stored} type="button" className={QUIET} onClick={() => onChange(stored)}>
              {label}
            </button>
          ),
        )}{' '}
      <button type="button" className={QUIET} aria-label={`${name}: as a formula`} onClick={() => setAsFormula(true)}>
        as a formula
      </button>
    </span>
  );
}
const QUIET = 'mr-1.5 text-sm text-ink-soft underline decoration-line-strong underline-offset-4 hover:text-ink';
