import { slotsOf, type Properties } from '../document/meaning.ts';
import { copyOf } from '../document/copy.ts';
import { newId } from '../document/ids.ts';
import { stepKinds } from '../routines/kinds.ts';
import type { Routine, Step, StepKind } from './schema.ts';

/** Steps of a routine as a tree, and edits of it. Each edit changes the draft it is given. */

/** The slot in which any step can hold what happens when it fails. */
export const IF_FAILS = 'ifFails';

/** A slot of a step with the steps in it. */
export interface StepSlot {
  name: string;
  /** What is written above it: "Otherwise". */
  label: string | undefined;
  /** Only steps of this kind stand in it. */
  only: StepKind | undefined;
  list: Step[];
}

const slotOf = (properties: Properties, name: string, list: Step[]): StepSlot => ({
  name,
  label: properties[name]!.slot?.label,
  only: properties[name]!.slot?.only as StepKind | undefined,
  list,
});

/** The slots for steps that a step has, in reading order; “If it fails” last, where it has that. */
export function slotsIn(step: Step): StepSlot[] {
  const properties = stepKinds.get(step.do)?.properties ?? {};
  const held = step as unknown as Record<string, Step[] | undefined>;
  return [
    ...slotsOf(properties, 'steps').flatMap((name) => {
      // A menu of records has no choices of its own.
      if (step.do === 'menu' && step.from === 'records' && step.choices.length === 0) return [];
      return [slotOf(properties, name, held[name] ?? [])];
    }),
    ...(step.ifFails ? [{ name: IF_FAILS, label: 'If it fails', only: undefined, list: step.ifFails }] : []),
  ];
}

/** The list that holds a step, and its place there. */
export function findStep(steps: Step[], id: string): { list: Step[]; at: number } | null {
  for (let i = 0; i < steps.length; i++) {
    const s = steps[i]!;
    if (s.id === id) return { list: steps, at: i };
    for (const slot of slotsIn(s)) {
      const inner = findStep(slot.list, id);
      if (inner) return inner;
    }
  }
  return null;
}

export type Branch = { of: string; slot: string } | null;

/** The list a branch holds; the routine's own steps for no branch. A slot that is left out is made. */
export function branchList(routine: Pick<Routine, 'steps'>, branch: Branch): Step[] {
  if (!branch) return routine.steps;
  const found = findStep(routine.steps, branch.of);
  const step = found?.list[found.at];
  if (!step || !slotsIn(step).some((s) => s.name === branch.slot)) return routine.steps;
  const held = step as unknown as Record<string, Step[]>;
  return (held[branch.slot] ??= []);
}

/** The kind of step that alone stands in a branch; undefined where any does. */
export function onlyIn(routine: Pick<Routine, 'steps'>, branch: Branch): StepKind | undefined {
  const found = branch && findStep(routine.steps, branch.of);
  const step = found?.list[found.at];
  return step && slotsIn(step).find((s) => s.name === branch!.slot)?.only;
}

/** Kinds that stand in slots of their own and nowhere else. */
const bound = (): string[] =>
  [...stepKinds.values()].flatMap((d) => Object.values(d.properties).flatMap((p) => p.slot?.only ?? []));
export const isBound = (kind: string): boolean => bound().includes(kind);

/** May a step of this kind stand in a branch? */
export function fitsIn(routine: Pick<Routine, 'steps'>, branch: Branch, kind: string): boolean {
  const only = onlyIn(routine, branch);
  return only ? only === kind : !isBound(kind);
}

/** Step numbers in reading order, branches included; a step that only holds others has none. */
export function numberSteps(steps: readonly Step[]): Map<string, number> {
  const numbers = new Map<string, number>();
  const walk = (list: readonly Step[]): void => {
    for (const s of list) {
      const slots = slotsIn(s);
      if (slots.every((slot) => slot.name === IF_FAILS)) numbers.set(s.id, numbers.size + 1);
      for (const slot of slots) walk(slot.list);
    }
  };
  walk(steps);
  return numbers;
}

