import { slotsOf } from '../document/meaning.ts';
import type { AnyStep } from '../document/meaning.ts';
import { failureResults, stepLists, walkSteps } from '../document/walk.ts';
import type { AnyStepDefinition, StepKinds } from './step.ts';

/** Ids of results. Steps that give nothing share the set of the step before them. */
type Results = ReadonlySet<string>;

/** All of both; the first itself where the other has no more. */
function joined(a: Results, b: Results): Results {
  if (a === b) return a;
  const more = [...b].filter((id) => !a.has(id));
  return more.length ? new Set([...a, ...more]) : a;
}

/** What results of steps may be named at a place of a routine. */
export interface StepReach {
  /** At each step, and inside it nowhere: the results of the steps that come before it. */
  readonly at: ReadonlyMap<string, ReadonlySet<string>>;
  /** At the end of each list of steps, by {@link endKey}. */
  readonly ends: ReadonlyMap<string, ReadonlySet<string>>;
}

/** A list of steps: that of a routine itself for null, else of a slot of a step. */
export const endKey = (of: string | null, slot = ''): string => `${of ?? ''}/${slot}`;

/** The name of a property that is read where the step's own result stands for each record it is about; null for none. */
export const ownPlace = (definition: AnyStepDefinition | undefined): string | null =>
  Object.entries(definition?.properties ?? {}).find(([, p]) => p.ownResult)?.[0] ?? null;

/**
 * The results that may be named at each step: those of steps that have been taken by then, whichever way the routine
 * went. Of ways that exclude each other none sees the results of another; what a later step gives, or the step itself, is
 * not there yet.
 */
export function stepReach(kinds: StepKinds, steps: readonly AnyStep[]): StepReach {
  const at = new Map<string, ReadonlySet<string>>();
  const ends = new Map<string, ReadonlySet<string>>();
  /** Goes through a list; gives what may have been given when it has ended. */
  const list = (steps: readonly AnyStep[], before: Results, key: string, apart: boolean): Results => {
    let now = before;
    let after = before;
    for (const s of steps) {
      at.set(s.id, now);
      const then = inside(s, now);
      if (s.off) continue;
      if (apart) after = joined(after, then);
      else now = then;
    }
    ends.set(key, now);
    return apart ? after : now;
  };
  /** Goes through the slots of a step; gives what may have been given when the step is done. */
  const inside = (s: AnyStep, before: Results): Results => {
    const definition = kinds.get(s.do);
    const own = ownPlace(definition) === null ? (s as AnyStep & { result?: string }).result : undefined;
    const entered = own ? new Set([...before, own]) : before;
    let after: Results = entered;
    const filled = new Map(stepLists(s));
    for (const slot of slotsOf(definition?.properties ?? {}, 'steps')) {
      const apart = definition!.properties[slot]!.slot?.only !== undefined;
      after = joined(after, list(filled.get(slot) ?? [], entered, endKey(s.id, slot), apart));
    }
    // Where it failed, it gave nothing, and says why.
    const known = failureResults(s).map((r) => r.id);
    const failed = known.length ? new Set([...before, ...known]) : before;
    const mended = list(s.ifFails ?? [], failed, endKey(s.id, 'ifFails'), false);
    return joined(after, known.length ? new Set([...mended].filter((id) => !known.includes(id))) : mended);
  };
  list(steps, new Set(), endKey(null), false);
  return { at, ends };
}

const ID = /(?<![a-z0-9_])v_[a-z0-9]{6,24}/g;
/** Properties of every step that hold no formulas. */
const PLAIN = new Set(['id', 'do', 'result', 'resultName', 'reason', 'sort', 'note', 'ifFails', 'again', 'off']);

/** The ids of results and variables that a step names itself, not in the steps inside of it. */
export function namedBy(kinds: StepKinds, step: AnyStep): Set<string> {
  const { properties = {} } = kinds.get(step.do) ?? {};
  const own = Object.entries(step).flatMap(([name, value]) => {
    if (PLAIN.has(name) || properties[name]?.is === 'steps') return [];
    const ids = JSON.stringify(value).match(ID) ?? [];
    return properties[name]?.ownResult ? ids.filter((id) => id !== (step as { result?: string }).result) : ids;
  });
  return new Set(own);
}

/** A result that a step names though it is not there yet. */
export interface TooEarly {
  result: string;
  /** The step that gives it. */
  giver: string;
  said: string;
}

/** The results that steps name where they are not in reach, by step. */
export function namedTooEarly(kinds: StepKinds, steps: readonly AnyStep[]): ReadonlyMap<string, readonly TooEarly[]> {
  const order = new Map<string, number>();
  const givers = new Map<string, { step: AnyStep; name: string }>();
  walkSteps<AnyStep>(steps, (step) => {
    order.set(step.id, order.size);
    const { result, resultName } = step as AnyStep & { result?: string; resultName?: string };
    if (result) givers.set(result, { step, name: resultName || 'what it gave' });
    for (const { id, name } of failureResults(step)) givers.set(id, { step, name });
  });
  const found = new Map<string, TooEarly[]>();
  if (givers.size === 0) return found;
  const { at } = stepReach(kinds, steps);
  walkSteps<AnyStep>(steps, (step) => {
    const early = [...namedBy(kinds, step)].flatMap((result): TooEarly[] => {
      const giver = givers.get(result);
      if (!giver || at.get(step.id)!.has(result)) return [];
      const said =
        giver.step.id === step.id
          ? 'is what this step gives, so it is not there yet where the step begins.'
          : order.get(giver.step.id)! > order.get(step.id)!
            ? 'is used here, and given only by a later step.'
            : 'is used here, and not given on the way that leads here.';
      return [{ result, giver: giver.step.id, said: `“${giver.name}” ${said}` }];
    });
    if (early.length) found.set(step.id, early);
  });
  return found;
}
