import type { Step } from '../../core/app/schema.ts';
import { NameField } from '../ui/NameField.tsx';

/** What a step gives, by the name under which later steps use it. */
export function ResultName<S extends Step & { resultName: string }>({
  step,
  label = 'What it is called',
  onChange,
}: {
  step: S;
  label?: string;
  onChange(step: Step): void;
}) {
  return (
    <b className="font-semibold text-kelp">
      <NameField
        value={step.resultName}
        label={label}
        onChange={(resultName) => onChange({ ...step, resultName } as S)}
      />
    </b>
  );
}
