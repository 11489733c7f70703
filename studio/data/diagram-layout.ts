import type { App } from '../../core/app/schema.ts';
import type { Table } from '../../core/tables/schema.ts';

export const BOX = { width: 164, height: 60 };
const STEP = { x: 211, y: 96 };

export interface Placed {
  table: Table;
  x: number;
  y: number;
}

/** Places tables by how far they stand from those that nothing is linked from: what is pointed at to the left, what points to the right. */
export function layout(app: App): Placed[] {
  const column = new Map<string, number>();
  const depth = (t: Table, seen: readonly string[]): number => {
    const known = column.get(t.id);
    if (known !== undefined) return known;
    const targets = t.fields.flatMap((f) => (f.link && !seen.includes(f.link.table) ? [f.link.table] : []));
    const d = Math.min(
      2,
      Math.max(
        -1,
        ...targets.map((id) => {
          const next = app.tables.find((x) => x.id === id);
          return next ? depth(next, [...seen, t.id]) : -1;
        }),
      ) + 1,
    );
    column.set(t.id, d);
    return d;
  };
  const used = [0, 0, 0];
  return app.tables.map((t): Placed => {
    const c = depth(t, [t.id]);
    const auto = { x: 18 + c * STEP.x, y: 20 + used[c]!++ * STEP.y };
    return { table: t, ...(t.place ?? auto) };
  });
}

/** A line between two boxes: from the side that faces the other, with a soft bend. */
export function linePath(a: Placed, b: Placed): string {
  const right = a.x >= b.x + BOX.width;
  const left = a.x + BOX.width <= b.x;
  const [ay, by] = [a.y + BOX.height / 2, b.y + BOX.height / 2];
  if (right || left) {
    const [ax, bx] = right ? [a.x, b.x + BOX.width] : [a.x + BOX.width, b.x];
    const mid = (ax + bx) / 2;
    return `M${ax} ${ay}C${mid} ${ay} ${mid} ${by} ${bx} ${by}`;
  }
  const down = a.y < b.y;
  const [sy, ty] = down ? [a.y + BOX.height, b.y] : [a.y, b.y + BOX.height];
  const [sx, tx] = [a.x + BOX.width / 2, b.x + BOX.width / 2];
  return `M${sx} ${sy}C${sx} ${(sy + ty) / 2} ${tx} ${(sy + ty) / 2} ${tx} ${ty}`;
}
