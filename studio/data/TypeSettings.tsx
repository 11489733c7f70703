import { toast } from 'sonner';
import type { Field, Table } from '../../core/tables/schema.ts';
import type { Draft } from '../../core/records/change.ts';
import { listCell, toListCell } from '../../core/fields/lists.ts';
import { ChoiceChip } from '../chips/ChoiceChip.tsx';
import { useEngine, useStudio } from '../state/studio.ts';
import { ChoiceSettings } from './ChoiceSettings.tsx';
import { LinkSentence } from './LinkSentence.tsx';
import { PlanPicture } from './PlanPicture.tsx';

export type Change = (label: string, recipe: (f: Field) => void, merge?: string) => void;

/** What the type of a field needs to be told: a unit, choices, the plan, the other end of a link. */
export function TypeSettings({ table, field, change }: { table: Table; field: Field; change: Change }) {
  const engine = useEngine();
  const edit = useStudio((s) => s.edit);
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
      return <ChoiceSettings field={field} change={change} onSeveral={(s) => void setSeveral(s)} />;
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
