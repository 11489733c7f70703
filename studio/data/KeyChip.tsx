import { useQuery } from '@tanstack/react-query';
import type { Table } from '../../core/tables/schema.ts';
import { isWritable } from '../../core/records/cells.ts';
import { Chip } from '../chips/Chip.tsx';
import { useEngine, useStudio } from '../state/studio.ts';
import { useRevisions } from '../state/revisions.ts';
import { Note } from '../ui/controls.tsx';
import { Popover } from '../ui/popover.tsx';

/** The fields that together name a record: by them a file and an “add or change” step find it. */
export function KeyChip({ table }: { table: Table }) {
  const engine = useEngine();
  const edit = useStudio((s) => s.edit);
  const tableRevision = useRevisions((s) => s.tableRevision);
  const key = table.key ?? [];
  const { data: clashes } = useQuery({
    queryKey: ['clashes', table.id, key, tableRevision[table.id]],
    queryFn: () => engine.looking.keyClashes(table.id, key),
    enabled: key.length > 0,
  });
  const choices = table.fields.filter((f) => isWritable(f) && !f.several);
  const names = key.map((id) => table.fields.find((f) => f.id === id)?.name ?? '').filter(Boolean);
  const toggle = (id: string, on: boolean): void =>
    void edit(`Changed the key of ${table.name}`, (a) => {
      const t = a.tables.find((x) => x.id === table.id)!;
      const next = on ? [...key, id].slice(0, 6) : key.filter((k) => k !== id);
      if (next.length) t.key = next;
      else delete t.key;
    });
  return (
    <Popover
      width={320}
      trigger={
        <Chip aria-label={`Key: ${names.join(' and ') || 'nothing yet'}`}>{names.join(' and ') || 'nothing yet'}</Chip>
      }
    >
      {() => (
        <div className="p-2.5">
          <p className="px-1.5 pb-1.5 text-sm text-ink-soft">
            No two {table.name.toLowerCase()} may have the same in all of these. A file brought in, and a step that adds
            or changes, find a {table.one} by them.
          </p>
          <ul className="thin-scroll max-h-60 overflow-auto">
            {choices.map((f) => (
              <li key={f.id}>
                <label className="flex min-h-[28px] cursor-pointer items-center gap-2 rounded-md px-1.5 hover:bg-sunk">
                  <input
                    type="checkbox"
                    className="size-4 accent-kelp"
                    checked={key.includes(f.id)}
                    onChange={(e) => toggle(f.id, e.target.checked)}
                  />
                  <span className="truncate">{f.name}</span>
                </label>
              </li>
            ))}
          </ul>
          {clashes && clashes.records > 0 && (
            <div className="mt-2">
              <Note>
                {clashes.records.toLocaleString('en-GB')} records share theirs with another, for example{' '}
                {clashes.samples.map((s) => `“${s}”`).join(', ')}. They stay; new ones like them are refused.
              </Note>
            </div>
          )}
        </div>
      )}
    </Popover>
  );
}
