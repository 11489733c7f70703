import { expect, it } from 'vitest';
import { timeTaken } from './time-taken.ts';

it.each([
  [0.04, '0.0 ms'],
  [9.96, '10.0 ms'],
  [12.4, '12 ms'],
  [12_793, '12.8 s'],
  [60_000, '1 min'],
  [185_000, '3 min 5 s'],
  [7_384_000, '2 h 3 min'],
])('%d ms reads %s', (ms, said) => expect(timeTaken(ms)).toBe(said));
