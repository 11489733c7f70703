import { aOrAn } from '../../core/document/names.ts';
import { fieldKind } from '../../core/fields/kinds.ts';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { ChevronRight, Trash2, X } from 'lucide-react';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import type { Field, Table } from '../../core/tables/schema.ts';
import { isWritable } from '../../core/records/cells.ts';
import type { Cell } from '../../core/fields/lists.ts';
import { useEngine, useHome, useStudio } from '../state/studio.ts';
import { useRevisions } from '../state/revisions.ts';
import { IconButton } from '../ui/controls.tsx';
import { CellEditor } from './CellEditor.tsx';
import { CellView } from './CellView.tsx';
import { FIELD_ICONS } from './fields.ts';
import { draftFor } from './draft-for.ts';
import { RecordHistory } from './RecordHistory.tsx';

/** One record as a page beside the grid: every field, edited in place, and what is linked to it from elsewhere. */
export function RecordPage({ table, id, onClose }: { table: Table; id: string; onClose(): void }) {
  const engine = useEngine();
  const navigate = useNavigate();
  const revision = useRevisions((s) => s.revision);
  const editRecords = useStudio((s) => s.editRecords);
  const home = useHome();
  const [editing, setEditing] = useState<string | null>(null);
  const { data: page } = useQuery({
    queryKey: ['record', table.id, id, revision],
    queryFn: () => engine.looking.recordPage(table.id, id),
    placeholderData: keepPreviousData,
  });
  const open = (to: string, record: string): void => void navigate(`${home}/data/${to}?record=${record}`);
  const keep = (field: Field, cell: Cell, linked?: Cell): void => {
    const draft = draftFor(table, field, id, cell, linked);
    if (draft) void editRecords(`Changed ${field.name} of ${page?.title ?? aOrAn(table.one)}`, [draft]);
  };
  if (page === null)
    return (
      <aside className="card mr-6 mb-4 mt-2 w-[300px] shrink-0 p-4">
        <p className="mb-2 text-ink-soft">This {table.one} is not here any more.</p>
        <RecordHistory table={table} id={id} title="" />
      </aside>
    );
  return (
    <aside
      aria-label={`Record ${page?.title ?? ''}`}
      className="card thin-scroll mt-2 mr-6 mb-4 flex w-[300px] shrink-0 flex-col overflow-auto max-[1100px]:w-[240px]"
    >
      <header className="sticky top-0 z-10 flex items-center gap-1 border-b border-line bg-raised py-2 pr-2 pl-4">
        <h2 className="min-w-0 flex-1 truncate text-[15px]">{page?.title}</h2>
        <IconButton
          icon={Trash2}
          label={`Remove this ${table.one}`}
          onClick={() => {
            void editRecords(`Removed ${page?.title ?? aOrAn(table.one)}`, [
              { do: 'remove', table: table.id, record: id },
            ]);
            onClose();
          }}
        />
        <IconButton icon={X} label="Close this record" onClick={onClose} />
      </header>
      <dl className="px-4 py-2">
        {table.fields.map((f, i) => {
          const cell = page?.row.cells[i];
          const Icon = FIELD_ICONS[f.type];
          const [linked] = cell?.links ?? [];
          return (
            <div key={f.id} className="border-b border-line/60 py-1.5 last:border-0">
              <dt className="flex items-center gap-1.5 text-xs text-ink-faint">
                <Icon size={12} aria-hidden /> {f.name}
              </dt>
              <dd className="relative min-h-[22px]">
                {editing === f.id && cell ? (
                  <div className="relative h-[26px]">
                    <CellEditor
                      field={f}
                      cell={cell}
                      typed={null}
                      onKeep={(v, l) => keep(f, v, l)}
                      onDone={() => setEditing(null)}
                    />
                  </div>
                ) : (
                  <span className="flex items-start gap-1">
                    {fieldKind(f.type).grid?.toggles ? (
                      <button type="button" onClick={() => keep(f, cell?.raw !== true)} className="text-left">
                        {cell?.shown || <span className="text-ink-faint">empty</span>}
                      </button>
                    ) : !isWritable(f) && !f.link ? (
                      <span className={f.type === 'formula' ? 'text-kelp' : ''}>
                        {cell?.shown || <span className="text-ink-faint">empty</span>}
                      </span>
                    ) : (
                      <button
                        type="button"
                        aria-label={`Change ${f.name}`}
                        onClick={() => setEditing(f.id)}
                        className="min-w-0 flex-1 rounded text-left break-words whitespace-pre-line hover:bg-sunk/60"
                      >
                        {linked || (f.type === 'choice' && cell?.shown) ? (
                          <CellView field={f} cell={cell} />
                        ) : cell?.shown ? (
                          cell.shown.slice(0, 400)
                        ) : (
                          <span className="text-ink-faint">empty</span>
                        )}
                      </button>
                    )}
                    {f.link &&
                      (cell?.links ?? []).slice(0, 4).map((l) => (
                        <button
                          key={l.id}
                          type="button"
                          aria-label={`Open ${l.title}`}
                          onClick={() => open(f.link!.table, l.id)}
                          className="grid size-5 shrink-0 place-items-center rounded text-ink-soft hover:bg-sunk"
                        >
                          <ChevronRight size={14} aria-hidden />
                        </button>
                      ))}
                  </span>
                )}
              </dd>
            </div>
          );
        })}
      </dl>
      <RecordHistory table={table} id={id} title={page?.title ?? ''} />
      {page?.back.map((b) => (
        <section key={b.id} className="border-t border-line px-4 py-2">
          <h3 className="flex justify-between font-text text-sm font-semibold tracking-normal">
            {b.name} <span className="font-normal text-ink-faint">{b.total.toLocaleString('en-GB')}</span>
          </h3>
          <ul>
            {b.items.map((x) => (
              <li key={x.id}>
                <button
                  type="button"
                  onClick={() => open(b.table, x.id)}
                  className="w-full truncate rounded px-1 py-0.5 text-left text-dusk hover:bg-dusk-wash"
                >
                  {x.title}
                </button>
              </li>
            ))}
          </ul>
          {b.total > b.items.length && (
            <p className="px-1 text-xs text-ink-faint">and {(b.total - b.items.length).toLocaleString('en-GB')} more</p>
          )}
        </section>
      ))}
    </aside>
  );
}
