import { formula, oneOf, optional, result, text, words } from '../../../core/document/meaning.ts';
import { display } from '../../../core/records/format.ts';
import { defineStep, StepError } from '../../../core/routines/step.ts';
import { asTyped, readAnswer, typeOfAnswer } from '../../../core/routines/typed-answer.ts';

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
  gives: (step) => typeOfAnswer(step.as),
  start(step, s) {
    const said = s.words(step.words);
    if (!said.trim()) throw new StepError('The question has no words yet.');
    const begins = step.first ? s.value(step.first, 'What it starts with').value : null;
    const first = asTyped(begins) ?? display(begins);
    return {
      ask: {
        ask: 'question',
        question: { words: said, wants: 'a value', as: step.as, hint: step.hint ?? '', first },
      },
      kept: said,
    };
  },
  answered(step, _s, kept, value) {
    const read = readAnswer(step.as, typeof value === 'string' ? value : '');
    if ('problem' in read) throw new StepError(read.problem);
    return { did: { said: `Asked “${String(kept)}”`, gave: display(read.value), result: read.value } };
  },
});
