import { canRaise } from '../../../core/records/raise.ts';
import { ChoiceChip } from '../../../studio/chips/ChoiceChip.tsx';
import { FieldValues } from '../../../studio/chips/FieldValues.tsx';
import { ValueChip } from '../../../studio/chips/ValueChip.tsx';
import { useTableOf } from '../../../studio/logic/useTableOf.ts';
import type { SentenceProps } from '../../../studio/logic/StepSentence.tsx';

export default function Sentence({ step, routine, place, onChange }: SentenceProps<'raise'>) {
  const tableOf = useTableOf(routine);
  return (
    <>
      <ChoiceChip
        name="Raise or lower"
        value={step.how}
        choices={[
          { value: 'raise', label: 'Raise' },
          { value: 'lower', label: 'Lower' },
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
      />{' '}
      of{' '}
      <ValueChip
        name="Record with the number"
        value={step.record}
        empty="choose a record or several"
        literals={false}
        wanted="some records"
        place={place}
        onChange={(record) =>
          onChange({ ...step, record, ...(tableOf(record)?.id !== tableOf(step.record)?.id && { values: [] }) })
        }
      />
    </>
  );
}
