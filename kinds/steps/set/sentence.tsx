import { FieldValues } from '../../../studio/chips/FieldValues.tsx';
import { useTableOf } from '../../../studio/logic/useTableOf.ts';
import { TargetChip } from '../../../studio/logic/TargetChip.tsx';
import type { SentenceProps } from '../../../studio/logic/StepSentence.tsx';

export default function Sentence({ step, routine, place, onChange }: SentenceProps<'set'>) {
  const tableOf = useTableOf(routine);

  return (
    <>
      In <TargetChip name="Record to set" step={step} routine={routine} place={place} onChange={onChange} /> set{' '}
      <FieldValues
        fields={tableOf(step.record)?.fields}
        values={step.values}
        place={place}
        onChange={(values) => onChange({ ...step, values })}
        joiner="to"
        {...(step.record && { of: step.record })}
      />
    </>
  );
}
