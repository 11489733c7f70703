import { DurationChip } from '../../../studio/logic/DurationChip.tsx';
import type { SentenceProps } from '../../../studio/logic/StepSentence.tsx';

export default function Sentence({ step, place, onChange }: SentenceProps<'wait'>) {
  return (
    <>
      Wait{' '}
      <DurationChip name="How long" value={step.time} place={place} onChange={(time) => onChange({ ...step, time })} />
    </>
  );
}
