import { stepKinds } from '../core/routines/kinds.ts';
import { ElementMaker } from '../core/app/make.ts';
import type { App, Step } from '../core/app/schema.ts';
import { allOf } from '../core/document/queries.ts';
import { F, T, hiveApp } from '../core/records/fixture.ts';
import { Records } from '../core/records/store.ts';
import { answersTo, type Ports } from '../core/routines/asks.ts';
import { Machine } from '../core/routines/machine.ts';
import { format } from './measure.ts';

const STEPS = 10_000;
const EACH = 'v_each000000';

/** Routines against the same work in async JavaScript written by hand. */
export async function routinesBench(): Promise<void> {
  const make = new ElementMaker();
  const app: App = hiveApp();
  const work = make.step('work out', { value: `${EACH}.${F.weight} + 1`, result: 'v_sum0000000' });
  const each = (inner: Step): Step =>
    make.step('each', { query: allOf(T.hives), result: EACH, resultName: 'hive', steps: [inner] });
  const set = make.step('set', { record: EACH, values: [{ field: F.weight, value: `${EACH}.${F.weight} + 1` }] });
  app.routines = [
    { id: 'q_steps00000', name: 'Steps', given: null, steps: [each(work)] },
    { id: 'q_write00000', name: 'Write', given: null, steps: [make.step('together', { steps: [each(set)] })] },
  ];
  const records = new Records(app);
  const cells = Array.from({ length: STEPS }, (_, i) => ({ id: `h${i}`, cells: { [F.weight]: i % 40 } }));
  records.load(T.hives, cells);
  const ports = {
    write: (ask: { drafts: { table: string; record: string; cells?: object }[] }) => {
      for (const d of ask.drafts)
        records.set(d.table, d.record, { ...records.row(d.table, d.record)!.cells, ...d.cells });
    },
  } as unknown as Ports;
  const run = async (i: number): Promise<number> => {
    const machine = new Machine(app, records, stepKinds, { now: () => 0, newId: () => 'r_new00000' });
    let state = machine.begin(app.routines[i]!, null);
    let answer = null;
    const started = performance.now();
    for (;;) {
      const next = machine.advance(state, answer);
      state = next.state;
      if (!next.ask) break;
      answer = await answersTo(next.ask, ports);
    }
    return performance.now() - started;
  };
  const byHand = async (): Promise<number> => {
    const started = performance.now();
    let sum = 0;
    for (const row of records.rows(T.hives)) sum += Number(await Promise.resolve(row.cells[F.weight])) + 1;
    return sum < 0 ? 0 : performance.now() - started;
  };
  const best = async (work2: () => Promise<number>): Promise<number> => {
    let least = Infinity;
    for (let i = 0; i < 5; i++) least = Math.min(least, await work2());
    return least;
  };
  const hand = await best(byHand);
  const steps = await best(() => run(0));
  console.log(
    `  ${(STEPS * 2).toLocaleString('en-GB')} steps with trace: ${format(steps)}, ${((steps / (STEPS * 2)) * 1000).toFixed(1)} µs a step (aim 60), ${(steps / hand).toFixed(0)} times as long as ${STEPS.toLocaleString('en-GB')} awaits by hand (${format(hand)})`,
  );
  const write = await best(() => run(1));
  console.log(
    `  For each over ${STEPS.toLocaleString('en-GB')} records setting one field, together: ${format(write)} (aim 300 ms)`,
  );
}
