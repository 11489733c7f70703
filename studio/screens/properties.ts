import type { Property } from '../../core/document/meaning.ts';
import { iconOf } from '../../player/icons.tsx';

/** The names of the icons an app may use, as it stores them: one file an icon. */
const ICON_NAMES = Object.keys(import.meta.glob('../../player/icons/*.ts')).map((f) => /([\w-]+)\.ts$/.exec(f)![1]!);

export const ICON_CHOICES = ICON_NAMES.map((value) => ({
  value,
  label: value.replace(/-/g, ' '),
  icon: iconOf(value)!,
}));

/** The values of a property with a few fixed ones, as a chip offers them. */
export const choicesOf = <T>(p: Property<T>): { value: T; label: string }[] =>
  (p.values ?? []).map((v) => ({ value: v as T, label: p.labels?.[String(v)] ?? String(v) }));

const capital = (s: string): string => s.charAt(0).toUpperCase() + s.slice(1);
/** What a property is called as a label: "The look" without its article. */
export const labelOf = (p: Property): string => capital(p.said.replace(/^(the|a|an|its) /, ''));
