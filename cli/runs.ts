import { createReadStream } from 'node:fs';
import { readdir, readFile, stat } from 'node:fs/promises';
import { join } from 'node:path';
import { createInterface } from 'node:readline';
import { readApp } from '../core/app/document.ts';
import { readRuns } from '../core/runs/live-run.ts';

/** So many runs that have ended are printed. */
const LATELY = 50;

/** The newest document that is kept in the folder of a released app; its routines by their ids. */
async function routineNames(folder: string): Promise<Map<string, string>> {
  const numbers = (await readdir(folder)).flatMap((f) => /^host-(\d+)\.json$/.exec(f)?.[1] ?? []).map(Number);
  if (numbers.length === 0) return new Map();
  const text = await readFile(join(folder, `host-${Math.max(...numbers)}.json`), 'utf8');
  return new Map(readApp(JSON.parse(text), folder).routines.map((r) => [r.id, r.name]));
}

/** Each line by itself. */
async function* inParts(lines: AsyncIterable<string> | Iterable<string>): AsyncIterable<readonly string[]> {
  for await (const line of lines) yield [line];
}

/** What the server runs, holds and has run of an app, from the folder where it is kept; also while the server is up. */
export async function runsIn(folder: string): Promise<unknown> {
  const path = join(folder, 'runs.jsonl');
  const is = await stat(folder).catch(() => null);
  if (!is?.isDirectory()) throw new Error(`There is no folder ${folder}. Name that of a released app, such as data/bees.`);
  const names = await routineNames(folder);
  const problems: string[] = [];
  const has = await stat(path).catch(() => null);
  const lines = has ? createInterface({ input: createReadStream(path), crlfDelay: Infinity }) : [];
  const now = await readRuns({ parts: () => inParts(lines) }, (words) => problems.push(words));
  const at = (ms: number | null): string | null => (ms === null ? null : new Date(ms).toISOString());
  const name = (id: string): string => names.get(id) ?? id;
  const counts: Record<string, number> = {};
  for (const r of now.live.values()) counts[r.stands] = (counts[r.stands] ?? 0) + 1;
  return {
    counts,
    live: Array.from(now.live.values(), (r) => ({
      id: r.id,
      routine: name(r.routine),
      record: r.given?.record ?? null,
      stands: r.stands,
      why: r.said,
      since: at(r.at),
      ...(r.program !== undefined && { steps: 'of an earlier release' }),
      ...(r.wakes !== null && { goesOn: at(r.wakes) }),
      ...(r.error && { error: r.error }),
    })),
    lately: now.past
      .slice(-LATELY)
      .reverse()
      .map((p) => ({ id: p.id, routine: name(p.routine), why: p.said, began: at(p.at), ms: p.ms, ...(p.error && { error: p.error }) })),
    heldUp: Array.from(now.paused, (id) => (id ? name(id) : 'all')),
    ...(problems.length && { problems }),
  };
} // prettier-ignore
