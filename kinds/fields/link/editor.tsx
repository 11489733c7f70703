import { useEffect, useRef, useState } from 'react';
import { listCell, toListCell } from '../../../core/fields/lists.ts';
import type { Field } from '../../../core/tables/schema.ts';
import { isSeveral } from '../../../core/records/model.ts';
import { ListEditor, TextEditor, type EditorProps } from '../../../studio/data/CellEditor.tsx';
import { EditorCard, Ticks } from '../../../studio/data/EditorCard.tsx';
import { aOrAn } from '../../../core/document/names.ts';
import { newRecordId } from '../../../core/host/device.ts';
import { useApp, useEngine, useStudio } from '../../../studio/state/studio.ts';

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

/**
 * How a record at the other end of a link is added by its name: gives its id, or null when it could not be. Null where a
 * name alone makes none that the link finds.
 */
function useAdded(field: Field): { one: string; add(name: string): Promise<string | null> } | null {
  const app = useApp();
  const engine = useEngine();
  const editRecords = useStudio((s) => s.editRecords);
  const { link } = field;
  const target = app.tables.find((t) => t.id === link?.table);
  const title = target?.fields.find((f) => f.id === target.titleField);
  if (!target || title?.type !== 'text' || (link!.kind === 'matched' && link!.to !== title.id)) return null;
  return {
    one: target.one,
    async add(name) {
      const id = newRecordId();
      const cells = { [title.id]: name };
      await editRecords(`Added ${aOrAn(target.one)}`, [{ do: 'set', table: target.id, record: id, cells }]);
      return (await engine.looking.record(target.id, id)) ? id : null;
    },
  };
}

/** Several records at the other end of a picked link. */
function SeveralLinks({ field, cell, typed, onKeep, onDone, table }: EditorProps & { table: string }) {
  const engine = useEngine();
  const [chosen, setChosen] = useState(() => listCell(cell.raw));
  const [text, setText] = useState(typed ?? '');
  const [found, setFound] = useState<{ key: string; label: string }[]>([]);
  const kept = useRef(false);
  const added = useAdded(field);
  const name = text.trim();
  useEffect(() => {
    let current = true;
    void engine.phone
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
      {added && name && !items.some((i) => i.label.toLowerCase() === name.toLowerCase()) && (
        <button
          type="button"
          className="w-full truncate rounded-md px-2 py-1 text-left hover:bg-sunk"
          onMouseDown={(e) => e.preventDefault()}
          onClick={() =>
            void added.add(name).then((id) => {
              if (!id) return;
              setChosen((now) => [...now, id]);
              setText('');
            })
          }
        >
          New {added.one} “{name}”
        </button>
      )}
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
    void engine.phone.choices(props.table, text).then((list) => {
      if (asked.current !== text) return;
      setChoices(list.map((c) => ({ key: c.id, label: c.title })));
      setLooking(false);
    });
  };
  const { link } = props.field;
  const pick = async (id: string | null): Promise<void> => {
    if (link?.kind !== 'matched') return props.onKeep(id);
    const target = app.tables.find((t) => t.id === link.table);
    const row = id ? await engine.looking.record(link.table, id) : null;
    const at = target?.fields.findIndex((f) => f.id === link.to) ?? -1;
    props.onKeep(null, row?.cells[at]?.raw ?? null);
  };
  const added = useAdded(props.field);
  const add = async (name: string): Promise<void> => {
    const id = await added!.add(name);
    if (id) props.onKeep(link?.kind === 'matched' ? null : id, ...(link?.kind === 'matched' ? [name] : []));
  };
  return (
    <ListEditor
      {...props}
      choices={choices}
      looking={looking}
      onSearch={search}
      onPick={(id) => void pick(id)}
      onNew={added ? (name) => void add(name) : undefined}
      one={added?.one ?? 'record'}
    />
  );
}
