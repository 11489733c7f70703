import { WhereSentence } from '../../../studio/chips/WhereSentence.tsx';
import type { SentenceProps } from '../../../studio/logic/StepSentence.tsx';

export default function Sentence({ step, place, onChange }: SentenceProps<'otherwise if'>) {
  return (
    <span>
      <WhereSentence
        lead="Otherwise if"
        bare="choose a condition"
        grouped
        where={step.when}
        place={place}
        onChange={(when) => onChange({ ...step, when })}
      />
    </span>
  );
}
