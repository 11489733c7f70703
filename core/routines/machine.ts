import type { AnyStep } from '../document/meaning.ts';
import { walkSteps } from '../document/walk.ts';
import type { Draft } from '../records/change.ts';
import type { Records } from '../records/store.ts';
import { Advance, ended } from './advance.ts';
import type { Answer } from './asks.ts';
import { Program, type RoutineDoc, type RunWorld } from './program.ts';
import { Stack } from './stack.ts';
import { copied, frame, STEP_BUDGET, type Advanced, type RunState } from './state.ts';
import type { StepKinds, StepScope } from './step.ts';

/** The routines of a document and what their steps may name. */
export interface RoutinesDoc {
  readonly routines: readonly RoutineDoc[];
  readonly screens: StepScope['screens'];
}

/**
 * Runs routines, from one ask of the world to the next. It waits for nothing and changes nothing but the state it
 * gives back, so a run can be stopped at any ask and go on later, elsewhere, to the same end.
 * Make a new one for a changed document; formulas are compiled once in each.
 */
export class Machine {
  private readonly programs = new Map<string, Program>();

  constructor(
    private readonly doc: RoutinesDoc,
    private readonly records: Records,
    private readonly kinds: StepKinds,
    private readonly world: RunWorld,
  ) {}

  /**
   * A run at its beginning. `values` are what its inputs are given, by their ids. With `whole`, changes that are to be
   * made with what it writes, all of it is written as one at its end.
   */
  begin(
    routine: RoutineDoc,
    record: string | null,
    release = 0,
    values: RunState['results'] = {},
    whole?: readonly Draft[],
  ): RunState {
    return {
      id: this.world.newId(),
      routine: routine.id,
      release,
      given: routine.given && record ? { table: routine.given, record } : null,
      frames: [frame(null)],
      results: { ...values },
      asking: null,
      gathered: whole ? [...whole] : null,
      ...(whole && { whole: 'gathers' as const }),
      budget: STEP_BUDGET,
      ended: null,
    };
  }

  /** Has the routine steps at which its run may outlive the page? */
  lasts(routine: RoutineDoc): boolean {
    const seen = new Set<string>();
    const look = (r: RoutineDoc | undefined): boolean => {
      if (!r || seen.has(r.id)) return false;
      seen.add(r.id);
      let lasts = false;
      walkSteps(r.steps, (s) => {
        const runs = (s as AnyStep & { routine?: string }).routine;
        lasts ||= this.kinds.get(s.do)?.lasts ?? false;
        if (s.do === 'run') lasts ||= look(this.doc.routines.find((x) => x.id === runs));
      });
      return lasts;
    };
    return look(routine);
  }

  /**
   * Goes on to the next ask, or to the end. `answer` is to the ask before. A step that fails ends the run with its
   * reason; what was gathered to be written together is then not written. Before a step that `pauses` names it stands
   * still, with its id in the state, until it is advanced again.
   */
  advance(before: RunState, answer: Answer | null = null, pauses?: (step: AnyStep) => boolean): Advanced {
    const state = copied(before);
    const program = this.program(state.routine);
    if (!program) return ended(state, 'The routine is not part of the app any more.');
    if (state.ended) return { state, ask: null, did: [] };
    const programOf = (id: string): Program | null => this.program(id);
    return this.records.batch(() =>
      new Advance(state, program, programOf, this.kinds, this.records, pauses).go(answer),
    );
  }

  /** Is the step there that a run waits at? */
  stands(before: RunState): boolean {
    const state = copied(before);
    const program = this.program(state.routine);
    try {
      return program !== null && new Stack(state, program, (id) => this.program(id)).find() === null;
    } catch {
      return false;
    }
  }

  private program(id: string): Program | null {
    const known = this.programs.get(id);
    if (known) return known;
    const routine = this.doc.routines.find((r) => r.id === id);
    if (!routine) return null;
    const { screens, routines } = this.doc;
    const made = new Program(this.kinds, this.records, routine, screens, routines, this.world);
    this.programs.set(routine.id, made);
    return made;
  }
}
