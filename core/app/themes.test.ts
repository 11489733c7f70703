import { describe, expect, it } from 'vitest';
import type { Palette } from './theme.ts';
import { textOn, THEMES, themeOf } from './themes.ts';

/** Relative luminance and contrast as WCAG 2.2 defines them. */
function luminance(hex: string): number {
  const [r, g, b] = [1, 3, 5].map((i) => {
    const c = parseInt(hex.slice(i, i + 2), 16) / 255;
    return c <= 0.04045 ? c / 12.92 : ((c + 0.055) / 1.055) ** 2.4;
  }) as [number, number, number];
  return 0.2126 * r + 0.7152 * g + 0.0722 * b;
}
function contrast(a: string, b: string): number {
  const [x, y] = [luminance(a), luminance(b)].sort((p, q) => q - p) as [number, number];
  return (x + 0.05) / (y + 0.05);
}
const PAIRS: [keyof Palette, keyof Palette][] = [
  ['ink', 'ground'],
  ['ink', 'card'],
  ['ink', 'tint'],
  ['soft', 'ground'],
  ['soft', 'card'],
  ['soft', 'tint'],
  ['accent', 'card'],
  ['accent', 'ground'],
  ['onAccent', 'accent'],
  ['good', 'card'],
  ['look', 'card'],
  ['bad', 'card'],
];

describe.each(THEMES.flatMap((t) => [[t.name, 'light', t.light] as const, [t.name, 'dark', t.dark] as const]))(
  'the theme %s, %s',
  (_name, _mode, palette) => {
    it.each(PAIRS)('%s can be read on %s', (text, ground) => {
      expect(contrast(palette[text], palette[ground])).toBeGreaterThanOrEqual(4.5);
    });
  },
);
it('words on an accent of one’s own can be read', () => {
  for (const accent of ['#C8441F', '#FFE08A', '#1B6A5E', '#808080', '#43548A'])
    expect(contrast(textOn(accent), accent)).toBeGreaterThanOrEqual(4.4);
});
it('a theme that is not known is the first one', () => expect(themeOf('nowhere')).toBe(THEMES[0]));
