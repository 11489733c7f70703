import { Table2 } from 'lucide-react';
import type { Table } from '../../core/tables/schema.ts';
import { allId } from '../../core/document/ids.ts';
import { GUIDED_OPS, type Sentence, type SinceUnit } from '../../core/formula/guided.ts';
import type { Total } from '../../core/formula/guided-total.ts';
import { TotalBySentence } from './TotalBySentence.tsx';
import type { Type } from '../../core/formula/types.ts';
import type { Model } from '../../core/records/model.ts';
import { ChoiceChip, type Choice } from '../chips/ChoiceChip.tsx';
import { chipLabel, pathsAt } from '../chips/paths.ts';
import { ValueChip } from '../chips/ValueChip.tsx';
import { WhereSentence } from '../chips/WhereSentence.tsx';
import { useModel } from '../state/model.ts';
import { useApp } from '../state/studio.ts';
import { ByPercentSentence, PercentSentence, CalculateSentence } from './NumberSentences.tsx';
import { TidySentence, WordsSentence } from './TextSentences.tsx';

const none = { match: 'all' as const, conditions: [] };

/** The kinds of sentences, as they are offered, with what each begins with. */
export const SENTENCES: { label: string; hint: string; begin: Sentence }[] = [
  { label: 'Bring a value over', hint: 'from a linked record', begin: { kind: 'bring', path: '' } },
  {
    label: 'Count or add up',
    hint: 'linked records, or a table',
    begin: { kind: 'total', how: 'count', list: '', field: '', where: none },
  },
  {
    label: 'A total by the same values',
    hint: 'by goods and place, say',
    begin: { kind: 'total by', how: 'sum', list: '', field: '', same: [] },
  },
  { label: 'Join values', hint: 'of linked records', begin: { kind: 'join', list: '', field: '', separator: ', ' } },
  {
    label: 'One value or another',
    hint: 'by a condition',
    begin: {
      kind: 'choose',
      when: { match: 'all', conditions: [{ left: '', op: 'is', right: '' }] },
      then: '',
      otherwise: '',
    },
  },
  {
    label: 'The time between two dates',
    hint: 'in days or hours',
    begin: { kind: 'since', from: '', until: 'today()', unit: 'days' },
  },
  {
    label: 'A calculation',
    hint: 'with two values: amount × price',
    begin: { kind: 'calculate', left: '', sign: '*', right: '' },
  },
  {
    label: 'Less or more by percent',
    hint: 'a discount, a tax',
    begin: { kind: 'by percent', of: '', way: 'less', percent: '' },
  },
  { label: 'A share in percent', hint: '', begin: { kind: 'percent', part: '', whole: '', places: 1 } },
  {
    label: 'A rank',
    hint: 'its place among many',
    begin: { kind: 'rank', first: 'highest', list: '', field: '', of: '' },
  },
  { label: 'Words with values', hint: 'in one text', begin: { kind: 'words', parts: [] } },
  { label: 'A text made even', hint: 'spaces and capitals', begin: { kind: 'tidy', how: 'spaces', path: '' } },
  {
    label: 'The lowest or highest record',
    hint: 'of linked records',
    begin: { kind: 'best', how: 'max', list: '', field: '' },
  },
];

const TOTALS: Choice<Total>[] = [
  { value: 'count', label: 'number' },
  { value: 'sum', label: 'sum' },
  { value: 'mean', label: 'average' },
  { value: 'min', label: 'lowest' },
  { value: 'max', label: 'highest' },
];
const UNITS: Choice<SinceUnit>[] = [
  { value: 'days', label: 'days' },
  { value: 'hours', label: 'hours' },
  { value: 'minutes', label: 'minutes' },
  { value: 'months', label: 'whole months' },
  { value: 'years', label: 'whole years' },
];

