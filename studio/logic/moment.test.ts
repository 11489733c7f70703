import { describe, expect, it } from 'vitest';
import { momentWords } from './moment.ts';

const at = (text: string): number => new Date(text).getTime();
const now = at('2026-12-30T10:00:00');

describe('a moment in words', () => {
  it.each([
    ['2026-12-30T16:05:00', '16:05'],
    ['2026-12-31T09:00:00', 'tomorrow, 09:00'],
    ['2026-12-29T23:59:00', 'yesterday, 23:59'],
    ['2026-11-06T08:00:00', 'Fri 6 Nov, 08:00'],
    ['2027-01-12T09:00:00', 'Tue 12 Jan 2027, 09:00'],
  ])('%s is %s', (text, said) => expect(momentWords(at(text), now)).toBe(said));
});
