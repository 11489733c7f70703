/** Work of the same name is done one after the other. */
export class Turns {
  private readonly last = new Map<string, Promise<unknown>>();

  take<T>(name: string, work: () => Promise<T>): Promise<T> {
    const before = this.last.get(name) ?? Promise.resolve();
    const turn = before.then(work, work);
    this.last.set(name, turn);
    const forget = (): void => {
      if (this.last.get(name) === turn) this.last.delete(name);
    };
    turn.then(forget, forget);
    return turn;
  }
}
