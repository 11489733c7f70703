import { ValueChip } from '../../../studio/chips/ValueChip.tsx';
import type { SentenceProps } from '../../../studio/logic/StepSentence.tsx';

/** What is typed is read as a duration: "10 min", "2 days". */
const TIME = { id: 'f_time0000', name: 'time', type: 'duration' as const };

export default function Sentence({ step, place, onChange }: SentenceProps<'wait'>) {
  return (
    <>
      Wait{' '}
      <ValueChip
        name="How long"
        value={step.time}
        empty="choose how long"
        field={TIME}
        place={place}
        onChange={(time) => onChange({ ...step, time })}
      />
    </>
  );
}
