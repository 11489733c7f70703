import { ValueChip } from '../../../studio/chips/ValueChip.tsx';
import { FieldValues } from '../../../studio/chips/FieldValues.tsx';
import { useTableOf } from '../../../studio/logic/useTableOf.ts';
import type { SentenceProps } from '../../../studio/logic/StepSentence.tsx';

export default function Sentence({ step, routine, place, onChange }: SentenceProps<'set'>) {
  const tableOf = useTableOf(routine);

  return (
    <>
      In{' '}
      <ValueChip
        name="Record to set"
        value={step.record}
        empty="choose a record or several"
        literals={false}
        wanted="some records"
        place={place}
        onChange={(record) =>
          onChange({ ...step, record, ...(tableOf(record)?.id !== tableOf(step.record)?.id && { values: [] }) })
        }
      />{' '}
      set{' '}
      <FieldValues
        fields={tableOf(step.record)?.fields}
        values={step.values}
        place={place}
        onChange={(values) => onChange({ ...step, values })}
        joiner="to"
      />
    </>
  );
}
