import { addressesIn, isMailAddress } from '../../../core/document/addresses.ts';
import { MAIL_BOUNDS } from '../../../core/document/limits.ts';
import { formula, optional, query, result, text, words, yesNo } from '../../../core/document/meaning.ts';
import { fileType } from '../../../core/fields/kept-address.ts';
import { TEXT } from '../../../core/formula/types.ts';
import { display } from '../../../core/records/format.ts';
import { anyLinesOf } from '../../../core/routines/columns.ts';
import { defineStep, StepError, type StepScope } from '../../../core/routines/step.ts';

const count = (n: number): string => n.toLocaleString('en-GB');
const tooLong = (part: 'subject' | 'body', letters: string): string =>
  `${count(letters.length)} letters; it may have ${count(MAIL_BOUNDS[part])}.`;

/** Sends a mail (RFC 5322), with a line for each record of a query between its words, and files. */
export const mail = defineStep({
  do: 'mail',
  said: { name: 'Send mail', hint: 'into the outbox' },
  properties: {
    to: formula('the address of a mail', 'mail', {
      unfilled: { severity: 'stops', said: 'the address of a mail is not filled in yet.' },
    }),
    subject: words('the subject'),
    body: words('the body'),
    query: optional(query('the records with a line each')),
    line: optional(words('the line for each', { ownResult: true })),
    result: optional(result('the record of a line')),
    resultName: optional(text('the record of a line')),
    after: optional(words('the words after the lines')),
    /** Where no record is found for a line, no mail is sent. */
    onlyWithLines: optional(yesNo('only with lines')),
    files: optional(formula('the files that go with it', 'value')),
    answers: optional(formula('the id of the message it answers', 'value')),
  },
}).does({
  begin: () => ({ to: '', subject: '', body: '' }),
  gives: (step) => (step.query ? { k: 'record', table: step.query.table } : TEXT),
  notes: (step) => [
    ...(step.query && !step.line?.trim()
      ? [{ severity: 'stops' as const, said: 'the line for each record of a mail is empty.' }]
      : []),
    ...(step.files === '' ? [{ severity: 'stops' as const, said: 'the files of a mail are not chosen.' }] : []),
    ...(step.answers === ''
      ? [{ severity: 'stops' as const, said: 'the message that a mail answers is not chosen.' }]
      : []),
  ],
  start(step, s) {
    const { value } = s.value(step.to, 'The address of the mail');
    const to = addressesIn(display(value).replace(/, /g, ','));
    if (to.length === 0) throw new StepError(`The mail has nowhere to go: ${s.shown(step.to)} is empty.`);
    const bad = to.find((a) => !isMailAddress(a) || a.length > MAIL_BOUNDS.address);
    if (bad) throw new StepError(`“${bad}” is not a mail address.`);
    const different = [...new Set(to)];
    const subject = s.words(step.subject);
    const lines = step.query && step.result ? s.lines(anyLinesOf(s, step.query), step.result, step.line ?? '') : [];
    if (step.onlyWithLines && step.query && lines.length === 0)
      return { did: { said: `Mail “${subject}” had nothing to list`, gave: 'not sent' } };
    const body = [s.words(step.body), lines.join('\n'), s.words(step.after ?? '')].filter(Boolean).join('\n\n');
    // What a host would never take is said here, and not when the phone is online again.
    if (different.length > MAIL_BOUNDS.to)
      throw new StepError(`A mail goes to ${MAIL_BOUNDS.to} addresses at most; this one has ${different.length}.`);
    if (subject.length > MAIL_BOUNDS.subject)
      throw new StepError(`The subject of the mail has ${tooLong('subject', subject)}`);
    if (body.length > MAIL_BOUNDS.body) throw new StepError(`The mail has ${tooLong('body', body)}`);
    const files = step.files ? filesOf(s, step.files) : [];
    const answers = step.answers ? s.value(step.answers, 'The message it answers').text.trim() : '';
    if (answers && !/^<?[^\s<>@]+@[^\s<>@]+>?$/.test(answers))
      throw new StepError(`“${answers}” is not the id of a message.`);
    const kept = files.length ? ` with ${files.length === 1 ? 'a file' : `${files.length} files`}` : '';
    return {
      ask: {
        ask: 'send',
        id: s.newId(),
        to: different,
        subject,
        body,
        ...(answers && { answers }),
        ...(files.length > 0 && { files }),
      },
      did: { said: `Mail to ${to.join(', ')} “${subject}”${kept}`, gave: `sent to ${different.length}` },
    };
  },
});

/** The addresses of one file or several. */
function filesOf(s: StepScope, formula: string): string[] {
  const { value } = s.value(formula, 'The files that go with the mail');
  const files = (Array.isArray(value) ? value : [value]).filter((v) => v !== null && v !== '');
  if (files.length > MAIL_BOUNDS.files)
    throw new StepError(`A mail takes ${MAIL_BOUNDS.files} files at most; these are ${files.length}.`);
  return files.map((f) => {
    if (typeof f === 'string' && (f.startsWith('file:') || fileType(f))) return f;
    throw new StepError(`“${display(f).slice(0, 60)}” is no file, so it cannot go with the mail.`);
  });
}
