import { elementName } from '../../core/app/names.ts';
import type { Element } from '../../core/app/schema.ts';
import { walkElements } from '../../core/document/walk.ts';
import { useApp } from '../state/studio.ts';
import { ChoiceChip, type Choice } from './ChoiceChip.tsx';

/** An element of any screen, those of each screen together. `inputs` offers only what can be filled in. */
export function ElementChip({
  name,
  value,
  inputs = false,
  onChange,
}: {
  name: string;
  value: string;
  inputs?: boolean;
  onChange(id: string): void;
}) {
  const app = useApp();
  const choices: Choice<string>[] = [];
  for (const s of app.screens)
    walkElements<Element>([s.root], (e) => {
      if (e.id === s.root.id || (inputs && e.kind !== 'input')) return;
      choices.push({ value: e.id, label: elementName(app, e), group: s.name });
    });
  return (
    <ChoiceChip
      name={name}
      value={choices.some((c) => c.value === value) ? value : null}
      empty={inputs ? 'choose an input' : 'choose an element'}
      choices={choices}
      onChange={onChange}
    />
  );
}
