import { number, steps, where } from '../../../core/document/meaning.ts';
import { noConditions } from '../../../core/document/queries.ts';
import { defineStep, StepError, type Outcome, type StepScope } from '../../../core/routines/step.ts';

/** Does its steps again and again as long as a condition holds, so many times at most. */
export const repeat = defineStep({
  do: 'repeat',
  said: { name: 'Repeat while', hint: 'a condition holds' },
  properties: {
    when: where('a condition', {
      unfilled: { severity: 'stops', said: 'the condition to repeat by is not filled in yet.' },
    }),
    most: number('how often at most', 1, 10_000, { whole: true }),
    steps: steps('what is repeated', 200),
  },
}).does({
  begin: () => ({ when: { ...noConditions(), conditions: [{ left: '', op: 'is', right: '' }] }, most: 100, steps: [] }),
  start: (step, s) => turn(step, s, 0),
  nextTurn: (step, s, kept) => turn(step, s, Number(kept)),
});

function turn(step: { when: Parameters<StepScope['holds']>[0]; most: number }, s: StepScope, done: number): Outcome {
  if (!s.holds(step.when))
    return { did: { said: `Repeated ${done === 1 ? 'once' : `${done} times`}`, gave: String(done) } };
  if (done >= step.most)
    throw new StepError(`It was repeated ${step.most} times, and ${s.conditions(step.when)} still holds.`);
  return {
    enter: 'steps',
    kept: done + 1,
    did: { said: `Turn ${done + 1}: ${s.conditions(step.when)}`, gave: String(done + 1) },
  };
}
