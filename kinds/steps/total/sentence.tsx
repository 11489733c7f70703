import { Table2 } from 'lucide-react';
import { canRaise } from '../../../core/records/raise.ts';
import { isWritable } from '../../../core/records/cells.ts';
import { ChoiceChip } from '../../../studio/chips/ChoiceChip.tsx';
import { FieldValues } from '../../../studio/chips/FieldValues.tsx';
import { RaiseOrLower } from '../../../studio/logic/RaiseOrLower.tsx';
import { TotalAdvice } from '../../../studio/logic/TotalAdvice.tsx';
import type { SentenceProps } from '../../../studio/logic/StepSentence.tsx';
import { useApp } from '../../../studio/state/studio.ts';

export default function Sentence({ step, routine, place, onChange }: SentenceProps<'total'>) {
  const app = useApp();
  const table = app.tables.find((t) => t.id === step.table);
  const isKey = new Set(step.keys.map((k) => k.field));
  return (
    <>
      In the total of{' '}
      <ChoiceChip
        name="Table of the totals"
        tone="data"
        icon={Table2}
        value={step.table || null}
        empty="choose a table"
        choices={app.tables.filter((t) => !t.fetched).map((t) => ({ value: t.id, label: t.name }))}
        onChange={(to) => onChange({ ...step, table: to, keys: [], values: [] })}
      />{' '}
      with{' '}
      <FieldValues
        fields={table?.fields.filter((f) => !canRaise(f) && isWritable(f))}
        values={step.keys}
        place={place}
        onChange={(keys) => onChange({ ...step, keys })}
        joiner="as"
        none="what it is of"
      />
      , begun where there is none, <RaiseOrLower how={step.how} onChange={(how) => onChange({ ...step, how })} />{' '}
      <FieldValues
        fields={table?.fields.filter((f) => canRaise(f) && !isKey.has(f.id))}
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
