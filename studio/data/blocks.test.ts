import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { Table } from '../../core/app/schema.ts';
import type { GridPage } from '../engine/looking.ts';
import { blockOf, blockText, cellsOf, clearDrafts, fillDrafts, pasteDrafts } from './blocks.ts';

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
