import { oneOf, result, text } from '../../../core/document/meaning.ts';
import { defineStep, StepError } from '../../../core/routines/step.ts';

/** Takes a photo, or lets a picture be picked, and gives it as a file. */
export const photo = defineStep({
  do: 'photo',
  said: { name: 'Take a photo or pick a picture', hint: '' },
  only: 'phone',
  properties: {
    from: oneOf('where it comes from', { camera: 'the camera', gallery: 'the gallery', any: 'either' }),
    result: result('the picture'),
    resultName: text('the picture'),
  },
}).does({
  begin: ({ id }) => ({ from: 'any', result: id('v'), resultName: 'the picture' }),
  gives: () => ({ k: 'text' }),
  start: (step) => ({ ask: { ask: 'device', what: { do: 'picture', from: step.from } } }),
  answered(_step, _s, _kept, value) {
    if (typeof value !== 'string' || !value) throw new StepError('No picture was taken.');
    return { did: { said: 'Took a picture', gave: 'a picture', result: value } };
  },
});
