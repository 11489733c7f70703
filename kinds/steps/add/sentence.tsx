import { Table2 } from 'lucide-react';
import { ChoiceChip } from '../../../studio/chips/ChoiceChip.tsx';
import { FieldValues } from '../../../studio/chips/FieldValues.tsx';
import type { SentenceProps } from '../../../studio/logic/StepSentence.tsx';
import { useApp } from '../../../studio/state/studio.ts';
import { ResultName } from '../../../studio/logic/ResultName.tsx';

export default function Sentence({ step, place, onChange }: SentenceProps<'add'>) {
  const app = useApp();

  return (
    <>
      <ChoiceChip
        name="Add or change"
        value={step.update ?? false}
        choices={[
          { value: false, label: 'Add' },
          { value: true, label: 'Add or change' },
        ]}
        onChange={(update) => onChange({ ...step, update: update || undefined })}
      />{' '}
      a record {step.update ? 'of' : 'to'}{' '}
      <ChoiceChip
        name="Table"
        tone="data"
        icon={Table2}
        value={step.table || null}
        empty="choose a table"
        choices={app.tables.map((t) => ({ value: t.id, label: t.name }))}
        onChange={(table) =>
          onChange({
            ...step,
            table,
            values: [],
            resultName: `new ${app.tables.find((t) => t.id === table)?.one ?? 'record'}`,
          })
        }
      />{' '}
      with{' '}
      <FieldValues
        fields={app.tables.find((t) => t.id === step.table)?.fields}
        values={step.values}
        place={place}
        onChange={(values) => onChange({ ...step, values })}
        joiner="as"
      />
      {step.table && (
        <>
          {' '}
          and call it <ResultName step={step} label="Name of the result" onChange={onChange} />
        </>
      )}
    </>
  );
}
