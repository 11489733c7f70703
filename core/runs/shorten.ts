import type { RunLine } from './lines.ts';
import { lineIn, MOST_PAST, type RunsNow } from './live-run.ts';

/** Runs that have ended are kept for so long. */
export const PAST_MS = 30 * 86_400_000;

/**
 * The lines again without those of runs that ended long ago. Of each run its steps stay, and where it stands now instead
 * of everywhere it stood.
 */
export async function* shortened(lines: AsyncIterable<string>, now: RunsNow, at: number): AsyncIterable<string> {
  now.past = now.past.filter((p) => p.at > at - PAST_MS).slice(-MOST_PAST);
  const past = new Set(now.past.map((p) => p.id));
  for await (const text of lines) {
    const line = lineIn(text);
    if (!line || line.do === 'answered') continue;
    const id = line.do === 'begins' ? line.start.id : 'id' in line ? line.id : null;
    // What is said of all runs is said at the end as it is now.
    if (id === null) continue;
    if (!now.live.has(id) && !past.has(id)) continue;
    if (line.do !== 'kept') yield text;
    else if (line.steps.length) yield JSON.stringify({ do: 'steps', id, steps: line.steps } satisfies RunLine);
  }
  for (const { id, kept, answer } of now.live.values()) {
    if (kept !== null) yield `{"do":"kept","id":${JSON.stringify(id)},"steps":[],"run":${kept}}`;
    if (answer) yield JSON.stringify({ do: 'answered', id, ...answer } satisfies RunLine);
  }
  yield* programsOf(now);
  const quarters = Array.from(now.used, ([quarter, { runs, ms }]): [number, number, number] => [quarter, runs, ms]);
  yield JSON.stringify({ do: 'used', quarters } satisfies RunLine);
  for (const routine of now.paused) yield JSON.stringify({ do: 'paused', routine, on: true } satisfies RunLine);
  if (now.seen) yield JSON.stringify({ do: 'seen', ...now.seen } satisfies RunLine);
}

/** So many runs are named in a line. */
const NAMED = 1000;

/** Which runs go on with earlier releases, and these; those with which none does are let go of. */
function* programsOf({ live, programs }: RunsNow): Iterable<string> {
  const by = new Map<number, string[]>();
  for (const { id, program } of live.values()) {
    if (program === undefined) continue;
    const runs = by.get(program);
    if (runs) runs.push(id);
    else by.set(program, [id]);
  }
  for (const [program, app] of programs) {
    const runs = by.get(program);
    if (!runs) {
      programs.delete(program);
      continue;
    }
    yield JSON.stringify({ do: 'program', program, app } satisfies RunLine);
    for (let from = 0; from < runs.length; from += NAMED)
      yield JSON.stringify({ do: 'goes by', program, runs: runs.slice(from, from + NAMED) } satisfies RunLine);
  }
}
