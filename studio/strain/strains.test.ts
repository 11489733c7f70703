import { expect, it, vi } from 'vitest';
import type { DrawnNode } from '../../core/screens/element.ts';
import { inTrial, longestIn } from './strains.ts';

const node = (id: string, row: string | null, more: Record<string, unknown>): DrawnNode => ({
  id,
  key: row ? `list/${row}/${id}` : id,
  kind: 'text',
  ...more,
});
const patch = (set: DrawnNode[]) => ({ root: 'r', title: 'T', missing: null, set, gone: [] });

it('every text is as long as the longest of its element in all its rows, also of those that came before', () => {
  const longest = new Map<string, string>();
  longestIn(patch([node('a', '1', { words: 'a long one that came first', width: 5 })]), longest);
  const { set } = longestIn(
    patch([node('a', '2', { words: 'short', kind: 'text' }), node('b', '2', { words: 'other', value: 'so' })]),
    longest,
  );
  expect(set.map((n) => [n['words'], n['value'], n.kind])).toEqual([
    ['a long one that came first', undefined, 'text'],
    ['other', 'so', 'text'],
  ]);
});

it('in a trial the screen is the other engine’s, and what is around it the real one’s', async () => {
  const api = { show: vi.fn(async () => true), leave: vi.fn(async () => undefined) };
  const trials = {
    show: vi.fn(async (_view: string, _trial: string, screen: string) => (screen === 'frame' ? null : 12)),
    look: vi.fn(async () => undefined),
    leave: vi.fn(async () => undefined),
  };
  const took: number[] = [];
  const many = inTrial(api as never, 'many', { trials } as never, (ms) => took.push(ms));
  const take = async (): Promise<void> => undefined;
  expect(await many.show('v', 'home', null, take)).toBe(true);
  expect([took, api.show.mock.calls.length]).toEqual([[12], 0]);
  expect(await many.show('w', 'frame', null, take)).toBe(true);
  expect(api.show.mock.calls).toEqual([['w', 'frame', null, take]]);
  await many.look('v', 'k', { from: 1 });
  await many.leave('v');
  expect([trials.look.mock.calls.length, trials.leave.mock.calls.length]).toEqual([1, 1]);
});
