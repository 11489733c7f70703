import { QuerySentence } from '../chips/QuerySentence.tsx';
import { ResultName } from './ResultName.tsx';
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
      and call {one ? 'it' : 'them'} <ResultName step={step} label="What it is called" onChange={onChange} />
    </>
  );
}
