import { stepKinds } from './kinds.ts';
import { ElementMaker } from '../app/make.ts';
import type { App, Routine, Step } from '../app/schema.ts';
import { thisId } from '../document/ids.ts';
import { F, T, hiveApp, someRecords } from '../records/fixture.ts';
import { cellsAfter } from '../records/raise.ts';
import { Records } from '../records/store.ts';
import { answersTo, type Answer, type Ask, type Ports } from './asks.ts';
import { Machine } from './machine.ts';
import type { KeepRun, KeptRun } from './run.ts';
import type { StepTrace } from './state.ts';
import type { StepKinds } from './step.ts';
import { addSteps } from './trace.ts';

export const me = thisId(T.hives);
export const make = new ElementMaker((letter) => `${letter}_${String(++ids).padStart(8, '0')}`);
let ids = 0;

/** Records, a machine, and a world that does what it is asked and writes it down. */
export function world(
  steps: Step[],
  more: {
    refuse?: (ask: Ask) => string | null;
    kinds?: StepKinds;
    change?: (app: App) => void;
    given?: string | null;
  } = {},
) {
  const app = hiveApp();
  more.change?.(app);
  const records = new Records(app);
  someRecords(records);
  const routine: Routine = {
    id: 'q_test00000',
    name: 'Test',
    given: more.given === undefined ? T.hives : more.given,
    steps,
  };
  app.routines.push(routine);
  let n = 0;
  const machine = new Machine(app, records, more.kinds ?? stepKinds, { now: () => 1000, newId: () => `new${++n}` });
  const asked: Ask[] = [];
  const note = (ask: Ask): void => {
    const refused = more.refuse?.(ask);
    if (refused) throw new Error(refused);
    asked.push(ask);
  };
  const ports: Ports = {
    write(ask) {
      note(ask);
      for (const d of ask.drafts)
        if (d.do !== 'remove') records.set(d.table, d.record, { ...cellsAfter(records, d) });
        else records.remove(d.table, d.record);
    },
    open: note,
    history: note,
    back: note,
    message: note,
    variable: note,
    send: note,
    wait: note,
    person: note,
    question: note,
    device: note,
    timer: note,
    element: note,
    refresh: note,
    words: note,
    service: note,
    'sign out': note,
  };
  return { app, records, routine, machine, ports, asked };
}
export const contents = (records: Records): unknown =>
  [T.hives, T.visits, T.keepers].map((t) => records.rows(t).map((r) => [r.id, { ...r.cells }]));
export const timeless = (steps: readonly StepTrace[]): unknown => steps.map(({ ms: _ms, ...s }) => s);

/** Runs to the end. `through` is called with the state at every ask, and gives the state to go on with. */
export async function run(w: ReturnType<typeof world>, through: <S>(state: S) => S = (s) => s) {
  let { state, ask, did } = w.machine.advance(w.machine.begin(w.routine, 'bramble'));
  const steps = [...did];
  while (ask) {
    const answer: Answer = await answersTo(ask, w.ports);
    ({ state, ask, did } = w.machine.advance(through(state), answer));
    addSteps(steps, did);
  }
  return { state, steps };
}

export const set = (value: string, record = me): Step =>
  make.step('set', { record, values: [{ field: F.weight, value }] });
export const say = (words: string): Step => make.step('message', { words });

/** Keeps runs as a device does: whole, each with the steps it had told before. */
export function keeper() {
  const kept: (KeptRun | null)[] = [];
  const told: StepTrace[] = [];
  const keep: KeepRun = async (_id, run, more) => {
    told.push(...more);
    const whole = run && { ...run, trace: { ...run.trace, steps: told } };
    kept.push(JSON.parse(JSON.stringify(whole)) as typeof whole);
  };
  return { kept, keep };
}
