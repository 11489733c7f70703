import { formula, oneOf, optional, result, text, words } from '../../../core/document/meaning.ts';
import { dateText, parseDate } from '../../../core/formula/temporal.ts';
import { CalendarDate, type Value } from '../../../core/formula/values.ts';
import { DATE, NUMBER, TEXT } from '../../../core/formula/types.ts';
import { readNumberText } from '../../../core/fields/read-number.ts';
import { display } from '../../../core/records/format.ts';
import { defineStep, StepError } from '../../../core/routines/step.ts';

/** Asks the person for a value. Who gives none lets the step fail. */
export const question = defineStep({
  do: 'question',
  said: { name: 'Ask for a value', hint: 'typed on the phone' },
  lasts: true,
  only: 'phone',
  properties: {
    words: words('the question', { unfilled: { severity: 'stops', said: 'a question has no words yet.' } }),
    as: oneOf('what is asked for', { text: 'words', 'long text': 'a long text', number: 'a number', date: 'a date' }),
    hint: optional(text('the hint', 80)),
    first: optional(formula('begins with', 'value')),
    result: result('what is called what was typed'),
    resultName: text('what it is called'),
  },
}).does({
  begin: ({ id }) => ({ words: '', as: 'text', result: id('v'), resultName: 'what was typed' }),
  gives: (step) => (step.as === 'number' ? NUMBER : step.as === 'date' ? DATE : TEXT),
  start(step, s) {
    const said = s.words(step.words);
    if (!said.trim()) throw new StepError('The question has no words yet.');
    const first = step.first ? editable(s.value(step.first, 'What it starts with').value) : '';
    return {
      ask: {
        ask: 'question',
        question: { words: said, wants: 'a value', as: step.as, hint: step.hint ?? '', first },
      },
      kept: said,
    };
  },
  answered(step, _s, kept, value) {
    const typed = typeof value === 'string' ? value.trim() : '';
    if (!typed) throw new StepError('Nothing was answered.');
    const read =
      step.as === 'number'
        ? (readNumberText(typed) ?? readNumberText(typed, ','))
        : step.as === 'date'
          ? parseDate(typed)
          : typed;
    if (read === null) throw new StepError(`“${typed}” is no ${step.as}.`);
    return { did: { said: `Asked “${String(kept)}”`, gave: display(read), result: read } };
  },
});

/** A value as it is typed: a number without its unit, a date as the box of a date wants it. */
const editable = (v: Value): string =>
  typeof v === 'number' ? String(v) : v instanceof CalendarDate ? dateText(v) : display(v);
