/** Does work in the order it was asked for, each when the one before has ended, whichever way it did. */
export class InTurn {
  private last: Promise<unknown> = Promise.resolve();

  next<T>(work: () => Promise<T>): Promise<T> {
    const mine = this.last.then(work);
    this.last = mine.catch(() => undefined);
    return mine;
  }
}
