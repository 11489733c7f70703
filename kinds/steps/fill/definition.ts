import { element, formula } from '../../../core/document/meaning.ts';
import { Row } from '../../../core/records/row.ts';
import { toCell } from '../../../core/records/cells.ts';
import { elementSaid } from '../../../core/routines/elements.ts';
import { defineStep } from '../../../core/routines/step.ts';

/** Fills in an input of the screen that is seen, as if a person had. What the input refuses it says itself. */
export const fill = defineStep({
  do: 'fill',
  said: { name: 'Fill in an input', hint: 'as a person would' },
  only: 'phone',
  properties: {
    element: element('the input', {
      unfilled: { severity: 'stops', said: 'the input to fill in is not chosen.' },
    }),
    value: formula('with what', 'value', {
      unfilled: { severity: 'stops', said: 'what an input is filled in with is not filled in.' },
    }),
  },
}).does({
  begin: () => ({ element: '', value: '' }),
  start(step, s) {
    const said = elementSaid(s, step.element);
    const { value, text } = s.value(step.value, 'What is filled in');
    const cell = value instanceof Row ? value.id : toCell(value);
    return {
      ask: { ask: 'element', how: 'fill', element: step.element, cell },
      did: { said: `Filled in ${said} with ${text || 'nothing'}`, gave: text || 'nothing' },
    };
  },
});
