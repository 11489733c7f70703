import { describe, expect, it, vi } from 'vitest';
import type { DrawnNode } from '../../core/screens/element.ts';
import { strainedPatch, withManyRecords } from './strains.ts';

const node = (id: string, row: string | null, more: Record<string, unknown>): DrawnNode => ({
  id,
  key: row ? `list/${row}/${id}` : id,
  kind: 'text',
  ...more,
});
const patch = (set: DrawnNode[]) => ({ root: 'r', title: 'T', missing: null, set, gone: [] });
const strain = (set: DrawnNode[], values: 'longest' | 'missing' | 'no records', longest = new Map<string, string>()) =>
  strainedPatch(patch(set), values, longest).set;

describe('a screen under strain', () => {
  it('shows the longest text of each element in all its rows, also of those that came before', () => {
    const longest = new Map<string, string>();
    strain([node('a', '1', { words: 'a long one that came first' })], 'longest', longest);
    const now = strain([node('a', '2', { words: 'short' }), node('b', '2', { words: 'other' })], 'longest', longest);
    expect(now.map((n) => n['words'])).toEqual(['a long one that came first', 'other']);
  });
  it('has no values where records have them, and keeps the maker’s own words', () => {
    const now = strain(
      [
        node('t', null, { words: 'Hives' }),
        node('a', '1', { words: 'Clover' }),
        node('v', null, { value: '3 kg', label: 'Weight' }),
      ],
      'missing',
    );
    expect(now.map((n) => n['words'] ?? n['value'])).toEqual(['Hives', '', '']);
    expect(now[2]!['label']).toBe('Weight');
  });
  it('has lists without records', () => {
    const rows = [{ key: 'k', record: 'r', children: [] }];
    const [list, text] = strain(
      [node('l', null, { rows, total: 9, from: 0 }), node('t', null, { words: 'x' })],
      'no records',
    );
    expect(list).toMatchObject({ rows: [], total: 0 });
    expect(text!['words']).toBe('x');
  });
  it('has boards without columns and plans without marks', () => {
    const [board, plan] = strain(
      [
        node('b', null, { rows: [], records: 9, columns: [{ key: 'x' }] }),
        node('p', null, { rows: [], records: 9, marks: [{ record: 'r' }] }),
      ],
      'no records',
    );
    expect([board!['columns'], board!['records'], plan!['marks']]).toEqual([[], 0, []]);
    expect(board).not.toHaveProperty('marks');
  });
});

it('with many records the screen is the other engine’s, and what is around it the real one’s', async () => {
  const api = { show: vi.fn(async () => true), leave: vi.fn(async () => undefined) };
  const engine = {
    showMany: vi.fn(async (_view: string, screen: string) => (screen === 'frame' ? null : 12)),
    lookMany: vi.fn(async () => undefined),
    leaveMany: vi.fn(async () => undefined),
  };
  const took: number[] = [];
  const many = withManyRecords(api as never, engine as never, (ms) => took.push(ms));
  const take = async (): Promise<void> => undefined;
  expect(await many.show('v', 'home', null, take)).toBe(true);
  expect([took, api.show.mock.calls.length]).toEqual([[12], 0]);
  expect(await many.show('w', 'frame', null, take)).toBe(true);
  expect(api.show.mock.calls).toEqual([['w', 'frame', null, take]]);
  await many.look('v', 'k', { from: 1 });
  await many.leave('v');
  expect([engine.lookMany.mock.calls.length, engine.leaveMany.mock.calls.length]).toEqual([1, 1]);
});
