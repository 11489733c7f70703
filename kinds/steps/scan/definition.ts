import { result, text } from '../../../core/document/meaning.ts';
import { defineStep, StepError } from '../../../core/routines/step.ts';

/** Reads a code with the camera (Barcode Detection API, jsQR where it is missing). */
export const scan = defineStep({
  do: 'scan',
  said: { name: 'Scan a code', hint: 'QR code or bar code' },
  only: 'phone',
  properties: {
    result: result('what was scanned'),
    resultName: text('what was scanned'),
  },
}).does({
  begin: ({ id }) => ({ result: id('v'), resultName: 'the code' }),
  gives: () => ({ k: 'text' }),
  start: () => ({ ask: { ask: 'device', what: { do: 'scan' } } }),
  answered(_step, _s, _kept, value) {
    if (typeof value !== 'string' || !value) throw new StepError('No code was read.');
    return { did: { said: `Scanned ${value}`, gave: value, result: value } };
  },
});
