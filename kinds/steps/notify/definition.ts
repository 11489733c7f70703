import { MAIL_BOUNDS } from '../../../core/document/limits.ts';
import { formula, optional, words } from '../../../core/document/meaning.ts';
import { RecordValue } from '../../../core/formula/values.ts';
import { display } from '../../../core/records/format.ts';
import { defineStep, StepError } from '../../../core/routines/step.ts';

/** Notifies people who use the app, each by what person fields call them, on every device where they use it. */
export const notify = defineStep({
  do: 'notify',
  said: { name: 'Notify people', hint: 'who use the app elsewhere' },
  properties: {
    to: formula('whom', 'any', {
      unfilled: { severity: 'stops', said: 'whom to notify is not filled in yet.' },
    }),
    title: words('the notice', { unfilled: { severity: 'stops', said: 'the notice to people has no words.' } }),
    words: optional(words('more words')),
  },
}).does({
  begin: () => ({ to: '', title: '' }),
  start(step, s) {
    const { value } = s.value(step.to, 'Whom to notify');
    const whom = Array.isArray(value) ? value : [value];
    const to = [...new Set(whom.map((v) => display(v).trim()).filter(Boolean))];
    const people = whom.flatMap((v) => (v instanceof RecordValue ? [v.id] : []));
    if (to.length === 0) throw new StepError('There is nobody to notify: whom it is for is empty just now.');
    if (to.length > MAIL_BOUNDS.to)
      throw new StepError(`A notice goes to ${MAIL_BOUNDS.to} people at most; these are ${to.length}.`);
    const title = s.words(step.title).trim();
    if (!title) throw new StepError('The notice has no words.');
    return {
      ask: {
        ask: 'send',
        kind: 'notice',
        id: s.newId(),
        to,
        ...(people.length > 0 && { people }),
        subject: title.slice(0, MAIL_BOUNDS.subject),
        body: s.words(step.words ?? ''),
      },
      did: { said: `Notified ${to.join(', ')} “${title}”`, gave: `sent to ${to.length}` },
    };
  },
});
