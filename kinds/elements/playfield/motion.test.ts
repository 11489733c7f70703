import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { LONGEST_STEP, step, type Moving } from './motion.ts';

const at = (more: Partial<Moving> = {}): Moving => ({
  key: 'a',
  x: 0.5,
  y: 0.5,
  radius: 0.05,
  heading: 0,
  speed: 0.5,
  atEdge: 'bounce',
  held: false,
  edge: false,
  met: new Set(),
  ...more,
});
const run = (f: Moving, seconds: number, height = 1): ReturnType<typeof step> => {
  const told: ReturnType<typeof step> = [];
  for (let t = 0; t < seconds - 1e-9; t += 0.01) told.push(...step([f], 0.01, height));
  return told;
};

describe('a sprite', () => {
  it('goes where it heads, as far as its speed says', () => {
    const f = at({ heading: 90 });
    run(f, 0.4);
    expect([f.x, f.y]).toEqual([expect.closeTo(0.5, 6), expect.closeTo(0.7, 6)]);
  });
  it('comes back from the edge, told once for each time it is there', () => {
    const f = at({ heading: 10 });
    const told = run(f, 4);
    expect(told.filter((t) => t.what === 'edge').length).toBeGreaterThan(1);
    expect(f.speed).toBe(0.5);
  });
  it('stops at the edge, or comes in opposite', () => {
    const stops = at({ atEdge: 'stop' });
    run(stops, 3);
    expect([stops.x, stops.speed]).toEqual([0.95, 0]);
    const through = at({ atEdge: 'through' });
    const told = run(through, 2);
    expect(through.x).toBeGreaterThan(0.2);
    expect(told).toEqual([{ key: 'a', what: 'edge' }]);
  });
  it('that is held by a finger, or has no speed, stays', () => {
    const held = at({ held: true });
    expect(run(held, 1)).toEqual([]);
    expect([held.x, held.y]).toEqual([0.5, 0.5]);
  });
  it('never leaves the field, however it goes (property)', () => {
    const heading = fc.double({ min: 0, max: 360, noNaN: true });
    const speed = fc.double({ min: 0, max: 4, noNaN: true });
    fc.assert(
      fc.property(heading, speed, fc.double({ min: 0.4, max: 2, noNaN: true }), (h, s, tall) => {
        const f = at({ heading: h, speed: s, y: tall / 2 });
        for (let i = 0; i < 300; i++) {
          step([f], LONGEST_STEP * 3, tall);
          expect(f.x).toBeGreaterThanOrEqual(f.radius - 1e-9);
          expect(f.x).toBeLessThanOrEqual(1 - f.radius + 1e-9);
          expect(f.y).toBeGreaterThanOrEqual(f.radius - 1e-9);
          expect(f.y).toBeLessThanOrEqual(tall - f.radius + 1e-9);
        }
      }),
      { numRuns: 100 },
    );
  });
});

it('two sprites meet once for each time they come together', () => {
  const [a, b] = [at({ x: 0.3 }), at({ key: 'b', x: 0.6, speed: 0 })];
  const told: unknown[] = [];
  for (let i = 0; i < 30; i++) told.push(...step([a, b], 0.02, 1));
  expect(told).toEqual([
    { key: 'a', what: 'meets', other: 'b' },
    { key: 'b', what: 'meets', other: 'a' },
  ]);
});
