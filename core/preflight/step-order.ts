import type { Routine, Step } from '../app/schema.ts';
import { findStep, IF_FAILS, slotsIn } from '../app/steps.ts';
import { namedBy as named, namedTooEarly } from '../routines/reach.ts';
import { stepKinds } from '../routines/kinds.ts';

/** Something in the order of steps that cannot be meant, with what mends it. */
export interface OrderMistake {
  /** The step it is told at. */
  step: string;
  said: string;
  mend?: { said: string; do(routine: Routine): void };
  /** The routine fails there whenever it gets so far. */
  fails?: true;
}

/** Steps that are there for what they give: unused, they are for nothing. */
const FOR_ITS_RESULT = new Set([
  'get',
  'find',
  'work out',
  'question',
  'photo',
  'scan',
  'place',
  'record',
  'pdf',
  'csv',
  'calendar file',
  'contacts',
  'qr',
  'sum up',
  'request',
  'judge',
  'draft',
  'pull out',
  'describe',
  'caption',
]);
/** Steps behind which nothing more is done. */
const ENDS = new Set(['stop', 'give']);

/** The ids of results and variables that a step names itself, not in the steps inside of it. */
const namedBy = (step: Step): Set<string> => named(stepKinds, step);

const resultOf = (s: Step): string | undefined => (s as { result?: string }).result;
const nameOf = (s: Step): string => (s as { resultName?: string }).resultName || 'what it gave';

/** Is a variable read by a step itself? Where it is only set, it is not. */
function reads(step: Step, variable: string): boolean {
  if (!namedBy(step).has(variable)) return false;
  if (step.do !== 'variable' || step.variable !== variable) return true;
  return step.how === 'add' || step.how === 'append' || step.value.includes(variable);
}

/** What is wrong with the order of a routine's steps, in reading order: each mistake at the step where it is seen. */
export function orderMistakes(
  routine: Pick<Routine, 'steps'>,
  names: (id: string) => string | undefined,
): OrderMistake[] {
  const found: OrderMistake[] = [];
  const used = new Set<string>();
  const order: Step[] = [];
  const walk = (list: readonly Step[], visit: (s: Step, i: number, list: readonly Step[]) => void): void =>
    list.forEach((s, i) => {
      visit(s, i, list);
      for (const slot of slotsIn(s)) walk(slot.list, visit);
    });
  walk(routine.steps, (s) => {
    order.push(s);
    for (const id of namedBy(s)) used.add(id);
  });
  const early = namedTooEarly(stepKinds, routine.steps);

  walk(routine.steps, (s, i, list) => {
    if (s.off) return;
    for (const { giver, said } of early.get(s.id) ?? []) {
      const later = order.find((x) => x.id === giver && order.indexOf(x) > order.indexOf(s));
      found.push({ step: s.id, said, fails: true, ...(later && { mend: movedUp(s, later) }) });
    }
    const result = resultOf(s);
    if (result && FOR_ITS_RESULT.has(s.do) && !used.has(result))
      found.push({ step: s.id, said: `Nothing uses “${nameOf(s)}”, so this step is for nothing.` });
    const before = list[i - 1];
    if (before && ENDS.has(before.do) && !before.off)
      found.push({
        step: s.id,
        said: `This is never reached: the routine ends before it.`,
        mend: { said: 'Move the end below it', do: (r) => moveBehind(r, before.id, list.at(-1)!.id) },
      });
    if (isClear(s)) {
      const reader = readerBehind(list, i, s.variable);
      if (reader)
        found.push({
          step: reader.id,
          said: `${names(s.variable) ?? 'The variable'} is cleared before it is read here.`,
          mend: { said: 'Move the clearing below it', do: (r) => moveBehind(r, s.id, reader.id) },
        });
    }
  });
  return found;
}

const isClear = (s: Step): s is Extract<Step, { do: 'variable' }> => s.do === 'variable' && s.how === 'clear' && !s.off;

/** The step behind a clearing that reads what was cleared, with nothing setting it between. */
function readerBehind(list: readonly Step[], from: number, variable: string): Step | null {
  for (const s of list.slice(from + 1)) {
    if (s.off) continue;
    if (reads(s, variable)) return s;
    if (s.do === 'variable' && s.variable === variable) return null;
    // What may happen in a branch is not known here.
    if (slotsIn(s).some((slot) => slot.name !== IF_FAILS)) return null;
  }
  return null;
}

const movedUp = (s: Step, giver: Step): OrderMistake['mend'] => ({
  said: 'Move that step up',
  do(routine) {
    // Before the outermost step that holds the one that needs it, so that it is reached whichever way is gone.
    const own = findStep(routine.steps, giver.id)!;
    const [moved] = own.list.splice(own.at, 1);
    const outer = routine.steps.findIndex((x) => findStep([x], s.id));
    routine.steps.splice(Math.max(0, outer), 0, moved!);
  },
});

/** Moves a step behind another of the same list. */
function moveBehind(routine: Routine, id: string, behind: string): void {
  const from = findStep(routine.steps, id);
  if (!from) return;
  const [moved] = from.list.splice(from.at, 1);
  const to = findStep(routine.steps, behind);
  (to?.list ?? from.list).splice((to?.at ?? from.at - 1) + 1, 0, moved!);
}
