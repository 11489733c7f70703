import { compile, type CompileOptions, type Compiled } from './compile.ts';

/**
 * Formulas are stored with ids in place of names, so that renaming a field or table breaks nothing, and shown
 * with today's names. Both forms are FEEL: an id is a name too.
 */
const TOKEN = /"(?:[^"\\]|\\.)*"|\b(?:(?:all|this)_)?[a-z]_[a-z0-9]{6,}(?:_back)?\b/g;

/** Stored text with every id replaced by the name it has now. Ids that are gone are left standing. */
export function toShown(stored: string, nameOf: (id: string) => string | undefined): string {
  return stored.replace(TOKEN, (token) => (token.startsWith('"') ? token : (nameOf(token) ?? token)));
}

/** Shown text with the names that were recognised replaced by their ids, and what the compiler says of it. */
export function toStored(shown: string, options: CompileOptions): { stored: string; compiled: Compiled } {
  const compiled = compile(shown, options);
  let stored = shown;
  for (const ref of [...compiled.references].sort((a, b) => b.from - a.from)) {
    stored = stored.slice(0, ref.from) + ref.id + stored.slice(ref.to);
  }
  return { stored, compiled };
}
