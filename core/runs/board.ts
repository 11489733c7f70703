import { z } from 'zod';
import type { App } from '../app/schema.ts';
import type { Records } from '../records/store.ts';
import type { KeptRun, RunTrace } from '../routines/run.ts';
import { addSteps } from '../routines/trace.ts';
import type { Upcoming } from './clock-starts.ts';
import type { RunsPort } from './lines.ts';
import type { DayUse } from './day.ts';
import { lineIn, stepsIn, type LiveRun, type PastRun, type RunsNow } from './live-run.ts';

/** So many of each sort are listed; how many there are is told. */
const MOST = 100;

const Entry = z.object({
  id: z.string(),
  routine: z.string(),
  /** The record it was given, by its title; empty for none. */
  given: z.string(),
  table: z.string().nullable(),
  record: z.string().nullable(),
  /** Why it began. */
  said: z.string(),
  /** When, in milliseconds since 1970. */
  at: z.number(),
  /** Why a mail of it did not arrive; empty where none came back. */
  returned: z.string(),
});
const Live = Entry.extend({
  stands: z.enum(['waits', 'runs', 'holds', 'retries', 'failed']),
  /** What it holds for, in words. */
  holdsFor: z.string(),
  /** It goes on with the routines of an earlier release. */
  earlier: z.boolean(),
  /** When it goes on by itself; null for never, or at once. */
  wakes: z.number().nullable(),
  error: z.string(),
});
const Past = Entry.extend({ ms: z.number(), error: z.string() });

/** What the host does for an app now, and has done. */
export const BoardMessage = z.object({
  live: z.array(Live),
  /** How many stand in each way. */
  counts: z.record(z.string(), z.number()),
  /** How many go on with the routines of an earlier release. */
  earlier: z.number(),
  past: z.array(Past),
  next: z.array(z.object({ routine: z.string(), said: z.string(), at: z.number() })),
  /** Routines that are held up; an empty one for all. */
  paused: z.array(z.string()),
  /** What was used in the 24 hours up to now of what the app may. */
  day: z.array(z.object({ of: z.enum(['runs', 'minutes', 'mails']), used: z.number(), most: z.number() })),
  /** Of each routine: how often it ran lately, how often it failed, and how long it took on average, in milliseconds. */
  routines: z.record(z.string(), z.object({ runs: z.number(), failed: z.number(), ms: z.number() })),
});
export type BoardMessage = z.infer<typeof BoardMessage>;

/** The board of an app as it is now. */
export function boardOf(
  now: RunsNow,
  next: readonly Upcoming[],
  records: Records,
  day: readonly DayUse[],
): BoardMessage {
  const counts: Record<string, number> = {};
  const live: BoardMessage['live'] = [];
  let earlier = 0;
  const shown: Record<string, number> = {};
  for (const run of now.live.values()) {
    if (run.program !== undefined) earlier++;
    counts[run.stands] = (counts[run.stands] ?? 0) + 1;
    if ((shown[run.stands] = (shown[run.stands] ?? 0) + 1) > MOST) continue;
    const { stands, wakes, error } = run;
    live.push({
      ...entryOf(run, records),
      stands,
      wakes,
      error,
      earlier: run.program !== undefined,
      holdsFor: stands === 'holds' ? holdsFor(run) : '',
    });
  }
  const routines: BoardMessage['routines'] = {};
  for (const p of now.past) {
    const of = (routines[p.routine] ??= { runs: 0, failed: 0, ms: 0 });
    of.runs++;
    of.ms += (p.ms - of.ms) / of.runs;
    if (p.error) of.failed++;
  }
  const past = now.past.slice(-MOST).reverse();
  return {
    live,
    counts,
    earlier,
    past: past.map((p) => ({ ...entryOf(p, records), ms: p.ms, error: p.error })),
    next: next.slice(0, MOST),
    paused: [...now.paused],
    routines,
    day: [...day],
  };
}

function entryOf(run: LiveRun | PastRun, records: Records): z.infer<typeof Entry> {
  const { id, routine, said, at, given, returned = '' } = run;
  const title = given ? (records.row(given.table, given.record)?.title() ?? '') : '';
  return { id, routine, said, at, given: title, table: given?.table ?? null, record: given?.record ?? null, returned };
}

/** What a run waits for, in the words of the step it stands at. */
function holdsFor(run: LiveRun): string {
  const { state } = JSON.parse(run.kept ?? '{}') as Partial<KeptRun>;
  const kept = state?.asking?.kept as { said?: string; holdsFor?: string } | null | undefined;
  return kept?.holdsFor ?? kept?.said?.replace(/^Held /, '') ?? '';
}

/** A run with all of its steps; null where nothing of it is kept any more. */
export async function traceOf(
  id: string,
  app: App,
  now: RunsNow,
  port: Pick<RunsPort, 'read'>,
  records: Records,
): Promise<RunTrace | null> {
  const run = now.live.get(id) ?? now.past.find((p) => p.id === id);
  if (!run) return null;
  const steps: RunTrace['steps'] = [];
  for await (const text of port.read()) {
    // Most lines are of others.
    if (!text.includes(id)) continue;
    const line = lineIn(text);
    if (line) addSteps(steps, stepsIn(line, id));
  }
  const entry = entryOf(run, records);
  const program = 'program' in run ? now.programs.get(run.program!) : undefined;
  const named = [...(program?.routines ?? []), ...app.routines].find((r) => r.id === run.routine);
  return {
    routine: run.routine,
    name: named?.name ?? '',
    given: entry.given,
    record: entry.record,
    steps,
    ms: 'ms' in run ? run.ms : 0,
    ...(run.error && { error: run.error }),
  };
}
