import { PlanPicture } from '../../../studio/data/PlanPicture.tsx';
import type { SettingsProps } from '../../../studio/data/TypeSettings.tsx';

export default function PlanSettings({ table, field }: SettingsProps) {
  return <PlanPicture table={table} field={field} />;
}
