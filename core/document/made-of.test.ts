import { expect, it } from 'vitest';
import { madeOf } from './made-of.ts';

it('is made once of a frozen part, and each time of one that may be changed in place', () => {
  let times = 0;
  const lengthOf = madeOf((list: readonly number[]) => {
    times++;
    return list.length;
  });
  const open = [1, 2];
  expect(lengthOf(open)).toBe(2);
  open.push(3);
  expect(lengthOf(open)).toBe(3);
  const frozen = Object.freeze([1]);
  expect([lengthOf(frozen), lengthOf(frozen), times]).toEqual([1, 1, 3]);
});
