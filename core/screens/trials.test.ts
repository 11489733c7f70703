import { describe, expect, it } from 'vitest';
import { F, T, hiveApp, someRecords } from '../records/fixture.ts';
import { Records } from '../records/store.ts';
import { MANY, tried, type Tried } from './trials.ts';

const app = hiveApp();
const records = new Records(app);
someRecords(records);
const before = records.rows(T.hives).map((r) => [r.id, r.get('Name')]);
const on = (screen: Partial<Tried> = {}): Tried => ({ tables: new Set([T.hives]), wants: '', given: null, ...screen });

describe('many records', () => {
  it('are copies of what is there, all the different ones alike often, and nothing else', () => {
    const rows = tried(app, records, 'many', on()).rows(T.hives);
    expect(rows).toHaveLength(MANY);
    expect(new Set(rows.map((r) => r.id)).size).toBe(MANY);
    const names = rows.map((r) => r.get('Name'));
    for (const [, name] of before)
      expect(Math.abs(names.filter((n) => n === name).length - MANY / before.length)).toBeLessThan(1.01);
    expect(rows[0]!.get('Name')).toBe(before[0]![1]);
  });
  it('are those the screen shows; other tables stay as they are', () => {
    expect(tried(app, records, 'many', on()).rows(T.keepers)).toHaveLength(records.rows(T.keepers).length);
  });
  it('leave the real ones alone', () => {
    tried(app, records, 'many', on()).set(T.hives, before[0]![0] as string, { [F.name]: 'Other' });
    expect(records.rows(T.hives).map((r) => [r.id, r.get('Name')])).toEqual(before);
  });
  it('are not made up for a table that has none', () =>
    expect(tried(app, new Records(app), 'many', on()).rows(T.hives)).toEqual([]));
});

describe('missing values', () => {
  const missing = (asks = ''): Records => tried(app, records, 'missing', on({ wants: asks }));
  it('are all but those that lead from record to record', () => {
    const hives = missing().rows(T.hives);
    expect(hives.map((r) => r.id)).toEqual(before.map(([id]) => id));
    for (const r of hives) expect([r.get('Name'), r.get('Weight')]).toEqual([null, null]);
    expect(hives.map((r) => r.cells[F.keeper])).toEqual(records.rows(T.hives).map((r) => r.cells[F.keeper]));
    // Visits are found by the tag.
    const found = (from: Records): unknown[] => from.rows(T.visits).map((r) => r.get('Hive')?.valueOf?.());
    expect(
      missing()
        .rows(T.visits)
        .filter((r) => r.get('Hive') !== null),
    ).toHaveLength(found(records).filter((v) => v !== null && v !== undefined).length);
  });
  it('are not those that the screen asks of records, also through a formula field', () => {
    expect(
      missing(`${F.status} = "Active"`)
        .rows(T.hives)
        .map((r) => r.get('Status')),
    ).toEqual(records.rows(T.hives).map((r) => r.get('Status')));
    const fed = (from: Records): unknown[] => from.rows(T.hives).map((r) => r.get('Fed in all'));
    expect(fed(missing(`${F.perVisit} > 1`))).toEqual(fed(records));
    expect(fed(missing())).not.toEqual(fed(records));
  });
});

describe('no records', () => {
  it('are none of those the screen shows, but the one it is about and those that leads to', () => {
    const [hive] = records.rows(T.hives);
    const none = tried(app, records, 'none', {
      tables: new Set([T.hives, T.visits, T.keepers]),
      wants: '',
      given: { table: T.hives, record: hive!.id },
    });
    expect(none.rows(T.hives).map((r) => r.id)).toEqual([hive!.id]);
    expect(none.rows(T.visits)).toEqual([]);
    expect(none.rows(T.keepers).map((r) => r.id)).toEqual([hive!.cells[F.keeper]].flat().filter(Boolean));
    expect(none.rows(T.hives)[0]!.get('Name')).toBe(hive!.get('Name'));
  });
  it('leaves the records of what the screen does not show', () =>
    expect(tried(app, records, 'none', on()).rows(T.visits)).toHaveLength(records.rows(T.visits).length));
});
