import { ArrowLeft, ArrowRight, Trash2, X } from 'lucide-react';
import { useState } from 'react';
import { toast } from 'sonner';
import { moveField, removeField, renameField } from '../../core/app/edits.ts';
import { idsOfField, usesInWords, usesOf } from '../../core/app/uses.ts';
import { FIELD_TYPES, type Field, type FieldType, type Link, type Table } from '../../core/app/schema.ts';
import type { Draft } from '../../core/host/change.ts';
import { TYPE_NAMES } from '../../core/records/cells.ts';
import { ChoiceChip } from '../chips/ChoiceChip.tsx';
import { useApp, useEngine, useStudio } from '../state/studio.ts';
import { Button, IconButton, Note } from '../ui/controls.tsx';
import { NameField } from '../ui/NameField.tsx';
import { FIELD_ICONS } from './Grid.tsx';
import { FormulaCard } from './FormulaCard.tsx';
import { cellFromText } from './typed.ts';

const TYPES = FIELD_TYPES.filter((t) => t !== 'link' && t !== 'formula');

/** One field, written down: its name and type, and what its type needs. */
export function FieldCard({ table, field, onClose }: { table: Table; field: Field; onClose(): void }) {
  const app = useApp();
  const engine = useEngine();
  const { edit } = useStudio();
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
    const target: Field = { ...field, type };
    const column = field.type === 'formula' ? [] : await engine.column(table.id, field.id);
    const drafts: Draft[] = [];
    const lost: string[] = [];
    for (const { id, cell } of column) {
      const text = typeof cell === 'boolean' ? (cell ? 'yes' : 'no') : String(cell);
      const next = cellFromText(target, text);
      if (next === undefined) lost.push(text);
      if (next !== cell) drafts.push({ do: 'set', table: table.id, record: id, cells: { [field.id]: next ?? null } });
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
      `Made ${field.name} a ${TYPE_NAMES[type]} field`,
      (a) => {
        const f = a.tables.find((t) => t.id === table.id)!.fields.find((x) => x.id === field.id)!;
        f.type = type;
        if (type === 'choice' && !f.choices?.length)
          f.choices = [...new Set(values)].slice(0, 40).map((name, i) => ({ name, colour: i % 8 }));
        if (type === 'formula') f.formula ??= '';
      },
      { drafts },
    );
  };
  const remove = (): void => {
    void edit(`Removed the field ${field.name}`, (a) => removeField(a, table.id, field.id));
    toast(`Removed ${field.name}.${uses.length ? ` It was used by ${usesInWords(uses)}.` : ''}`, {
      action: { label: 'Undo', onClick: () => void useStudio.getState().undo() },
      duration: 8000,
    });
    onClose();
  };
  const Icon = FIELD_ICONS[field.type];
  return (
    <section
      aria-label={`Field ${field.name}`}
      className="card thin-scroll mx-6 mb-4 max-h-[46%] shrink-0 overflow-auto px-5 py-3.5"
    >
      <div className="flex items-center gap-2.5">
        <Icon size={16} className="text-ink-soft" aria-hidden />
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
              label: TYPE_NAMES[t],
              icon: FIELD_ICONS[t],
            }))}
            onChange={(t) => void retype(t)}
          />
        )}
        <span className="min-w-0 flex-1 truncate text-right text-sm text-ink-faint">
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
            {doubt.lost.length} of {doubt.of} values are no {TYPE_NAMES[doubt.type]} and would be emptied:{' '}
            {[...new Set(doubt.lost)]
              .slice(0, 4)
              .map((v) => `“${v.slice(0, 30)}”`)
              .join(', ')}
            {doubt.lost.length > 4 ? ' and more' : ''}.
          </Note>
        </div>
      )}
      {field.type === 'formula' && <FormulaCard table={table} field={field} />}
      {field.type === 'money' && (
        <p className="sentence mt-1">
          Its sign is{' '}
          <input
            aria-label="Currency sign"
            value={field.unit ?? ''}
            placeholder="€"
            onChange={(e) =>
              change(
                `Set the currency of ${field.name}`,
                (f) => {
                  if (e.target.value) f.unit = e.target.value.slice(0, 6);
                  else delete f.unit;
                },
                `unit-${field.id}`,
              )
            }
            className="field mx-1 !inline !w-16 text-center"
          />
          .
        </p>
      )}
      {field.type === 'number' && (
        <p className="sentence mt-1">
          It is counted in{' '}
          <input
            aria-label="Unit"
            value={field.unit ?? ''}
            placeholder="no unit"
            onChange={(e) =>
              change(
                `Set the unit of ${field.name}`,
                (f) => {
                  if (e.target.value) f.unit = e.target.value.slice(0, 20);
                  else delete f.unit;
                },
                `unit-${field.id}`,
              )
            }
            className="field mx-1 !inline !w-24"
          />
          .
        </p>
      )}
      {field.type === 'choice' && <Choices field={field} change={change} />}
      {field.link && <LinkSentence table={table} link={field.link} fieldName={field.name} change={change} />}
      {(field.type === 'number' || field.type === 'money' || field.type === 'percent') && (
        <Range field={field} change={change} />
      )}
      {field.type !== 'formula' && (
        <div className="flex flex-wrap gap-x-6">
          <label className="mt-1.5 flex w-fit items-center gap-2 text-ink-soft">
            <input
              type="checkbox"
              className="size-4 accent-kelp"
              checked={field.required ?? false}
              onChange={(e) =>
                change(`${field.name} is ${e.target.checked ? 'needed' : 'not needed'}`, (f) => {
                  f.required = e.target.checked;
                })
              }
            />{' '}
            It must be filled in
          </label>
          {!field.link && field.type !== 'yesno' && (
            <label className="mt-1.5 flex w-fit items-center gap-2 text-ink-soft">
              <input
                type="checkbox"
                className="size-4 accent-kelp"
                checked={field.unique ?? false}
                onChange={(e) =>
                  change(
                    `${field.name} ${e.target.checked ? 'differs' : 'need not differ'} from record to record`,
                    (f) => {
                      f.unique = e.target.checked;
                    },
                  )
                }
              />{' '}
              No two records have the same
            </label>
          )}
        </div>
      )}
    </section>
  );
}

