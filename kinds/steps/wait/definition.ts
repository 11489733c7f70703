import { formula } from '../../../core/document/meaning.ts';
import { DaysDuration } from '../../../core/formula/values.ts';
import { durationWords } from '../../../core/records/format.ts';
import { defineStep, StepError } from '../../../core/routines/step.ts';

/** Holds the routine for a while. It goes on after a reload, too, and at once when the time has passed meanwhile. */
export const wait = defineStep({
  do: 'wait',
  said: { name: 'Wait', hint: 'for a while' },
  lasts: true,
  properties: {
    time: formula('how long', 'value', {
      unfilled: { severity: 'stops', said: 'how long to wait is not filled in yet.' },
    }),
  },
}).does({
  begin: () => ({ time: '' }),
  start(step, s) {
    const { value } = s.value(step.time, 'How long to wait');
    if (!(value instanceof DaysDuration))
      throw new StepError(`${s.shown(step.time)} is not a length of time. Type one such as 10 min.`);
    const ms = Math.max(0, value.ms);
    return {
      ask: { ask: 'wait', until: s.now() + ms },
      did: { said: `Waited ${durationWords(value)}`, gave: 'waited' },
    };
  },
});
