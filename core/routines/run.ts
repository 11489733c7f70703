import { answersTo, type Answer, type Ports, type RunAsk } from './asks.ts';
import type { AnyStep } from '../document/meaning.ts';
import type { Machine } from './machine.ts';
import type { RoutineDoc } from './program.ts';
import type { RunState, StepTrace } from './state.ts';
import { addSteps } from './trace.ts';

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
  /** It was tried on a copy of the records: what it would change, in words, and the id by which that is done for real. */
  tried?: { id: string; changes: { said: string; table: string; record: string }[]; sends: string[] };
}

/** A run as it is put away before an ask: enough to go on from. Its steps are kept beside it, each once. */
export interface KeptRun {
  state: RunState;
  ask: RunAsk;
  trace: RunTrace;
  /** The answer to the ask with this name, had before the run could go on. */
  answered?: { key: string; answer: Answer };
}

/** The name of what a run asks now: the same whenever it is asked again. */
export const keyOf = ({ id, asks = 0 }: RunState): string => `${id}:${asks}`;

/**
 * The answers to these need not be kept by themselves: a time comes again, and each part of several is kept with them.
 * Whoever writes keeps with what is written that it is, and a message has an id of its own.
 */
const ASKED_AGAIN: ReadonlySet<RunAsk['ask']> = new Set(['wait', 'several', 'write', 'send']);

/** Looks at runs step by step. */
export interface Looks {
  /** Does the run stand still before this step? `isFirst` of the run. */
  pauses(run: string, routine: string, step: string, isFirst: boolean): boolean;
  /** A run stands before a step; resolves when it goes on, or is to end there. */
  paused(run: string, step: string, trace: RunTrace): Promise<'go on' | 'end'>;
}

/**
 * Where runs that may outlive the page are kept, by their ids; null forgets one that has ended. `run.trace` comes without
 * its steps: `steps` are those that it has taken since it was put away last, to be kept behind the earlier ones.
 */
export type KeepRun = (id: string, run: KeptRun | null, steps: readonly StepTrace[]) => Promise<void>;

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
  looks?: Looks,
): Promise<RunTrace> {
  const keeps = machine.lasts(routine) ? keep : undefined;
  return driveOn(machine, { state, ask: null, trace }, ports, keeps, { looks }).then((d) => d.trace);
}

/** Goes on with a run that was put away: asks again what it had asked and was not answered, and then on to its end. */
export const resumeRun = (machine: Machine, kept: KeptRun, ports: Ports, keep: KeepRun): Promise<RunTrace> =>
  driveOn(machine, kept, ports, keep).then((d) => d.trace);

/** How far a run was driven. */
export interface Driven {
  trace: RunTrace;
  /** What it waits for, where it was parked; null where it has ended. */
  parked: RunAsk | null;
  /** What sort of failure ended it. */
  sort?: string | undefined;
  /** The steps that it has taken since it was put away last. */
  unkept: readonly StepTrace[];
}

/**
 * Drives a run until it ends, or until it was put away before an ask that `parks` says it is to wait for elsewhere: then
 * it is gone on with by calling this with what was put away. Never rejects because of the run, but where `keep` does.
 */
export async function driveOn(
  machine: Machine,
  from: Pick<KeptRun, 'state' | 'trace' | 'answered'> & { ask: RunAsk | null },
  ports: Ports,
  keep: KeepRun | undefined,
  { looks, parks }: { looks?: Looks | undefined; parks?: ((ask: RunAsk) => boolean) | undefined } = {},
): Promise<Driven> {
  const trace: RunTrace = { ...from.trace, steps: [...from.trace.steps] };
  const started = performance.now();
  let { state, ask } = from;
  let isFirst = true;
  /** What it has done since it was put away last. */
  let unkept: StepTrace[] = [];
  /** Where it stood when it was put away last. */
  let keptAt = '';
  const pauses =
    looks &&
    ((step: AnyStep): boolean => {
      const was = isFirst;
      isFirst = false;
      return looks.pauses(state.id, state.routine, step.id, was);
    });
  for (let first = true; first || ask || state.paused; first = false) {
    const now = state;
    const putAway = async (waits: RunAsk): Promise<void> => {
      if (!keep) return;
      const taken = unkept;
      unkept = [];
      await keep(now.id, { state: now, ask: waits, trace: { ...trace, steps: [] } }, taken);
    };
    // A hold looks again and again whether it is over: what it was put away as still says where it stands.
    const stands = `${state.frames.map((f) => `${f.step} ${f.turn}`).join('/')}`;
    const isSame = ask?.ask === 'wait' && stands === keptAt && unkept.length === 0;
    if (ask && !isSame) await putAway(ask);
    keptAt = ask ? stands : '';
    if (ask && from.answered?.key !== keyOf(now) && parks?.(ask))
      return { trace: { ...trace, ms: from.trace.ms + performance.now() - started }, parked: ask, unkept };
    const key = keyOf(now);
    let answer: Answer | null = null;
    // Nobody is asked for a step that a release has removed.
    if (ask && first && !machine.stands(now)) answer = { ok: true };
    else if (ask && from.answered?.key === key) ({ answer } = from.answered);
    else if (ask) {
      answer = await answersTo(ask, ports, putAway, undefined, key);
      // Nobody is asked twice what was answered already.
      if (keep && !ASKED_AGAIN.has(ask.ask))
        await keep(now.id, { state: now, ask, trace: { ...trace, steps: [] }, answered: { key, answer } }, []);
    }
    const next = machine.advance(state, answer, pauses);
    state = next.state;
    ask = next.ask;
    addSteps(trace.steps, next.did);
    if (keep) unkept.push(...next.did);
    if (
      state.paused &&
      (await looks!.paused(state.id, state.paused, { ...trace, steps: [...trace.steps] })) === 'end'
    ) {
      state = { ...state, ended: { error: 'It was ended here by hand.' } };
      break;
    }
  }
  if (state.ended?.error !== undefined) trace.error = state.ended.error;
  trace.ms = from.trace.ms + performance.now() - started;
  await keep?.(state.id, null, []);
  return { trace, parked: null, sort: state.ended?.sort, unkept };
}
