import { describe, expect, it } from 'vitest';
import type { TraceEntry } from '../state/trace.ts';
import { ALL, peopleOf, shownOf } from './trace-filter.ts';

const entry = (key: number, said: string, more: Partial<TraceEntry> = {}): TraceEntry => ({
  key,
  said,
  tone: 'plain',
  at: new Date(0),
  ...more,
});
const run = { routine: 'q_a', name: 'Weigh', given: '', steps: [], ms: 1 };
const trace = [
  entry(1, 'Opened Hives', { about: { screen: 's_hives' } }),
  entry(2, 'Ran Weigh for Bramble', {
    run: {
      ...run,
      steps: [{ step: 'p_1', path: [], turns: [], said: 'Set Bramble', gave: '12 kg', ms: 1 }],
    },
    about: { routine: 'q_a' },
  }),
  entry(3, 'Weigh stopped: it rains', { run, tone: 'bad', about: { routine: 'q_a' } }),
  entry(4, 'Changed the gap of List', { about: { screen: 's_hives', element: 'e_list' } }),
];
const keys = (filter: Partial<typeof ALL>): number[] => shownOf(trace, { ...ALL, ...filter }).map((t) => t.key);

describe('the trace', () => {
  it('stands newest first', () => expect(keys({})).toEqual([4, 3, 2, 1]));
  it('is looked through by kind, and by what it names', () => {
    expect(keys({ kind: 'runs' })).toEqual([3, 2]);
    expect(keys({ kind: 'problems' })).toEqual([3]);
    expect(keys({ kind: 'phone' })).toEqual([1]);
    expect(keys({ kind: 'edits' })).toEqual([4]);
    expect(keys({ of: 's_hives' })).toEqual([4, 1]);
    expect(keys({ of: 'q_a', kind: 'problems' })).toEqual([3]);
  });
  it('is looked through by who used the phone', () => {
    const by = [
      entry(1, 'Opened Hives', { person: 'Odile' }),
      entry(2, 'Changed the gap of List'),
      entry(3, 'Opened Hives', { person: 'Bo' }),
      entry(4, 'Opened Visits', { person: null }),
    ];
    expect(peopleOf(by)).toEqual(['Bo', 'Odile']);
    expect(shownOf(by, { ...ALL, by: 'Odile' }).map((t) => t.key)).toEqual([1]);
    expect(shownOf(by, ALL)).toHaveLength(4);
  });
  it('is searched in the steps of its runs too', () => {
    expect(keys({ words: ' 12 KG ' })).toEqual([2]);
    expect(keys({ words: 'weigh' })).toEqual([3, 2]);
    expect(keys({ words: 'nothing of the kind' })).toEqual([]);
  });
});
