import { optional, steps, where } from '../../../core/document/meaning.ts';
import type { Where } from '../../../core/document/pieces.ts';
import { defineStep } from '../../../core/routines/step.ts';

export const ifStep = defineStep({
  do: 'if',
  said: { name: 'If', hint: 'one way or the other' },
  properties: {
    when: where('a condition', { unfilled: { severity: 'stops', said: 'a condition is not filled in yet.' } }),
    then: steps('what happens then', 200),
    /** Tried one after the other when the condition does not hold. */
    others: optional(steps('other conditions', 40, { only: 'otherwise if' })),
    otherwise: steps('what happens otherwise', 200, { label: 'Otherwise' }),
  },
}).does({
  begin: () => ({
    when: { match: 'all', conditions: [{ left: '', op: 'is', right: '' }] },
    then: [],
    otherwise: [],
  }),
  start(step, s) {
    const said = `If ${s.conditions(step.when)}`;
    if (s.holds(step.when)) return { enter: 'then', did: { said, gave: 'yes' } };
    for (const [i, other] of (step.others ?? []).entries()) {
      const { when, off } = other as typeof other & { when: Where };
      if (!off && s.holds(when)) return { enter: 'others', only: i, did: { said, gave: 'no' } };
    }
    return { enter: 'otherwise', did: { said, gave: 'no' } };
  },
});
