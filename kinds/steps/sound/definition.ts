import { formula, number, yesNo } from '../../../core/document/meaning.ts';
import { defineStep, StepError } from '../../../core/routines/step.ts';

/** Plays a sound; the routine goes on at once, and the sound until its end or “Stop the sound”. */
export const playSound = defineStep({
  do: 'sound',
  said: { name: 'Play a sound', hint: 'from a file or an address' },
  only: 'phone',
  properties: {
    source: formula('the sound', 'address', {
      unfilled: { severity: 'stops', said: 'the sound to play is not chosen.' },
    }),
    volume: number('the volume', 0, 100, { whole: true }),
    loop: yesNo('again and again', { true: 'again and again', false: 'once' }),
  },
}).does({
  begin: () => ({ source: '', volume: 100, loop: false }),
  start(step, s) {
    const { value } = s.value(step.source, 'The sound');
    if (typeof value !== 'string' || !value) throw new StepError('There is no sound to play.');
    const what = { do: 'sound' as const, source: value, volume: step.volume / 100, loop: step.loop };
    return { ask: { ask: 'device', what }, did: { said: 'Played a sound', gave: 'playing' } };
  },
});
