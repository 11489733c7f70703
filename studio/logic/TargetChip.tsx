import { ValueChip } from '../chips/ValueChip.tsx';
import type { SentenceProps } from './StepSentence.tsx';
import { useTableOf } from './useTableOf.ts';

type Props = Pick<SentenceProps<'set' | 'raise' | 'remove'>, 'step' | 'routine' | 'place' | 'onChange'>;

/** The record or records that a step writes to. With records of another table the fields chosen so far mean nothing. */
export function TargetChip({ name, step, routine, place, onChange }: Props & { name: string }) {
  const tableOf = useTableOf(routine);
  return (
    <ValueChip
      name={name}
      value={step.record}
      empty="choose a record or several"
      literals={false}
      wanted="some records"
      place={place}
      onChange={(record) => {
        const isOther = tableOf(record)?.id !== tableOf(step.record)?.id;
        onChange({ ...step, record, ...('values' in step && isOther && { values: [] }) });
      }}
    />
  );
}
