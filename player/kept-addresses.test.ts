import { describe, expect, it } from 'vitest';
import { take } from './kept-addresses.ts';
import { USES } from './kept.ts';

const api = { file: async () => null };
const svg = (inside: string): string => `<svg xmlns="http://www.w3.org/2000/svg">${inside}</svg>`;
const base64 = (text: string): string => `data:image/svg+xml;base64,${Buffer.from(text).toString('base64')}`;
const laughs = svg(
  `<g id="a0"><path d=""/></g>${Array.from({ length: 8 }, (_, i) => `<g id="a${i + 1}">${`<use href="#a${i}"/>`.repeat(10)}</g>`).join('')}`,
);

describe('a drawing in an address', () => {
  it('is shown as it is, and not at all where it comes to very many elements', async () => {
    const fine = base64(svg('<symbol id="s"/><use href="#s"/>'));
    expect(await take(api, fine)).toBe(fine);
    for (const address of [base64(laughs), `data:image/svg+xml,${encodeURIComponent(laughs)}`])
      expect(await take(api, address)).toBeNull();
    expect(await take(api, 'data:image/svg+xml;base64,%%%')).toBeNull();
  });
  it('is looked at wherever in it something is used again, however that falls in base 64', () => {
    for (const used of ['<use href="#a"/>', '<rect fill="url(#a)"/>'])
      for (const before of ['', 'x', 'xy'])
        for (const address of [base64(svg(before + used)), `data:image/svg+xml,${encodeURIComponent(svg(used))}`])
          expect(USES.test(address), address).toBe(true);
    expect(USES.test(base64(svg('<rect width="9" height="9"/>')))).toBe(false);
    expect(USES.test('data:image/png;base64,PHVzZ')).toBe(false);
  });
});
