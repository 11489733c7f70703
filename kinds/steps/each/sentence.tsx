import { noConditions } from '../../../core/document/queries.ts';
import { ChoiceChip } from '../../../studio/chips/ChoiceChip.tsx';
import { RecordsChip } from '../../../studio/chips/RecordsChip.tsx';
import { ValueChip } from '../../../studio/chips/ValueChip.tsx';
import { WhereSentence } from '../../../studio/chips/WhereSentence.tsx';
import type { SentenceProps } from '../../../studio/logic/StepSentence.tsx';
import { useApp } from '../../../studio/state/studio.ts';
import { NameField } from '../../../studio/ui/NameField.tsx';

const LIMITS = [null, 1, 5, 10, 50, 100, 1000].map((n) => ({
  value: n,
  label: n === null ? 'all of them' : `the first ${n}`,
}));

export default function Sentence({ step, place, onChange }: SentenceProps<'each'>) {
  const app = useApp();
  const { query } = step;
  const table = app.tables.find((t) => t.id === query.table);
  const inQuery = { self: table ? query.table : null, things: place.things.filter((t) => t.id !== step.result) };
  const [order] = query.order;
  return (
    <>
      For each of{' '}
      <RecordsChip
        query={query}
        place={inQuery}
        onChange={(id, via) =>
          onChange({
            ...step,
            query: {
              ...query,
              table: id,
              ...(via ? { via } : { via: undefined }),
              ...(id !== query.table && { where: noConditions(), order: [] }),
            },
            ...(id !== query.table && { resultName: `this ${app.tables.find((t) => t.id === id)?.one ?? 'one'}` }),
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
            onChange={(where) => onChange({ ...step, query: { ...query, where } })}
          />
          , in the order of{' '}
          <ValueChip
            name="Order"
            value={order?.by ?? ''}
            empty="how they came"
            optional
            literals={false}
            place={inQuery}
            onChange={(by) =>
              onChange({
                ...step,
                query: { ...query, order: by ? [{ by, descending: order?.descending ?? false }] : [] },
              })
            }
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
                onChange={(descending) => onChange({ ...step, query: { ...query, order: [{ ...order, descending }] } })}
              />
            </>
          )}
          ,{' '}
          <ChoiceChip
            name="How many"
            value={query.limit}
            choices={LIMITS}
            onChange={(limit) => onChange({ ...step, query: { ...query, limit } })}
          />
          , called{' '}
          <b className="font-semibold text-kelp">
            <NameField
              value={step.resultName}
              label="Name of the record of a turn"
              onChange={(resultName) => onChange({ ...step, resultName })}
            />
          </b>
        </>
      )}
      :
    </>
  );
}
