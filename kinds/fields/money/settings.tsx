import { UnitBox } from '../../../studio/data/setting-boxes.tsx';
import type { SettingsProps } from '../../../studio/data/TypeSettings.tsx';

export default function MoneySettings({ field, change }: SettingsProps) {
  return (
    <p className="sentence mt-1">
      Its sign is <UnitBox field={field} change={change} label="Currency sign" placeholder="€" longest={6} />.
    </p>
  );
}
