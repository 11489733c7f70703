import { QuerySentence } from '../../../studio/chips/QuerySentence.tsx';
import { ChoiceChip } from '../../../studio/chips/ChoiceChip.tsx';
import { WordsField } from '../../../studio/chips/WordsField.tsx';
import type { SentenceProps } from '../../../studio/logic/StepSentence.tsx';
import { allOf, NO_TABLE } from '../../../core/document/queries.ts';
import { menu } from './definition.ts';
import { ResultName } from '../../../studio/logic/ResultName.tsx';

export default function Sentence({ step, place, onChange }: SentenceProps<'menu'>) {
  return (
    <>
      <span className="flex items-start gap-2">
        <span className="shrink-0">Choose from a menu</span>
        <span className="max-w-96 flex-1">
          <WordsField
            name="Words over the menu"
            value={step.words}
            onChange={(words) => onChange({ ...step, words })}
            place={place}
          />
        </span>
      </span>
      of{' '}
      <ChoiceChip
        name="What it offers"
        value={step.from}
        choices={(['choices', 'records', 'both'] as const).map((value) => ({
          value,
          label: menu.properties.from.labels![value]!,
        }))}
        onChange={(from) => onChange({ ...step, from })}
      />
      {step.from !== 'choices' && (
        <>
          {' of '}
          <QuerySentence
            query={step.query ?? allOf(NO_TABLE)}
            place={{ ...place, things: place.things.filter((t) => t.id !== step.result) }}
            onChange={(query) => onChange({ ...step, query })}
          />
        </>
      )}
      ; what is chosen is called <ResultName step={step} label="Name of what was chosen" onChange={onChange} />
    </>
  );
}
