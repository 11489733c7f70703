import { number, result, text } from '../../../core/document/meaning.ts';
import { TEXT } from '../../../core/formula/types.ts';
import { defineStep, StepError } from '../../../core/routines/step.ts';

/** Records a sound (MediaStream Recording), and gives it as a file. */
export const recordSound = defineStep({
  do: 'record',
  said: { name: 'Record a sound', hint: 'with the microphone' },
  only: 'phone',
  properties: {
    most: number('seconds at most', 1, 600, { whole: true }),
    result: result('the sound'),
    resultName: text('the sound'),
  },
}).does({
  begin: ({ id }) => ({ most: 60, result: id('v'), resultName: 'the recording' }),
  gives: () => TEXT,
  start: (step) => ({ ask: { ask: 'device', what: { do: 'record', most: step.most } } }),
  answered(_step, _s, _kept, value) {
    if (typeof value !== 'string' || !value) throw new StepError('Nothing was recorded.');
    return { did: { said: 'Recorded a sound', gave: 'a sound', result: value } };
  },
});
