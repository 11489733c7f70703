import { ChoiceChip } from '../../../studio/chips/ChoiceChip.tsx';
import { ValueChip } from '../../../studio/chips/ValueChip.tsx';
import { VariableChip } from '../../../studio/chips/VariableChip.tsx';
import type { SentenceProps } from '../../../studio/logic/StepSentence.tsx';
import { useApp } from '../../../studio/state/studio.ts';

export default function Sentence({ step, place, onChange }: SentenceProps<'variable'>) {
  const variable = useApp().variables?.find((v) => v.id === step.variable);
  const target = <VariableChip value={step.variable} onChange={(id) => onChange({ ...step, variable: id })} />;
  const value = (
    <ValueChip
      name="Value"
      value={step.value}
      field={variable}
      wanted={
        variable?.link && step.how === 'set'
          ? variable.several
            ? { records: variable.link.table }
            : { record: variable.link.table }
          : 'any'
      }
      literals={!variable?.link}
      place={place}
      onChange={(v) => onChange({ ...step, value: v })}
    />
  );
  const how = (
    <ChoiceChip
      name="What is done"
      value={step.how}
      choices={[
        { value: 'set', label: 'Set' },
        { value: 'add', label: 'Add' },
        { value: 'append', label: 'Put' },
        { value: 'clear', label: 'Clear' },
      ]}
      onChange={(v) => onChange({ ...step, how: v as typeof step.how })}
    />
  );
  switch (step.how) {
    case 'set':
      return (
        <>
          {how} {target} to {value}
        </>
      );
    case 'add':
      return (
        <>
          {how} {value} to {target}
        </>
      );
    case 'append':
      return (
        <>
          {how} {value} behind {target}
        </>
      );
    case 'clear':
      return (
        <>
          {how} {target}
        </>
      );
  }
}
