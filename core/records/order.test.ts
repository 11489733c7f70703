import fc from 'fast-check';
import { expect, it } from 'vitest';
import { compareKeys, FirstInOrder, sortKey, type SortKey } from './order.ts';

const key = fc.oneof(fc.constant(null), fc.integer({ min: 0, max: 5 }), fc.constantFrom('a', 'b', 'hive 000000000002'));
const rows = fc.array(fc.tuple(key, key));
const directions = fc.tuple(fc.constantFrom(1, -1), fc.constantFrom(1, -1));

it('the first few are those that ordering everything puts first (property)', () => {
  fc.assert(
    fc.property(rows, directions, fc.nat(8), (keys: SortKey[][], dir, n) => {
      const all = keys.map((_, i) => i).sort((a, b) => compareKeys(keys[a]!, keys[b]!, dir) || a - b);
      const first = new FirstInOrder<number>(n, dir);
      keys.forEach((k, i) => first.offer(i, (order) => k[order]!));
      expect(first.items).toEqual(all.slice(0, n));
    }),
  );
});
it('texts are ordered without case and accents, with their numbers counted', () => {
  const sorted = (list: string[]): string[] => [...list].sort((a, b) => compareKeys([sortKey(a)], [sortKey(b)], [1]));
  expect(sorted(['Hive 10', 'hive 9', 'Éclair', 'eden', 'Zoo'])).toEqual([
    'Éclair',
    'eden',
    'hive 9',
    'Hive 10',
    'Zoo',
  ]);
});
