import { fieldKind } from '../fields/kinds.ts';
import type { Field } from './schema.ts';

/** The id of the field that serves best as the title or picture of its records, by its type; null when none does. */
export function bestFor(fields: readonly Field[], use: 'title' | 'picture'): string | null {
  const rank = (f: Field): number => Number(fieldKind(f.type).serves?.[use] ?? -1);
  let best: Field | null = null;
  for (const f of fields) if (rank(f) >= 0 && (!best || rank(f) > rank(best))) best = f;
  return best?.id ?? null;
}
