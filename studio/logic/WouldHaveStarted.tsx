import { useQuery } from '@tanstack/react-query';
import { clsx } from 'clsx';
import { Check } from 'lucide-react';
import type { Trigger } from '../../core/app/schema.ts';
import type { WouldStart } from '../../core/runs/would-start.ts';
import { useRevisions } from '../state/revisions.ts';
import { useApp, useEngine, useStudio } from '../state/studio.ts';
import { Popover } from '../ui/popover.tsx';
import { momentWords } from './moment.ts';

/** Does a trigger look at changes of records? */
export const looksAtChanges = (t: Trigger): t is Extract<Trigger, { on: 'record changed' | 'record becomes' }> =>
  t.on === 'record changed' || t.on === 'record becomes';

/** Which of the latest changes of the released app a trigger would have answered to, as it is on the desk. */
export function WouldHaveStarted({ routine, at, trigger }: { routine: string; at: number; trigger: Trigger }) {
  const app = useApp();
  const engine = useEngine();
  const isReleased = useStudio((s) => Boolean(s.kept?.released));
  const { data } = useQuery({
    queryKey: ['would start', app.id, routine, at, JSON.stringify(trigger)],
    queryFn: () => engine.host.wouldStart(app, routine, at),
    enabled: isReleased,
    // Whole records travel, so not more often.
    refetchInterval: 10_000,
    placeholderData: (before) => before,
    retry: false,
  });
  // Where the server cannot be reached, that is said elsewhere.
  if (!isReleased || !data) return null;
  if (data.length === 0) return <span className="text-ink-faint"> (no record of it changed lately)</span>;
  const count = data.filter((c) => c.starts).length;
  return (
    <>
      {' '}
      <Popover
        width={380}
        trigger={
          <button type="button" className="text-kelp underline decoration-line-strong underline-offset-4">
            {data.length === 1
              ? `the latest change would ${count ? '' : 'not '}have started it`
              : `${count || 'none'} of the latest ${data.length} changes would have started it`}
          </button>
        }
      >
        {() => <List changes={data} />}
      </Popover>
    </>
  );
}

/** When a date of a record will start a routine next, and which. */
export function NextDate({ routine, at, trigger }: { routine: string; at: number; trigger: Trigger }) {
  const app = useApp();
  const engine = useEngine();
  const revision = useRevisions((s) => s.revision);
  const { data } = useQuery({
    queryKey: ['starts next', app.id, routine, at, JSON.stringify(trigger), app.zone, revision],
    queryFn: () => engine.host.startsNext(app, routine, at),
    refetchInterval: 60_000,
    placeholderData: (before) => before,
  });
  if (data === undefined) return null;
  return (
    <span className="text-ink-faint">
      {' '}
      {data ? `(next ${momentWords(data.at)} ${data.said})` : '(no date of a record is to come)'}
    </span>
  );
}

function List({ changes }: { changes: readonly WouldStart[] }) {
  return (
    <div className="p-2">
      <p className="px-1 pb-1.5 text-sm text-ink-soft">
        The latest changes, newest first. Records that they link to are taken as they are now.
      </p>
      <ul className="thin-scroll max-h-72 divide-y divide-line overflow-auto">
        {changes.map((c) => (
          <li key={c.id} className="flex min-h-[30px] items-center gap-2 px-1 py-1 text-sm">
            <span className={clsx('min-w-0 flex-1 truncate', c.starts && 'font-semibold')}>
              {c.title || 'A record without a title'}
            </span>
            <span className="shrink-0 text-ink-faint tabular-nums">
              {c.did}
              {c.byRoutine && ' by a routine'}, {momentWords(c.at)}
            </span>
            <span className="grid w-4 shrink-0 place-items-center text-kelp">
              {c.starts ? (
                <Check size={14} aria-label="would have started it" />
              ) : (
                <span className="sr-only">would not</span>
              )}
            </span>
          </li>
        ))}
      </ul>
    </div>
  );
}
