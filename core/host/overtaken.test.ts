import { expect, it } from 'vitest';
import { F, hiveApp, someRecords, T } from '../records/fixture.ts';
import { Records } from '../records/store.ts';
import { overtakenSaid } from './overtaken.ts';

it('what was changed later elsewhere is told by the names of its fields and its record, and how many more there are', () => {
  const records = new Records(hiveApp());
  someRecords(records);
  const of = (record: string, ...fields: string[]) => ({ table: T.hives, record, fields });
  const model = records.model.tables.get(T.hives)!;
  const [weight, name] = [F.weight, F.name].map((f) => model.fields.get(f)!.name);
  expect(overtakenSaid(records, [])).toBe('');
  expect(overtakenSaid(records, [of('clover', F.weight)])).toBe(
    `${weight} of Clover was also changed elsewhere, later. That value stands.`,
  );
  expect(overtakenSaid(records, [of('clover', F.weight, F.name), of('bramble', F.name)])).toBe(
    `${weight} and ${name} of Clover were also changed elsewhere, later. Those values stand. So was another record.`,
  );
  expect(overtakenSaid(records, [of('gone', 'f_gone00000'), of('a', F.name), of('b', F.name)])).toBe(
    'A field of this hive was also changed elsewhere, later. That value stands. So were 2 other records.',
  );
});
