import { describe, expect, it } from 'vitest';
import { readForm } from '../session/forms.ts';
import { makeTables } from '../formats/make-app.ts';
import { draftTable, readRows } from '../formats/infer.ts';
import { exportTable } from '../formats/exported.ts';
import { compileQuery } from './query.ts';
import { F, hiveApp, someRecords, T } from './fixture.ts';
import { Records } from './store.ts';

/** Hives that are done or not, or not said. */
function open(unknown?: true) {
  const app = hiveApp();
  const hives = app.tables.find((t) => t.id === T.hives)!;
  hives.fields.push({ id: 'f_done00000', name: 'Done', type: 'yesno', ...(unknown && { unknown }) });
  const records = new Records(app);
  someRecords(records);
  const count = (right: string): number =>
    compileQuery(
      records,
      {
        table: T.hives,
        where: { match: 'all', conditions: [{ left: 'f_done00000', op: 'is', right }] },
        order: [],
        limit: null,
      },
      [],
    ).run([]).length;
  return { app, hives, records, count, row: records.row(T.hives, 'bramble')! };
}

describe('a yes/no that nobody answered', () => {
  it('is no, and found as no', () => {
    const { count, records, row } = open();
    expect([count('false'), count('true'), row.get('Done')]).toEqual([records.rows(T.hives).length, 0, false]);
    records.set(T.hives, 'bramble', { f_done00000: true });
    expect([count('true'), row.get('Done')]).toEqual([1, true]);
    records.set(T.hives, 'bramble', { f_done00000: null });
    expect(row.get('Done')).toBe(false);
  });
  it('is nothing where the maker wants three answers', () => {
    const { count, row } = open(true);
    expect([count('false'), row.get('Done')]).toEqual([0, null]);
  });
  it('is written as no by a form in which the switch was left alone', () => {
    const form = (unknown?: true) => {
      const { records, hives } = open(unknown);
      return readForm(records, hives, 'new', true, { [F.name]: 'Ash', f_done00000: null });
    };
    expect(form()).toEqual({ cells: { [F.name]: 'Ash', f_done00000: false } });
    expect(form(true)).toEqual({ cells: { [F.name]: 'Ash', f_done00000: null } });
  });
  it('alone makes no record', () => {
    const { records, hives } = open();
    expect(readForm(records, hives, 'new', true, { [F.name]: null, f_done00000: null })).toHaveProperty('problems');
  });
  it('goes out empty, and a sheet that has yes, no and empty cells keeps all three', () => {
    const { records, hives } = open();
    records.set(T.hives, 'bramble', { f_done00000: true });
    const at = hives.fields.length - 1;
    expect(exportTable(records, T.hives).rows.map((r) => r[at])).toContain(null);
    const field = (cells: string[]) => {
      const rows = [['Name', 'Done'], ...cells.map((c, i) => [`n${i}`, c])];
      const draft = draftTable({ name: 'Jobs', rows, lines: rows.map((_, i) => i + 1), notes: [], exact: [] } as never);
      return makeTables([draft], [readRows(draft)], []).tables[0]!.fields[1];
    };
    expect(field(['yes', 'no', '', 'yes'])).toMatchObject({ type: 'yesno', unknown: true });
    expect(field(['yes', 'no', 'no', 'yes'])).not.toHaveProperty('unknown');
  });
});

it('what has no moves has a sum of 0, and is found where it is compared', () => {
  const { app } = open();
  app.tables[0]!.fields.push({
    id: 'f_low000000',
    name: 'Low',
    type: 'formula',
    formula: `sum(${F.hive}_back.${F.fed}) < 1`,
  });
  app.tables.find((t) => t.id === T.visits)!.fields.push({ id: 'f_took00000', name: 'Took', type: 'duration' });
  const short = `sum(${F.hive}_back.f_took00000) < duration("PT1H")`;
  app.tables[0]!.fields.push({ id: 'f_short0000', name: 'Short', type: 'formula', formula: short });
  const records = new Records(app);
  records.set(T.hives, 'new', { [F.name]: 'New', [F.tag]: 'X' });
  const row = records.row(T.hives, 'new')!;
  expect([row.get('Low'), row.get('Short')]).toEqual([true, true]);
});
