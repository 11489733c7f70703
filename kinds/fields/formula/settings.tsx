import { unitOfFormula } from '../../../core/app/formula-unit.ts';
import { Decimals, UnitBox } from '../../../studio/data/setting-boxes.tsx';
import type { SettingsProps } from '../../../studio/data/TypeSettings.tsx';
import { useApp } from '../../../studio/state/studio.ts';

/** How the numbers of a formula are told: their unit follows from the fields it is made of, unless another is written. */
export default function FormulaSettings({ field, change }: SettingsProps) {
  const unit = unitOfFormula(useApp(), field.formula ?? '');
  return (
    <p className="sentence mt-1">
      Numbers are told in{' '}
      <UnitBox field={field} change={change} label="Unit" placeholder={unit ?? 'no unit'} longest={20} />, with{' '}
      <Decimals field={field} change={change} />.
    </p>
  );
}
