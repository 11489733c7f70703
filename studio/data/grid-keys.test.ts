import { expect, it } from 'vitest';
import { saidBy } from './grid-keys.ts';

it('a word typed into a yes/no cell says what it begins with, and its other letters nothing', () => {
  expect([...'yes'].map(saidBy)).toEqual([true, null, null]);
  expect([...'No'].map(saidBy)).toEqual([false, null]);
  expect(['', '1', 'x', ' '].map(saidBy)).toEqual([null, null, null, null]);
});
