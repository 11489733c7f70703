import type { ReactNode } from 'react';
import type { Sentence, Sign } from '../../core/formula/guided.ts';
import type { Table } from '../../core/tables/schema.ts';
import { ChoiceChip, type Choice } from '../chips/ChoiceChip.tsx';
import { ValueChip } from '../chips/ValueChip.tsx';

interface Props<K extends Sentence['kind']> {
  table: Table;
  sentence: Sentence & { kind: K };
  onChange(s: Sentence): void;
}

const NUMBER = { id: 'f_number000', name: 'number', type: 'number' as const };
const SIGNS: Choice<Sign>[] = [
  { value: '*', label: 'times', hint: '×' },
  { value: '+', label: 'plus', hint: '+' },
  { value: '-', label: 'minus', hint: '−' },
  { value: '/', label: 'divided by', hint: '÷' },
];
const PLACES = [0, 1, 2, 3].map((n) => ({
  value: n,
  label: n === 0 ? 'no decimals' : `${n} ${n === 1 ? 'decimal' : 'decimals'}`,
}));

/** A number of the table's record, or a plain one. */
const numberChip = (table: Table, name: string, value: string, onChange: (value: string) => void): ReactNode => (
  <ValueChip
    name={name}
    value={value}
    empty="choose a number"
    place={{ self: table.id, things: [] }}
    field={NUMBER}
    onChange={onChange}
  />
);

/** Two values with a sign between them. */
export function CalculateSentence({ table, sentence: s, onChange }: Props<'calculate'>) {
  return (
    <p className="sentence">
      {numberChip(table, 'First value', s.left, (left) => onChange({ ...s, left }))}{' '}
      <ChoiceChip name="Sign" value={s.sign} choices={SIGNS} onChange={(sign) => onChange({ ...s, sign })} />{' '}
      {numberChip(table, 'Second value', s.right, (right) => onChange({ ...s, right }))}
    </p>
  );
}

/** A value less or more by so many percent. */
export function ByPercentSentence({ table, sentence: s, onChange }: Props<'by percent'>) {
  return (
    <p className="sentence">
      {numberChip(table, 'Value', s.of, (of) => onChange({ ...s, of }))}{' '}
      <ChoiceChip
        name="Less or more"
        value={s.way}
        choices={[
          { value: 'less' as const, label: 'less' },
          { value: 'more' as const, label: 'more' },
        ]}
        onChange={(way) => onChange({ ...s, way })}
      />{' '}
      by {numberChip(table, 'Percent', s.percent, (percent) => onChange({ ...s, percent }))} percent
    </p>
  );
}

/** One value as a share of another. */
export function PercentSentence({ table, sentence: s, onChange }: Props<'percent'>) {
  return (
    <p className="sentence">
      {numberChip(table, 'Part', s.part, (part) => onChange({ ...s, part }))} as a share of{' '}
      {numberChip(table, 'Whole', s.whole, (whole) => onChange({ ...s, whole }))} in percent, with{' '}
      <ChoiceChip name="Places" value={s.places} choices={PLACES} onChange={(places) => onChange({ ...s, places })} />
    </p>
  );
}
