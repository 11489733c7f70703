/**
 * Known names, found by the longest that stands at a place of a text. Looking one up does not cost more when there are
 * more names. An index may stand on another, which holds what many formulas have in common.
 */
export class NameIndex {
  private readonly names = new Set<string>();
  /** The lengths of the names that begin with a character, longest first. */
  private readonly lengths = new Map<string, number[]>();

  constructor(
    names: Iterable<string> = [],
    private readonly base: NameIndex | null = null,
  ) {
    for (const n of names) this.add(n);
  }

  add(name: string): void {
    if (name === '' || this.has(name)) return;
    this.names.add(name);
    const lengths = this.lengths.get(name[0]!) ?? [];
    if (!lengths.includes(name.length)) lengths.push(name.length);
    this.lengths.set(
      name[0]!,
      lengths.sort((a, b) => b - a),
    );
  }

  has(name: string): boolean {
    return this.names.has(name) || (this.base?.has(name) ?? false);
  }

  /** The names that a text goes on with at a place, longest first. They may end within a word of it. */
  at(text: string, place: number): string[] {
    const found: string[] = [];
    for (const length of this.lengthsFrom(text[place] ?? '')) {
      const part = text.slice(place, place + length);
      if (part.length === length && this.has(part)) found.push(part);
    }
    return found;
  }

  private lengthsFrom(first: string): readonly number[] {
    const own = this.lengths.get(first) ?? [];
    const common = this.base?.lengthsFrom(first) ?? [];
    if (own.length === 0 || common.length === 0) return own.length ? own : common;
    return [...new Set([...own, ...common])].sort((a, b) => b - a);
  }
}
