import { Decimals, UnitBox } from '../../../studio/data/setting-boxes.tsx';
import type { SettingsProps } from '../../../studio/data/TypeSettings.tsx';

export default function NumberSettings({ field, change }: SettingsProps) {
  return (
    <p className="sentence mt-1">
      It is counted in <UnitBox field={field} change={change} label="Unit" placeholder="no unit" longest={20} />, with{' '}
      <Decimals field={field} change={change} />.
    </p>
  );
}
