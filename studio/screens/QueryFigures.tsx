import { timeTaken } from '../ui/time-taken.ts';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { ChevronDown, Gauge, Rows3 } from 'lucide-react';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import type { Query } from '../../core/document/pieces.ts';
import type { Screen } from '../../core/app/schema.ts';
import type { LeftOut } from '../../core/screens/query-figures.ts';
import { usePhone } from '../state/phone.ts';
import { useRevisions } from '../state/revisions.ts';
import { useEngine, useHome } from '../state/studio.ts';

/** How many records stand behind a list, and which of its conditions left out how many. */
export function QueryFigures({ of, query, screen }: { of: string; query: Query; screen: Screen }) {
  const engine = useEngine();
  const navigate = useNavigate();
  const home = useHome();
  const place = usePhone((s) => s.place);
  const revision = useRevisions((s) => s.revision);
  const [open, setOpen] = useState(false);
  const record = place?.screen === screen.id ? place.record : null;
  const { data: figures } = useQuery({
    queryKey: ['figures', of, query, record, revision],
    queryFn: () => engine.trying.query(query, screen.id, record),
    placeholderData: keepPreviousData,
  });
  if (!figures) return null;
  const left = figures.leftOut;
  return (
    <div className="mt-2 border-t border-dashed border-line-strong pt-2 text-ink-soft">
      <div className="flex flex-wrap items-center gap-x-5 gap-y-1">
        <span className="flex items-center gap-1.5">
          <Rows3 size={14} aria-hidden /> {figures.shown.toLocaleString('en-GB')} of{' '}
          {figures.of.toLocaleString('en-GB')} records
        </span>
        <span className="flex items-center gap-1.5">
          <Gauge size={14} aria-hidden /> {timeTaken(figures.ms)}
        </span>
        {left.length > 0 && (
          <button
            type="button"
            aria-expanded={open}
            onClick={() => setOpen(!open)}
            className="flex items-center gap-1 font-semibold text-kelp hover:underline"
          >
            What was left out <ChevronDown size={14} aria-hidden className={open ? 'rotate-180' : ''} />
          </button>
        )}
        <button
          type="button"
          className="ml-auto font-semibold text-kelp hover:underline"
          onClick={() => void navigate(`${home}/data/${query.table}`)}
        >
          See the records
        </button>
      </div>
      {open && left.map((l) => <Left key={l.said} left={l} table={query.table} />)}
    </div>
  );
}

/** One condition with the records that do not fit it. */
function Left({ left, table }: { left: LeftOut; table: string }) {
  const navigate = useNavigate();
  const home = useHome();
  const more = left.count - left.records.length;
  return (
    <div className="mt-2">
      <p className="font-semibold text-ink">
        {left.count.toLocaleString('en-GB')} left out by “{left.said}”
      </p>
      <p className="max-h-24 overflow-auto thin-scroll">
        {left.records.map((r, i) => (
          <span key={r.id}>
            {i > 0 && ', '}
            <button
              type="button"
              className="underline decoration-line-strong underline-offset-2 hover:text-ink"
              onClick={() => void navigate(`${home}/data/${table}?record=${r.id}`)}
            >
              {r.title}
            </button>
          </span>
        ))}
        {more > 0 && ` and ${more.toLocaleString('en-GB')} more`}
      </p>
    </div>
  );
}
