import { icon, oneOf, optional, tap, words } from '../../../core/document/meaning.ts';
import { defineElement } from '../../../core/screens/element.ts';
import { tapped } from '../../../core/screens/tapped.ts';

export const button = defineElement({
  kind: 'button',
  said: { name: 'Button', hint: '' },
  properties: {
    words: words('the words'),
    look: oneOf('the look', { main: 'Main', quiet: 'Quiet', plain: 'Plain' }),
    icon: optional(icon('the icon')),
    tap: tap('a tap', { unfilled: { severity: 'look', said: 'a tap does nothing yet.' } }),
  },
}).does({
  begin: () => ({ words: 'New button', look: 'main', tap: { do: 'nothing' } }),
  name: (e) => e.words.replace(/\{[^}]*\}/g, '…').trim(),
  draw(e, d) {
    const words = d.words(e.words);
    return (p) => ({ words: words(p), look: e.look, icon: e.icon, tap: tapped(e.tap) });
  },
});
