import { WhereSentence } from '../../../studio/chips/WhereSentence.tsx';
import { DurationChip } from '../../../studio/logic/DurationChip.tsx';
import type { SentenceProps } from '../../../studio/logic/StepSentence.tsx';

export default function Sentence({ step, place, onChange }: SentenceProps<'hold'>) {
  return (
    <>
      Hold until <WhereSentence where={step.when} place={place} onChange={(when) => onChange({ ...step, when })} />, for{' '}
      <DurationChip
        name="How long at most"
        value={step.time}
        place={place}
        onChange={(time) => onChange({ ...step, time })}
      />{' '}
      at most
    </>
  );
}
