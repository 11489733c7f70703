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
    const { columns, scale } = arranged(phones(6), { width: 1300, height: 1500 });
    expect(columns).toBe(3);
    expect(scale * 406 * 3).toBeLessThanOrEqual(1300);
    expect(scale * 860 * 2).toBeLessThanOrEqual(1500);
  });
  it('go beyond the lower edge, never the side, before they are too small to be used', () => {
    const { columns, scale } = arranged(phones(6), { width: 900, height: 630 });
    expect(columns).toBe(4);
    expect(scale).toBeGreaterThanOrEqual(0.45);
    expect(scale * 406 * 4 + 5 * 18).toBeLessThanOrEqual(900.001);
  });
  it('are never larger than they are, and never nothing', () => {
    expect(arranged(phones(1), { width: 4000, height: 4000 }).scale).toBe(1);
    expect(arranged(phones(6), { width: 100, height: 100 }).scale).toBe(0.2);
    expect(arranged([], { width: 100, height: 100 }).columns).toBe(1);
  });
});