/** The table whose records a list formula gives. */
function tableOfList(model: Model, self: string, list: string): string | null {
  if (list.startsWith('all_')) return list.slice(4);
  let table: string | null = self;
  let type: Type | undefined;
  for (const id of list.split('.')) {
    type = table ? model.members(table).find((m) => m.id === id)?.type : undefined;
    table = type?.k === 'record' ? type.table : type?.k === 'list' && type.of.k === 'record' ? type.of.table : null;
  }
  return table;
}

/** A formula field as a sentence with places to fill in. */
export function SentenceCard({
  table,
  sentence,
  onChange,
}: {
  table: Table;
  sentence: Sentence;
  onChange(s: Sentence): void;
}) {
  const app = useApp();
  const model = useModel();
  const here = { self: table.id, things: [] };
  const lists = (): Choice<string>[] => [
    ...pathsAt(app, model, here, 'any')
      .filter((p) => p.type.k === 'list')
      .slice(0, 20)
      .map((p) => ({ value: p.stored, label: p.label, group: 'Linked records' })),
    ...app.tables.map((t) => ({ value: allId(t.id), label: `all ${t.name}`, group: 'Whole tables', icon: Table2 })),
  ];
  const listChip = (list: string, change: (list: string) => void) => (
    <ChoiceChip
      name="Records"
      tone="data"
      value={list || null}
      {...(list && { label: chipLabel(model, list).label })}
      empty="choose records"
      choices={lists()}
      onChange={change}
    />
  );
  const there = 'list' in sentence && sentence.list ? tableOfList(model, table.id, sentence.list) : null;
  const fields = (wanted: (t: Type) => boolean): Choice<string>[] =>
    there
      ? model
          .members(there)
          .filter((m) => wanted(m.type))
          .map((m) => ({ value: m.id, label: m.name }))
      : [];
  const number = (t: Type): boolean => ['number', 'days', 'months', 'any'].includes(t.k);
  const ordered = (t: Type): boolean => number(t) || ['date', 'datetime', 'time', 'text'].includes(t.k);

  switch (sentence.kind) {
    case 'bring':
      return (
        <p className="sentence">
          Shows{' '}
          <ValueChip
            name="Value"
            value={sentence.path}
            empty="choose a linked value"
            literals={false}
            place={here}
            onChange={(path) => onChange({ ...sentence, path })}
          />{' '}
          of the linked record
        </p>
      );
    case 'total':
      return (
        <p className="sentence">
          The{' '}
          <ChoiceChip
            name="Figure"
            value={sentence.how}
            choices={TOTALS}
            onChange={(how) => onChange({ ...sentence, how, field: how === 'count' ? '' : sentence.field })}
          />{' '}
          of{' '}
          {sentence.how !== 'count' && (
            <>
              <ChoiceChip
                name="Field"
                tone="data"
                value={sentence.field || null}
                empty="choose a field"
                choices={fields(sentence.how === 'min' || sentence.how === 'max' ? ordered : number)}
                onChange={(field) => onChange({ ...sentence, field })}
              />{' '}
              of{' '}
            </>
          )}
          {listChip(sentence.list, (list) => onChange({ ...sentence, list, field: '', where: none }))}{' '}
          {there && (
            <WhereSentence
              where={sentence.where}
              ops={GUIDED_OPS}
              place={{ self: there, things: [] }}
              onChange={(where) => onChange({ ...sentence, where })}
            />
          )}
        </p>
      );
    case 'total by':
      return <TotalBySentence table={table} sentence={sentence} totals={TOTALS} onChange={onChange} />;
    case 'join':
      return (
        <p className="sentence">
          Joins{' '}
          <ChoiceChip
            name="Field"
            tone="data"
            value={sentence.field || null}
            empty="choose a field"
            choices={fields((t) => t.k === 'text')}
            onChange={(field) => onChange({ ...sentence, field })}
          />{' '}
          of {listChip(sentence.list, (list) => onChange({ ...sentence, list, field: '' }))} with{' '}
          <input
            aria-label="Separator"
            className="field !inline !w-16 text-center"
            value={sentence.separator}
            onChange={(e) => onChange({ ...sentence, separator: e.target.value })}
          />{' '}
          between them
        </p>
      );
    case 'choose':
      return (
        <p className="sentence">
          <WhereSentence
            lead="If"
            bare="choose a condition"
            where={sentence.when}
            ops={GUIDED_OPS}
            place={here}
            onChange={(when) => onChange({ ...sentence, when })}
          />{' '}
          then{' '}
          <ValueChip
            name="Then"
            value={sentence.then}
            place={here}
            onChange={(then) => onChange({ ...sentence, then })}
          />{' '}
          otherwise{' '}
          <ValueChip
            name="Otherwise"
            value={sentence.otherwise}
            place={here}
            onChange={(otherwise) => onChange({ ...sentence, otherwise })}
          />
        </p>
      );
    case 'since':
      return (
        <p className="sentence">
          The time from{' '}
          <ValueChip
            name="From"
            value={sentence.from}
            empty="choose a date"
            place={here}
            field={DATE}
            onChange={(from) => onChange({ ...sentence, from })}
          />{' '}
          until{' '}
          <ValueChip
            name="Until"
            value={sentence.until}
            empty="choose a date"
            place={here}
            field={DATE}
            onChange={(until) => onChange({ ...sentence, until })}
          />
          , in{' '}
          <ChoiceChip
            name="Unit"
            value={sentence.unit}
            choices={UNITS}
            onChange={(unit) =>
              onChange({
                ...sentence,
                unit,
                until:
                  unit === 'hours' || unit === 'minutes' ? sentence.until.replace('today()', 'now()') : sentence.until,
              })
            }
          />
        </p>
      );
    case 'percent':
      return <PercentSentence table={table} sentence={sentence} onChange={onChange} />;
    case 'calculate':
      return <CalculateSentence table={table} sentence={sentence} onChange={onChange} />;
    case 'by percent':
      return <ByPercentSentence table={table} sentence={sentence} onChange={onChange} />;
    case 'best':
      return (
        <p className="sentence">
          The one of {listChip(sentence.list, (list) => onChange({ ...sentence, list, field: '' }))} with the{' '}
          <ChoiceChip
            name="Extreme"
            value={sentence.how}
            choices={[
              { value: 'max' as const, label: 'highest' },
              { value: 'min' as const, label: 'lowest' },
            ]}
            onChange={(how) => onChange({ ...sentence, how })}
          />{' '}
          <ChoiceChip
            name="Field"
            tone="data"
            value={sentence.field || null}
            empty="choose a field"
            choices={fields(ordered)}
            onChange={(field) => onChange({ ...sentence, field })}
          />
        </p>
      );
    case 'rank': {
      const record = `this_${table.id}`;
      const setField = (field: string): void =>
        onChange({ ...sentence, field, of: there === table.id ? `${record}.${field}` : sentence.of });
      return (
        <p className="sentence">
          The place of this {table.one} among{' '}
          {listChip(sentence.list, (list) => onChange({ ...sentence, list, field: '', of: '' }))} by{' '}
          <ChoiceChip
            name="Field"
            tone="data"
            value={sentence.field || null}
            empty="choose a field"
            choices={fields(ordered)}
            onChange={setField}
          />
          {there !== null && there !== table.id && (
            <>
              {' '}
              compared with{' '}
              <ValueChip
                name="Compared with"
                value={sentence.of}
                literals={false}
                place={here}
                onChange={(of) => onChange({ ...sentence, of })}
              />
            </>
          )}
          , the{' '}
          <ChoiceChip
            name="Which is first"
            value={sentence.first}
            choices={[
              { value: 'highest' as const, label: 'highest' },
              { value: 'lowest' as const, label: 'lowest' },
            ]}
            onChange={(first) => onChange({ ...sentence, first })}
          />{' '}
          is first
        </p>
      );
    }
    case 'words':
      return <WordsSentence table={table} sentence={sentence} onChange={onChange} />;
    case 'tidy':
      return <TidySentence table={table} sentence={sentence} onChange={onChange} />;
  }
}

const DATE = { id: 'f_date0000', name: 'date', type: 'date' as const };