/** Those of some steps that stand in no other of them, in reading order. */
export function topSteps(steps: readonly Step[], ids: readonly string[]): Step[] {
  const wanted = new Set(ids);
  return steps.flatMap((s) => (wanted.has(s.id) ? [s] : slotsIn(s).flatMap((slot) => topSteps(slot.list, ids))));
}

/** A place between steps: before the step at `at` of a branch, or at its end. */
export interface Gap {
  branch: Branch;
  at: number;
}

export function removeSteps(routine: Pick<Routine, 'steps'>, ids: readonly string[]): void {
  for (const s of topSteps(routine.steps, ids)) {
    const f = findStep(routine.steps, s.id)!;
    f.list.splice(f.at, 1);
  }
}

/** Copies steps, each behind itself. Gives the ids of the copies. */
export function duplicateSteps(routine: Pick<Routine, 'steps'>, ids: readonly string[]): string[] {
  return topSteps(routine.steps, ids).map((s) => {
    const f = findStep(routine.steps, s.id)!;
    const copy = copyOf(f.list[f.at]!);
    f.list.splice(f.at + 1, 0, copy);
    return copy.id;
  });
}

/** Moves steps to a gap, in their order. Where one does not fit, or the gap is inside one of them, none is moved. */
export function moveSteps(routine: Pick<Routine, 'steps'>, ids: readonly string[], to: Gap): boolean {
  const moved = topSteps(routine.steps, ids);
  if (moved.length === 0 || moved.some((s) => !fitsIn(routine, to.branch, s.do))) return false;
  const isInside = (s: Step): boolean => Boolean(to.branch && findStep([s], to.branch.of));
  if (moved.some(isInside)) return false;
  const list = branchList(routine, to.branch);
  const before = list.slice(to.at).find((s) => !moved.includes(s));
  for (const s of moved) {
    const f = findStep(routine.steps, s.id)!;
    f.list.splice(f.at, 1);
  }
  const at = before ? list.indexOf(before) : list.length;
  list.splice(at, 0, ...moved);
  return true;
}

/** Puts new steps at a gap; those that do not fit there are left out. Gives the ids of those put in. */
export function insertSteps(routine: Pick<Routine, 'steps'>, steps: readonly Step[], to: Gap): string[] {
  const fitting = steps.filter((s) => fitsIn(routine, to.branch, s.do));
  branchList(routine, to.branch).splice(to.at, 0, ...fitting);
  return fitting.map((s) => s.id);
}

/** Every gap in reading order, except inside some steps. */
export function gapsIn(steps: readonly Step[], except: ReadonlySet<string>, branch: Branch = null): Gap[] {
  const gaps: Gap[] = [{ branch, at: 0 }];
  steps.forEach((s, i) => {
    if (!except.has(s.id))
      for (const slot of slotsIn(s)) gaps.push(...gapsIn(slot.list, except, { of: s.id, slot: slot.name }));
    gaps.push({ branch, at: i + 1 });
  });
  return gaps;
}

/** Moves steps that stand together to the next gap up or down where they fit, into branches and out of them. */
export function shiftSteps(routine: Pick<Routine, 'steps'>, ids: readonly string[], by: 1 | -1): boolean {
  const moved = topSteps(routine.steps, ids);
  const edge = by < 0 ? moved[0] : moved.at(-1);
  const from = edge && findStep(routine.steps, edge.id);
  if (!edge || !from) return false;
  const gaps = gapsIn(routine.steps, new Set(ids));
  const here = by < 0 ? from.at : from.at + 1;
  const now = gaps.findIndex((g) => g.at === here && branchList(routine, g.branch) === from.list);
  for (let i = now + by; i >= 0 && i < gaps.length; i += by) if (moveSteps(routine, ids, gaps[i]!)) return true;
  return false;
}

/** Gives a step its “If it fails”, or takes it away with all that stands in it. */
export function setIfFails(step: Step, on: boolean, id = newId): void {
  if (on && !step.ifFails) {
    step.ifFails = [];
    step.reason = id('v');
    step.sort = id('v');
  } else if (!on) {
    delete step.ifFails;
    delete step.reason;
    delete step.sort;
  }
}
