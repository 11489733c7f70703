/** So many routines may start one another. */
const MOST_DEEP = 20;

/**
 * Why a run is cut, where routines have started one another too often; null where they have not. `path` are the routines
 * that led to it, itself the last.
 */
export function circleIn(path: readonly string[], nameOf: (routine: string) => string | undefined): string | null {
  if (path.length <= MOST_DEEP) return null;
  const from = path.lastIndexOf(path.at(-1)!, -2);
  const circle = path.slice(Math.max(0, from)).map((id) => nameOf(id) ?? 'a routine that is gone');
  return `Routines started one another ${MOST_DEEP} times, and were stopped: ${circle.join(' → ')}.`;
}
