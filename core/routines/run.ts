import { answerTo, type Ask, type Ports } from './asks.ts';
import type { Machine } from './machine.ts';
import type { RoutineDoc } from './program.ts';
import type { RunState, StepTrace } from './state.ts';

export interface RunTrace {
  routine: string;
  name: string;
  /** The record it was given, by its title. */
  given: string;
  /** The id of that record. */
  record?: string | null;
  /** What its inputs were given, by their ids. */
  values?: RunState['results'];
  steps: StepTrace[];
  ms: number;
  error?: string;
}

/** A run as it is put away before an ask: enough to go on from. */
export interface KeptRun {
  state: RunState;
  ask: Ask;
  trace: RunTrace;
}

/** Where runs that may outlive the page are kept, by their ids; null forgets one that has ended. */
export type KeepRun = (id: string, run: KeptRun | null) => Promise<void>;

/**
 * Drives a run through its asks to its end. Never rejects: what went wrong is in the trace. With `keep`, the run is
 * put away before each ask, so that {@link resumeRun} can take it up after a reload.
 */
export function driveRun(
  machine: Machine,
  routine: RoutineDoc,
  state: RunState,
  trace: RunTrace,
  ports: Ports,
  keep?: KeepRun,
): Promise<RunTrace> {
  return drive(machine, { state, ask: null, trace }, ports, machine.lasts(routine) ? keep : undefined);
}

/** Goes on with a run that was put away: asks again what it had asked, and then on to its end. */
export const resumeRun = (machine: Machine, kept: KeptRun, ports: Ports, keep: KeepRun): Promise<RunTrace> =>
  drive(machine, kept, ports, keep);

async function drive(
  machine: Machine,
  from: { state: RunState; ask: Ask | null; trace: RunTrace },
  ports: Ports,
  keep: KeepRun | undefined,
): Promise<RunTrace> {
  const trace: RunTrace = { ...from.trace, steps: [...from.trace.steps] };
  const started = performance.now();
  let { state, ask } = from;
  for (let first = true; first || ask; first = false) {
    if (ask) await keep?.(state.id, { state, ask, trace: { ...trace, steps: [...trace.steps] } });
    const answer = ask && (await answerTo(ask, ports));
    const next = machine.advance(state, answer);
    state = next.state;
    ask = next.ask;
    trace.steps.push(...next.did);
  }
  if (state.ended?.error !== undefined) trace.error = state.ended.error;
  trace.ms = from.trace.ms + performance.now() - started;
  await keep?.(state.id, null);
  return trace;
}
