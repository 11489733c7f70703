import { formula, words } from '../../../core/document/meaning.ts';
import { MAIL_BOUNDS } from '../../../core/document/limits.ts';
import { display } from '../../../core/records/format.ts';
import { defineStep, StepError } from '../../../core/routines/step.ts';

/** As many letters as ten joined messages take (3GPP TS 23.040). */
const MOST = 1530;
/** A telephone number as people write it; digits are what counts (RFC 3966). */
const NUMBER = /^\+?[\d\s().\-/]{3,30}$/;

/** Sends a text message to telephones. */
export const textMessage = defineStep({
  do: 'text message',
  said: { name: 'Send a text message', hint: 'into the outbox' },
  properties: {
    to: formula('the number of a text message', 'value', {
      unfilled: { severity: 'stops', said: 'the number of a text message is not filled in yet.' },
    }),
    words: words('the words', { unfilled: { severity: 'stops', said: 'a text message has no words yet.' } }),
  },
}).does({
  begin: () => ({ to: '', words: '' }),
  start(step, s) {
    const { value } = s.value(step.to, 'The number of the text message');
    const numbers = (Array.isArray(value) ? value : [value]).map((v) => display(v).trim()).filter(Boolean);
    if (numbers.length === 0) throw new StepError(`The text message has nowhere to go: ${s.shown(step.to)} is empty.`);
    const bad = numbers.find((n) => !NUMBER.test(n));
    if (bad) throw new StepError(`“${bad}” is not a telephone number.`);
    const to = [...new Set(numbers.map((n) => n.replace(/[^\d+]/g, '')))];
    if (to.length > MAIL_BOUNDS.to)
      throw new StepError(`A text message goes to ${MAIL_BOUNDS.to} numbers at most; these are ${to.length}.`);
    const body = s.words(step.words);
    if (!body.trim()) throw new StepError('The text message has no words yet.');
    if (body.length > MOST)
      throw new StepError(`The text message has ${body.length} letters; it may have ${MOST.toLocaleString('en-GB')}.`);
    return {
      ask: { ask: 'send', kind: 'text message', id: s.newId(), to, subject: '', body },
      did: { said: `Text message to ${numbers.join(', ')} “${body}”`, gave: `sent to ${to.length}` },
    };
  },
});
