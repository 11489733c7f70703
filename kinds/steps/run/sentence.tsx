import { FieldValues } from '../../../studio/chips/FieldValues.tsx';
import { ChoiceChip } from '../../../studio/chips/ChoiceChip.tsx';
import { ValueChip } from '../../../studio/chips/ValueChip.tsx';
import type { SentenceProps } from '../../../studio/logic/StepSentence.tsx';
import { useApp } from '../../../studio/state/studio.ts';
import { ResultName } from '../../../studio/logic/ResultName.tsx';

export default function Sentence({ step, place, onChange }: SentenceProps<'run'>) {
  const app = useApp();
  const target = app.routines.find((r) => r.id === step.routine);
  const own = { ...place, things: place.things.filter((t) => t.id !== step.result) };
  return (
    <>
      Run{' '}
      <ChoiceChip
        name="Routine"
        value={step.routine || null}
        empty="choose a routine"
        choices={app.routines.map((r) => ({ value: r.id, label: r.name }))}
        onChange={(id) => {
          const { values: _before, ...rest } = step;
          onChange({ ...rest, routine: id });
        }}
      />
      {target?.given && (
        <>
          {' for '}
          <ValueChip
            name="With which record"
            value={step.record ?? ''}
            empty="choose a record"
            wanted={{ record: target.given }}
            literals={false}
            place={own}
            onChange={(record) => onChange({ ...step, record })}
          />
        </>
      )}
      {target?.inputs && (
        <>
          {' with '}
          <FieldValues
            fields={target.inputs}
            values={step.values ?? []}
            place={own}
            joiner="as"
            onChange={(values) => {
              const { values: _before, ...rest } = step;
              onChange({ ...rest, ...(values.length > 0 && { values }) });
            }}
          />
        </>
      )}
      ; what it gives back is called <ResultName step={step} onChange={onChange} />
    </>
  );
}
