import type { Routine, Step } from '../../core/app/schema.ts';

/** The list that holds a step, and its place there. */
export function findStep(steps: Step[], id: string): { list: Step[]; at: number } | null {
  for (let i = 0; i < steps.length; i++) {
    const s = steps[i]!;
    if (s.id === id) return { list: steps, at: i };
    if (s.do === 'if') {
      const inner = findStep(s.then, id) ?? findStep(s.otherwise, id);
      if (inner) return inner;
    }
  }
  return null;
}

export type Branch = { of: string; branch: 'then' | 'otherwise' } | null;

/** The list a branch holds; the routine's own steps for no branch. */
export function branchList(routine: Routine, branch: Branch): Step[] {
  if (!branch) return routine.steps;
  const found = findStep(routine.steps, branch.of);
  const step = found?.list[found.at];
  return step?.do === 'if' ? step[branch.branch] : routine.steps;
}

/** Step numbers in reading order, branches included; the branch itself has none. */
export function numberSteps(steps: readonly Step[]): Map<string, number> {
  const numbers = new Map<string, number>();
  const walk = (list: readonly Step[]): void => {
    for (const s of list) {
      if (s.do === 'if') {
        walk(s.then);
        walk(s.otherwise);
      } else numbers.set(s.id, numbers.size + 1);
    }
  };
  walk(steps);
  return numbers;
}
