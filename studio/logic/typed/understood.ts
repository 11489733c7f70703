import type { Branch } from '../../../core/app/steps.ts';
import { slotsIn } from '../../../core/app/steps.ts';
import type { ElementMaker } from '../../../core/app/make.ts';
import type { App, Routine, Step } from '../../../core/app/schema.ts';
import { endKey, stepReach } from '../../../core/routines/reach.ts';
import { thingsInRoutine } from '../../../core/routines/program.ts';
import type { Model } from '../../../core/records/model.ts';
import { stepKinds } from '../../../core/routines/kinds.ts';
import { stepInShort } from '../step-in-short.ts';
import { hideBraces, showBraces, withBraces } from './braces.ts';
import { conditionsIn } from './conditions.ts';
import { handOf } from './hand.ts';
import { sentence } from './sentence.ts';

/** Steps that a sentence was understood as, how they read, and the words of it that were not understood. */
export interface Understood {
  steps: Step[];
  /** How each step reads, and all of them. */
  parts: string[];
  said: string;
  left: string;
}

/** Kinds of steps that write records or variables: never offered while a word is left over. */
const WRITES: ReadonlySet<string> = new Set(['set', 'raise', 'add', 'remove', 'variable']);
const writes = (steps: readonly Step[]): boolean =>
  steps.some((s) => WRITES.has(s.do) || slotsIn(s).some((slot) => writes(slot.list)));

/**
 * What a typed sentence means as steps at the end of `branch`. All of its words are accounted for, or those that are
 * not are in `left`; what would change or remove records is only offered when none are. Empty when nothing is
 * understood.
 */
export function understood(
  typed: string,
  app: App,
  model: Model,
  routine: Routine,
  make: ElementMaker,
  branch: Branch = null,
): Understood[] {
  const words = hideBraces(typed)
    .trim()
    .replace(/\s+/g, ' ')
    .replace(/^please /i, '');
  if (words.length < 2 || words.length > MOST_LETTERS) return [];
  const { ends } = stepReach(stepKinds, routine.steps);
  const reach = ends.get(endKey(branch?.of ?? null, branch?.slot));
  const things = thingsInRoutine(stepKinds, model, routine, reach ?? new Set());
  const hand = handOf({ app, model, routine, make, things, conditions: conditionsIn });
  const offer = (read: Step[], left: string): Understood => {
    const steps = withBraces(read, hand);
    const parts = steps.map((s) => showBraces(stepInShort(s, app, model, hand.said)));
    return { steps, parts, said: parts.join('; '), left: showBraces(left) };
  };
  const whole = sentence(words, hand);
  if (whole) return [offer(whole, '')];
  const all = words.split(' ');
  for (let n = all.length - 1; n > 0; n--) {
    const steps = sentence(all.slice(0, n).join(' '), hand);
    if (steps && !writes(steps)) return [offer(steps, all.slice(n).join(' '))];
  }
  return [];
}
/** What is longer is no sentence; reading it would take long. */
const MOST_LETTERS = 400;
