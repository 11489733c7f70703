import { canRaise } from '../../../core/records/raise.ts';
import { ChoiceChip } from '../../../studio/chips/ChoiceChip.tsx';
import { FieldValues } from '../../../studio/chips/FieldValues.tsx';
import { useTableOf } from '../../../studio/logic/useTableOf.ts';
import { TargetChip } from '../../../studio/logic/TargetChip.tsx';
import type { SentenceProps } from '../../../studio/logic/StepSentence.tsx';

export default function Sentence({ step, routine, place, onChange }: SentenceProps<'raise'>) {
  const tableOf = useTableOf(routine);
  return (
    <>
      In <TargetChip name="Record with the number" step={step} routine={routine} place={place} onChange={onChange} />{' '}
      <ChoiceChip
        name="Raise or lower"
        value={step.how}
        choices={[
          { value: 'raise', label: 'raise' },
          { value: 'lower', label: 'lower' },
        ]}
        onChange={(how) => onChange({ ...step, how: how as typeof step.how })}
      />{' '}
      <FieldValues
        fields={tableOf(step.record)?.fields.filter(canRaise)}
        values={step.values}
        place={place}
        onChange={(values) => onChange({ ...step, values })}
        joiner="by"
        none="its number"
      />
    </>
  );
}
