import { formula, number, result, text } from '../../../core/document/meaning.ts';
import { TEXT } from '../../../core/formula/types.ts';
import { display } from '../../../core/records/format.ts';
import { BY_COUNTING } from '../../../core/words/methods.ts';
import { defineStep, StepError } from '../../../core/routines/step.ts';

/** Sums a text up in a few of its own sentences. */
export const sumUpStep = defineStep({
  do: 'sum up',
  said: { name: 'Sum up', hint: 'a text, in its own sentences', standIn: BY_COUNTING },
  properties: {
    text: formula('the text', 'value', { unfilled: { severity: 'stops', said: 'the text to sum up is not chosen.' } }),
    most: number('sentences at most', 1, 10, { whole: true }),
    result: result('what it is called'),
    resultName: text('what it is called'),
  },
}).does({
  begin: ({ id }) => ({ text: '', most: 2, result: id('v'), resultName: 'the summary' }),
  gives: () => TEXT,
  start(step, s) {
    const words = s.value(step.text, 'The text to sum up').text;
    if (!words.trim()) throw new StepError('There is nothing to sum up.');
    return { ask: { ask: 'words', what: { do: 'sum up', text: words, most: step.most } }, kept: words.length };
  },
  answered: (_step, _s, kept, value) => ({
    did: { said: `Summed up ${Number(kept).toLocaleString('en-GB')} letters`, gave: display(value), result: value },
  }),
});
