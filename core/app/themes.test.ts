import { describe, expect, it } from 'vitest';
import type { Palette } from './theme.ts';
import fc from 'fast-check';
import { contrast, readableOn, textOn } from './contrast.ts';
import { dressed, themeOf, themes } from './themes.ts';

const PAIRS: [keyof Palette, keyof Palette][] = [
  ['ink', 'ground'],
  ['ink', 'card'],
  ['ink', 'tint'],
  ['soft', 'ground'],
  ['soft', 'card'],
  ['soft', 'tint'],
  ['accent', 'card'],
  ['accent', 'ground'],
  ['accent', 'tint'],
  ['onAccent', 'accent'],
  ['good', 'card'],
  ['look', 'card'],
  ['bad', 'card'],
  ['good', 'tint'],
  ['look', 'tint'],
  ['bad', 'tint'],
];

describe.each(themes().flatMap((t) => [[t.name, 'light', t.light] as const, [t.name, 'dark', t.dark] as const]))(
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
it('a theme that is not known is the first one', () => expect(themeOf('nowhere')).toBe(themes()[0]));

it('contrast is that of WCAG 2.2', () => {
  expect(contrast('#000000', '#FFFFFF')).toBe(21);
  expect(contrast('#777777', '#FFFFFF')).toBeCloseTo(4.48, 2);
  expect(contrast('#FFFFFF', '#777777')).toBeCloseTo(4.48, 2);
});
it('any colour is mended so that it can be read, and one that can be is left (property)', () => {
  const colour = fc.integer({ min: 0, max: 0xffffff }).map((n) => `#${n.toString(16).padStart(6, '0')}`);
  fc.assert(
    fc.property(colour, colour, (c, ground) => {
      const mended = readableOn(c, [ground]);
      if (contrast(c, ground) >= 4.5) expect(mended).toBe(c);
      expect(contrast(mended, ground)).toBeGreaterThanOrEqual(4.5);
    }),
  );
});
it('a look is the theme with what is changed of it', () => {
  const look = dressed({
    theme: 'harbour',
    accent: '#7A3B00',
    own: { corners: 2, dark: { ink: '#FFFFFF' }, text: 'source' },
  });
  expect(look).toMatchObject({ corners: 2, text: 'source', head: 'source', surfaces: 'edged' });
  expect(look.light.accent).toBe('#7A3B00');
  // The same colour could not be read in the dark.
  for (const ground of ['card', 'ground', 'tint'] as const)
    expect(contrast(look.dark.accent, look.dark[ground])).toBeGreaterThanOrEqual(4.5);
  expect(look.dark.ink).toBe('#FFFFFF');
  expect(look.light.ink).toBe(themeOf('harbour').light.ink);
});
