import { noConditions } from '../../core/document/queries.ts';
import type { Query } from '../../core/document/pieces.ts';
import { useApp } from '../state/studio.ts';
import { ChoiceChip } from './ChoiceChip.tsx';
import { LimitChip } from './LimitChip.tsx';
import type { FormulaPlace } from './place.ts';
import { RecordsChip } from './RecordsChip.tsx';
import { ValueChip } from './ValueChip.tsx';
import { WhereSentence } from './WhereSentence.tsx';

/** Which records, in what order, how many, as part of a sentence. `one` leaves out how many. */
export function QuerySentence({
  query,
  place,
  one = false,
  onChange,
}: {
  query: Query;
  place: FormulaPlace;
  one?: boolean;
  onChange(query: Query): void;
}) {
  const app = useApp();
  const table = app.tables.find((t) => t.id === query.table);
  const inQuery = { self: table ? query.table : null, things: place.things };
  const [order] = query.order;
  return (
    <>
      <RecordsChip
        query={query}
        place={inQuery}
        onChange={(id, via) =>
          onChange({
            ...query,
            table: id,
            ...(via ? { via } : { via: undefined }),
            ...(id !== query.table && { where: noConditions(), order: [], asks: undefined }),
          })
        }
      />
      {table && (
        <>
          {' '}
          <WhereSentence
            grouped
            where={query.where}
            place={inQuery}
            onChange={(where) => onChange({ ...query, where })}
          />
          , sorted by{' '}
          <ValueChip
            name="Sort by"
            value={order?.by ?? ''}
            empty="as they were added"
            optional
            literals={false}
            place={inQuery}
            onChange={(by) => onChange({ ...query, order: by ? [{ by, descending: order?.descending ?? false }] : [] })}
          />
          {order && (
            <>
              {' '}
              <ChoiceChip
                name="Direction"
                value={order.descending}
                choices={[
                  { value: false, label: 'upwards' },
                  { value: true, label: 'downwards' },
                ]}
                onChange={(descending) => onChange({ ...query, order: [{ ...order, descending }] })}
              />
            </>
          )}
          {!one && (
            <>
              , <LimitChip limit={query.limit} place={place} onChange={(limit) => onChange({ ...query, limit })} />
            </>
          )}
        </>
      )}
    </>
  );
}
