import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { FieldType, Table } from '../../core/tables/schema.ts';
import { DaysDuration } from '../../core/formula/values.ts';
import { toCell } from '../../core/records/cells.ts';
import type { Cell } from '../../core/fields/lists.ts';
import { F, hiveApp, T } from '../../core/records/fixture.ts';
import type { GridPage, GridRow } from '../engine/looking.ts';
import { blockOf, blockText, cellsOf, clearDrafts, fillDrafts, pasteDrafts, writtenOver } from './blocks.ts';

const table: Table = {
  id: 't_boats000',
  name: 'Boats',
  one: 'boat',
  titleField: 'f_name000',
  pictureField: null,
  fields: [
    { id: 'f_name000', name: 'Name', type: 'text' },
    { id: 'f_length0', name: 'Length', type: 'number' },
    { id: 'f_out0000', name: 'Out', type: 'yesno' },
    { id: 'f_sum0000', name: 'Sum', type: 'formula', formula: '1' },
  ],
};
const columns = table.fields.map((field, place) => ({ field, place }));
const row = (
  id: string,
  name: string | null,
  length: number | null,
  out: boolean | null,
): GridPage['rows'][number] => ({
  id,
  cells: [
    { raw: name, shown: name ?? '' },
    { raw: length, shown: String(length ?? '') },
    { raw: out, shown: '' },
    { raw: null, shown: '1' },
  ],
});
const rows = [row('a', 'Tern', 6.5, true), row('b', 'Old "Otter"', null, false)];

describe('blocks of the grid', () => {
  it('are copied with tabs, what is worked out by its value', () => {
    expect(blockText(columns, rows, blockOf({ row: 1, column: 3 }, { row: 0, column: 0 }))).toBe(
      'Tern\t6.5\tyes\t1\r\n"Old ""Otter"""\t\tno\t1',
    );
  });
  it('come back as they went (property)', () => {
    const name = fc
      .string({ minLength: 1, maxLength: 10 })
      .filter((s) => s.trim() === s && s !== '' && !s.includes('\0'));
    fc.assert(
      fc.property(fc.array(fc.tuple(name, fc.integer(), fc.boolean()), { minLength: 1, maxLength: 6 }), (list) => {
        const text = blockText(
          columns,
          list.map(([n, l, o], i) => row(`r${i}`, n, l, o)),
          { top: 0, bottom: list.length - 1, left: 0, right: 2 },
        );
        const pasted = pasteDrafts(
          table,
          columns,
          cellsOf(text),
          list.map((_, i) => `r${i}`),
          0,
          () => 'new',
        );
        expect(pasted.drafts.map((d) => d.do === 'set' && d.cells)).toEqual(
          list.map(([n, l, o]) => ({ f_name000: n, f_length0: l, f_out0000: o })),
        );
        expect(pasted.left).toBe(0);
      }),
    );
  });
  it('of any type come back as they went (property)', () => {
    const fields = (
      [
        ['percent', fc.integer({ min: -1e5, max: 1e5 }).map((n) => n / 1000)],
        ['duration', fc.integer({ min: 0, max: 1e6 }).map((m) => toCell(new DaysDuration(m * 60_000)))],
        ['place', fc.constantFrom('54.1,-2.25', '0,0')],
        ['datetime', fc.constantFrom('2026-11-23T08:25:00', '1999-01-02T00:00:00')],
        ['date', fc.constantFrom('2026-11-23', null)],
        ['money', fc.integer({ min: -1e6, max: 1e6 }).map((n) => n / 100)],
        ['time', fc.constantFrom('08:25:00', null)],
      ] as [FieldType, fc.Arbitrary<Cell>][]
    ).map(([type, cells], i) => ({ field: { id: `f_type000${i}`, name: type, type }, place: i, cells }));
    const kinds: Table = { ...table, fields: fields.map((f) => f.field) };
    fc.assert(
      fc.property(fc.tuple(...fields.map((f) => f.cells)), (cells) => {
        const line = { id: 'a', cells: cells.map((raw) => ({ raw, shown: '' })) };
        const text = blockText(fields, [line], { top: 0, bottom: 0, left: 0, right: fields.length - 1 });
        const [draft] = pasteDrafts(kinds, fields, cellsOf(text), ['a'], 0, () => 'new').drafts;
        expect(draft?.do === 'set' && fields.map((f) => draft.cells[f.field.id] ?? null)).toEqual(cells);
      }),
    );
  });
  it('add records below the last, leave what does not fit, and say how much', () => {
    let n = 0;
    const pasted = pasteDrafts(
      table,
      columns,
      cellsOf('Auk\tlong\tyes\t5\r\nGull\t7,5\tno\t\n'),
      ['a'],
      0,
      () => `new${++n}`,
    );
    expect(pasted).toEqual({
      left: 2,
      added: 1,
      drafts: [
        { do: 'set', table: table.id, record: 'a', cells: { f_name000: 'Auk', f_out0000: true } },
        { do: 'set', table: table.id, record: 'new1', cells: { f_name000: 'Gull', f_length0: 7.5, f_out0000: false } },
      ],
    });
  });
  it('are filled down and emptied, formula fields left alone', () => {
    const block = { top: 0, bottom: 1, left: 1, right: 3 };
    expect(fillDrafts(table, columns, rows, block)).toEqual([
      { do: 'set', table: table.id, record: 'b', cells: { f_length0: 6.5, f_out0000: true } },
    ]);
    expect(clearDrafts(table, columns, rows, block)).toHaveLength(2);
    expect(cellsOf('')).toEqual([]);
  });
});

describe('what a paste writes over', () => {
  it('counts filled cells that get another value, and their records', () => {
    const [table] = hiveApp().tables;
    const field = (id: string) => table!.fields.find((f) => f.id === id)!;
    const columns = [
      { field: field(F.name), place: 0 },
      { field: field(F.weight), place: 1 },
    ];
    const row = (id: string, name: string, weight: number | null): GridRow =>
      ({
        id,
        cells: [
          { raw: name, shown: name },
          { raw: weight, shown: '' },
        ],
      }) as unknown as GridRow;
    const rows = [row('a', 'Bramble', 12), row('b', '', null), row('c', 'Clover', 20)];
    const set = (record: string, cells: Record<string, string | number>) =>
      ({ do: 'set', table: T.hives, record, cells }) as const;
    expect(
      writtenOver(columns, rows, [
        set('a', { [F.name]: 'Heather', [F.weight]: 13 }),
        set('b', { [F.name]: 'New', [F.weight]: 1 }),
        set('c', { [F.name]: 'Clover' }),
        set('new', { [F.name]: 'Other' }),
      ]),
    ).toEqual({ cells: 2, records: 1 });
  });
});
