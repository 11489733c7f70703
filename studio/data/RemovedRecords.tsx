import { useQuery } from '@tanstack/react-query';
import { RotateCcw, X } from 'lucide-react';
import type { Table } from '../../core/tables/schema.ts';
import { useEngine, useStudio } from '../state/studio.ts';
import { useRevisions } from '../state/revisions.ts';
import { Button, IconButton } from '../ui/controls.tsx';

const when = (iso: string): string =>
  new Date(iso).toLocaleString('en-GB', { day: 'numeric', month: 'short', hour: '2-digit', minute: '2-digit' });

/** Records that were removed, here or on a phone, the latest first, each with the way back. */
export function RemovedRecords({ table, onClose }: { table: Table; onClose(): void }) {
  const engine = useEngine();
  const revision = useRevisions((s) => s.revision);
  const editRecords = useStudio((s) => s.editRecords);
  const { data: removed = [] } = useQuery({
    queryKey: ['removed', table.id, revision],
    queryFn: () => engine.looking.removed(table.id),
  });
  const bringBack = (ids: string[], what: string): void =>
    void editRecords(
      `Brought back ${what}`,
      ids.map((record) => ({ do: 'restore', table: table.id, record })),
    );
  return (
    <section
      aria-label="Removed records"
      className="card thin-scroll mx-6 mb-4 max-h-[46%] shrink-0 overflow-auto px-5 py-3.5"
    >
      <div className="flex items-center gap-2.5">
        <h2 className="flex-1 text-[15px]">Removed from {table.name}</h2>
        {removed.length > 1 && (
          <Button
            small
            onClick={() =>
              bringBack(
                removed.map((r) => r.id),
                `${removed.length} records`,
              )
            }
          >
            Bring all back
          </Button>
        )}
        <IconButton icon={X} label="Close this card" onClick={onClose} />
      </div>
      {removed.length === 0 && (
        <p className="mt-1 text-ink-soft">Nothing was removed. What is, here or on a phone, waits here to come back.</p>
      )}
      <ul className="mt-1">
        {removed.map((r) => (
          <li key={r.id} className="flex items-center gap-3 border-b border-line/60 py-1 last:border-0">
            <span className="min-w-0 flex-1 truncate">{r.title}</span>
            <span className="text-sm text-ink-faint">{when(r.at)}</span>
            <Button small icon={RotateCcw} onClick={() => bringBack([r.id], r.title)}>
              Bring back
            </Button>
          </li>
        ))}
      </ul>
    </section>
  );
}
