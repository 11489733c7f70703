import { useInfiniteQuery } from '@tanstack/react-query';
import { ChevronRight } from 'lucide-react';
import { useState } from 'react';
import { aOrAn } from '../../core/document/names.ts';
import type { ShownPast } from '../../core/session/look-back.ts';
import type { Table } from '../../core/tables/schema.ts';
import { useRevisions } from '../state/revisions.ts';
import { useApp, useEngine, useStudio } from '../state/studio.ts';
import { Button } from '../ui/controls.tsx';

/** What happened to a record of the released app, when and by whom; each value can be put back. */
export function RecordHistory({ table, id, title }: { table: Table; id: string; title: string }) {
  const [isOpen, setOpen] = useState(false);
  if (table.fetched) return null;
  return (
    <section className="border-t border-line px-4 py-2">
      <h3 className="font-text text-sm font-semibold tracking-normal">
        <button
          type="button"
          aria-expanded={isOpen}
          className="flex w-full items-center gap-1 rounded py-0.5 text-left hover:bg-sunk/60"
          onClick={() => setOpen(!isOpen)}
        >
          <ChevronRight size={14} aria-hidden className={isOpen ? 'rotate-90 transition' : 'transition'} />
          History
        </button>
      </h3>
      {isOpen && <Changes key={id} table={table} id={id} title={title} />}
    </section>
  );
}

function Changes({ table, id, title }: { table: Table; id: string; title: string }) {
  const app = useApp();
  const engine = useEngine();
  const revision = useRevisions((s) => s.revision);
  const editRecords = useStudio((s) => s.editRecords);
  const { data, error, fetchNextPage, hasNextPage } = useInfiniteQuery({
    queryKey: ['history', app.id, table.id, id, revision],
    queryFn: ({ pageParam }) => engine.host.history(table.id, id, pageParam),
    initialPageParam: 0,
    getNextPageParam: (last, pages) => {
      const known = pages.reduce((n, p) => n + (p?.changes.length ?? 0), 0);
      return last && known < last.all ? known : undefined;
    },
    placeholderData: (before) => before,
    retry: false,
  });
  if (error)
    return (
      <p role="alert" className="py-1 text-sm text-ink-soft">
        {error.message}
      </p>
    );
  if (!data) return <p className="py-1 text-sm text-ink-faint">Looking…</p>;
  if (data.pages[0] === null)
    return (
      <p className="py-1 text-sm text-ink-soft">
        Once the app is released, its server keeps what changed here, when and by whom.
      </p>
    );
  const changes = data.pages.flatMap((p) => p?.changes ?? []);
  if (changes.length === 0) return <p className="py-1 text-sm text-ink-soft">Nothing is known of what was before.</p>;
  const putBack = ({ name, back }: ShownPast['cells'][number]): void =>
    void editRecords(`Put back ${name} of ${title || aOrAn(table.one)}`, [back!]);
  return (
    <>
      <ol className="flex flex-col gap-3 py-1">
        {changes.map((c) => (
          <li key={c.id}>
            <p className="text-sm">
              <b className="block font-semibold">{c.said}</b>
              <span className="text-ink-faint">{c.at}</span>
            </p>
            <ul className="mt-0.5 flex flex-col gap-1 border-l-2 border-line pl-2.5">
              {c.cells.map((cell) => (
                <li key={cell.name} className="flex items-start gap-2 text-sm">
                  <span className="min-w-0 flex-1 break-words">
                    <span className="text-ink-faint">{cell.name} </span>
                    {cell.was && <s className="text-ink-soft">{cell.was}</s>}
                    {cell.was && cell.is && ' → '}
                    {cell.is || <em className="text-ink-faint">emptied</em>}
                  </span>
                  {cell.back && (
                    <button
                      type="button"
                      className="shrink-0 rounded px-1 font-semibold text-kelp hover:bg-kelp-wash"
                      aria-label={`Put back ${cell.name}: ${cell.was || 'empty'}`}
                      onClick={() => putBack(cell)}
                    >
                      Put back
                    </button>
                  )}
                </li>
              ))}
            </ul>
          </li>
        ))}
      </ol>
      {hasNextPage && (
        <Button small onClick={() => void fetchNextPage()}>
          Show {(data.pages[0]!.all - changes.length).toLocaleString('en-GB')} earlier
        </Button>
      )}
    </>
  );
}
