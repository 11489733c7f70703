import { ValueChip } from '../../../studio/chips/ValueChip.tsx';
import type { SentenceProps } from '../../../studio/logic/StepSentence.tsx';

export default function Sentence({ step, place, onChange }: SentenceProps<'remove'>) {
  return (
    <>
      Remove{' '}
      <ValueChip
        name="Record to remove"
        value={step.record}
        empty="choose a record or several"
        literals={false}
        wanted="some records"
        place={place}
        onChange={(record) => onChange({ ...step, record })}
      />
    </>
  );
}
