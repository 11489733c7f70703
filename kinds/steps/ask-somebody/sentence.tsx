import { ChoiceChip } from '../../../studio/chips/ChoiceChip.tsx';
import { ValueChip } from '../../../studio/chips/ValueChip.tsx';
import { WordsField } from '../../../studio/chips/WordsField.tsx';
import { DurationChip } from '../../../studio/logic/DurationChip.tsx';
import { ResultName } from '../../../studio/logic/ResultName.tsx';
import type { SentenceProps } from '../../../studio/logic/StepSentence.tsx';
import { choicesOf } from '../../../studio/screens/properties.ts';
import { NameField } from '../../../studio/ui/NameField.tsx';
import { askSomebody } from './definition.ts';

export default function Sentence({ step, place, onChange }: SentenceProps<'ask somebody'>) {
  return (
    <>
      <div className="flex items-start gap-2">
        <span className="shrink-0">
          Ask{' '}
          <ValueChip
            name="Whom"
            value={step.to}
            empty="choose whom"
            wanted="any"
            place={place}
            onChange={(to) => onChange({ ...step, to })}
          />
        </span>
        <WordsField
          name="Question"
          value={step.words}
          onChange={(words) => onChange({ ...step, words })}
          place={place}
          placeholder="The question, with values in it"
        />
      </div>
      <div className="mt-1">
        They answer{' '}
        <ChoiceChip
          name="What is answered"
          value={step.as}
          choices={choicesOf(askSomebody.properties.as)}
          onChange={(as) => onChange({ ...step, as: as as typeof step.as })}
        />
        {step.as === 'choice' && (
          <>
            :{' '}
            <b className="font-semibold">
              <NameField
                value={step.choices ?? ''}
                label="Answers to choose from, with commas between"
                onChange={(choices) => onChange({ ...step, choices })}
              />
            </b>
          </>
        )}
        , within{' '}
        <DurationChip
          name="How long at most"
          value={step.time}
          place={place}
          onChange={(time) => onChange({ ...step, time })}
        />
        , and what the first of them answers is called{' '}
        <ResultName step={step} label="Name of the answer" onChange={onChange} />
      </div>
    </>
  );
}
