import type { Routine, Step } from '../../core/app/schema.ts';
import { slotsOf } from '../../core/document/meaning.ts';
import { stepKinds } from '../../kinds/steps/index.ts';

/** A slot of a step with the steps in it. */
export interface StepSlot {
  name: string;
  /** What is written above it: "Otherwise". */
  label: string | undefined;
  list: Step[];
}

/** The slots for steps that a step has, in reading order. */
export function slotsIn(step: Step): StepSlot[] {
  const properties = stepKinds.get(step.do)?.properties ?? {};
  return slotsOf(properties, 'steps').map((name) => ({
    name,
    label: properties[name]!.slot?.label,
    list: (step as unknown as Record<string, Step[]>)[name]!,
  }));
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

/** The list a branch holds; the routine's own steps for no branch. */
export function branchList(routine: Routine, branch: Branch): Step[] {
  if (!branch) return routine.steps;
  const found = findStep(routine.steps, branch.of);
  const step = found?.list[found.at];
  return (step && slotsIn(step).find((s) => s.name === branch.slot)?.list) ?? routine.steps;
}

/** Step numbers in reading order, branches included; a step that only holds others has none. */
export function numberSteps(steps: readonly Step[]): Map<string, number> {
  const numbers = new Map<string, number>();
  const walk = (list: readonly Step[]): void => {
    for (const s of list) {
      const slots = slotsIn(s);
      if (slots.length === 0) numbers.set(s.id, numbers.size + 1);
      for (const slot of slots) walk(slot.list);
    }
  };
  walk(steps);
  return numbers;
}
