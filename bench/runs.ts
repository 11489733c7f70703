import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { setFlagsFromString } from 'node:v8';
import { runInNewContext } from 'node:vm';
import { OWNER } from '../core/access/access.ts';
import type { App, Routine } from '../core/app/schema.ts';
import { thisId } from '../core/document/ids.ts';
import { deviceClock } from '../core/document/time.ts';
import { Refused } from '../core/document/refused.ts';
import { F, hiveApp, T } from '../core/records/fixture.ts';
import { inMemory } from '../core/released/fixture.ts';
import type { ReleasedApp } from '../core/released/released.ts';
import { make, routine, where } from '../core/runs/fixture.ts';
import { HostRuns } from '../core/runs/host-runs.ts';
import { readRuns } from '../core/runs/live-run.ts';
import { RecordsLog } from '../server/records-log.ts';
import { RunsFile } from '../server/runs-file.ts';
import { line } from './measure.ts';

const HOLDS = Number(process.env['KITE_HOLDS'] ?? 100_000);
const TRIGGERS = Number(process.env['KITE_TRIGGERS'] ?? 10_000);
const me = thisId(T.hives);

setFlagsFromString('--expose_gc');
const gc = runInNewContext('gc') as () => void;
const heap = (): number => {
  gc();
  return process.memoryUsage().heapUsed;
};

/** An app on the disk with its runs, started as a server starts it. */
async function started(folder: string, app: App) {
  const { log, kept } = await RecordsLog.open(folder);
  const runsFile = await RunsFile.open(join(folder, 'runs.jsonl'));
  const began = performance.now();
  const now = await readRuns(runsFile, (words) => console.log(words));
  let runs!: HostRuns;
  const released: ReleasedApp = inMemory(app, undefined, kept, {
    log,
    watch: (host) =>
      (runs = new HostRuns(
        {
          host,
          app: () => app,
          clock: deviceClock,
          runs: runsFile,
          send: (m) => released.send(m),
          asks: (m) => released.asks(m, OWNER),
          file: async () => null,
          reach: (_people, named) => [...named],
          asksOthers: () => undefined,
          mailsOfDay: () => released.mailsOfDay,
          say: (words) => console.log(words),
        },
        now,
      )),
  });
  await runs.open();
  const ms = performance.now() - began;
  let n = 0;
  const push = (count: number, of: (i: number) => Record<string, string | number>, name: string): Promise<unknown> => {
    const parts: Promise<unknown>[] = [];
    for (let i = 0; i < count; i += 100) {
      const changes = Array.from({ length: 100 }, (_, k) => ({ do: 'set' as const, table: T.hives, record: `${name}${i + k}`, cells: of(i + k), id: `b${n++}`, stamp: released.host.stamp() })); // prettier-ignore
      parts.push(released.accept(changes, OWNER));
    }
    return Promise.all(parts);
  };
  const stop = async (): Promise<void> => {
    await runs.close();
    await released.close(new Refused(503, 'It stops.'));
    await log.close();
    await runsFile.close();
  };
  return { runs, released, push, stop, ms };
}

const appWith = (...routines: Routine[]): App => ({ ...hiveApp(), routines });
const idle = async (runs: HostRuns, holds: number): Promise<void> => {
  const stands = (): number => [...runs.now.live.values()].filter((r) => r.stands === 'holds').length;
  while (runs.now.live.size > holds || stands() < holds) await new Promise((r) => setTimeout(r, 50));
};

/** Runs on the host: those that hold, and those that changes start, beside the same pushes without them. */
export async function runsBench(): Promise<void> {
  const root = await mkdtemp(join(tmpdir(), 'kite-bench-runs-'));
  const folder = async (name: string): Promise<string> => mkdtemp(join(root, name));
  const held = routine('Hold', 'record changed', { how: 'added' }, [
    make.step('hold', { when: where(`${me}.${F.status}`, 'is', '"Retired"'), time: 'duration("P90D")', late: [] }),
    make.step('raise', { record: me, values: [{ field: F.weight, value: '1' }] }),
  ]);
  try {
    // The same records without runs: what is left is theirs.
    const plainApp = appWith();
    const plain = await started(await folder('plain'), plainApp);
    const before = heap();
    await plain.push(HOLDS, (i) => ({ [F.name]: `Hive ${i}` }), 'h');
    const records = heap() - before;
    const timed = async (s: typeof plain): Promise<number> => {
      const at = performance.now();
      await s.push(Math.min(HOLDS, 20_000), (i) => ({ [F.weight]: i }), 'h');
      return performance.now() - at;
    };
    const alone = await timed(plain);
    await plain.stop();

    const at = await folder('held');
    const full = await started(at, appWith(held));
    const empty = heap();
    await full.push(HOLDS, (i) => ({ [F.name]: `Hive ${i}` }), 'h');
    await idle(full.runs, HOLDS);
    const each = (heap() - empty - records) / HOLDS;
    console.log(`  ${HOLDS.toLocaleString('en-GB')} runs that hold: ${(each / 1024).toFixed(2)} kB each; aim: 2 kB`);
    line('changes of records beside them', await timed(full), 'the same changes without runs', alone, 'no longer');
    await full.stop();
    const again = await started(at, appWith(held));
    console.log(`  a start with them: ${(again.ms / 1000).toFixed(2)} s; aim: 2 s`);
    await again.stop();

    const note = make.step('add', { table: T.visits, values: [{ field: F.hiveTag, value: `${me}.${F.name}` }] });
    const busy = await started(await folder('busy'), appWith(routine('Note', 'record changed', { how: 'added' }, [note])));
    const from = performance.now();
    await busy.push(TRIGGERS, (i) => ({ [F.name]: `Hive ${i}` }), 'n');
    const pushed = performance.now() - from;
    await idle(busy.runs, 0);
    const seconds = (performance.now() - from) / 1000;
    console.log(`  changes that each start a run which writes: ${Math.round(TRIGGERS / seconds).toLocaleString('en-GB')} a second, acknowledged after ${(pushed / 1000).toFixed(2)} s of ${seconds.toFixed(2)} s; aim: 1,000 a second`); // prettier-ignore
    await busy.stop();
  } finally {
    await rm(root, { recursive: true, force: true });
  }
} // prettier-ignore
