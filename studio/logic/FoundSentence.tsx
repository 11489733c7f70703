import { QuerySentence } from '../chips/QuerySentence.tsx';
import { NameField } from '../ui/NameField.tsx';
import type { SentenceProps } from './StepSentence.tsx';

/** The sentence of a step that finds records: one, or those that fit. */
export function FoundSentence({
  step,
  place,
  onChange,
  one = false,
}: Pick<SentenceProps<'get' | 'find'>, 'step' | 'place' | 'onChange'> & { one?: boolean }) {
  return (
    <>
      {one ? 'Find the first of' : 'Find those of'}{' '}
      <QuerySentence
        one={one}
        query={step.query}
        place={{ ...place, things: place.things.filter((t) => t.id !== step.result) }}
        onChange={(query) => onChange({ ...step, query })}
      />{' '}
      and call {one ? 'it' : 'them'}{' '}
      <NameField
        value={step.resultName}
        label="What it is called"
        onChange={(resultName) => onChange({ ...step, resultName })}
        className="font-semibold text-kelp"
      />
    </>
  );
}
