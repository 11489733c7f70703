import { useRef, useState } from 'react';
import { listCell, toListCell } from '../../../core/fields/lists.ts';
import { ListEditor, TextEditor, type EditorProps } from '../../../studio/data/CellEditor.tsx';
import { choiceColour } from '../../../studio/data/CellView.tsx';
import { EditorCard, Ticks } from '../../../studio/data/EditorCard.tsx';

/** One of the choices or several; a text where there are none. */
export default function ChoiceEditor(props: EditorProps) {
  const { field } = props;
  if (field.several) return <SeveralEditor {...props} />;
  if (!field.choices?.length) return <TextEditor {...props} />;
  return (
    <ListEditor
      {...props}
      choices={field.choices.map((c) => ({ key: c.name, label: c.name }))}
      onPick={(k) => props.onKeep(k)}
      free={!field.only}
    />
  );
}

/** Several of a field's choices; a word that is none of them is added when Enter is pressed, if that is allowed. */
function SeveralEditor({ field, cell, typed, onKeep, onDone }: EditorProps) {
  const [chosen, setChosen] = useState(() => listCell(cell.raw));
  const [text, setText] = useState(typed ?? '');
  const kept = useRef(false);
  const done = (): void => {
    if (kept.current) return;
    kept.current = true;
    const next = toListCell(chosen);
    if (next !== cell.raw) onKeep(next);
    onDone(0, 0);
  };
  const toggle = (name: string): void =>
    setChosen(chosen.includes(name) ? chosen.filter((c) => c !== name) : [...chosen, name]);
  const names = [...new Set([...(field.choices ?? []).map((c) => c.name), ...chosen])];
  const found = names.filter((n) => n.toLowerCase().includes(text.toLowerCase()));
  return (
    <EditorCard label={field.name} onDone={done}>
      <input
        autoFocus
        aria-label={field.name}
        className="field mb-1"
        placeholder={field.only ? 'Search' : 'Search, or a new one'}
        value={text}
        onChange={(e) => setText(e.target.value)}
        onKeyDown={(e) => {
          if (e.key !== 'Enter' || !text.trim()) return;
          e.preventDefault();
          e.stopPropagation();
          const name = found[0] ?? (field.only ? null : text.trim());
          if (name) toggle(name);
          setText('');
        }}
      />
      <Ticks
        items={found.map((name) => ({
          key: name,
          label: name,
          colour: choiceColour(field.choices?.find((c) => c.name === name)?.colour),
        }))}
        chosen={new Set(chosen)}
        onToggle={toggle}
      />
    </EditorCard>
  );
}
