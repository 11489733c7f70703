const RUN = 512;
const STEP = 1024;

/**
 * Sorts as `Array.prototype.sort` does, in place of a long pause with many short ones: every `next()` works for a
 * fraction of a millisecond. A merge sort from the bottom up; equal items keep their order.
 */
export function* sortInSlices<T>(items: T[], compare: (a: T, b: T) => number): Generator<void, T[]> {
  const n = items.length;
  let from: T[] = new Array(n);
  for (let i = 0; i < n; i += RUN) {
    const run = items.slice(i, i + RUN).sort(compare);
    for (let k = 0; k < run.length; k++) from[i + k] = run[k]!;
    yield;
  }
  let to: T[] = new Array(n);
  for (let width = RUN; width < n; width *= 2) {
    let out = 0;
    for (let i = 0; i < n; i += width * 2) {
      const middle = Math.min(i + width, n);
      const end = Math.min(i + width * 2, n);
      let left = i;
      let right = middle;
      while (left < middle || right < end) {
        const takeLeft = right >= end || (left < middle && compare(from[left]!, from[right]!) <= 0);
        to[out++] = takeLeft ? from[left++]! : from[right++]!;
        if (out % STEP === 0) yield;
      }
    }
    [from, to] = [to, from];
  }
  return from;
}
