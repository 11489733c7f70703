import { formula, icon, oneOf, optional, tap, words, yesNo } from '../../../core/document/meaning.ts';
import { defineElement } from '../../../core/screens/element.ts';
import { tapped } from '../../../core/screens/tapped.ts';

export const button = defineElement({
  kind: 'button',
  said: { name: 'Button', hint: '' },
  standsForTap: true,
  properties: {
    words: words('the words'),
    look: oneOf('the look', { main: 'Main', quiet: 'Quiet', plain: 'Plain' }),
    icon: optional(icon('the icon')),
    iconAt: optional(oneOf('where the icon is', { start: 'Before', end: 'Behind' })),
    floats: optional(yesNo('it floats over what is below')),
    tap: tap('a tap', { unfilled: { severity: 'look', said: 'a tap does nothing yet.' } }),
    long: optional(tap('a long press')),
    off: optional(formula('disabled when', 'yesNo')),
  },
}).does({
  begin: () => ({ words: 'New button', look: 'main', tap: { do: 'nothing' } }),
  name: (e) => e.words.replace(/\{[^}]*\}/g, '…').trim(),
  draw(e, d) {
    const words = d.words(e.words);
    const off = d.formula(e.off ?? '');
    const { look, icon, iconAt, floats, name } = e;
    const acts = { tap: tapped(e.tap), long: tapped(e.long) };
    return (p) => ({ words: words(p), look, icon, iconAt, floats, name, ...acts, off: off.at(p) === true });
  },
});
