import { ChoiceSettings } from '../../../studio/data/ChoiceSettings.tsx';
import type { SettingsProps } from '../../../studio/data/TypeSettings.tsx';
import { useSeveral } from '../../../studio/data/useSeveral.ts';

export default function Settings({ table, field, change }: SettingsProps) {
  const setSeveral = useSeveral(table, field);
  return <ChoiceSettings field={field} change={change} onSeveral={(s) => void setSeveral(s)} />;
}
