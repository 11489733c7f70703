import { aOrAn } from '../../core/document/names.ts';
import { ArrowLeft, ArrowRight, EyeOff, Pin, Trash2, X } from 'lucide-react';
import { useState } from 'react';
import { moveField, removeField, renameField } from '../../core/app/edits.ts';
import { idsOfField, usesInWords, usesOf } from '../../core/app/uses.ts';
import { FIELDS } from '../../kinds/fields/index.ts';
import type { Field, FieldType, Table } from '../../core/tables/schema.ts';
import type { Draft } from '../../core/records/change.ts';
import { listCell } from '../../core/fields/lists.ts';
import { FIELD_WORDS } from '../../kinds/fields/search-words.ts';
import { fieldKind } from '../../core/fields/kinds.ts';
import { ChoiceChip } from '../chips/ChoiceChip.tsx';
import { useApp, useEngine, useStudio } from '../state/studio.ts';
import { toastWithUndo } from '../state/undo-toast.ts';
import { Button, IconButton, Note } from '../ui/controls.tsx';
import { NameField } from '../ui/NameField.tsx';
import { FieldRules } from './FieldRules.tsx';
import { FIELD_ICONS } from './fields.ts';
import { useView } from './useView.ts';
import { TypeSettings } from './TypeSettings.tsx';
import { FormulaCard } from './FormulaCard.tsx';
import { cellFromText } from './typed.ts';

const TYPES = FIELDS.map((d) => d.type).filter((t) => t !== 'link' && t !== 'formula');

/** What the app fills in by itself is read as what it is made of. */
const READ_AS: Partial<Record<FieldType, FieldType>> = { id: 'text', created: 'datetime', changed: 'datetime' };

