import { TargetChip } from '../../../studio/logic/TargetChip.tsx';
import type { SentenceProps } from '../../../studio/logic/StepSentence.tsx';

export default function Sentence({ step, routine, place, onChange }: SentenceProps<'remove'>) {
  return (
    <>
      Remove <TargetChip name="Record to remove" step={step} routine={routine} place={place} onChange={onChange} />
    </>
  );
}
