import { WordsField } from '../../../studio/chips/WordsField.tsx';
import type { SentenceProps } from '../../../studio/logic/StepSentence.tsx';

export default function Sentence({ step, place, onChange }: SentenceProps<'message'>) {
  return (
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
  );
}
