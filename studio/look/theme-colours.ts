import { contrast, READABLE, readableOn } from '../../core/app/contrast.ts';
import { COLOUR_ROLES, type Palette } from '../../core/app/theme.ts';

/** What a colour is for, in words. */
export const ROLE_WORDS: Record<keyof Palette, string> = {
  accent: 'Main colour',
  onAccent: 'Words on it',
  ground: 'Ground',
  card: 'Cards',
  tint: 'Tint',
  edge: 'Lines',
  ink: 'Words',
  soft: 'Soft words',
  good: 'Good',
  look: 'Worth a look',
  bad: 'Bad',
};

/** Colours of words, with the grounds they stand on. */
export const READ_ON: Partial<Record<keyof Palette, readonly (keyof Palette)[]>> = {
  accent: ['ground', 'card'],
  onAccent: ['accent'],
  ink: ['ground', 'card', 'tint'],
  soft: ['ground', 'card', 'tint'],
  good: ['card'],
  look: ['card'],
  bad: ['card'],
};

/** The lowest contrast of a colour of words to what it stands on; no limit for colours of no words. */
export const weakest = (p: Palette, role: keyof Palette): number =>
  Math.min(21, ...(READ_ON[role] ?? []).map((ground) => contrast(p[role], p[ground])));

/** Readable colours for these roles, one after the other, since what stands on the main colour goes by it. */
export function mendedColours(p: Palette, roles: readonly (keyof Palette)[]): Partial<Palette> {
  const next = { ...p };
  for (const role of roles)
    next[role] = readableOn(
      next[role],
      READ_ON[role]!.map((g) => next[g]),
    );
  if (weakest(next, 'onAccent') < READABLE) next.onAccent = readableOn(next.onAccent, [next.accent]);
  return Object.fromEntries(COLOUR_ROLES.filter((r) => next[r] !== p[r]).map((r) => [r, next[r]]));
}
