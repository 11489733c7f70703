/** What stands above each phone, and between them, in pixels. */
const HEAD = 34;
const GAP = 18;
/** The frame of a phone around its screen. */
export const FRAME = 8;

/** Smaller than so they cannot be used: then they go beyond the lower edge of the room, and it scrolls. */
const LEAST = 0.45;

/** How phones of these sizes stand in a room so that they are as large as they can be: in so many columns, at this scale. */
export function arranged(
  sizes: readonly (readonly [number, number])[],
  room: { width: number; height: number },
): { columns: number; scale: number } {
  const wide = Math.max(1, ...sizes.map(([w]) => w + 2 * FRAME));
  const high = Math.max(1, ...sizes.map(([, h]) => h + 2 * FRAME));
  const acrossIn = (columns: number): number => (room.width - (columns + 1) * GAP) / columns / wide;
  let best = { columns: 1, scale: 0 };
  for (let columns = 1; columns <= sizes.length; columns++) {
    const rows = Math.ceil(sizes.length / columns);
    const scale = Math.min(1, acrossIn(columns), (room.height - rows * (HEAD + GAP)) / rows / high);
    if (scale > best.scale) best = { columns, scale };
  }
  if (best.scale >= LEAST || sizes.length === 0) return best;
  const columns = Math.max(1, Math.min(sizes.length, Math.floor((room.width - GAP) / (wide * LEAST + GAP))));
  return { columns, scale: Math.max(0.2, Math.min(0.6, acrossIn(columns))) };
}