/** One field, written down: its name and type, and what its type needs. */
export function FieldCard({ table, field, onClose }: { table: Table; field: Field; onClose(): void }) {
  const app = useApp();
  const engine = useEngine();
  const edit = useStudio((s) => s.edit);
  const { look } = useView(table);
  const [doubt, setDoubt] = useState<{ type: FieldType; drafts: Draft[]; lost: string[]; of: number } | null>(null);
  const uses = usesOf(app, idsOfField(field.id));
  const change = (label: string, recipe: (f: Field) => void, merge?: string): void => {
    void edit(
      label,
      (a) => {
        const f = a.tables.find((t) => t.id === table.id)?.fields.find((x) => x.id === field.id);
        if (f) recipe(f as Field);
      },
      merge ? { merge } : {},
    );
  };

  const retype = async (type: FieldType): Promise<void> => {
    if (type === field.type) return;
    const target: Field = { ...field, type: READ_AS[type] ?? type, several: false };
    const column = field.type === 'formula' ? [] : await engine.looking.column(table.id, field.id);
    const drafts: Draft[] = [];
    const lost: string[] = [];
    for (const { id, cell } of column) {
      const text = typeof cell === 'boolean' ? (cell ? 'yes' : 'no') : listCell(cell).join(', ') || String(cell);
      const next = cellFromText(target, text);
      if (next === undefined) lost.push(text);
      if (next !== cell) drafts.push({ do: 'set', table: table.id, record: id, cells: { [field.id]: next ?? null } });
    }
    // Records without a value get the one that they would have begun with.
    const { fills } = fieldKind(type);
    if (fills) {
      const filled = new Set(column.map((c) => c.id));
      for (const id of await engine.looking.recordIds(table.id)) {
        const cell = filled.has(id) ? undefined : fills({ isNew: true, now: null }, field);
        if (cell) drafts.push({ do: 'set', table: table.id, record: id, cells: { [field.id]: cell } });
      }
    }
    if (lost.length) setDoubt({ type, drafts, lost, of: column.length });
    else
      applyType(
        type,
        drafts,
        column.map((c) => String(c.cell)),
      );
  };
  const applyType = (type: FieldType, drafts: Draft[], values: string[] = []): void => {
    setDoubt(null);
    void edit(
      `Made ${field.name} ${aOrAn(fieldKind(type).name)} field`,
      (a) => {
        const f = a.tables.find((t) => t.id === table.id)!.fields.find((x) => x.id === field.id)!;
        f.type = type;
        delete f.several;
        // What an earlier time as this type has told it stays.
        const { choices, formula } = fieldKind(type).starts?.(values) ?? {};
        if (choices && !f.choices?.length) f.choices = choices;
        if (formula !== undefined) f.formula ??= formula;
      },
      { drafts },
    );
  };
  const remove = (): void => {
    void edit(`Removed the field ${field.name}`, (a) => removeField(a, table.id, field.id));
    toastWithUndo(`Removed ${field.name}.${uses.length ? ` It was used by ${usesInWords(uses)}.` : ''}`);
    onClose();
  };
  const Icon = FIELD_ICONS[field.type];
  return (
    <section
      aria-label={`Field ${field.name}`}
      className="card thin-scroll mx-6 mb-4 max-h-[46%] shrink-0 overflow-auto px-5 py-3.5"
    >
      <div className="flex items-center gap-2.5">
        <Icon size={16} className="shrink-0 text-ink-soft" aria-hidden />
        <h2 className="min-w-0 text-[15px]">
          <NameField
            value={field.name}
            label="Name of the field"
            onChange={(n) => void edit(`Renamed ${field.name} to ${n}`, (a) => renameField(a, table.id, field.id, n))}
          />
        </h2>
        {field.type === 'link' ? (
          <span className="text-ink-soft">link</span>
        ) : (
          <ChoiceChip
            name="Type"
            value={field.type}
            choices={[...TYPES, ...(field.type === 'formula' ? ['formula' as const] : [])].map((t) => ({
              value: t as FieldType,
              label: fieldKind(t).name,
              icon: FIELD_ICONS[t],
              words: FIELD_WORDS[t],
            }))}
            onChange={(t) => void retype(t)}
          />
        )}
        <span className="min-w-0 flex-1 truncate text-right text-sm text-ink-faint max-[1100px]:invisible">
          {uses.length ? `used by ${usesInWords(uses)}` : 'used nowhere yet'}
        </span>
        <IconButton
          icon={ArrowLeft}
          label="Move this field to the left"
          onClick={() => void edit(`Moved ${field.name}`, (a) => moveField(a, table.id, field.id, -1))}
        />
        <IconButton
          icon={ArrowRight}
          label="Move this field to the right"
          onClick={() => void edit(`Moved ${field.name}`, (a) => moveField(a, table.id, field.id, 1))}
        />
        {!table.facts && (
          <>
            <IconButton
              icon={Pin}
              label="Keep the columns up to here in view"
              onClick={() =>
                look(`Kept ${field.name} in view`, (v) => {
                  const shown = table.fields.filter((f) => !v.hidden.includes(f.id));
                  v.frozen = Math.min(12, shown.findIndex((f) => f.id === field.id) + 1);
                })
              }
            />
            <IconButton
              icon={EyeOff}
              label="Hide this column"
              onClick={() => {
                look(`Hid ${field.name}`, (v) => void v.hidden.push(field.id));
                onClose();
              }}
            />
          </>
        )}
        <IconButton icon={Trash2} label="Remove this field" onClick={remove} />
        <IconButton icon={X} label="Close this card" onClick={onClose} />
      </div>
      {doubt && (
        <div className="mt-3">
          <Note
            action={
              <span className="flex gap-2">
                <Button small onClick={() => setDoubt(null)}>
                  Leave it as it is
                </Button>
                <Button small look="danger" onClick={() => applyType(doubt.type, doubt.drafts)}>
                  Change it all the same
                </Button>
              </span>
            }
          >
            {doubt.lost.length} of {doubt.of} values are no {fieldKind(doubt.type).name} and would be emptied:{' '}
            {[...new Set(doubt.lost)]
              .slice(0, 4)
              .map((v) => `“${v.slice(0, 30)}”`)
              .join(', ')}
            {doubt.lost.length > 4 ? ' and more' : ''}.
          </Note>
        </div>
      )}
      {field.type === 'formula' && <FormulaCard table={table} field={field} />}
      <TypeSettings table={table} field={field} change={change} />
      {field.type !== 'formula' && <FieldRules table={table} field={field} change={change} />}
    </section>
  );
}
