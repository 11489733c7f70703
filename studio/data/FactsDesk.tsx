import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { Plus, Settings2 } from 'lucide-react';
import { useState } from 'react';
import { useNavigate, useParams } from 'react-router';
import { addField, renameField } from '../../core/app/edits.ts';
import { FACTS_RECORD } from '../../core/document/ids.ts';
import { idsOfField, usesInWords, usesOf } from '../../core/app/uses.ts';
import type { Field, FieldType, Table } from '../../core/tables/schema.ts';
import type { Cell } from '../../core/fields/lists.ts';
import { useApp, useEngine, useHome, useStudio } from '../state/studio.ts';
import { useRevisions } from '../state/revisions.ts';
import { Button, IconButton } from '../ui/controls.tsx';
import { NameField } from '../ui/NameField.tsx';
import { Menu } from '../ui/popover.tsx';
import { CellEditor } from './CellEditor.tsx';
import { CellView } from './CellView.tsx';
import { FieldCard } from './FieldCard.tsx';
import { FIELD_ICONS } from './fields.ts';

const KINDS: [FieldType, string][] = [
  ['text', 'Words'],
  ['number', 'A number'],
  ['money', 'An amount of money'],
  ['percent', 'A percentage'],
  ['date', 'A date'],
  ['yesno', 'Yes or no'],
  ['picture', 'A picture'],
  ['formula', 'Worked out by a formula'],
];

/** Words and figures that are used in many places, each changed in one. */
export function FactsDesk({ table }: { table: Table }) {
  const app = useApp();
  const engine = useEngine();
  const edit = useStudio((s) => s.edit);
  const editRecords = useStudio((s) => s.editRecords);
  const revision = useRevisions((s) => s.revision);
  const home = useHome();
  const navigate = useNavigate();
  const { part } = useParams();
  const [editing, setEditing] = useState<string | null>(null);
  const { data: row } = useQuery({
    queryKey: ['facts', table.id, revision],
    queryFn: () => engine.looking.record(table.id, FACTS_RECORD),
    placeholderData: keepPreviousData,
  });
  const select = (id: string | null): void =>
    void navigate(`${home}/data/${table.id}${id ? `/${id}` : ''}`, { replace: true });
  const keep = (field: Field, cell: Cell): void =>
    void editRecords(`Set ${field.name}`, [
      { do: 'set', table: table.id, record: FACTS_RECORD, cells: { [field.id]: cell } },
    ]);
  const add = (type: FieldType, label: string): void => {
    let id = '';
    // The one record is there as soon as there is a fact, so that formulas among them are worked out.
    void edit(
      `Added a fact`,
      (a) => {
        id = addField(a, table.id, type, type === 'text' ? 'New fact' : label).id;
      },
      row ? {} : { drafts: [{ do: 'set', table: table.id, record: FACTS_RECORD, cells: {} }] },
    ).then(() => type === 'formula' && select(id));
  };
  const field = table.fields.find((f) => f.id === part);
  return (
    <>
      <header className="flex items-center gap-3 px-6 pt-5">
        <h1 className="min-w-0 flex-1 text-xl">{table.name}</h1>
        <Menu
          align="end"
          trigger={
            <Button look="main" icon={Plus}>
              Fact
            </Button>
          }
          items={KINDS.map(([type, label]) => ({ label, icon: FIELD_ICONS[type], run: () => add(type, label) }))}
        />
      </header>
      <p className="max-w-[680px] px-6 pt-1 text-ink-soft">
        Words and figures that are used in many places. Change one here, and it changes on every screen, in every
        formula and every routine that uses it, for everybody, without a new release.
      </p>
      <div className="thin-scroll mt-3 min-h-0 flex-1 overflow-auto px-6 pb-4">
        <ul className="card max-w-[860px]" aria-label="Facts">
          {table.fields.map((f, i) => {
            const cell = row?.cells[i] ?? { raw: null, shown: '' };
            const Icon = FIELD_ICONS[f.type];
            const uses = usesOf(app, idsOfField(f.id));
            return (
              <li
                key={f.id}
                className="grid grid-cols-[minmax(120px,220px)_minmax(140px,1fr)_minmax(90px,240px)_28px] items-center gap-3 border-b border-line/70 px-4 py-1.5 last:border-0"
              >
                <span className="flex min-w-0 items-center gap-2 font-semibold">
                  <Icon size={14} className="shrink-0 text-ink-faint" aria-hidden />
                  <NameField
                    value={f.name}
                    label="Name of the fact"
                    onChange={(n) => void edit(`Renamed ${f.name} to ${n}`, (a) => renameField(a, table.id, f.id, n))}
                    className="truncate"
                  />
                </span>
                <div className="relative h-[28px] min-w-0">
                  {editing === f.id ? (
                    <CellEditor
                      field={f}
                      cell={cell}
                      typed={null}
                      onKeep={(v) => keep(f, v)}
                      onDone={() => setEditing(null)}
                    />
                  ) : (
                    <button
                      type="button"
                      aria-label={`Value of ${f.name}: ${cell.shown || 'empty'}`}
                      onClick={() =>
                        f.type === 'formula'
                          ? select(f.id)
                          : f.type === 'yesno'
                            ? keep(f, cell.raw !== true)
                            : setEditing(f.id)
                      }
                      className="flex size-full min-w-0 items-center rounded-md border border-transparent px-2 text-left hover:border-line-strong hover:bg-paper"
                    >
                      {cell.shown ? <CellView field={f} cell={cell} /> : <span className="text-ink-faint">empty</span>}
                    </button>
                  )}
                </div>
                <span className="truncate text-sm text-ink-faint" title={uses.map((u) => u.said).join(', ')}>
                  {uses.length ? `used by ${usesInWords(uses)}` : 'used nowhere yet'}
                </span>
                <IconButton icon={Settings2} label={`Settings of ${f.name}`} onClick={() => select(f.id)} />
              </li>
            );
          })}
        </ul>
        {table.fields.length === 0 && (
          <p className="mt-3 text-ink-soft">No fact yet. Press Fact to write down the first.</p>
        )}
      </div>
      {field && <FieldCard key={field.id} table={table} field={field} onClose={() => select(null)} />}
    </>
  );
}
