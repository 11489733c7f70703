/** The place of the first of some sorted texts that comes after another. */
export function firstAfter(sorted: readonly string[], text: string): number {
  let low = 0;
  let high = sorted.length;
  while (low < high) {
    const mid = (low + high) >> 1;
    if (sorted[mid]! > text) high = mid;
    else low = mid + 1;
  }
  return low;
}
