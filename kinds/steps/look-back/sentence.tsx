import { ValueChip } from '../../../studio/chips/ValueChip.tsx';
import type { SentenceProps } from '../../../studio/logic/StepSentence.tsx';

export default function Sentence({ step, place, onChange }: SentenceProps<'look back'>) {
  return (
    <>
      Show the history of{' '}
      <ValueChip
        name="Record"
        value={step.record}
        empty="choose a record"
        literals={false}
        wanted="record"
        place={place}
        onChange={(record) => onChange({ ...step, record })}
      />
    </>
  );
}
