import { result, text, words } from '../../../core/document/meaning.ts';
import { TEXT } from '../../../core/formula/types.ts';
import { defineStep, StepError } from '../../../core/routines/step.ts';

/** As many bytes as the largest code with medium correction takes (ISO/IEC 18004). */
const MOST = 2331;

/** Makes a QR code as a picture. */
export const qr = defineStep({
  do: 'qr',
  said: { name: 'Make a QR code', hint: 'as a picture' },
  only: 'phone',
  properties: {
    words: words('what it says', { unfilled: { severity: 'stops', said: 'a QR code to make says nothing yet.' } }),
    result: result('the picture'),
    resultName: text('the picture'),
  },
}).does({
  begin: ({ id }) => ({ words: '', result: id('v'), resultName: 'the code' }),
  gives: () => TEXT,
  start(step, s) {
    const said = s.words(step.words);
    if (!said) throw new StepError('The QR code says nothing yet.');
    if (new TextEncoder().encode(said).length > MOST) throw new StepError('This is too long for a QR code.');
    return {
      ask: { ask: 'device', what: { do: 'make', file: { is: 'qr', name: 'code.png', words: said } } },
      kept: said.slice(0, 80),
    };
  },
  answered: (_step, _s, kept, value) => ({
    did: { said: `Made a QR code that says “${String(kept)}”`, gave: 'a picture', result: value },
  }),
});
