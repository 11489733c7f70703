/** So many changes are known again when they are sent twice. */
const MOST_KNOWN = 50_000;

/**
 * Ids of changes that must not be made twice, each with the stamp it came with: amounts, and changes whose stamps were
 * corrected. When there are too many the oldest go, and how late they were is kept.
 */
export class KnownIds {
  private readonly stamps = new Map<string, string>();
  /** No change with an amount and a stamp up to this can be told from one that was made before. */
  forgotten = '';

  constructor(private readonly most = MOST_KNOWN) {}

  has(id: string): boolean {
    return this.stamps.has(id);
  }

  add(id: string, stamp: string): void {
    this.stamps.set(id, stamp);
    if (this.stamps.size <= this.most) return;
    const [oldest, at] = this.stamps.entries().next().value!;
    this.stamps.delete(oldest);
    if (at > this.forgotten) this.forgotten = at;
  }

  /** All of them with their stamps, the oldest first. */
  list(): [string, string][] {
    return [...this.stamps];
  }
}
