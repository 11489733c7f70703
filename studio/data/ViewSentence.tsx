import { addOwnOrder } from '../../core/app/edits.ts';
import type { Table, View } from '../../core/tables/schema.ts';
import { ChoiceChip } from '../chips/ChoiceChip.tsx';
import { Chip } from '../chips/Chip.tsx';
import { WhereSentence } from '../chips/WhereSentence.tsx';
import { useStudio } from '../state/studio.ts';
import { Popover } from '../ui/popover.tsx';
import { FIELD_ICONS } from './fields.ts';
import { useView } from './useView.ts';

const OWN = 'own order';

/** How the table is looked at, as a sentence: which records, in what order, put together by what, with which columns. */
export function ViewSentence({ table }: { table: Table }) {
  const edit = useStudio((s) => s.edit);
  const { view, look } = useView(table);
  const fields = table.fields.map((f) => ({ value: f.id, label: f.name, icon: FIELD_ICONS[f.type] }));
  const orders = [
    { value: '', label: view.order.length ? 'nothing more' : 'as they were added' },
    { value: OWN, label: 'own order, by dragging' },
    ...fields.filter((f) => f.value !== table.ownOrder),
  ];
  const setOrder = (i: number, by: string): void => {
    if (by === OWN && !table.ownOrder) {
      void edit(`Gave ${table.name} an order of its own`, (a) => {
        addOwnOrder(a, table.id);
      });
      return;
    }
    look(`Sorted ${table.name}`, (v) => {
      if (by === '') v.order.splice(i);
      else v.order[i] = { by: by === OWN ? table.ownOrder! : by, descending: v.order[i]?.descending ?? false };
      if (by === OWN) v.order.splice(1);
    });
  };
  const shownOrder = (by: string): string => (by === table.ownOrder ? OWN : by);
  // The last chip of the orders is the one that adds another, unless there are enough of them.
  const lastIsOpen = view.order.length < 4 && !(view.order[0] && shownOrder(view.order[0].by) === OWN);
  const hidden = new Set(view.hidden);
  const columnWords = hidden.size ? `${hidden.size} of ${fields.length} columns hidden` : 'all columns';

  return (
    <div className="sentence px-6 pt-1">
      <WhereSentence
        lead="Showing"
        bare="all of them"
        where={view.where}
        place={{ self: table.id, things: [] }}
        onChange={(where) => look(`Filtered ${table.name}`, (v) => (v.where = where))}
      />
      , sorted by{' '}
      {[...view.order, null].slice(0, view.order.length < 4 ? undefined : -1).map((o, i) =>
        o === null && i > 0 && shownOrder(view.order[0]!.by) === OWN ? null : (
          <span key={i}>
            {i > 0 && (o ? ', then ' : ' ')}
            {/* A comma stays with the chip before it. */}
            <span className="whitespace-nowrap">
              <ChoiceChip
                name={i === 0 ? 'Sort by' : `Sort by ${i + 1}`}
                value={o ? shownOrder(o.by) : ''}
                {...(!o && { label: i === 0 ? 'as they were added' : 'then…' })}
                choices={orders}
                onChange={(by) => setOrder(i, by)}
              />
              {!o && ','}
            </span>
            {o && shownOrder(o.by) !== OWN && (
              <>
                {' '}
                <ChoiceChip
                  name={i === 0 ? 'Direction' : `Direction ${i + 1}`}
                  value={o.descending}
                  choices={[
                    { value: false, label: 'upwards' },
                    { value: true, label: 'downwards' },
                  ]}
                  onChange={(d) => look(`Sorted ${table.name}`, (v) => (v.order[i]!.descending = d))}
                />
              </>
            )}
          </span>
        ),
      )}
      {lastIsOpen ? '' : ','} grouped by{' '}
      <span className="whitespace-nowrap">
        <ChoiceChip
          name="Group by"
          value={view.group ?? ''}
          choices={[{ value: '', label: 'nothing' }, ...fields]}
          onChange={(id) => look(`Grouped ${table.name}`, (v) => (v.group = id || null))}
        />
        ,
      </span>{' '}
      with{' '}
      <Popover trigger={<Chip aria-label={`Columns: ${columnWords}`}>{columnWords}</Chip>}>
        {() => <ColumnList table={table} view={view} look={look} />}
      </Popover>
    </div>
  );
}

/** Which columns are shown, and how many stay in view while the rest scrolls. */
function ColumnList({
  table,
  view,
  look,
}: {
  table: Table;
  view: View;
  look(label: string, recipe: (v: View) => void): void;
}) {
  const hidden = new Set(view.hidden);
  return (
    <div className="p-2">
      <ul className="thin-scroll max-h-72 overflow-auto">
        {table.fields.map((f) => (
          <li key={f.id}>
            <label className="flex min-h-[28px] cursor-pointer items-center gap-2 rounded-md px-2 hover:bg-sunk">
              <input
                type="checkbox"
                className="size-4 accent-kelp"
                checked={!hidden.has(f.id)}
                onChange={(e) =>
                  look(`${e.target.checked ? 'Showed' : 'Hid'} ${f.name}`, (v) => {
                    v.hidden = e.target.checked ? v.hidden.filter((id) => id !== f.id) : [...v.hidden, f.id];
                  })
                }
              />
              <span className="truncate">{f.name}</span>
            </label>
          </li>
        ))}
      </ul>
      <p className="sentence mt-1 border-t border-line px-2 pt-2">
        <ChoiceChip
          name="Columns that stay in view"
          value={view.frozen}
          choices={[0, 1, 2, 3, 4].map((n) => ({
            value: n,
            label: n === 0 ? 'No column stays' : n === 1 ? 'The first stays' : `The first ${n} stay`,
          }))}
          onChange={(n) => look('Changed which columns stay in view', (v) => (v.frozen = n))}
        />{' '}
        in view
      </p>
    </div>
  );
}
