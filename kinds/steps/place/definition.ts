import { result, text } from '../../../core/document/meaning.ts';
import { display } from '../../../core/records/format.ts';
import { defineStep, StepError } from '../../../core/routines/step.ts';

/** Reads where the phone is (Geolocation API), as a place on the earth. */
export const readPlace = defineStep({
  do: 'place',
  said: { name: 'Read the place', hint: 'where the phone is' },
  only: 'phone',
  properties: {
    result: result('the place'),
    resultName: text('the place'),
  },
}).does({
  begin: ({ id }) => ({ result: id('v'), resultName: 'the place' }),
  gives: () => ({ k: 'context', entries: { latitude: { k: 'number' }, longitude: { k: 'number' } } }),
  start: () => ({ ask: { ask: 'device', what: { do: 'place' } } }),
  answered(_step, _s, _kept, value) {
    if (value === null) throw new StepError('The place could not be read.');
    return { did: { said: `Read the place: ${display(value)}`, gave: display(value), result: value } };
  },
});
