import { QuerySentence } from '../../../studio/chips/QuerySentence.tsx';
import type { SentenceProps } from '../../../studio/logic/StepSentence.tsx';
import { NameField } from '../../../studio/ui/NameField.tsx';

export default function Sentence({ step, place, onChange }: SentenceProps<'find'>) {
  return (
    <>
      Find those of{' '}
      <QuerySentence
        query={step.query}
        place={{ ...place, things: place.things.filter((t) => t.id !== step.result) }}
        onChange={(query) => onChange({ ...step, query })}
      />{' '}
      and call them{' '}
      <NameField
        value={step.resultName}
        label="What it is called"
        onChange={(resultName) => onChange({ ...step, resultName })}
        className="font-semibold text-kelp"
      />
    </>
  );
}
