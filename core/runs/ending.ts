import type { App } from '../app/schema.ts';
import type { Records } from '../records/store.ts';
import type { Driven } from '../routines/run.ts';
import type { RunLine } from './lines.ts';
import type { LiveRun } from './live-run.ts';
import { startsOfFailure } from './told-starts.ts';

/** What is kept when a run ends at a time: that it did, and what its failure starts, in one. Gives the ids of those runs. */
export function endOf(
  run: LiveRun,
  driven: Driven | null,
  error: string | undefined,
  { app, records, at }: { app: App; records: Records; at: number },
): { lines: RunLine[]; starts: string[] } {
  const ended: RunLine = {
    do: 'ended',
    id: run.id,
    at,
    ms: Math.round(driven?.trace.ms ?? 0),
    ...(error !== undefined && { error }),
    steps: [...(driven?.unkept ?? [])],
  };
  const title = (run.given && records.row(run.given.table, run.given.record)?.title()) ?? '';
  const starts = error === undefined ? [] : startsOfFailure(app, run, error, title, at);
  const begins = starts.map((start): RunLine => ({ do: 'begins', at, start }));
  return { lines: [ended, ...begins], starts: starts.map((s) => s.id) };
}
