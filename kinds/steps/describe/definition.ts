import { formula, result, text } from '../../../core/document/meaning.ts';
import { NUMBER, TEXT } from '../../../core/formula/types.ts';
import { isContext } from '../../../core/formula/values.ts';
import { display } from '../../../core/records/format.ts';
import { BY_POINTS } from '../../../core/words/methods.ts';
import { defineStep, StepError } from '../../../core/routines/step.ts';

/** Says in words what can be told of a picture from its points: colours, light, shapes, codes, known pictures. */
export const describeStep = defineStep({
  do: 'describe',
  said: { name: 'Describe a picture', hint: 'its colours, shapes and codes', standIn: BY_POINTS },
  only: 'phone',
  properties: {
    picture: formula('the picture', 'picture', {
      unfilled: { severity: 'stops', said: 'the picture to describe is not chosen.' },
    }),
    result: result('what it is called'),
    resultName: text('what it is called'),
  },
}).does({
  begin: ({ id }) => ({ picture: '', result: id('v'), resultName: 'the description' }),
  gives: () => ({ k: 'context', entries: { words: TEXT, sure: NUMBER } }),
  start(step, s) {
    const { value } = s.value(step.picture, 'The picture to describe');
    if (typeof value !== 'string' || !value) throw new StepError('There is no picture to describe.');
    return { ask: { ask: 'device', what: { do: 'describe', picture: value, samples: [] } } };
  },
  answered(_step, _s, _kept, value) {
    const { words = null, sure = null } = isContext(value) ? value : {};
    const said = `Described a picture, ${Math.round(Number(sure) * 100)} % sure`;
    return { did: { said, gave: display(words), result: value } };
  },
});
