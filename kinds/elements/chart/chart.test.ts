import { describe, expect, it } from 'vitest';
import { ElementMaker } from '../../../core/app/make.ts';
import { addScreen } from '../../../core/app/edits.ts';
import type { App, Element } from '../../../core/app/schema.ts';
import { preflight } from '../../../core/preflight/preflight.ts';
import { F, hiveApp, someRecords, T } from '../../../core/records/fixture.ts';
import { Records } from '../../../core/records/store.ts';
import { drawn } from '../../../core/session/fixture.ts';

const make = new ElementMaker();
type Chart = Extract<Element, { kind: 'chart' }>;

/** What a chart on a screen of the hives gives its view. */
function shown(more: Partial<Chart>, change: (records: Records, app: App) => void = () => {}) {
  const app = hiveApp();
  const screen = addScreen(app, 'Figures');
  screen.root.children = [make.make('chart', { title: 'Hives', ...more }, { table: app.tables[0]! })];
  const records = new Records(app, () => Date.UTC(2026, 10, 25));
  someRecords(records);
  change(records, app);
  return drawn(app, records, screen.id, null).find('chart')[0]! as unknown as {
    title: string;
    records: number;
    look: string;
    points: { label: string; value: number | null; said: string }[];
    left: number;
  };
}
const visits = { query: { table: T.visits, where: { match: 'all' as const, conditions: [] }, order: [], limit: null } };

