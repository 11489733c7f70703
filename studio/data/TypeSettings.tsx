import { useState } from 'react';
import { toast } from 'sonner';
import { newId } from '../../core/app/ids.ts';
import type { Field, Link, Table } from '../../core/app/schema.ts';
import type { Draft } from '../../core/host/change.ts';
import { listCell, toListCell } from '../../core/records/cells.ts';
import { ChoiceChip } from '../chips/ChoiceChip.tsx';
import { useApp, useEngine, useStudio } from '../state/studio.ts';
import { Button } from '../ui/controls.tsx';
import { chooseFiles } from '../ui/files.ts';
import { NameField } from '../ui/NameField.tsx';
import { Popover } from '../ui/popover.tsx';
import { choiceColour } from './CellView.tsx';
import { FIELD_ICONS } from './fields.ts';

export type Change = (label: string, recipe: (f: Field) => void, merge?: string) => void;

/** What the type of a field needs to be told: a unit, choices, the plan, the other end of a link. */
export function TypeSettings({ table, field, change }: { table: Table; field: Field; change: Change }) {
  const engine = useEngine();
  const { edit } = useStudio();
  /** One becomes several without loss; of several only the first stays, so that is said. */
  const setSeveral = async (several: boolean): Promise<void> => {
    const column = await engine.column(table.id, field.id);
    const drafts: Draft[] = [];
    let lost = 0;
    for (const { id, cell } of column) {
      const items = listCell(cell);
      const next = several ? toListCell(items) : (items[0] ?? null);
      if (!several && items.length > 1) lost++;
      if (next !== cell) drafts.push({ do: 'set', table: table.id, record: id, cells: { [field.id]: next } });
    }
    await edit(
      `${field.name} holds ${several ? 'several' : 'one'}`,
      (a) => {
        const f = a.tables.find((t) => t.id === table.id)!.fields.find((x) => x.id === field.id)!;
        if (several) f.several = true;
        else delete f.several;
      },
      { drafts },
    );
    if (lost)
      toast(`${lost} ${lost === 1 ? 'record' : 'records'} held several; the first of them stays.`, {
        action: { label: 'Undo', onClick: () => void useStudio.getState().undo() },
        duration: 8000,
      });
  };
  switch (field.type) {
    case 'money':
      return (
        <p className="sentence mt-1">
          Its sign is <UnitBox field={field} change={change} label="Currency sign" placeholder="€" longest={6} />.
        </p>
      );
    case 'number':
      return (
        <p className="sentence mt-1">
          It is counted in <UnitBox field={field} change={change} label="Unit" placeholder="no unit" longest={20} />,
          with <Decimals field={field} change={change} />.
        </p>
      );
    case 'percent':
      return (
        <p className="sentence mt-1">
          It is shown with <Decimals field={field} change={change} />.
        </p>
      );
    case 'choice':
      return <Choices field={field} change={change} onSeveral={(s) => void setSeveral(s)} />;
    case 'plan':
      return <PlanPicture table={table} field={field} />;
    case 'id':
      return (
        <p className="sentence mt-1">
          Each new {table.one} gets one of its own, beginning with{' '}
          <input
            aria-label="What ids begin with"
            value={field.prefix ?? ''}
            placeholder="nothing"
            maxLength={12}
            onChange={(e) =>
              change(
                `Set what ${field.name} begins with`,
                (f) => {
                  if (e.target.value) f.prefix = e.target.value;
                  else delete f.prefix;
                },
                `prefix-${field.id}`,
              )
            }
            className="field mx-1 !inline !w-24"
          />
          .
        </p>
      );
    case 'created':
    case 'changed':
      return (
        <p className="sentence mt-1">
          The app writes it down by itself when a {table.one} is {field.type === 'created' ? 'made' : 'changed'}.
        </p>
      );
    case 'person':
      return (
        <p className="sentence mt-1">
          A name or mail address. A phone remembers who was written last, and formulas know it as <code>person()</code>.
        </p>
      );
    case 'link':
      return field.link ? (
        <LinkSentence
          table={table}
          field={field}
          link={field.link}
          change={change}
          onSeveral={(s) => void setSeveral(s)}
        />
      ) : null;
    default:
      return null;
  }
}

const DECIMALS = [undefined, 0, 1, 2, 3, 4] as const;

function Decimals({ field, change }: { field: Field; change: Change }) {
  return (
    <ChoiceChip
      name="Decimals"
      value={field.decimals ?? -1}
      choices={DECIMALS.map((n) => ({
        value: n ?? -1,
        label:
          n === undefined
            ? 'as many decimals as it has'
            : n === 0
              ? 'no decimals'
              : `${n} ${n === 1 ? 'decimal' : 'decimals'}`,
      }))}
      onChange={(n) =>
        change(`Set the decimals of ${field.name}`, (f) => {
          if (n < 0) delete f.decimals;
          else f.decimals = n;
        })
      }
    />
  );
}

function UnitBox({
  field,
  change,
  label,
  placeholder,
  longest,
}: {
  field: Field;
  change: Change;
  label: string;
  placeholder: string;
  longest: number;
}) {
  return (
    <input
      aria-label={label}
      value={field.unit ?? ''}
      placeholder={placeholder}
      maxLength={longest}
      onChange={(e) =>
        change(
          `Set the ${label.toLowerCase()} of ${field.name}`,
          (f) => {
            if (e.target.value) f.unit = e.target.value;
            else delete f.unit;
          },
          `unit-${field.id}`,
        )
      }
      className="field mx-1 !inline !w-24"
    />
  );
}

