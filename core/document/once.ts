/** What is made when it is first asked for. */
export function once<T>(make: () => Promise<T>): () => Promise<T> {
  let made: Promise<T> | null = null;
  return () => {
    made ??= make().catch((e: unknown) => {
      // Without a network it is tried again when it is next asked for.
      made = null;
      throw e;
    });
    return made;
  };
}
