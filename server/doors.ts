/**
 * One lock for each address, in front of all doors to it: many may be inside at once, and whoever closes the address
 * waits until they have gone and lets nobody in meanwhile. So nothing is read, written or begun of an app that is removed.
 */
export class Doors {
  private readonly inside = new Map<string, Set<Promise<unknown>>>();
  private readonly closing = new Map<string, Promise<unknown>>();

  /** Does something at an address, when nobody is closing it. What is inside may not enter again. */
  async enter<T>(name: string, work: () => Promise<T>): Promise<T> {
    for (let closing = this.closing.get(name); closing; closing = this.closing.get(name)) await closing;
    const working = work();
    const all = this.inside.get(name) ?? new Set();
    this.inside.set(name, all);
    const left = working.then(
      () => undefined,
      () => undefined,
    );
    all.add(left);
    void left.then(() => {
      all.delete(left);
      if (all.size === 0 && this.inside.get(name) === all) this.inside.delete(name);
    });
    return working;
  }

  /** Does something at an address alone, after all who are inside have gone. */
  async close<T>(name: string, work: () => Promise<T>): Promise<T> {
    const before = this.closing.get(name) ?? Promise.resolve();
    const turn = before.then(async () => {
      await Promise.all(this.inside.get(name) ?? []);
      return work();
    });
    const over = turn.then(
      () => undefined,
      () => undefined,
    );
    this.closing.set(name, over);
    void over.then(() => {
      if (this.closing.get(name) === over) this.closing.delete(name);
    });
    return turn;
  }
}
