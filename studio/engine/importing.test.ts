import type { Written } from '../../core/host/undo.ts';
import { describe, expect, it } from 'vitest';
import type { Draft } from '../../core/records/change.ts';
import { F, T, hiveApp, someRecords } from '../../core/records/fixture.ts';
import { Claims, recordProblem } from '../../core/records/checks.ts';
import { Records } from '../../core/records/store.ts';
import { Titles } from '../../core/records/titles.ts';
import { Importing } from './importing.ts';

const rows = (count: number): string =>
  `Tag code;Name;Weight\n${Array.from({ length: count }, (_, i) => `NEW-${i};Hive ${i};1,5`).join('\n')}\n`;

async function open(csv: string, unique = false) {
  const app = hiveApp();
  if (unique) app.tables[0]!.fields[1]!.unique = true;
  const records = new Records(app);
  someRecords(records);
  const problem = (d: Draft, claims?: Claims): string | null =>
    d.do !== 'set'
      ? null
      : ((recordProblem(records, d.table, d.record, d.cells) ?? claims?.claim(d.table, d.record, d.cells))?.said ??
        null);
  const importing = new Importing(
    problem,
    () => new Claims(records),
    () => new Titles(records),
  );
  const table = records.model.tables.get(T.hives)!.table;
  const preview = await importing.read(
    table,
    records.rows(T.hives),
    'h.csv',
    new TextEncoder().encode(csv),
    csv.length,
  );
  const edit = async (drafts: Draft[]): Promise<Written> => {
    for (const d of drafts) if (d.do === 'set') records.set(d.table, d.record, { ...d.cells });
    return { made: [], back: drafts.map((d) => ({ do: 'remove', table: d.table, record: d.record })) };
  };
  return { records, importing, preview, edit, table };
}

describe('bringing a file into a table', () => {
  it('goes in parts, says how far it is, and gives what undoes all of it', async () => {
    const { importing, preview, edit, records } = await open(rows(2500));
    expect([preview.added, preview.columns[2]!.decimal]).toEqual([2500, ',']);
    const seen: [number, number][] = [];
    const result = await importing.run(edit, (done, of) => seen.push([done, of]));
    expect(seen).toEqual([
      [1000, 2500],
      [2000, 2500],
      [2500, 2500],
    ]);
    expect(result).toMatchObject({ done: 2500, stopped: false, refused: [] });
    expect(result.written.back).toHaveLength(2500);
    expect(records.rows(T.hives)).toHaveLength(2502);
  });
  it('stops between two parts, and what came in by then can be undone', async () => {
    const { importing, edit } = await open(rows(5000));
    const result = await importing.run(edit, (done) => done >= 2000 && importing.stop());
    expect(result).toMatchObject({ done: 2000, stopped: true });
    expect(result.written.back).toHaveLength(2000);
  });
  it('refuses beforehand what the records would refuse, and at its turn what the file says twice', async () => {
    const csv = 'Name;Tag code\nOther;HB-1\nFern;X-1\nMoss;X-1\n';
    const { importing, preview, edit, table, records } = await open(csv, true);
    const by = importing.change(table, records.rows(T.hives), { keys: [F.name] });
    expect(preview.keys).toEqual([F.tag]);
    expect(by.refused).toEqual([{ line: 2, reason: 'Tag code “HB-1” is taken by another hive.' }]);
    const result = await importing.run(edit, () => {});
    expect(by.added).toBe(2);
    expect(result.done).toBe(1);
    expect(result.refused).toEqual([{ line: 4, reason: 'Tag code “X-1” is taken by another hive.' }]);
  });
  it('reads a column the other way when it is told to', async () => {
    const { importing, table, records } = await open('Tag code;Name;Weight\nA;x;1.234\n');
    const other = importing.change(table, records.rows(T.hives), { column: { at: 2, decimal: ',' } });
    expect(other.columns[2]!.decimal).toBe(',');
    let cells: unknown;
    await importing.run(
      async (drafts) => {
        const [first] = drafts;
        cells = first?.do === 'set' && first.cells[F.weight];
        return { made: [], back: [] };
      },
      () => {},
    );
    expect(cells).toBe(1234);
  });
});
