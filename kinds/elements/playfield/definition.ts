import { elements, formula, number, optional } from '../../../core/document/meaning.ts';
import { defineElement } from '../../../core/screens/element.ts';

/** A ground on which sprites are moved by the page itself, at the rate of the screen. */
export const playfield = defineElement({
  kind: 'playfield',
  said: { name: 'Play field', hint: 'sprites that move' },
  properties: {
    ground: optional(formula('the picture of the ground', 'picture')),
    tall: number('how tall it is, in percent of its width', 30, 200),
    runs: optional(formula('when it runs', 'yesNo')),
    children: elements('its sprites', 60, { unfilled: { severity: 'look', said: 'a play field has no sprites yet.' } }),
  },
}).does({
  begin: ({ fresh }) => ({ tall: 100, children: [fresh('sprite')] }),
  notes: (e) =>
    e.children.some((c) => c.kind !== 'sprite')
      ? [{ severity: 'look', said: 'only sprites move on a play field.' }]
      : [],
  draw(e, d) {
    const ground = d.formula(e.ground ?? '');
    const runs = e.runs ? d.formula(e.runs) : null;
    return (p) => {
      const picture = ground.at(p);
      return {
        ground: d.address(typeof picture === 'string' ? picture : ''),
        tall: e.tall / 100,
        runs: runs === null || runs.at(p) === true,
      };
    };
  },
});
