/** Runs what is given one after another, in the order it was given; what fails does not hold up the next. */
export function inOrder(): <T>(run: () => Promise<T>) => Promise<T> {
  let last: Promise<unknown> = Promise.resolve();
  return (run) => {
    const now = last.then(run);
    last = now.catch(() => undefined);
    return now;
  };
}
