/** A sprite of a play field as it moves. Lengths are shares of the width of the field. */
export interface Moving {
  key: string;
  x: number;
  y: number;
  /** Half its width. */
  radius: number;
  /** Degrees: 0 to the right, 90 down. */
  heading: number;
  /** Widths of the field a second. */
  speed: number;
  atEdge: 'bounce' | 'through' | 'stop';
  /** Held by a finger: it is moved by that alone. */
  held: boolean;
  /** It stood at an edge before, or met these, so that each is told once. */
  edge: boolean;
  met: Set<string>;
}

/** What happened in a step: a sprite came to an edge, or began to touch another. */
export type Met = { key: string; what: 'edge' } | { key: string; what: 'meets'; other: string };

/** A slow page takes no longer steps than this, in seconds, so that nothing goes through another. */
export const LONGEST_STEP = 0.05;

/** Moves sprites on by so many seconds in a field of this height to its width. Changes them, and tells what they met. */
export function step(sprites: readonly Moving[], seconds: number, height: number): Met[] {
  const told: Met[] = [];
  const dt = Math.min(seconds, LONGEST_STEP);
  for (const f of sprites) {
    if (f.held || f.speed === 0) continue;
    const turn = (f.heading * Math.PI) / 180;
    f.x += Math.cos(turn) * f.speed * dt;
    f.y += Math.sin(turn) * f.speed * dt;
    const was = f.edge;
    f.edge = atEdges(f, height);
    if (f.edge && !was) told.push({ key: f.key, what: 'edge' });
  }
  for (let i = 0; i < sprites.length; i++)
    for (let k = i + 1; k < sprites.length; k++) {
      const [a, b] = [sprites[i]!, sprites[k]!];
      const touches = (a.x - b.x) ** 2 + (a.y - b.y) ** 2 < (a.radius + b.radius) ** 2;
      // Most touch nothing, which their size tells without a look into each.
      const before = a.met.size > 0 && a.met.has(b.key);
      if (touches && !before) {
        told.push({ key: a.key, what: 'meets', other: b.key }, { key: b.key, what: 'meets', other: a.key });
        a.met.add(b.key);
        b.met.add(a.key);
      } else if (!touches && before) {
        a.met.delete(b.key);
        b.met.delete(a.key);
      }
    }
  return told;
}

/** What a sprite does at the edges; true when it is at one. */
function atEdges(f: Moving, height: number): boolean {
  const low = f.radius;
  const [right, bottom] = [1 - f.radius, height - f.radius];
  if (f.atEdge === 'through') {
    const out = f.x < -low || f.x > 1 + low || f.y < -low || f.y > height + low;
    f.x = around(f.x, -low, 1 + low);
    f.y = around(f.y, -low, height + low);
    return out;
  }
  const [overX, overY] = [f.x < low || f.x > right, f.y < low || f.y > bottom];
  if (!overX && !overY) return false;
  if (f.atEdge === 'stop') f.speed = 0;
  else {
    const turn = (f.heading * Math.PI) / 180;
    let [dx, dy] = [Math.cos(turn), Math.sin(turn)];
    // Back into the field, whichever way it went.
    if (overX) dx = f.x < low ? Math.abs(dx) : -Math.abs(dx);
    if (overY) dy = f.y < low ? Math.abs(dy) : -Math.abs(dy);
    f.heading = ((Math.atan2(dy, dx) * 180) / Math.PI + 360) % 360;
  }
  f.x = Math.min(Math.max(f.x, low), right);
  f.y = Math.min(Math.max(f.y, low), bottom);
  return true;
}

const around = (n: number, low: number, high: number): number => (n < low ? high : n > high ? low : n);
