import { describe, expect, it } from 'vitest';
import { F, T, hiveApp, someRecords } from '../records/fixture.ts';
import { Records } from '../records/store.ts';
import { MANY, withMany } from './many.ts';

describe('an app with many records', () => {
  const app = hiveApp();
  const records = new Records(app);
  someRecords(records);
  const before = records.rows(T.hives).map((r) => [r.id, r.get('Name')]);
  it('has copies of what is there, all the different ones alike often, and nothing else', () => {
    const many = withMany(app, records, new Set([T.hives]), 100);
    const rows = many.rows(T.hives);
    expect(rows).toHaveLength(100);
    expect(new Set(rows.map((r) => r.id)).size).toBe(100);
    const names = rows.map((r) => r.get('Name'));
    for (const [, name] of before)
      expect(Math.abs(names.filter((n) => n === name).length - 100 / before.length)).toBeLessThan(1.01);
    expect(many.rows(T.keepers)).toHaveLength(records.rows(T.keepers).length);
    expect(many.rows(T.hives)[0]!.get('Name')).toBe(before[0]![1]);
  });
  it('leaves the real ones alone', () => {
    const many = withMany(app, records, new Set([T.hives]));
    expect(many.rows(T.hives)).toHaveLength(MANY);
    many.set(T.hives, before[0]![0] as string, { [F.name]: 'Other' });
    expect(records.rows(T.hives).map((r) => [r.id, r.get('Name')])).toEqual(before);
  });
  it('takes no record away from a table with more, and makes none up for an empty one', () => {
    expect(withMany(app, records, new Set([T.hives]), 1).rows(T.hives)).toHaveLength(before.length);
    expect(withMany(app, new Records(app), new Set([T.hives])).rows(T.hives)).toEqual([]);
  });
});
