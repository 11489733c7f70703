import { THEMES } from '../../kinds/themes/index.ts';
import type { Theme } from './theme.ts';

export { THEMES };

/** The theme of an app; the first when the one it names is not known. */
export const themeOf = (id: string): Theme => THEMES.find((t) => t.id === id) ?? THEMES[0]!;

/** Black or white, whichever reads better on a colour (WCAG relative luminance). */
export function textOn(hex: string): string {
  const [r, g, b] = [1, 3, 5].map((i) => {
    const c = parseInt(hex.slice(i, i + 2), 16) / 255;
    return c <= 0.04045 ? c / 12.92 : ((c + 0.055) / 1.055) ** 2.4;
  }) as [number, number, number];
  const l = 0.2126 * r + 0.7152 * g + 0.0722 * b;
  return 1.05 / (l + 0.05) >= (l + 0.05) / 0.05 ? '#FFFFFF' : '#111111';
}
