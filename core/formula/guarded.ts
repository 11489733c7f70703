import type { Problem } from './ast.ts';
import { withBudget } from './budget.ts';
import type { Run } from './closures.ts';

/** What stands in the place of a value that was stopped on its way; nothing for one that is just empty. */
export const stoppedWords = ({ problems }: { readonly problems: readonly Problem[] }): string =>
  problems.find((p) => p.stopped)?.message ?? '';

/** After a stop a formula gives nothing for so many milliseconds: asked for every record it would stop as often. */
const REST_MS = 5000;

/** The run with a budget. When it is stopped, a problem over the whole formula says so, until it comes to an end again. */
export function guarded(run: Run, problems: Problem[]): Run {
  let rests: { until: number; problem: Problem } | null = null;
  const stopped = (message: string): void => {
    const problem: Problem = { message, from: 0, to: 0, severity: 'error', stopped: true };
    problems.push(problem);
    rests = { until: Date.now() + REST_MS, problem };
  };
  return (f) => {
    if (rests) {
      if (Date.now() < rests.until) return null;
      problems.splice(problems.indexOf(rests.problem), 1);
      rests = null;
    }
    return withBudget(run, f, stopped);
  };
}
