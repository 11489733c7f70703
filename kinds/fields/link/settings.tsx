import { LinkSentence } from '../../../studio/data/LinkSentence.tsx';
import type { SettingsProps } from '../../../studio/data/TypeSettings.tsx';
import { useSeveral } from '../../../studio/data/useSeveral.ts';

export default function LinkSettings({ table, field, change }: SettingsProps) {
  const setSeveral = useSeveral(table, field);
  return field.link ? (
    <LinkSentence table={table} field={field} link={field.link} change={change} onSeveral={(s) => void setSeveral(s)} />
  ) : null;
}
