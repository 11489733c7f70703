import { addressesIn, isMailAddress } from '../../../core/document/addresses.ts';
import { formula, words } from '../../../core/document/meaning.ts';
import { display } from '../../../core/records/format.ts';
import { defineStep, StepError } from '../../../core/routines/step.ts';

export const mail = defineStep({
  do: 'mail',
  said: { name: 'Send mail', hint: 'into the outbox' },
  properties: {
    to: formula('the address of a mail', 'mail', {
      unfilled: { severity: 'stops', said: 'the address of a mail is not filled in yet.' },
    }),
    subject: words('the subject'),
    body: words('the body'),
  },
}).does({
  begin: () => ({ to: '', subject: '', body: '' }),
  start(step, s) {
    const { value } = s.value(step.to, 'The address of the mail');
    const to = addressesIn(display(value).replace(/, /g, ','));
    if (to.length === 0) throw new StepError(`The mail has nowhere to go: ${s.shown(step.to)} is empty.`);
    const bad = to.find((a) => !isMailAddress(a));
    if (bad) throw new StepError(`“${bad}” is not a mail address.`);
    const subject = s.words(step.subject);
    return {
      ask: { ask: 'mail', id: s.newId(), to: [...new Set(to)], subject, body: s.words(step.body) },
      did: { said: `Mail to ${to.join(', ')} “${subject}”`, gave: `sent to ${to.length}` },
    };
  },
});
