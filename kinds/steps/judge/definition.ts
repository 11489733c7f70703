import { formula, result, text, words } from '../../../core/document/meaning.ts';
import { NUMBER, TEXT } from '../../../core/formula/types.ts';
import { isContext } from '../../../core/formula/values.ts';
import { display } from '../../../core/records/format.ts';
import { BY_COUNTING } from '../../../core/words/methods.ts';
import { defineStep, StepError } from '../../../core/routines/step.ts';
import { choicesIn } from '../../../core/words/judge.ts';

/** Finds which of some choices a text is nearest to, and which of its words say so. */
export const judgeStep = defineStep({
  do: 'judge',
  said: { name: 'Judge', hint: 'which choice a text fits', standIn: BY_COUNTING },
  properties: {
    text: formula('the text', 'value', { unfilled: { severity: 'stops', said: 'the text to judge is not chosen.' } }),
    choices: words('the choices, a line each', {
      unfilled: { severity: 'stops', said: 'a judgement has no choices.' },
      lines: 4,
    }),
    result: result('what it is called'),
    resultName: text('what it is called'),
  },
}).does({
  begin: ({ id }) => ({ text: '', choices: '', result: id('v'), resultName: 'the judgement' }),
  gives: () => ({ k: 'context', entries: { choice: TEXT, why: TEXT, sure: NUMBER } }),
  start(step, s) {
    const words = s.value(step.text, 'The text to judge').text;
    if (!words.trim()) throw new StepError('There is nothing to judge.');
    const choices = choicesIn(s.words(step.choices));
    if (choices.length < 2) throw new StepError('A judgement needs two choices or more.');
    return { ask: { ask: 'words', what: { do: 'judge', text: words, choices } }, kept: words.slice(0, 60) };
  },
  answered(_step, _s, kept, value) {
    const { choice = null, why = null } = isContext(value) ? value : {};
    return {
      did: {
        said: `Judged “${String(kept)}”: ${display(choice)}, for ${display(why)}`,
        gave: display(choice),
        result: value,
      },
    };
  },
});
