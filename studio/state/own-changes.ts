/**
 * What a box has told of its own. The desk follows what is typed a little later, and by then more may stand in the box:
 * what comes back of its own must not be put in the place of that. Anything else was changed elsewhere, as by undo.
 */
export class OwnChanges<T> {
  private told: T[] = [];

  tell(value: T): void {
    this.told.push(value);
  }

  /** What the document holds or is about to hold, when the desk shows this value of it. */
  latest(shown: T): T {
    return this.told.length ? this.told.at(-1)! : shown;
  }

  /** Does this value, which has come from the document, come from the box itself? Those told before it are past then. */
  isOwn(value: T): boolean {
    const at = this.told.lastIndexOf(value);
    this.told = at < 0 ? [] : this.told.slice(at + 1);
    return at >= 0;
  }

  /** The box is left: whatever comes now is taken over. */
  forget(): void {
    this.told = [];
  }
}
