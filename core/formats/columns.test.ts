import { describe, expect, it } from 'vitest';
import { splitUnit } from '../fields/units.ts';
import { draftTable, readRows, type TableDraft } from './infer.ts';
import { makeApp } from './make-app.ts';

/** A table of texts as any format gives it. */
const draft = (rows: string[][], more = {}): TableDraft =>
  draftTable({ name: 'T', rows, lines: rows.map((_, i) => i + 1), notes: [], ...more });
/** The first column of a table with this header. */
const column = (name: string, values: string[]) => {
  const d = draft([[name, 'Beside'], ...values.map((v) => [v, 'x y'])]);
  const c = d.columns[0]!;
  return { type: c.type, unit: c.unit?.text, values: readRows(d).rows.map((r) => r[0]), draft: d, column: c };
};

describe('numbers that are names', () => {
  it.each([
    ['Order', ['12345678901234567', '2']],
    ['Part', ['1E5', '2E10']],
    ['Post code', ['1010', '8001']],
    ['EAN', ['4006381333931', '12']],
    ['Version', ['1.9', '1.10']],
    ['Article no.', ['4711', '4712']],
    ['Room', ['007', '12']],
  ])('stay text: %s', (name, values) => {
    expect(column(name, values)).toMatchObject({ type: 'text', values });
  });
  it('phone numbers keep their nought', () => {
    expect(column('Phone', ['0301234', '0305678'])).toMatchObject({ type: 'phone', values: ['0301234', '0305678'] });
  });
  it.each([
    ['Number of visits', ['3', '4'], 'number'],
    ['Pieces', ['1010', '8001'], 'number'],
    ['Seen', ['20260123', '20261224'], 'date'],
  ])('and others do not: %s', (name, values, type) => {
    expect(column(name, values).type).toBe(type);
  });
});

describe('money and units', () => {
  it.each([
    [['$12.00', '3'], 'money', '$', [12, 3]],
    [['£3', '£4.50'], 'money', '£', [3, 4.5]],
    [['CHF 4.00', '7.20 CHF'], 'money', 'CHF', [4, 7.2]],
    [['4.50 EUR', '1,200.00 EUR'], 'money', 'EUR', [4.5, 1200]],
    [['($3.00)', '-$4', '$-5'], 'money', '$', [-3, -4, -5]],
    [['12 kg', '3.5 kg'], 'number', 'kg', [12, 3.5]],
    [['20 °C', '-4 °C'], 'number', '°C', [20, -4]],
  ])('%j is read with its own', (values, type, unit, numbers) => {
    expect(column('Amount', values)).toMatchObject({ type, unit, values: numbers });
  });
  it('mixed ones stay text, and it is said', () => {
    const mixed = column('Price', ['€ 4', '$ 5', '£ 6']);
    expect(mixed).toMatchObject({ type: 'text', values: ['€ 4', '$ 5', '£ 6'] });
    expect(mixed.draft.notes.join()).toContain('Price has amounts in €, $, £; it stays text');
  });
  it('become fields with that unit, and a value in another is said and not taken', () => {
    const rows = [['Price', 'Name'], ...Array.from({ length: 40 }, (_, i) => [`${i} CHF`, `n${i}`])];
    const d = draft(rows);
    // Beyond what is looked at.
    d.sheet.rows.push(['5 USD', 'odd']);
    d.sheet.lines.push(42);
    const data = readRows(d);
    expect(data.misfits).toEqual([
      {
        line: 42,
        reason: 'Price: “5 USD” is not an amount of money; it is kept in “Price as written”.',
      },
    ]);
    expect(makeApp('A', [d], [data], []).app.tables[0]!.fields[0]).toMatchObject({ type: 'money', unit: 'CHF' });
  });
  it('are no names, times or sizes of something else', () => {
    for (const text of ['Room 12', '4 pm', '12 h', 'B-12', '3rd', '1.2.3', '12/24', '5 + 3', '€ 4 $'])
      expect([text, splitUnit(text)?.unit || null]).toEqual([text, null]);
  });
});

