import { useEffect, useRef, useState } from 'react';
import { listCell, toListCell } from '../../../core/fields/lists.ts';
import { isSeveral } from '../../../core/records/model.ts';
import { ListEditor, TextEditor, type EditorProps } from '../../../studio/data/CellEditor.tsx';
import { EditorCard, Ticks } from '../../../studio/data/EditorCard.tsx';
import { useApp, useEngine } from '../../../studio/state/studio.ts';

/** The record at the other end, or several. */
export default function LinkEditor(props: EditorProps) {
  const { link } = props.field;
  if (!link) return <TextEditor {...props} />;
  return isSeveral(props.field) ? (
    <SeveralLinks {...props} table={link.table} />
  ) : (
    <OneLink {...props} table={link.table} />
  );
}

/** Several records at the other end of a picked link. */
function SeveralLinks({ field, cell, typed, onKeep, onDone, table }: EditorProps & { table: string }) {
  const engine = useEngine();
  const [chosen, setChosen] = useState(() => listCell(cell.raw));
  const [text, setText] = useState(typed ?? '');
  const [found, setFound] = useState<{ key: string; label: string }[]>([]);
  const kept = useRef(false);
  useEffect(() => {
    let current = true;
    void engine
      .choices(table, text)
      .then((list) => current && setFound(list.map((c) => ({ key: c.id, label: c.title }))));
    return () => {
      current = false;
    };
  }, [engine, table, text]);
  const done = (): void => {
    if (kept.current) return;
    kept.current = true;
    const next = toListCell(chosen);
    if (next !== cell.raw) onKeep(next);
    onDone(0, 0);
  };
  const linked = (cell.links ?? []).map((l) => ({ key: l.id, label: l.title }));
  const items = [...linked, ...found.filter((f) => !linked.some((l) => l.key === f.key))];
  return (
    <EditorCard label={field.name} onDone={done}>
      <input
        autoFocus
        aria-label={field.name}
        className="field mb-1"
        placeholder="Search"
        value={text}
        onChange={(e) => setText(e.target.value)}
      />
      <Ticks
        items={items}
        chosen={new Set(chosen)}
        onToggle={(id) => setChosen(chosen.includes(id) ? chosen.filter((c) => c !== id) : [...chosen, id])}
      />
    </EditorCard>
  );
}

/** Picks the record at the other end. A matched link takes the value its record is found by. */
function OneLink(props: EditorProps & { table: string }) {
  const engine = useEngine();
  const app = useApp();
  const [choices, setChoices] = useState<{ key: string; label: string }[]>([]);
  const [looking, setLooking] = useState(true);
  const asked = useRef('');
  const search = (text: string): void => {
    asked.current = text;
    setLooking(true);
    void engine.choices(props.table, text).then((list) => {
      if (asked.current !== text) return;
      setChoices(list.map((c) => ({ key: c.id, label: c.title })));
      setLooking(false);
    });
  };
  const { link } = props.field;
  const pick = async (id: string | null): Promise<void> => {
    if (link?.kind !== 'matched') return props.onKeep(id);
    const target = app.tables.find((t) => t.id === link.table);
    const row = id ? await engine.record(link.table, id) : null;
    const at = target?.fields.findIndex((f) => f.id === link.to) ?? -1;
    props.onKeep(null, row?.cells[at]?.raw ?? null);
  };
  return <ListEditor {...props} choices={choices} looking={looking} onSearch={search} onPick={(id) => void pick(id)} />;
}
