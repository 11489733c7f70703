import { canRaise } from '../../../core/records/raise.ts';
import { FieldValues } from '../../../studio/chips/FieldValues.tsx';
import { useTableOf } from '../../../studio/logic/useTableOf.ts';
import { TargetChip } from '../../../studio/logic/TargetChip.tsx';
import { RaiseOrLower } from '../../../studio/logic/RaiseOrLower.tsx';
import { TotalAdvice } from '../../../studio/logic/TotalAdvice.tsx';
import type { SentenceProps } from '../../../studio/logic/StepSentence.tsx';

export default function Sentence({ step, routine, place, onChange }: SentenceProps<'raise'>) {
  const tableOf = useTableOf(routine);
  return (
    <>
      In <TargetChip name="Record with the number" step={step} routine={routine} place={place} onChange={onChange} />{' '}
      <RaiseOrLower how={step.how} onChange={(how) => onChange({ ...step, how })} />{' '}
      <FieldValues
        fields={tableOf(step.record)?.fields.filter(canRaise)}
        values={step.values}
        place={place}
        onChange={(values) => onChange({ ...step, values })}
        joiner="by"
        none="its number"
      />
      <TotalAdvice routine={routine} step={step} />
    </>
  );
}
