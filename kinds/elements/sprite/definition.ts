import { formula, icon, number, oneOf, optional, tap, words, yesNo } from '../../../core/document/meaning.ts';
import { defineElement } from '../../../core/screens/element.ts';
import { tapped } from '../../../core/screens/tapped.ts';

/** Something on a play field. Where its place, heading or speed are worked out anew, it jumps or turns there. */
export const sprite = defineElement({
  kind: 'sprite',
  said: { name: 'Sprite', hint: 'on a play field' },
  properties: {
    label: words('what it is', { unfilled: { severity: 'look', said: 'a sprite does not say what it is.' } }),
    picture: optional(formula('its picture', 'picture')),
    icon: icon('its icon'),
    size: number('its size, in percent of the field', 2, 100),
    x: formula('how far across, in percent', 'value'),
    y: formula('how far down, in percent', 'value'),
    heading: optional(formula('where it heads, in degrees', 'value')),
    speed: optional(formula('its speed, in percent of the field a second', 'value')),
    atEdge: oneOf('what it does at the edge', { bounce: 'comes back', through: 'comes in opposite', stop: 'stops' }),
    drags: yesNo('dragging', { true: 'is on', false: 'is off' }),
    tap: tap('a tap'),
    dragged: optional(tap('when it was dragged')),
    edge: optional(tap('when it comes to the edge')),
    meets: optional(tap('when it meets another sprite')),
  },
}).does({
  begin: () => ({
    label: 'Sprite',
    icon: 'bug',
    size: 12,
    x: '50',
    y: '50',
    atEdge: 'bounce',
    drags: false,
    tap: { do: 'nothing' },
  }),
  name: (e, naming) => naming.words(e.label),
  draw(e, d) {
    const [label, picture] = [d.words(e.label), d.formula(e.picture ?? '')];
    const [x, y, heading, speed] = [e.x, e.y, e.heading ?? '', e.speed ?? ''].map((f) => d.formula(f));
    const acts = { tap: tapped(e.tap), dragged: tapped(e.dragged), edge: tapped(e.edge), meets: tapped(e.meets) };
    return (p) => {
      const number = (r: typeof x, otherwise: number): number => {
        const v = r!.at(p);
        return typeof v === 'number' && Number.isFinite(v) ? v : otherwise;
      };
      const shown = picture.at(p);
      return {
        label: label(p),
        picture: d.address(typeof shown === 'string' ? shown : ''),
        icon: e.icon,
        size: e.size / 100,
        x: number(x, 50) / 100,
        y: number(y, 50) / 100,
        heading: number(heading, 0),
        speed: number(speed, 0) / 100,
        atEdge: e.atEdge,
        drags: e.drags,
        ...acts,
      };
    };
  },
});