function Choices({ field, change, onSeveral }: { field: Field; change: Change; onSeveral(several: boolean): void }) {
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
    <div className="mt-1">
      <p className="sentence">
        It takes{' '}
        <ChoiceChip
          name="One or several"
          value={field.several ?? false}
          choices={[
            { value: false, label: 'one' },
            { value: true, label: 'several' },
          ]}
          onChange={onSeveral}
        />{' '}
        of these,{' '}
        <ChoiceChip
          name="Other values"
          value={field.only ?? false}
          choices={[
            { value: false, label: 'or another word' },
            { value: true, label: 'and nothing else' },
          ]}
          onChange={(only) =>
            change(`${field.name} takes ${only ? 'only its choices' : 'other words too'}`, (f) => {
              if (only) f.only = true;
              else delete f.only;
            })
          }
        />
        .
      </p>
      <div className="mt-1 flex gap-4">
        <label className="block w-56 shrink-0 text-ink-soft">
          The choices, one a line
          <textarea
            rows={Math.min(6, Math.max(3, field.choices?.length ?? 0))}
            className="field mt-1 text-ink"
            value={text}
            onChange={(e) => setText(e.target.value)}
            onBlur={keep}
          />
        </label>
        <ul className="mt-6 flex flex-wrap content-start gap-1.5" aria-label="Colours of the choices">
          {(field.choices ?? []).map((c, i) => (
            <li key={c.name}>
              <Popover
                width={150}
                trigger={
                  <button
                    type="button"
                    aria-label={`Colour of ${c.name}`}
                    className="max-w-44 truncate rounded-md px-2 py-0.5"
                    style={{ background: choiceColour(c.colour) }}
                  >
                    {c.name}
                  </button>
                }
              >
                {(close) => (
                  <div className="grid grid-cols-4 gap-1.5 p-2">
                    {Array.from({ length: 8 }, (_, colour) => (
                      <button
                        key={colour}
                        type="button"
                        aria-label={`Colour ${colour + 1}`}
                        aria-pressed={c.colour === colour}
                        className="size-7 rounded-md border border-line aria-pressed:border-ink"
                        style={{ background: choiceColour(colour) }}
                        onClick={() => {
                          change(`Coloured ${c.name}`, (f) => void (f.choices![i]!.colour = colour));
                          close();
                        }}
                      />
                    ))}
                  </div>
                )}
              </Popover>
            </li>
          ))}
        </ul>
      </div>
    </div>
  );
}

const MAX_PLAN = 1_100_000;

/** The picture that places are put on; it is kept with the app. */
function PlanPicture({ table, field }: { table: Table; field: Field }) {
  const app = useApp();
  const { edit } = useStudio();
  const file = app.files.find((f) => `file:${f.id}` === field.plan);
  const choose = async (): Promise<void> => {
    const [picture] = await chooseFiles('image/png,image/jpeg,image/svg+xml,image/webp', false);
    if (!picture) return;
    if (picture.size > MAX_PLAN) {
      toast(`“${picture.name}” has ${(picture.size / 1_048_576).toFixed(1)} MB; a plan may have up to 1 MB.`);
      return;
    }
    const bytes = new Uint8Array(await picture.arrayBuffer());
    let binary = '';
    for (let i = 0; i < bytes.length; i += 32_768) binary += String.fromCharCode(...bytes.subarray(i, i + 32_768));
    const id = newId('p');
    void edit(`Gave ${field.name} a plan`, (a) => {
      a.files.push({ id, name: picture.name.slice(0, 200), type: picture.type || 'image/png', data: btoa(binary) });
      const f = a.tables.find((t) => t.id === table.id)!.fields.find((x) => x.id === field.id)!;
      f.plan = `file:${id}`;
    });
  };
  const pictures = app.files.filter((f) => f.type.startsWith('image/'));
  return (
    <div className="mt-1 flex items-start gap-4">
      <p className="sentence">
        Places are put on{' '}
        <ChoiceChip
          name="Plan"
          value={field.plan ?? null}
          empty="choose a plan"
          choices={pictures.map((f) => ({ value: `file:${f.id}`, label: f.name }))}
          onChange={(plan) =>
            void edit(`Gave ${field.name} a plan`, (a) => {
              a.tables.find((t) => t.id === table.id)!.fields.find((x) => x.id === field.id)!.plan = plan;
            })
          }
        />{' '}
        or{' '}
        <Button small onClick={() => void choose()}>
          a picture from this computer
        </Button>
      </p>
      {file && (
        <img
          src={`data:${file.type};base64,${file.data}`}
          alt={file.name}
          className="max-h-28 rounded-md border border-line"
        />
      )}
    </div>
  );
}

function LinkSentence({
  table,
  field,
  link,
  change,
  onSeveral,
}: {
  table: Table;
  field: Field;
  link: Link;
  change: Change;
  onSeveral(several: boolean): void;
}) {
  const app = useApp();
  const target = app.tables.find((t) => t.id === link.table);
  const plain = (t: Table | undefined) =>
    (t?.fields ?? [])
      .filter((f) => !f.link && f.type !== 'formula' && !f.several)
      .map((f) => ({ value: f.id, label: f.name, icon: FIELD_ICONS[f.type] }));
  const set = (patch: Partial<Link>): void =>
    change(`Changed the link ${field.name}`, (f) => {
      f.link = { ...f.link!, ...patch };
      if (patch.kind === 'matched') delete f.several;
    });
  return (
    <p className="sentence mt-1">
      Each {table.one} leads to{' '}
      {link.kind === 'picked' ? (
        <ChoiceChip
          name="One or several"
          value={field.several ?? false}
          choices={[
            { value: false, label: 'one of' },
            { value: true, label: 'several of' },
          ]}
          onChange={onSeveral}
        />
      ) : (
        'one of'
      )}{' '}
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
          { value: 'picked' as const, label: field.several ? 'that are picked' : 'that is picked' },
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
