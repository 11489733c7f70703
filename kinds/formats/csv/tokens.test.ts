import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { readSheets } from '../../../core/formats/read.ts';
import { decode } from './read.ts';
import { scan } from './tokens.ts';

function scanned(text: string, delimiter = ',') {
  const rows: string[][] = [];
  const numbers: number[] = [];
  let row: string[] = [];
  const spans: string[] = [];
  const open = scan(text, delimiter, {
    cell: (cell, from, to) => {
      row.push(cell);
      spans.push(text.slice(from, to));
    },
    line: (number) => {
      rows.push(row);
      numbers.push(number);
      row = [];
    },
  });
  return { rows, numbers, spans, open };
}
const bytes = (text: string): Uint8Array => new TextEncoder().encode(text);

describe('a delimited text', () => {
  it('gives back every cell, whichever line ends stand between and within them (property)', () => {
    const end = fc.constantFrom('\n', '\r\n', '\r');
    // A cell that is nothing at all at the end of a line would be one with the line end.
    const cell = fc.string({ unit: fc.constantFrom('a', 'ü', ',', '"', '\n', '\r', ' ', ';') });
    fc.assert(
      fc.property(
        fc.array(fc.tuple(fc.array(cell, { minLength: 1, maxLength: 4 }), end), { maxLength: 6 }),
        (lines) => {
          const quoted = (c: string): string => `"${c.replace(/"/g, '""')}"`;
          const text = lines.map(([cells, e]) => cells.map(quoted).join(',') + e).join('');
          const { rows, spans, open } = scanned(text);
          expect([rows, open]).toEqual([lines.map(([cells]) => cells), null]);
          expect(spans).toEqual(lines.flatMap(([cells]) => cells.map(quoted)));
        },
      ),
      { numRuns: 500 },
    );
  });
  it('of mixed line ends loses no row and invents no field', async () => {
    const text = 'Name,Weight\r\nBramble,14\nClover,9\rMoss,7\r\nFern,"3\r4"\n';
    const [sheet] = await readSheets('mixed.csv', bytes(text));
    expect(sheet!.rows).toEqual([
      ['Name', 'Weight'],
      ['Bramble', '14'],
      ['Clover', '9'],
      ['Moss', '7'],
      ['Fern', '3\r4'],
    ]);
    expect(sheet!.lines).toEqual([1, 2, 3, 4, 5]);
  });
  it('counts lines as an editor does', () => {
    expect(scanned('a\n\n"b\r\nc\rd\ne",f\ng').numbers).toEqual([1, 2, 3, 7]);
  });
  it.each<[string, string[][]]>([
    ['', []],
    ['a', [['a']]],
    ['a,', [['a', '']]],
    [',', [['', '']]],
    ['a,b\n', [['a', 'b']]],
    ['"a"b,c', [['ab', 'c']]],
    ['a"b",c', [['a"b"', 'c']]],
    ['""', [['']]],
    ['"a""b"', [['a"b']]],
  ])('%j', (text, rows) => expect(scanned(text).rows).toEqual(rows));
  it('says where a quotation mark is opened and never closed', async () => {
    expect(scanned('a,b\nc,"d\ne,f').open).toBe(2);
    const [sheet] = await readSheets('open.csv', bytes('a,b\n1,2\n3,"4\n5,6\n'));
    expect(sheet!.notes).toEqual([
      'A quotation mark is opened near line 3 and never closed; look at the rows after it.',
    ]);
  });
});

describe('a text with too much in it is refused before it fills the memory', () => {
  it.each<[string, () => string, RegExp]>([
    ['40 MB of delimiters', () => ','.repeat(40 << 20), /cells or more; up to 2,000 columns/],
    ['24 MB of line ends', () => '\n'.repeat(24 << 20), /has no rows/],
    ['24 MB of mixed line ends', () => '\r\n\r'.repeat(8 << 20), /has no rows/],
    ['600,000 rows', () => 'a,b\n'.repeat(600_000), /more than 500,000 rows/],
    ['a billion in a row', () => `a,b\n${'1,'.repeat(3000)}\n`, /cells or more/],
    ['one quotation mark', () => `"${'x'.repeat(30 << 20)}`, /^$/],
  ])('%s', async (_, make, words) => {
    const before = process.memoryUsage().rss;
    const answer = await readSheets('big.csv', bytes(make())).then(
      () => '',
      (e: Error) => e.message,
    );
    expect(answer).toMatch(words);
    expect(process.memoryUsage().rss - before).toBeLessThan(700e6);
  });
  it('a line of another encoding keeps its line end', () => {
    const western = new Uint8Array([...bytes('Na'), 0xef, ...bytes('m\r\nZ'), 0xfc, ...bytes('rich\n')]);
    expect(decode(western).text).toBe('Naïm\r\nZürich\n');
  });
});
