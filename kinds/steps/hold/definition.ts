import { formula, steps, where } from '../../../core/document/meaning.ts';
import { DaysDuration } from '../../../core/formula/values.ts';
import { durationWords } from '../../../core/records/format.ts';
import { defineStep, StepError, type Outcome, type StepScope } from '../../../core/routines/step.ts';
import type { Where } from '../../../core/document/pieces.ts';

/** How often it looks whether the condition holds, in milliseconds. */
const EVERY = 500;

interface Kept {
  until: number;
  said: string;
}

/** Holds the routine until a condition holds, for so long at most. It outlives the page. */
export const hold = defineStep({
  do: 'hold',
  said: { name: 'Hold until', hint: 'something is so' },
  lasts: true,
  properties: {
    when: where('what it waits for', { unfilled: { severity: 'stops', said: 'what to hold for is not filled in.' } }),
    time: formula('how long at most', 'value', {
      unfilled: { severity: 'stops', said: 'how long to hold at most is not filled in.' },
    }),
    late: steps('what happens when it comes to nothing', 200, { label: 'When the time is over' }),
  },
}).does({
  begin: () => ({
    when: { match: 'all', conditions: [{ left: '', op: 'is', right: '' }] },
    time: '@"PT1M"',
    late: [],
  }),
  start(step, s) {
    const { value } = s.value(step.time, 'How long to hold');
    if (!(value instanceof DaysDuration))
      throw new StepError(`${s.shown(step.time)} is not a length of time. Type one such as 10 min.`);
    const said = `Held until ${s.conditions(step.when)}, at most ${durationWords(value)}`;
    return look(step, s, { until: s.now() + Math.max(0, value.ms), said });
  },
  answered: (step, s, kept) => look(step, s, kept as unknown as Kept),
});

function look(step: { when: Where }, s: StepScope, kept: Kept): Outcome {
  if (s.holds(step.when)) return { did: { said: kept.said, gave: 'it came' } };
  const now = s.now();
  if (now >= kept.until) return { enter: 'late', did: { said: kept.said, gave: 'too late' } };
  return {
    ask: { ask: 'wait', until: Math.min(now + EVERY, kept.until), looksUntil: kept.until },
    kept: { ...kept },
  };
}
