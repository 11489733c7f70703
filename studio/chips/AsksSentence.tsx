import { requestIn } from '../../core/services/answer-type.ts';
import type { Query } from '../../core/document/pieces.ts';
import { useApp } from '../state/studio.ts';
import { ChoiceChip } from './ChoiceChip.tsx';
import { FieldValues } from './FieldValues.tsx';
import type { FormulaPlace } from './place.ts';

/** What the request of a fetched table is given at one place, as a part of a sentence; nothing for other tables. */
export function AsksSentence({
  query,
  place,
  searches,
  onChange,
}: {
  query: Query;
  place: FormulaPlace;
  /** Something above it takes words to look for. */
  searches: boolean;
  onChange(query: Query): void;
}) {
  const app = useApp();
  const fetched = app.tables.find((t) => t.id === query.table)?.fetched;
  const request = fetched && requestIn(app, fetched.request);
  if (!request || request.inputs.length === 0) return null;
  const paged = app.services?.flatMap((s) => s.requests).find((r) => r.id === request.id)?.paging;
  const inputs = request.inputs.filter((i) => !(paged && 'input' in paged && paged.input === i.id));
  if (inputs.length === 0) return null;
  const asks = query.asks ?? { values: [] };
  const put = (next: NonNullable<Query['asks']>): void => {
    const { asks: _before, ...rest } = query;
    onChange({ ...rest, ...((next.values.length > 0 || next.search) && { asks: next }) });
  };
  return (
    <p>
      Asked with{' '}
      <FieldValues
        fields={inputs.filter((i) => i.id !== asks.search)}
        values={asks.values}
        place={place}
        joiner="as"
        onChange={(values) => put({ ...asks, values })}
      />
      {searches && (
        <>
          ; what people look for is{' '}
          <ChoiceChip
            name="What people look for is"
            value={asks.search ?? ''}
            choices={[
              { value: '', label: 'looked for in what has come' },
              ...inputs.map((i) => ({ value: i.id, label: `asked for as ${i.name}` })),
            ]}
            onChange={(id) => {
              const { search: _before, ...rest } = asks;
              put({
                ...rest,
                values: asks.values.filter((v) => v.field !== id),
                ...(id && { search: id }),
              });
            }}
          />
        </>
      )}
      .
    </p>
  );
}
