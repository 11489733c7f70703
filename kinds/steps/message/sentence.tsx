import { ChoiceChip } from '../../../studio/chips/ChoiceChip.tsx';
import { WordsField } from '../../../studio/chips/WordsField.tsx';
import type { SentenceProps } from '../../../studio/logic/StepSentence.tsx';
import { choicesOf } from '../../../studio/screens/properties.ts';
import { useApp } from '../../../studio/state/studio.ts';
import { message } from './definition.ts';

export default function Sentence({ step, place, onChange }: SentenceProps<'message'>) {
  const app = useApp();
  const has = step.has ?? 'none';
  const { has: _has, button: _button, routine: _routine, ...plain } = step;
  return (
    <>
      <div className="flex items-start gap-2">
        <span className="shrink-0">Show the message</span>
        <WordsField
          name="Message"
          value={step.words}
          onChange={(words) => onChange({ ...step, words })}
          place={place}
          placeholder="Words, with values in them"
        />
      </div>
      <div className="mt-1">
        with{' '}
        <ChoiceChip
          name="Its button"
          value={has}
          choices={choicesOf(message.properties.has)}
          onChange={(next) => onChange(next === 'none' ? plain : { ...step, has: next })}
        />
        {has === 'run' && (
          <>
            {': '}
            <ChoiceChip
              name="What its button runs"
              value={step.routine || null}
              empty="choose a routine"
              choices={app.routines.map((r) => ({ value: r.id, label: r.name }))}
              onChange={(routine) => onChange({ ...step, routine })}
            />
          </>
        )}
      </div>
      {has === 'run' && (
        <div className="mt-1 flex items-start gap-2">
          <span className="shrink-0">called</span>
          <WordsField
            name="Words on its button"
            value={step.button ?? ''}
            onChange={(button) => onChange({ ...step, button })}
            place={place}
            placeholder="Do it"
          />
        </div>
      )}
    </>
  );
}
