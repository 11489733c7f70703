import type { AnyStep } from '../document/meaning.ts';
import { thisId } from '../document/ids.ts';
import type { Where } from '../document/pieces.ts';
import { walkSteps } from '../document/walk.ts';
import type { Draft } from '../records/change.ts';
import { readKey } from '../records/changes.ts';
import type { Records } from '../records/store.ts';
import { Advance, ended } from './advance.ts';
import type { Answer } from './asks.ts';
import { Program, type RoutineDoc, type RunWorld } from './program.ts';
import { Stack } from './stack.ts';
import { copied, frame, STEP_BUDGET, type Advanced, type RunState } from './state.ts';
import type { StepKinds, StepScope } from './step.ts';

/** The record that a thing of a run is; null where it is none. */
function recordOf({ given, results }: RunState, thing: string): string | null {
  if (given && thing === thisId(given.table)) return given.record;
  const kept = results[thing];
  return kept !== null && typeof kept === 'object' && 'record' in kept ? kept.record : null;
}

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

  /**
   * What the conditions read that a run holds for: fields, as {@link readKey} calls them, each of one record or of any.
   * Null where it holds for no conditions, or nobody can say.
   */
  holdsFor(before: RunState): { reads: { key: string; record: string | null }[]; byTime: boolean } | null {
    const state = copied(before);
    const program = this.program(state.routine);
    if (!program || state.several) return null;
    try {
      const stack = new Stack(state, program, (id) => this.program(id));
      if (stack.find() !== null) return null;
      const { when } = stack.here() as AnyStep & { when?: Where };
      if (!when) return null;
      const { reads, volatile } = stack.program.readsOf(when);
      return {
        byTime: volatile,
        reads: reads.map(({ table, field, origin }) => ({
          key: readKey(table, field),
          record: origin.from === 'thing' && origin.hops.length === 0 ? recordOf(state, origin.thing) : null,
        })),
      };
    } catch {
      return null;
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
