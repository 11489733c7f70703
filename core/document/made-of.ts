/**
 * Keeps what is made of a part of a document, for as long as that part is there; most edits leave nearly all parts as they
 * were. Only of frozen parts, as those of the document that is open in the studio are: others may be changed in place, so
 * of them it is made each time.
 */
export function madeOf<P extends object, T>(make: (part: P) => T): (part: P) => T {
  const kept = new WeakMap<P, { made: T }>();
  return (part) => {
    const known = kept.get(part);
    if (known) return known.made;
    const made = make(part);
    if (Object.isFrozen(part)) kept.set(part, { made });
    return made;
  };
}
