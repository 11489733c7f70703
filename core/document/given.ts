/**
 * Kinds by name that core works with without knowing which there are. A program is given them where it begins (page,
 * worker, thread, command line) by importing a file of `kinds/given`.
 */
export class GivenKinds<D> extends Map<string, D> {
  /** `what` is said when a program asks for them without having been given any: "kinds of element". */
  constructor(private readonly what: string) {
    super();
  }

  override get(name: string): D | undefined {
    this.expectSome();
    return super.get(name);
  }

  override has(name: string): boolean {
    this.expectSome();
    return super.has(name);
  }

  /** In the order in which they were given. */
  override values(): MapIterator<D> {
    this.expectSome();
    return super.values();
  }

  override [Symbol.iterator](): MapIterator<[string, D]> {
    this.expectSome();
    return super[Symbol.iterator]();
  }

  private expectSome(): void {
    if (this.size === 0) throw new Error(`This program was given no ${this.what}; import a file of kinds/given first.`);
  }
}