describe('how a file writes', () => {
  it('one column settles the decimal sign for all, and nothing is asked', () => {
    const d = draft([
      ['Weight', 'Length'],
      ['4,50', '1.200'],
      ['3,25', '2.400'],
    ]);
    expect(readRows(d).rows).toEqual([
      [4.5, 1200],
      [3.25, 2400],
    ]);
    expect(d.columns.map((c) => c.ambiguousDecimal)).toEqual([false, false]);
  });
  it('asks where nothing tells', () => {
    const c = column('Length', ['1.200', '2.400']).column;
    expect([c.type, c.ambiguousDecimal]).toEqual(['number', true]);
    expect(column('Length', ['1.200', '1.300.000']).column.ambiguousDecimal).toBe(false);
  });
  it('one column settles the order of dates for all', () => {
    const d = draft([
      ['Made', 'Due', 'Name'],
      ['03/04/2026', '25/12/2026', 'a'],
      ['05/06/2026', '01/02/2026', 'b'],
    ]);
    expect(d.columns.map((c) => c.ambiguous)).toEqual([false, false, false]);
    expect(readRows(d).rows[0]).toEqual(['2026-04-03', '2026-12-25', 'a']);
  });
  it.each([
    ['23. März 2026', '2026-03-23'],
    ['3 février 2026', '2026-02-03'],
    ['3 de mayo de 2026', '2026-05-03'],
    ['Mar 23, 2026', '2026-03-23'],
    ['3 maj 2026', '2026-05-03'],
  ])('months are known in many languages: %s', (text, date) => {
    expect(column('Day', [text, text])).toMatchObject({ type: 'date', values: [date, date] });
  });
  it.each([
    [['25:30', '09:15'], 'duration', ['P1DT1H30M', 'PT9H15M']],
    [['24:00', '08:00'], 'duration', ['P1D', 'PT8H']],
    [['09:30', '16:15'], 'time', ['09:30:00', '16:15:00']],
  ])('hours beyond a day are no time of day: %j', (values, type, cells) => {
    expect(column('Length', values)).toMatchObject({ type, values: cells });
  });
  it('times with offsets keep one zone, which is said', () => {
    const same = column('At', ['2026-11-23T08:00:00+05:00', '2026-11-23T09:30:00+05:00']);
    expect(same.values).toEqual(['2026-11-23T08:00:00', '2026-11-23T09:30:00']);
    expect(same.draft.notes.join()).toContain('are at +05:00');
    const mixed = column('At', ['2026-11-23T08:00:00+05:00', '2026-11-23T09:30:00Z', '2026-11-23T00:30:00+0200']);
    expect(mixed.values).toEqual(['2026-11-23T03:00:00', '2026-11-23T09:30:00', '2026-11-22T22:30:00']);
    expect(mixed.draft.notes.join()).toContain('brought to UTC');
  });
});

describe('what stands for nothing, and what sums up', () => {
  it('is empty and counted, and no choice; in texts it stays', () => {
    const values = Array.from({ length: 30 }, (_, i) => ['Active', 'Resting', 'N/A'][i % 3]!);
    const d = draft([['Status', 'Kilos', 'Words'], ...values.map((v, i) => [v, i % 2 ? '-' : '4', `word ${i}`])]);
    const data = readRows(d);
    expect(d.columns.map((c) => c.type)).toEqual(['choice', 'number', 'text']);
    expect(data.rows.slice(0, 3).map((r) => r.slice(0, 2))).toEqual([
      ['Active', 4],
      ['Resting', null],
      [null, 4],
    ]);
    expect([data.nothing, data.misfits]).toEqual([25, []]);
    expect(column('Note', ['none', 'the whole day', 'N/A']).values).toEqual(['none', 'the whole day', 'N/A']);
  });
  it('a mark among empty cells is yes, and none is no', () => {
    const d = draft([
      ['Name', 'Paid'],
      ['a', 'x'],
      ['b', ''],
      ['c', 'X'],
    ]);
    expect(d.columns[1]!.type).toBe('yesno');
    expect(readRows(d).rows.map((r) => r[1])).toEqual([true, false, true]);
  });
  it('a row of totals is left out and said; one that is no sum stays', () => {
    const rows = [
      ['Good', 'Pieces'],
      ['Jar', '4'],
      ['Lid', '6'],
      ['Total', '10'],
    ];
    const d = draft(rows);
    expect([d.totals, readRows(d).rows]).toEqual([
      1,
      [
        ['Jar', 4],
        ['Lid', 6],
      ],
    ]);
    expect(d.notes.join()).toContain('sums up those above');
    const [table] = makeApp('A', [d], [readRows(d)], []).app.tables;
    expect(table!.view!.figures).toEqual({ [table!.fields[1]!.id]: 'sum' });
    expect(draft([...rows.slice(0, 3), ['Total wine', '3']]).totals).toBe(0);
  });
  it('years and dates head columns', () => {
    const d = draft([
      ['Region', '2024', '2025'],
      ['North', '12', '14'],
      ['South', '7', '9'],
    ]);
    expect([d.headerRow, d.columns.map((c) => c.name)]).toEqual([0, ['Region', '2024', '2025']]);
  });
  it('latitude and longitude are one place, and stay as they are too', () => {
    const d = draft([
      ['Name', 'Lat', 'Lng'],
      ['Barn', '54.1', '-2,25'],
      ['Hill', '', '3'],
    ]);
    expect(d.columns.map((c) => [c.name, c.type]).at(-1)).toEqual(['Place', 'place']);
    expect(readRows(d).rows.map((r) => r.at(-1))).toEqual(['54.1,-2.25', null]);
  });
});
