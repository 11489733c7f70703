import { describe, expect, it } from 'vitest';
import { arranged } from './arranged.ts';

const phones = (n: number) => Array.from({ length: n }, () => [390, 844] as const);

describe('phones in a room', () => {
  it('stand in one row where that is wide, as large as its height lets them', () => {
    const { columns, scale } = arranged(phones(2), { width: 900, height: 700 });
    expect(columns).toBe(2);
    expect(scale).toBeCloseTo((700 - 52) / 860);
  });
  it('stand in rows where six in one would be smaller', () => {
    const { columns, scale } = arranged(phones(6), { width: 600, height: 900 });
    expect(columns).toBe(3);
    expect(scale * 406 * 3).toBeLessThanOrEqual(600);
    expect(scale * 860 * 2).toBeLessThanOrEqual(900);
  });
  it('are never larger than they are, nor too small to be seen', () => {
    expect(arranged(phones(1), { width: 4000, height: 4000 }).scale).toBe(1);
    expect(arranged(phones(6), { width: 100, height: 100 }).scale).toBe(0.2);
    expect(arranged([], { width: 100, height: 100 }).columns).toBe(1);
  });
});
