import { formula, oneOf, result, text } from '../../../core/document/meaning.ts';
import { DATE, listOf, NUMBER, TEXT, TIME, type Type } from '../../../core/formula/types.ts';
import { display } from '../../../core/records/format.ts';
import { BY_COUNTING } from '../../../core/words/methods.ts';
import { defineStep } from '../../../core/routines/step.ts';
import { PULLED, type Pulled } from '../../../core/words/pull-out.ts';

const TYPES: Partial<Record<Pulled, Type>> = { dates: DATE, times: TIME, numbers: NUMBER, amounts: NUMBER };

/** Pulls all dates, amounts or the like out of a text, in their order. */
export const pullOutStep = defineStep({
  do: 'pull out',
  said: { name: 'Pull out', hint: 'dates, amounts, names … of a text', standIn: BY_COUNTING },
  properties: {
    kind: oneOf('what is pulled out', PULLED),
    text: formula('the text', 'value', {
      unfilled: { severity: 'stops', said: 'the text to pull something out of is not chosen.' },
    }),
    result: result('what it is called'),
    resultName: text('what it is called'),
  },
}).does({
  begin: ({ id }) => ({ kind: 'dates', text: '', result: id('v'), resultName: 'those found' }),
  gives: (step) => listOf(TYPES[step.kind] ?? TEXT),
  start(step, s) {
    const words = s.value(step.text, 'The text').text;
    const year = new Date(s.now()).getFullYear();
    return {
      ask: { ask: 'words', what: { do: 'pull out', text: words, kind: step.kind, year } },
      kept: PULLED[step.kind],
    };
  },
  answered(_step, _s, kept, value) {
    const found = Array.isArray(value) ? value : [];
    return {
      did: { said: `Pulled ${found.length} ${String(kept)} out`, gave: display(found) || 'none', result: found },
    };
  },
});
