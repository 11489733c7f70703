import { useApp } from '../state/studio.ts';
import { screenOf } from '../../core/app/names.ts';
import { ChoiceChip } from './ChoiceChip.tsx';

/** Chooses a variable, those of the app before those of its screens. */
export function VariableChip({ value, onChange }: { value: string; onChange(id: string): void }) {
  const app = useApp();
  const groupOf = (screen: string | undefined): string =>
    screen ? `Of ${screenOf(app, screen)?.name ?? 'a screen'}` : 'Of the app';
  const list = [...(app.variables ?? [])].sort((a, b) => Number(Boolean(a.screen)) - Number(Boolean(b.screen)));
  return (
    <ChoiceChip
      name="Variable"
      tone="data"
      value={value || null}
      empty={list.length ? 'choose a variable' : 'no variable yet'}
      choices={list.map((v) => ({ value: v.id, label: v.name, group: groupOf(v.screen) }))}
      onChange={onChange}
    />
  );
}
