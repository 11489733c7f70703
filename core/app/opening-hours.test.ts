import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { readFreeDays, readTimes, timesText } from './opening-hours.ts';
import { WorkSchema } from './work-schema.ts';

describe('opening hours', () => {
  it('are read as people type them', () => {
    expect(readTimes('9-12, 13.30 to 17:00')).toEqual({ times: [[540, 720], [810, 1020]] }); // prettier-ignore
    expect(readTimes('14:00–24:00')).toEqual({ times: [[840, 1440]] });
    for (const none of ['', ' closed ', '–']) expect(readTimes(none)).toEqual({ times: [] });
  });
  it.each([
    ['nine to five', 'is no time'],
    ['9:00–25:00', 'beyond the hours'],
    ['9:75–10:00', 'beyond the hours'],
    ['17–9', 'ends before'],
    ['9–12, 11–13', 'overlap'],
    ['1-2,3-4,5-6,7-8,9-10', 'at most'],
  ])('%s is said to be wrong', (typed, said) => {
    const read = readTimes(typed);
    expect('problem' in read && read.problem).toContain(said);
  });
  it('come back from what is written of them (property)', () => {
    const day = fc.uniqueArray(fc.integer({ min: 0, max: 1440 }), { maxLength: 8 }).map((edges) => {
      const s = [...edges].sort((a, b) => a - b);
      return Array.from({ length: s.length >> 1 }, (_, i): [number, number] => [s[2 * i]!, s[2 * i + 1]!]);
    });
    fc.assert(
      fc.property(day, (times) => {
        expect(readTimes(timesText(times))).toEqual({ times });
        expect(WorkSchema.safeParse({ days: [times, [], [], [], [], [], []], free: [] }).success).toBe(true);
      }),
    );
  });
  it('have days off, each once and in order', () => {
    expect(readFreeDays('2026-12-26, 2026-12-25\n2026-12-25')).toEqual({ free: ['2026-12-25', '2026-12-26'] });
    expect(readFreeDays('2026-02-30')).toEqual({ problem: '“2026-02-30” is no date. Type it as 2026-12-25.' });
  });
});
