/**
 * What a person does is done in the order they did it, however long what each needs takes to load: a letter typed
 * later must not be overtaken by one typed before, nor a tap by what was typed before it.
 */
export class InOrder {
  private last: Promise<unknown> = Promise.resolve();

  /** Resolves when `ready` has and all turns before have come; rejects with `ready`, which holds up no other. */
  turn(ready: Promise<unknown>): Promise<void> {
    const mine = this.last.then(() => ready).then(() => undefined);
    this.last = mine.catch(() => undefined);
    return mine;
  }
}
