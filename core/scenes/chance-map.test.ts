import { describe, expect, it } from 'vitest';
import { ChanceMap, ChanceMemory, tapping } from './chance-map.ts';
import { clubApp, screenOf } from './clubs.fixture.ts';

describe('what is not done yet', () => {
  const app = clubApp();
  const map = new ChanceMap(app);
  const [hives, hive] = ['Hives', 'Hive'].map((name) => screenOf(app, name)) as [string, string];

  it('is on a screen itself, or so many taps away', () => {
    const memory = new ChanceMemory();
    expect(map.distances(memory, 0).get(hives)).toBe(0);
    // Nobody finds anything new on the list any more: the page of a hive is the next.
    for (let i = 0; i < 6; i++) memory.visit(hives);
    expect(map.distances(memory, 0).get(hives)).toBe(1);
    expect(map.distances(memory, 0).get(hive)).toBe(0);
    expect(map.distances(memory, 1).get(hives)).toBe(0);
  });

  it('of a part is done with one of its places', () => {
    const memory = new ChanceMemory();
    memory.done(tapping('e_place00000.e_inner00000'));
    expect(memory.often(tapping('e_place00000'))).toBe(1);
    expect(memory.often(tapping('e_place00000.e_other00000'))).toBe(0);
  });
});
