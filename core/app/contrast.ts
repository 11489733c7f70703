type Rgb = readonly number[];
const rgbOf = (hex: string): Rgb => [1, 3, 5].map((i) => parseInt(hex.slice(i, i + 2), 16));

/** Relative luminance of red, green and blue from 0 to 255 (WCAG 2.2). */
function luminance(rgb: Rgb): number {
  const [r, g, b] = rgb.map((x) => {
    const c = x / 255;
    return c <= 0.04045 ? c / 12.92 : ((c + 0.055) / 1.055) ** 2.4;
  }) as [number, number, number];
  return 0.2126 * r + 0.7152 * g + 0.0722 * b;
}

/** The contrast of two colours, each red, green and blue from 0 to 255 (WCAG 2.2), from 1 to 21. */
export function contrastOf(a: Rgb, b: Rgb): number {
  const [dark, light] = [luminance(a), luminance(b)].sort((x, y) => x - y) as [number, number];
  return (light + 0.05) / (dark + 0.05);
}
/** The contrast of two colours such as `#a35a00`. */
export const contrast = (a: string, b: string): number => contrastOf(rgbOf(a), rgbOf(b));

/** Words in this contrast can be read (WCAG 2.2, level AA). */
export const READABLE = 4.5;

/** Black or white, whichever reads better on a colour. */
export const textOn = (hex: string): string =>
  contrast('#FFFFFF', hex) >= contrast('#111111', hex) ? '#FFFFFF' : '#111111';

/**
 * The colour nearest to this one, towards black or white, that can be read on all of these grounds. Where neither way
 * leads there, the way that comes nearer.
 */
export function readableOn(hex: string, grounds: readonly string[], wanted = READABLE): string {
  const worst = (c: string): number => Math.min(...grounds.map((g) => contrast(c, g)));
  if (worst(hex) >= wanted) return hex;
  let best = hex;
  for (let step = 1; step <= 50; step++)
    for (const end of [0, 255]) {
      const c = mixed(hex, end, step / 50);
      if (worst(c) >= wanted) return c;
      if (worst(c) > worst(best)) best = c;
    }
  return best;
}

function mixed(hex: string, end: number, share: number): string {
  const parts = rgbOf(hex).map((c) =>
    Math.round(c + (end - c) * share)
      .toString(16)
      .padStart(2, '0'),
  );
  return `#${parts.join('')}`.toUpperCase();
}