describe('a chart', () => {
  it('counts the records of its table as one number', () => {
    const chart = shown({}, (r) => r.set(T.hives, 'new', { [F.name]: 'New' }));
    expect(chart.points).toEqual([{ label: '', value: chart.records, said: String(chart.records) }]);
    expect(chart.records).toBeGreaterThan(1);
  });
  it('puts records together by a choice in the order of its choices, those without last', () => {
    const chart = shown({ look: 'bars', by: F.status }, (r) => r.set(T.hives, 'new', { [F.name]: 'New' }));
    const labels = chart.points.map((p) => p.label);
    expect(labels).toEqual([...['Active', 'Retired'].filter((l) => labels.includes(l)), 'not filled in']);
    expect(chart.points.reduce((n, p) => n + p.value!, 0)).toBe(chart.records);
  });
  it('measures a field, with its unit, and rounds averages to what can be read', () => {
    const weigh = (r: Records): void =>
      ['a', 'b', 'c'].forEach((id, i) => r.set(T.hives, id, { [F.name]: id, [F.weight]: [1, 1, 2][i]! }));
    const only = {
      where: {
        match: 'any' as const,
        conditions: ['a', 'b', 'c'].map((n) => ({ left: F.name, op: 'is' as const, right: `"${n}"` })),
      },
    };
    const query = { table: T.hives, ...only, order: [], limit: null };
    expect(shown({ query, figure: 'sum', of: F.weight }, weigh).points).toEqual([
      { label: '', value: 4, said: '4 kg' },
    ]);
    expect(shown({ query, figure: 'average', of: F.weight }, weigh).points[0]!.said).toBe('1.33 kg');
    expect(shown({ query, figure: 'highest', of: F.weight }, weigh).points[0]!.said).toBe('2 kg');
  });
  it('shows time in days, months or years, whichever can be told apart, in order', () => {
    const at = (dates: string[], look: 'line' | 'bars' = 'bars') =>
      shown({ ...visits, look, by: F.when }, (r) => {
        for (const row of Array.from(r.rows(T.visits))) r.remove(T.visits, row.id);
        dates.forEach((d, i) => r.set(T.visits, `n${i}`, { [F.when]: d }));
      }).points.map((p) => `${p.label}: ${p.said}`);
    expect(at(['2026-11-03', '2026-11-01', '2026-11-03'])).toEqual(['1 Nov: 1', '3 Nov: 2']);
    expect(at(['2026-11-03', '2026-01-31', '2026-11-30'])).toEqual(['Jan 2026: 1', 'Nov 2026: 2']);
    expect(at(['2026-11-03', '2019-01-31'])).toEqual(['2019: 1', '2026: 1']);
    // A line leads through the days, months and years between, in which nothing was.
    expect(at(['2026-11-03', '2026-11-01'], 'line')).toEqual(['1 Nov: 1', '2 Nov: 0', '3 Nov: 1']);
    expect(at(['2026-02-03', '2025-11-30'], 'line')).toEqual([
      'Nov 2025: 1',
      'Dec 2025: 0',
      'Jan 2026: 0',
      'Feb 2026: 1',
    ]);
    expect(at(['2026-11-03', '2023-01-31'], 'line')).toEqual(['2023: 1', '2024: 0', '2025: 0', '2026: 1']);
    // A year that was mistyped does not make two thousand points.
    expect(at(['2026-11-03', '0026-11-03'], 'line')).toHaveLength(2);
  });
  it('has no value where there is none: no average of nothing, no sum of what is not filled in, and nothing in nothing', () => {
    const at = (figure: 'sum' | 'average', of: string) =>
      shown({ ...visits, look: 'line', by: F.when, figure, of }, (r) => {
        for (const row of Array.from(r.rows(T.visits))) r.remove(T.visits, row.id);
        r.set(T.visits, 'a', { [F.when]: '2026-11-01', [F.fed]: 4 });
        r.set(T.visits, 'b', { [F.when]: '2026-11-02' });
        r.set(T.visits, 'c', { [F.when]: '2026-11-04', [F.fed]: 0 });
      }).points.map((p) => [p.value, p.said]);
    const [four, none, zero] = [
      [4, '4 litres'],
      [null, 'none'],
      [0, '0 litres'],
    ];
    expect(at('sum', F.fed)).toEqual([four, none, zero, zero]);
    expect(at('average', F.fed)).toEqual([four, none, none, zero]);
  });
  it('is bars in place of a ring where a part is less than nothing', () => {
    const look = (least: number): string =>
      shown({ look: 'ring', by: F.name, figure: 'sum', of: F.weight }, (r) =>
        r.set(T.hives, 'n', { [F.name]: 'New', [F.weight]: least }),
      ).look;
    expect([look(1), look(-1)]).toEqual(['ring', 'bars']);
  });
  it('adds up what is too much to tell apart, and leaves it out where it cannot be added', () => {
    const many = (r: Records): void => {
      for (const row of Array.from(r.rows(T.hives))) r.remove(T.hives, row.id);
      for (let i = 0; i < 20; i++) r.set(T.hives, `n${i}`, { [F.name]: `Hive ${i}`, [F.weight]: i });
    };
    const counted = shown({ look: 'ring', by: F.name, figure: 'sum', of: F.weight }, many);
    expect(counted.points).toHaveLength(12);
    expect(counted.points.at(-1)).toEqual({ label: '9 others', value: 36, said: '36 kg' });
    expect(counted.points.reduce((n, p) => n + p.value!, 0)).toBe(190);
    const highest = shown({ look: 'bars', by: F.name, figure: 'highest', of: F.weight }, many);
    expect([highest.points.length, highest.left]).toEqual([12, 8]);
  });
  it('says what is missing before it is released', () => {
    const app = hiveApp();
    const screen = addScreen(app, 'Figures');
    screen.root.children = [make.make('chart', { look: 'ring', figure: 'sum' }, { table: app.tables[0]! })];
    const said = preflight(app)
      .map((n) => n.said)
      .join(' ');
    expect(said).toContain('grouped by is not chosen');
    expect(said).toContain('what it measures is not chosen');
  });
});

describe('progress', () => {
  const progress = (value: string, goal: string) => {
    const app = hiveApp();
    const screen = addScreen(app, 'Figures');
    screen.root.children = [make.make('progress', { label: 'Done', value, goal })];
    const records = new Records(app);
    someRecords(records);
    const { share, said } = drawn(app, records, screen.id, null).find('progress')[0]! as unknown as {
      share: number | null;
      said: string;
    };
    return { share, said };
  };
  it('is a share of its goal between none and all of it', () => {
    expect(progress('30', '40')).toEqual({ share: 0.75, said: '30 of 40' });
    expect(progress('50', '40').share).toBe(1);
    expect(progress('-5', '40').share).toBe(0);
  });
  it('is not known without a goal or a value', () => {
    expect(progress('3', '0').share).toBeNull();
    expect(progress('"x"', '4')).toEqual({ share: null, said: '' });
    expect(progress('3', '')).toEqual({ share: null, said: '3' });
  });
});
