import { X } from 'lucide-react';
import { countedTable, pairsIn, pairsOf, totalBy, type Pair } from '../../core/app/total-by.ts';
import type { Sentence } from '../../core/formula/guided.ts';
import type { Total, TotalBy } from '../../core/formula/guided-total.ts';
import type { Type } from '../../core/formula/types.ts';
import type { Table } from '../../core/tables/schema.ts';
import { ChoiceChip, type Choice } from '../chips/ChoiceChip.tsx';
import { useModel } from '../state/model.ts';
import { useApp } from '../state/studio.ts';

const NUMBERS = new Set<Type['k']>(['number', 'days', 'months', 'any']);
const ORDERED = new Set<Type['k']>([...NUMBERS, 'date', 'datetime', 'time', 'text']);

/** A figure of the records of another table that have the same values: their sum by goods and place. */
export function TotalBySentence({
  table,
  sentence,
  totals,
  onChange,
}: {
  table: Table;
  sentence: TotalBy;
  totals: Choice<Total>[];
  onChange(s: Sentence): void;
}) {
  const app = useApp();
  const model = useModel();
  const there = countedTable(app, sentence);
  const { how, field } = sentence;
  const pairs = pairsIn(sentence);
  const change = (to: Table, next: Partial<{ how: Total; field: string; pairs: Pair[] }>): void =>
    onChange(totalBy(table, to, next.how ?? how, next.field ?? field, next.pairs ?? pairs));
  const name = (of: Table, id: string): string => of.fields.find((f) => f.id === id)?.name ?? 'a field that is gone';
  const said = ({ here, there: other }: Pair): string => {
    const [a, b] = [name(table, here), there ? name(there, other) : ''];
    return a === b ? a : `${a} (there ${b})`;
  };
  const wanted = how === 'min' || how === 'max' ? ORDERED : NUMBERS;
  const fields = there ? model.members(there.id).filter((m) => wanted.has(m.type.k)) : [];
  const left = there
    ? pairsOf(table, there).filter((p) => !pairs.some((q) => q.here === p.here || q.there === p.there))
    : [];
  return (
    <p className="sentence">
      The{' '}
      <ChoiceChip
        name="Figure"
        value={how}
        choices={totals}
        onChange={(next) => onChange({ ...sentence, how: next, field: next === 'count' ? '' : field })}
      />{' '}
      of{' '}
      {how !== 'count' && (
        <>
          <ChoiceChip
            name="Field"
            tone="data"
            value={field || null}
            empty={there ? 'choose a field' : 'a field'}
            choices={fields.map((m) => ({ value: m.id, label: m.name }))}
            onChange={(next) => onChange({ ...sentence, field: next })}
          />{' '}
          of{' '}
        </>
      )}
      all{' '}
      <ChoiceChip
        name="Table"
        tone="data"
        value={there?.id ?? null}
        empty="choose a table"
        choices={app.tables.map((t) => ({ value: t.id, label: t.name }))}
        onChange={(id) =>
          change(
            app.tables.find((t) => t.id === id)!,
            { field: '', pairs: [] },
          )
        }
      />{' '}
      with the same{' '}
      {pairs.map((p, i) => (
        <span key={`${p.here} ${p.there}`} className="whitespace-nowrap">
          {i > 0 && 'and '}
          <b className="font-semibold">{said(p)}</b>
          <button
            type="button"
            aria-label={`Not by ${said(p)}`}
            onClick={() => change(there!, { pairs: pairs.filter((q) => q !== p) })}
            className="mr-1 ml-0.5 inline-grid size-5 place-items-center rounded align-middle text-ink-faint hover:bg-sunk"
          >
            <X size={12} aria-hidden />
          </button>
        </span>
      ))}
      {there && (left.length > 0 || pairs.length === 0) && (
        <ChoiceChip
          name="Same value"
          tone={pairs.length > 0 ? 'plain' : 'data'}
          value={null}
          {...(pairs.length > 0 && { label: 'and another' })}
          empty="choose a value of both"
          choices={left.map((p) => ({ value: p, label: said(p) }))}
          onChange={(p) => change(there, { pairs: [...pairs, p] })}
        />
      )}
    </p>
  );
}
