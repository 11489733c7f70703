import { describe, expect, it } from 'vitest';
import { F, T, hiveApp, someRecords } from '../records/fixture.ts';
import { Records } from '../records/store.ts';
import { draftTable } from './infer.ts';
import { likelyKeys, matchColumns, planMerge } from './reimport.ts';
import { readSheets } from './read.ts';

async function plan(csv: string, keys?: string[]) {
  const app = hiveApp();
  const table = app.tables[0]!;
  table.fields.find((f) => f.id === F.weight)!.most = 90;
  const records = new Records(app);
  someRecords(records);
  const draft = draftTable((await readSheets('Hives.csv', new TextEncoder().encode(csv)))[0]!);
  const mapping = matchColumns(table, draft);
  let n = 0;
  return {
    mapping,
    likely: likelyKeys(table, mapping),
    ...planMerge(table, records.rows(T.hives), draft, mapping, keys ?? likelyKeys(table, mapping), () => `new${++n}`),
  };
}

describe('bringing a sheet into a table that is there', () => {
  it('finds records by key: some are new, some change, some are the same', async () => {
    const p = await plan('name,tag-code,Weight\nBramble,hb-1,14.2\nClover,HB-2,23\nThistle,HB-3,9');
    expect(p.mapping).toEqual([F.name, F.tag, F.weight]);
    expect(p.likely).toEqual([F.tag]);
    expect(p.add).toEqual([
      { do: 'set', table: T.hives, record: 'new1', cells: { [F.name]: 'Thistle', [F.tag]: 'HB-3', [F.weight]: 9 } },
    ]);
    expect(p.change).toEqual([{ do: 'set', table: T.hives, record: 'clover', cells: { [F.weight]: 23 } }]);
    expect(p.same).toBe(1);
  });
  it('an empty cell leaves what is there, a column nobody knows is left out', async () => {
    const p = await plan('Tag code,Weight,Colour\nHB-1,,red\nHB-2,22,blue');
    expect(p.mapping).toEqual([F.tag, F.weight, null]);
    expect(p.change).toHaveLength(1);
    expect(p.same).toBe(1);
  });
  it('refuses what does not fit, has no key, or comes twice, with the line', async () => {
    const p = await plan('Tag code,Weight\nHB-1,heavy\n,12\nHB-2,95\nHB-3,1\nhb-3,2');
    expect(p.refused).toEqual([
      { line: 2, reason: '“heavy” does not fit Weight.' },
      { line: 3, reason: 'Tag code is empty, so the record it belongs to is not known.' },
      { line: 4, reason: 'Weight is at most 90.' },
      { line: 6, reason: 'It is about the same record as line 5.' },
    ]);
    expect(p.add).toHaveLength(1);
  });
  it('finds records by two fields together, or makes all of them new', async () => {
    expect(
      (await plan('Name,Tag code,Weight\nBramble,HB-2,1\nClover,HB-2,1', [F.name, F.tag])).change.map((c) => c.record),
    ).toEqual(['clover']);
    expect((await plan('Name,Tag code\nBramble,HB-1', [])).add).toHaveLength(1);
  });
});
