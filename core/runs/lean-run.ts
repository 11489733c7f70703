import type { KeptRun } from '../routines/run.ts';
import type { RunState } from '../routines/state.ts';
import type { Start } from './start.ts';

/** What a run stood at, to go on from. */
export type StoodRun = Omit<KeptRun, 'trace'> & { trace: Pick<KeptRun['trace'], 'ms'> };
/** The same as it is put away, without what its start says already. */
export type LeanRun = Omit<StoodRun, 'state'> & {
  state: Omit<RunState, SaidByStart> & Partial<Pick<RunState, SaidByStart>>;
};
type SaidByStart = 'id' | 'routine' | 'given';
export function lean({ trace: { ms }, state, ...stood }: KeptRun, run: Pick<Start, SaidByStart>): LeanRun {
  const { id, routine, given, ...stands } = state;
  const isSame = id === run.id && routine === run.routine && JSON.stringify(given) === JSON.stringify(run.given);
  return { ...stood, state: isSame ? stands : state, trace: { ms } };
}
