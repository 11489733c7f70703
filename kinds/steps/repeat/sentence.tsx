import { WhereSentence } from '../../../studio/chips/WhereSentence.tsx';
import { NumberBox } from '../../../studio/ui/TypedBox.tsx';
import type { SentenceProps } from '../../../studio/logic/StepSentence.tsx';

export default function Sentence({ step, place, onChange }: SentenceProps<'repeat'>) {
  return (
    <>
      <WhereSentence
        lead="Repeat while"
        bare="choose a condition"
        grouped
        where={step.when}
        place={place}
        onChange={(when) => onChange({ ...step, when })}
      />
      , at most{' '}
      <NumberBox
        label="How often at most"
        className="!inline !w-20"
        least={1}
        most={10_000}
        whole
        value={step.most}
        onChange={(most) => onChange({ ...step, most: most! })}
      />{' '}
      times:
    </>
  );
}
