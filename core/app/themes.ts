import { readableOn, textOn } from './contrast.ts';
import type { FontId, OwnLook, Palette, SURFACES, Theme, TITLES } from './theme.ts';

let given: readonly Theme[] = [];

/** Gives the themes that there are, in the order they are offered. */
export function giveThemes(themes: readonly Theme[]): void {
  given = themes;
}

/** Every theme, in the order they are offered. */
export const themes = (): readonly Theme[] => given;

/** The theme of an app; the first when the one it names is not known. */
export const themeOf = (id: string): Theme => given.find((t) => t.id === id) ?? given[0]!;

/** As much of an app's look as its screens are drawn by. */
export interface LookDoc {
  theme: string;
  accent: string | null;
  own?: OwnLook | undefined;
}

/** A theme with what the maker changed of it. */
export interface Dressed {
  light: Palette;
  dark: Palette;
  corners: number;
  density: number;
  text: FontId;
  head: FontId;
  surfaces: (typeof SURFACES)[number];
  titles: (typeof TITLES)[number];
}

/** The look of an app, worked out. A main colour of the maker's own is made light enough for the dark, too. */
export function dressed({ theme: id, accent, own = {} }: LookDoc): Dressed {
  const theme = themeOf(id);
  const inAccent = (p: Palette, isDark: boolean): Palette => {
    if (!accent) return p;
    const main = isDark ? readableOn(accent, [p.ground, p.card, p.tint]) : accent;
    return { ...p, accent: main, onAccent: textOn(main) };
  };
  const { text = 'hanken' } = own;
  return {
    light: { ...inAccent(theme.light, false), ...own.light },
    dark: { ...inAccent(theme.dark, true), ...own.dark },
    corners: own.corners ?? theme.corners,
    density: own.density ?? theme.density,
    text,
    head: own.head ?? (theme.headings === 'head' ? 'bricolage' : text),
    surfaces: own.surfaces ?? 'edged',
    titles: own.titles ?? 'usual',
  };
}
