/**
 * How much one evaluation may do. A formula can ask for a billion turns in a few letters; it is stopped long before it
 * holds anybody up, and says so. Whatever goes through a list or makes one spends as many steps as that has items.
 */

/** Steps of one evaluation: some tenths of a second. */
const STEPS = 10_000_000;
/** The longest text that a formula can make, in letters. */
const LONGEST_TEXT = 1_000_000;

const TOO_MANY_STEPS =
  'This takes too many steps and was stopped. Let it go through fewer records, or through them once.';
const TOO_LONG = `This makes a text of more than ${LONGEST_TEXT.toLocaleString('en-GB')} letters and was stopped.`;
const TOO_DEEP = 'This uses too many formulas inside one another and was stopped.';

/** An evaluation was stopped; the message says why, as people read it. */
export class StoppedError extends Error {
  override name = 'StoppedError';
}

let left = 0;
let running = false;

/** Takes steps from what is left of the present evaluation. Throws {@link StoppedError} when nothing is. */
export function spend(steps: number): void {
  left -= steps;
  if (left < 0 && running) throw new StoppedError(TOO_MANY_STEPS);
}

/** The text, when it is not too long to be made. */
export function bounded(text: string): string {
  if (text.length > LONGEST_TEXT && running) throw new StoppedError(TOO_LONG);
  return text;
}

/**
 * Runs an evaluation of something with a budget of its own, or as a part of the one it is asked by. `stopped` hears
 * why, when it is stopped; the result is then null.
 */
export function withBudget<A, T>(run: (of: A) => T, of: A, stopped: (why: string) => void): T | null {
  if (running) return run(of);
  running = true;
  left = STEPS;
  try {
    return run(of);
  } catch (e) {
    if (e instanceof StoppedError) stopped(e.message);
    // The engine's own bound: formulas that use one another ever deeper.
    else if (e instanceof RangeError) stopped(TOO_DEEP);
    else throw e;
    return null;
  } finally {
    running = false;
  }
}
