/** What stands above each phone, and between them, in pixels. */
const HEAD = 34;
const GAP = 18;
/** The frame of a phone around its screen. */
export const FRAME = 8;

/** How phones of these sizes stand in a room so that they are as large as they can be: in so many columns, at this scale. */
export function arranged(
  sizes: readonly (readonly [number, number])[],
  room: { width: number; height: number },
): { columns: number; scale: number } {
  let best = { columns: 1, scale: 0 };
  const wide = Math.max(1, ...sizes.map(([w]) => w + 2 * FRAME));
  const high = Math.max(1, ...sizes.map(([, h]) => h + 2 * FRAME));
  for (let columns = 1; columns <= sizes.length; columns++) {
    const rows = Math.ceil(sizes.length / columns);
    const scale = Math.min(
      1,
      (room.width - (columns + 1) * GAP) / columns / wide,
      (room.height - rows * (HEAD + GAP)) / rows / high,
    );
    if (scale > best.scale) best = { columns, scale };
  }
  return { columns: best.columns, scale: Math.max(0.2, best.scale) };
}
