import { element, oneOf } from '../../../core/document/meaning.ts';
import { elementSaid } from '../../../core/routines/elements.ts';
import { defineStep } from '../../../core/routines/step.ts';

const DID = {
  show: 'Showed',
  hide: 'Hid',
  enable: 'Enabled',
  disable: 'Disabled',
  focus: 'Went into',
  scroll: 'Scrolled to',
} as const;

/** Shows, hides or enables an element of the screen that is seen, until that is left; or leads the eye to it. */
export const elementStep = defineStep({
  do: 'element',
  said: { name: 'Show, hide or enable', hint: 'something on the screen' },
  only: 'phone',
  properties: {
    how: oneOf('what is done', {
      show: 'Show again',
      hide: 'Hide',
      enable: 'Enable again',
      disable: 'Disable',
      focus: 'Put the cursor into',
      scroll: 'Scroll to',
    }),
    element: element('the element', {
      unfilled: { severity: 'stops', said: 'the element to show, hide or enable is not chosen.' },
    }),
  },
}).does({
  begin: () => ({ how: 'hide', element: '' }),
  start(step, s) {
    const said = elementSaid(s, step.element);
    return {
      ask: { ask: 'element', how: step.how, element: step.element },
      did: { said: `${DID[step.how]} ${said}`, gave: 'done' },
    };
  },
});
