import { ListOrdered } from 'lucide-react';
import { ChoiceChip } from '../../../studio/chips/ChoiceChip.tsx';
import { QuerySentence } from '../../../studio/chips/QuerySentence.tsx';
import type { SentenceProps } from '../../../studio/logic/StepSentence.tsx';
import { useApp } from '../../../studio/state/studio.ts';
import { ResultName } from '../../../studio/logic/ResultName.tsx';

/** What is offered; each turn of a round is begun before the first of them has ended. */
const AT_ONCE = [1, 2, 3, 5, 10, 20];

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
          , called <ResultName step={step} label="Name of the record of a turn" onChange={onChange} />,{' '}
          <ChoiceChip
            name="How many at once"
            icon={ListOrdered}
            value={step.atOnce ?? 1}
            empty="one after another"
            choices={AT_ONCE.map((n) => ({
              value: n,
              label: n === 1 ? 'one after another' : `up to ${n} at once`,
            }))}
            onChange={(n) => {
              const { atOnce: _, ...rest } = step;
              onChange(n === 1 ? rest : { ...rest, atOnce: n });
            }}
          />
        </>
      )}
      :
    </>
  );
}