/** The least and the most a number may be; empty for no limit. A percent is written as people say it. */
function Range({ field, change }: { field: Field; change: Change }) {
  const factor = field.type === 'percent' ? 100 : 1;
  const set = (key: 'least' | 'most', text: string): void => {
    const n = text.trim() === '' ? undefined : Number(text.replace(',', '.'));
    if (n !== undefined && Number.isNaN(n)) return;
    change(
      `Set the range of ${field.name}`,
      (f) => {
        if (n === undefined) delete f[key];
        else f[key] = n / factor;
      },
      `range-${field.id}-${key}`,
    );
  };
  const box = (key: 'least' | 'most', label: string) => (
    <input
      aria-label={label}
      inputMode="decimal"
      placeholder="any"
      defaultValue={field[key] === undefined ? '' : String(field[key]! * factor)}
      onChange={(e) => set(key, e.target.value)}
      className="field mx-1 !inline !w-20 text-right"
    />
  );
  return (
    <p className="sentence mt-1">
      It is at least {box('least', 'Least')} and at most {box('most', 'Most')}
      {field.type === 'percent' ? ' percent' : ''}.
    </p>
  );
}

type Change = (label: string, recipe: (f: Field) => void, merge?: string) => void;

function Choices({ field, change }: { field: Field; change: Change }) {
  const [text, setText] = useState((field.choices ?? []).map((c) => c.name).join('\n'));
  const keep = (): void => {
    const names = [
      ...new Set(
        text
          .split('\n')
          .map((s) => s.trim())
          .filter(Boolean),
      ),
    ];
    if (names.join('\n') === (field.choices ?? []).map((c) => c.name).join('\n')) return;
    change(`Changed the choices of ${field.name}`, (f) => {
      f.choices = names.map((name, i) => f.choices?.find((c) => c.name === name) ?? { name, colour: i % 8 });
    });
  };
  return (
    <label className="mt-2 block text-ink-soft">
      The choices, one a line
      <textarea
        rows={Math.min(6, Math.max(3, field.choices?.length ?? 0))}
        className="field mt-1 max-w-sm text-ink"
        value={text}
        onChange={(e) => setText(e.target.value)}
        onBlur={keep}
      />
    </label>
  );
}

function LinkSentence({
  table,
  link,
  fieldName,
  change,
}: {
  table: Table;
  link: Link;
  fieldName: string;
  change: Change;
}) {
  const app = useApp();
  const target = app.tables.find((t) => t.id === link.table);
  const plain = (t: Table | undefined) =>
    (t?.fields ?? [])
      .filter((f) => !f.link && f.type !== 'formula')
      .map((f) => ({ value: f.id, label: f.name, icon: FIELD_ICONS[f.type] }));
  const set = (patch: Partial<Link>): void =>
    change(`Changed the link ${fieldName}`, (f) => {
      f.link = { ...f.link!, ...patch };
    });
  return (
    <p className="sentence mt-1">
      Each {table.one} leads to one of{' '}
      <ChoiceChip
        tone="data"
        name="Linked table"
        value={link.table}
        choices={app.tables.filter((t) => t.id !== table.id).map((t) => ({ value: t.id, label: t.name }))}
        onChange={(t) => set({ table: t, kind: 'picked', from: undefined, to: undefined })}
      />{' '}
      <ChoiceChip
        name="Kind of link"
        value={link.kind}
        choices={[
          { value: 'picked' as const, label: 'that is picked' },
          { value: 'matched' as const, label: 'that matches' },
        ]}
        onChange={(kind) =>
          set(
            kind === 'matched'
              ? { kind, from: link.from ?? plain(table)[0]?.value, to: link.to ?? plain(target)[0]?.value }
              : { kind },
          )
        }
      />
      {link.kind === 'matched' && (
        <>
          {' '}
          when its{' '}
          <ChoiceChip
            name="Field here"
            value={link.from ?? null}
            choices={plain(table)}
            onChange={(from) => set({ from })}
          />{' '}
          is the same as the {target?.one}’s{' '}
          <ChoiceChip
            name="Field there"
            value={link.to ?? null}
            choices={plain(target)}
            onChange={(to) => set({ to })}
          />
        </>
      )}
      . From there they are called{' '}
      <NameField
        value={link.backName}
        label="Name from the other end"
        onChange={(backName) => set({ backName })}
        className="font-semibold text-ink"
      />
      .
    </p>
  );
}
