import { NameIndex } from './name-index.ts';
import { listed, Scope, type Name, type Shapes } from './scope.ts';
import type { Type } from './types.ts';

/** What formulas may name, ready to be looked up. */
export interface NamesInScope {
  scope: Scope;
  index: NameIndex;
}

/** The names that a single formula is compiled among. */
export function namesInScope(names: readonly Name[], shapes: Shapes): NamesInScope {
  const index = new NameIndex(shapes.memberNames());
  indexNames(names, index);
  return { scope: new Scope(null, listed(names)), index };
}

/** Makes names known to the parser, and those of what is inside their values. */
export function indexNames(names: Iterable<Name>, index: NameIndex): void {
  for (const n of names) {
    index.add(n.name);
    index.add(n.id);
    // The type of a formula field is worked out when asked for, so ask only where entries can have names.
    if (!n.field) entryNames(n.type, index);
  }
}

function entryNames(t: Type, into: NameIndex): void {
  if (t.k === 'list' || t.k === 'range') entryNames(t.of, into);
  if (t.k === 'context') {
    for (const [k, v] of Object.entries(t.entries)) {
      into.add(k);
      if (t.names?.[k]) into.add(t.names[k]);
      entryNames(v, into);
    }
  }
}
