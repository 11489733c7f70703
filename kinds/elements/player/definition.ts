import { formula, oneOf, optional, tap, words } from '../../../core/document/meaning.ts';
import { display } from '../../../core/records/format.ts';
import { defineElement } from '../../../core/screens/element.ts';
import { tapped } from '../../../core/screens/tapped.ts';

/** A sound or a video with its controls, from an address or a kept file. */
export const player = defineElement({
  kind: 'player',
  said: { name: 'Player', hint: 'a sound or a video' },
  properties: {
    source: formula('what it plays', 'address', {
      unfilled: { severity: 'look', said: 'what it plays is not chosen.' },
    }),
    look: oneOf('the look', { sound: 'Sound', video: 'Video' }),
    label: words('the label'),
    ends: optional(tap('when it has ended')),
  },
}).does({
  begin: () => ({ source: '', look: 'sound', label: '' }),
  name: (e, naming) => naming.words(e.label) || (e.look === 'video' ? 'Video' : 'Sound'),
  draw(e, d) {
    const source = d.formula(e.source);
    const label = d.words(e.label);
    return (p) => {
      const v = source.at(p);
      return {
        address: d.address(typeof v === 'string' ? v : display(v)),
        look: e.look,
        label: label(p),
        ends: tapped(e.ends),
      };
    };
  },
});
