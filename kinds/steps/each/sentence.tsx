import { QuerySentence } from '../../../studio/chips/QuerySentence.tsx';
import type { SentenceProps } from '../../../studio/logic/StepSentence.tsx';
import { useApp } from '../../../studio/state/studio.ts';
import { NameField } from '../../../studio/ui/NameField.tsx';

export default function Sentence({ step, place, onChange }: SentenceProps<'each'>) {
  const app = useApp();
  const { query } = step;
  const nameOf = (id: string): string => app.tables.find((t) => t.id === id)?.one ?? 'one';
  return (
    <>
      For each of{' '}
      <QuerySentence
        query={query}
        place={{ ...place, things: place.things.filter((t) => t.id !== step.result) }}
        onChange={(next) =>
          onChange({
            ...step,
            query: next,
            ...(next.table !== query.table && { resultName: `this ${nameOf(next.table)}` }),
          })
        }
      />
      {app.tables.some((t) => t.id === query.table) && (
        <>
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
