import { describe, expect, it } from 'vitest';
import { bring } from '../../../core/formats/bring.ts';
import { draftTable, readRows } from '../../../core/formats/infer.ts';
import { readSheets } from '../../../core/formats/read.ts';
import { readJson } from './read.ts';

const sheets = (value: unknown) =>
  readJson('Hives', typeof value === 'string' ? value : JSON.stringify(value), '“hives.json”');
const rows = (value: unknown) => sheets(value).map((s) => [s.name, ...s.rows]);

describe('tables in JSON', () => {
  it('are lists of objects, by rows, by columns or by lines', () => {
    const table = ['Hives', ['Name', 'Weight', 'Fed'], ['Bramble', '14.5', 'yes'], ['Clover', '', 'no']];
    const list = [
      { Name: 'Bramble', Weight: 14.5, Fed: true },
      { Name: 'Clover', Weight: null, Fed: false },
    ];
    expect(rows(list)).toEqual([table]);
    expect(rows({ Name: ['Bramble', 'Clover'], Weight: [14.5, null], Fed: [true, false] })).toEqual([table]);
    expect(rows(list.map((r) => JSON.stringify(r)).join('\n'))).toEqual([table]);
    expect(rows({ made: '2026', hives: list })[0]!.slice(1)).toEqual(table.slice(1));
    expect(sheets({ made: '2026', hives: list })[0]!.notes).toEqual([
      'Beside its lists the file says made, which is left out.',
    ]);
  });
  it('are found where a service has wrapped them, and what stands beside the way there is named', () => {
    const items = [{ Name: 'Bramble' }, { Name: 'Clover' }];
    for (const wrapped of [
      { status: 'ok', data: { page: 1, items } },
      { status: 'ok', page: 1, a: { b: { c: { items } } } },
    ]) {
      const [sheet, ...others] = sheets(wrapped);
      expect([sheet!.rows, others]).toEqual([[['Name'], ['Bramble'], ['Clover']], []]);
      expect(sheet!.notes).toEqual(['Beside its lists the file says status, page, which is left out.']);
    }
    // Where two ways lead to lists, neither is taken for the one.
    expect(sheets({ a: { items }, b: { items } })[0]!.rows).toHaveLength(2);
    expect(rows({ Name: 'Bramble', at: { lat: 1 } })).toEqual([['Hives', ['Name', 'at lat'], ['Bramble', '1']]]);
  });
  it('keep every digit of their numbers', () => {
    const [sheet] = sheets('[{"Id": 12345678901234567890, "Mass": 1.10, "Far": 1.5e3, "\\u0001": "\\u00017"}]');
    expect(sheet!.rows[1]).toEqual(['12345678901234567890', '1.10', '1500', '\u00017']);
    expect(draftTable(sheet!).columns[0]!.type).toBe('text');
  });
  it('with objects in them have columns for those, and with lists tables that are linked', async () => {
    const list = [
      {
        Name: 'Bramble',
        at: { lat: 54.1, lng: -2 },
        visits: [{ on: '2026-11-01', by: 'Odile' }, { on: '2026-11-08' }],
        tags: ['old', 'oak'],
      },
      { Name: 'Clover', at: { lat: 54.2, lng: -3 }, visits: [{ on: '2026-11-02' }], tags: [1, { a: 2 }] },
    ];
    expect(rows(list)).toEqual([
      [
        'Hives',
        ['Name', 'at lat', 'at lng', 'visits', 'tags'],
        ['Bramble', '54.1', '-2', '[{"on":"2026-11-01","by":"Odile"},{"on":"2026-11-08"}]', 'old, oak'],
        ['Clover', '54.2', '-3', '[{"on":"2026-11-02"}]', '[1,{"a":2}]'],
      ],
      [
        'Hives visits',
        ['Hives Name', 'on', 'by'],
        ['Bramble', '2026-11-01', 'Odile'],
        ['Bramble', '2026-11-08', ''],
        ['Clover', '2026-11-02', ''],
      ],
      ['Hives tags', ['Hives Name', 'Value', 'a'], ['Clover', '1', ''], ['Clover', '', '2']],
    ]);
    const { links, drafts } = await bring([
      { name: 'Hives.json', bytes: new TextEncoder().encode(JSON.stringify(list)) },
    ]);
    expect(links).toContainEqual({ from: { table: 1, column: 0 }, to: { table: 0, column: 0 }, found: 3, of: 3 });
    expect(drafts[0]!.columns.filter((c) => c.skip).map((c) => c.name)).toEqual(['visits', 'tags']);
    expect(drafts[0]!.notes.join()).toContain('What is inside “visits” is a table of its own, “Hives visits”');
  });
  it('what is a table of its own can be had as text instead; an empty list is neither', () => {
    expect(
      rows([
        { Name: 'a', of: [{ b: 1 }] },
        { Name: 'c', of: [] },
      ])[0],
    ).toEqual(['Hives', ['Name', 'of'], ['a', '[{"b":1}]'], ['c', '']]);
  });
  it('records that nothing tells apart are numbered', () => {
    expect(
      rows([
        { a: 1, of: [{ b: 1 }] },
        { a: 1, of: [{ b: 2 }] },
      ]),
    ).toEqual([
      ['Hives', ['a', 'Number', 'of'], ['1', '1', '[{"b":1}]'], ['1', '2', '[{"b":2}]']],
      ['Hives of', ['Hives Number', 'b'], ['1', '1'], ['2', '2']],
    ]);
  });
  it('of GeoJSON have a place', () => {
    const value = {
      type: 'FeatureCollection',
      features: [
        {
          type: 'Feature',
          id: 7,
          properties: { Name: 'Barn' },
          geometry: { type: 'Point', coordinates: [-2.25, 54.1] },
        },
        {
          type: 'Feature',
          properties: { Name: 'Field' },
          geometry: {
            type: 'LineString',
            coordinates: [
              [0, 1],
              [2, 3],
            ],
          },
        },
      ],
    };
    const [sheet] = sheets(value);
    expect(sheet!.rows).toEqual([
      ['id', 'Name', 'Place', 'Shape'],
      ['7', 'Barn', '54.1, -2.25', ''],
      ['', 'Field', '', '{"type":"LineString","coordinates":[[0,1],[2,3]]}'],
    ]);
    expect(readRows(draftTable(sheet!)).rows[0]!.slice(0, 3)).toEqual(['7', 'Barn', '54.1,-2.25']);
  });
  it.each([
    ['{"a": [', 'is cut off or no JSON'],
    ['3', 'has no list of records'],
    ['[]', 'has no list of records'],
    ['{"a":1}\n{"a":', 'is cut off or no JSON'],
  ])('that are none are refused in words: %s', (text, words) => {
    expect(() => sheets(text)).toThrow(words);
  });
  it('are known by their name and how they begin', async () => {
    const bytes = new TextEncoder().encode('\uFEFF [{"Name":"Bramble"}]');
    expect((await readSheets('hives.geojson', bytes))[0]!.rows).toEqual([['Name'], ['Bramble']]);
    // A text that begins like one is none by another name.
    expect((await readSheets('notes.csv', new TextEncoder().encode('[a],b\n1,2')))[0]!.rows[0]).toEqual(['[a]', 'b']);
  });
});

it('a text of any length and any escapes is read whole, with the numbers around it exact', () => {
  for (const text of ['x'.repeat(10_000_000), '"\\'.repeat(1_000_000), '\\'.repeat(1_000_001)]) {
    const [sheet] = readJson(
      't',
      JSON.stringify([
        { a: text.slice(0, 30_000), n: 1.5 },
        { a: text, n: -2e3 },
      ]),
      '“t”',
    );
    expect(sheet!.rows.map((r) => r[1])).toEqual(['n', '1.5', '-2000']);
    expect(sheet!.rows[1]![0]).toBe(text.slice(0, 30_000));
  }
});
