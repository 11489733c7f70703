/** So many routines may start one another. */
const MOST_DEEP = 20;

/**
 * Why a run is cut, where routines have started one another too often; null where they have not. `path` are the routines
 * that led to it, itself the last.
 */
export function circleIn(path: readonly string[], nameOf: (routine: string) => string | undefined): string | null {
  if (path.length <= MOST_DEEP) return null;
  return `Routines started one another ${MOST_DEEP} times, and were stopped: ${circleNames(path, nameOf)}.`;
}

/** The routines of a circle by their names, from where the last of a path was started before. */
export function circleNames(path: readonly string[], nameOf: (routine: string) => string | undefined): string {
  const from = path.lastIndexOf(path.at(-1)!, -2);
  return path
    .slice(Math.max(0, from))
    .map((id) => nameOf(id) ?? 'a routine that is gone')
    .join(' → ');
}
