import { formula, optional, result, text, words } from '../../../core/document/meaning.ts';
import { TEXT } from '../../../core/formula/types.ts';
import { defineStep, StepError } from '../../../core/routines/step.ts';

/** Lays words over the top and the foot of a picture, and gives all of it as one picture. */
export const caption = defineStep({
  do: 'caption',
  said: { name: 'Lay words over a picture', hint: 'kept as one picture' },
  only: 'phone',
  properties: {
    picture: formula('the picture', 'picture', {
      unfilled: { severity: 'stops', said: 'the picture to lay words over is not chosen.' },
    }),
    top: optional(words('the words at its top')),
    foot: optional(words('the words at its foot')),
    result: result('what it is called'),
    resultName: text('what it is called'),
  },
}).does({
  begin: ({ id }) => ({ picture: '', result: id('v'), resultName: 'the picture with words' }),
  gives: () => TEXT,
  notes: (step) =>
    step.top?.trim() || step.foot?.trim()
      ? []
      : [{ severity: 'stops', said: 'there are no words to lay over a picture.' }],
  start(step, s) {
    const { value } = s.value(step.picture, 'The picture');
    if (typeof value !== 'string' || !value) throw new StepError('There is no picture to lay words over.');
    const [top, foot] = [s.words(step.top ?? '').trim(), s.words(step.foot ?? '').trim()];
    if (!top && !foot) throw new StepError('There are no words to lay over the picture.');
    return {
      ask: { ask: 'device', what: { do: 'caption', picture: value, top, foot } },
      kept: [top, foot].filter(Boolean).join(' … '),
    };
  },
  answered: (_step, _s, kept, value) => ({
    did: { said: `Laid “${String(kept)}” over a picture`, gave: 'a picture', result: value },
  }),
});
