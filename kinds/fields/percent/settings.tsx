import { Decimals } from '../../../studio/data/setting-boxes.tsx';
import type { SettingsProps } from '../../../studio/data/TypeSettings.tsx';

export default function PercentSettings({ field, change }: SettingsProps) {
  return (
    <p className="sentence mt-1">
      It is shown with <Decimals field={field} change={change} />.
    </p>
  );
}
