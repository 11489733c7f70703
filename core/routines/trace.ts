import type { StepTrace } from './state.ts';

/** A trace keeps so many of its first steps and, at least, so many of its last ones. */
export const FIRST_STEPS = 2000;
export const LAST_STEPS = 1000;
/** The steps in the middle go when the last ones are twice as many, so that adding costs the same at any length. */
const MOST_STEPS = FIRST_STEPS + 2 * LAST_STEPS;

/** A place in a trace where steps were left out, to keep its size bounded. */
export const leftOut = (count: number): StepTrace => ({
  step: '',
  path: [],
  turns: [],
  said: `${count.toLocaleString('en-GB')} steps are not listed here`,
  gave: '',
  ms: 0,
  leftOut: count,
});

/** Adds steps to a trace. A long one keeps its first and last steps, and counts those between. */
export function addSteps(trace: StepTrace[], more: readonly StepTrace[]): void {
  for (const step of more) {
    trace.push(step);
    if (trace.length <= MOST_STEPS) continue;
    const middle = trace.splice(FIRST_STEPS, trace.length - FIRST_STEPS - LAST_STEPS);
    trace.splice(FIRST_STEPS, 0, leftOut(middle.reduce((n, s) => n + (s.leftOut ?? 1), 0)));
  }
}
