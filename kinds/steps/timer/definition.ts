import { oneOf, routine } from '../../../core/document/meaning.ts';
import { defineStep, StepError } from '../../../core/routines/step.ts';

/** Switches the timer of a routine on or off; on again, it begins anew. */
export const timerStep = defineStep({
  do: 'timer',
  said: { name: 'Switch a timer', hint: 'on or off' },
  only: 'phone',
  properties: {
    on: oneOf('what is done', { on: 'on', off: 'off' }),
    routine: routine('whose timer', { unfilled: { severity: 'stops', said: 'the timer to switch is not chosen.' } }),
  },
}).does({
  begin: () => ({ on: 'on', routine: '' }),
  start(step, s) {
    const target = s.routines.find((r) => r.id === step.routine);
    if (!target) throw new StepError('The timer to switch is not chosen yet.');
    return {
      ask: { ask: 'timer', routine: target.id, on: step.on === 'on' },
      did: { said: `Switched the timer of ${target.name} ${step.on}`, gave: step.on },
    };
  },
});
