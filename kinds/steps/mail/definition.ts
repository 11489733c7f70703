import { addressesIn, isMailAddress } from '../../../core/document/addresses.ts';
import { MAIL_BOUNDS } from '../../../core/document/limits.ts';
import { formula, words } from '../../../core/document/meaning.ts';
import { display } from '../../../core/records/format.ts';
import { defineStep, StepError } from '../../../core/routines/step.ts';

const count = (n: number): string => n.toLocaleString('en-GB');
const tooLong = (part: 'subject' | 'body', text: string): string =>
  `${count(text.length)} letters; it may have ${count(MAIL_BOUNDS[part])}.`;

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
    const bad = to.find((a) => !isMailAddress(a) || a.length > MAIL_BOUNDS.address);
    if (bad) throw new StepError(`“${bad}” is not a mail address.`);
    const different = [...new Set(to)];
    const [subject, body] = [s.words(step.subject), s.words(step.body)];
    // What a host would never take is said here, and not when the phone is online again.
    if (different.length > MAIL_BOUNDS.to)
      throw new StepError(`A mail goes to ${MAIL_BOUNDS.to} addresses at most; this one has ${different.length}.`);
    if (subject.length > MAIL_BOUNDS.subject)
      throw new StepError(`The subject of the mail has ${tooLong('subject', subject)}`);
    if (body.length > MAIL_BOUNDS.body) throw new StepError(`The mail has ${tooLong('body', body)}`);
    return {
      ask: { ask: 'mail', id: s.newId(), to: different, subject, body },
      did: { said: `Mail to ${to.join(', ')} “${subject}”`, gave: `sent to ${to.length}` },
    };
  },
});
