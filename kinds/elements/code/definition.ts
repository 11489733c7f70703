import { number, oneOf, optional, words } from '../../../core/document/meaning.ts';
import { defineElement } from '../../../core/screens/element.ts';

/** Words or a value as a QR code (ISO/IEC 18004) or a bar code (ISO/IEC 15417), to be scanned. */
export const code = defineElement({
  kind: 'code',
  said: { name: 'QR or bar code', hint: 'to be scanned' },
  properties: {
    words: words('what it says', { unfilled: { severity: 'look', said: 'a code says nothing yet.' } }),
    form: optional(oneOf('the form', { square: 'QR code', bars: 'Bar code' })),
    label: words('the label'),
    size: number('the size', 80, 400, { whole: true }),
  },
}).does({
  begin: () => ({ words: '', label: '', size: 180 }),
  name: (e, naming) => `${e.form === 'bars' ? 'Bar' : 'QR'} code ${naming.words(e.label || e.words)}`.trim(),
  draw(e, d) {
    const words = d.words(e.words);
    const label = d.words(e.label);
    return (p) => ({ words: words(p), label: label(p), size: e.size, form: e.form ?? 'square' });
  },
});
