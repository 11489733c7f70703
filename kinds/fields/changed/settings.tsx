import type { SettingsProps } from '../../../studio/data/TypeSettings.tsx';

export default function ChangedSettings({ table }: SettingsProps) {
  return <p className="sentence mt-1">The app writes it down by itself when a {table.one} is changed.</p>;
}
