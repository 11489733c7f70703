import PostalMime from 'postal-mime';
import { domainToASCII } from 'node:url';
import fc from 'fast-check';
import { harmless, withoutApostrophe } from '../fields/harmless.ts';
import { describe, expect, it } from 'vitest';
import { hashOf } from '../fields/keep-file.ts';
import { readBundle, writeBundle } from './bundle.ts';
import { makeApp } from './make-app.ts';
import { AppSchema } from '../app/schema.ts';
import { Records } from '../records/store.ts';
import { someRecords, hiveApp, T } from '../records/fixture.ts';
import { bring } from './bring.ts';
import { isMailAddress } from '../document/addresses.ts';
import { compose } from './eml.ts';
import { draftTable, inferType, readRows } from './infer.ts';
import { readSheets } from './read.ts';
import { decode } from '../../kinds/formats/csv/read.ts';
import { exportTable } from './exported.ts';
import { toCsv } from '../../kinds/formats/csv/write.ts';
import { toJsonRows } from '../../kinds/formats/json/write.ts';
import { toXlsx } from '../../kinds/formats/xlsx/write.ts';

const bytes = (s: string): Uint8Array => new TextEncoder().encode(s);
const file = (name: string, text: string) => ({ name, bytes: bytes(text) });
const draft = async (text: string) => draftTable((await readSheets('Sheet.csv', bytes(text)))[0]!);
const types = async (text: string): Promise<Record<string, string>> =>
  Object.fromEntries((await draft(text)).columns.map((c) => [c.name, c.type]));

describe('reading sheets', () => {
  it.each([[','], [';'], ['\t'], ['|']])('finds the delimiter %j', async (d) => {
    const rows = [
      ['Name', 'Weight', 'Note'],
      ['Bramble', '14', 'calm'],
      ['Clover', '21', 'busy'],
    ];
    expect((await readSheets('x.csv', bytes(rows.map((r) => r.join(d)).join('\n'))))[0]!.rows).toEqual(rows);
  });
  it('finds it in a short file of two columns with an empty line at its end', async () => {
    expect((await readSheets('x.csv', bytes('Name;Tag\nFern;X-1\n\n')))[0]!.rows[1]).toEqual(['Fern', 'X-1']);
  });
  it('reads UTF-8 with a mark, UTF-16 and Windows-1252', () => {
    expect(decode(bytes('\uFEFFÜber')).text.replace('\uFEFF', '')).toBe('Über');
    expect(decode(new Uint8Array([0xff, 0xfe, 0xdc, 0, 0x62, 0])).text.replace('\uFEFF', '')).toBe('Üb');
    const mixed = decode(new Uint8Array([...bytes('Müller\n'), 0x4d, 0xfc, 0x6c]));
    expect(mixed.text).toBe('Müller\nMül');
    expect(mixed.note).toContain('One line is not in UTF-8');
  });
  it('keeps the line of every row, over line ends in quotes', async () => {
    expect((await readSheets('x.csv', bytes('A,B\n"two\nlines",1\n\nlast,2')))[0]!.lines).toEqual([1, 2, 5]);
  });
  it.each([
    ['', 'is empty'],
    ['   \n\n', 'has no rows'],
    ['\x89PNG\r\n', 'is a picture'],
    ['%PDF-1.7', 'is a PDF'],
    ['<!DOCTYPE html><table>', 'is an HTML page'],
    ['\xef\xbb\xbf  <html lang="en">', 'is an HTML page'],
    ['<?xml version="1.0"?><a/>', 'is XML'],
    ['<svg xmlns="x"/>', 'is XML'],
    ['PK\x03\x04rubbish', 'is a zip that cannot be opened'],
    ['PK\x03\x04xl/workbook.xml', 'is not a workbook that can be read'],
    ['a\0b', 'is no text'],
  ])('says what is wrong with %j', async (text, words) => {
    await expect(
      readSheets(
        'hives.csv',
        Uint8Array.from(text, (c) => c.charCodeAt(0)),
      ),
    ).rejects.toThrow(words);
    await expect(
      readSheets(
        'hives.csv',
        Uint8Array.from(text, (c) => c.charCodeAt(0)),
      ),
    ).rejects.toThrow('“hives.csv”');
  });
  it('refuses 60 MB and says how much is read', async () => {
    await expect(readSheets('big.csv', new Uint8Array(60 * 1024 * 1024))).rejects.toThrow(
      '“big.csv” has 60 MB; the largest file read here has 50 MB',
    );
  });
  it('reads a workbook’s sheets with dates and yes/no', async () => {
    const { default: ExcelJS } = await import('exceljs');
    const book = new ExcelJS.Workbook();
    const sheet = book.addWorksheet('Hive visits');
    sheet.addRows([
      ['Hive', 'When', 'Fed', 'Queen'],
      ['HB-1', new Date(Date.UTC(2026, 10, 23)), 1.5, true],
      ['HB-2', new Date(Date.UTC(2026, 10, 24, 9, 30)), { formula: '1+1', result: 2 }, false],
    ]);
    book.addWorksheet('Hidden', { state: 'hidden' }).addRow(['secret']);
    const sheets = await readSheets('visits.xlsx', new Uint8Array(await book.xlsx.writeBuffer()));
    expect(sheets.map((s) => s.name)).toEqual(['Hive visits']);
    expect(sheets[0]!.rows[1]).toEqual(['HB-1', '2026-11-23', '1.5', 'yes']);
    expect(sheets[0]!.rows[2]).toEqual(['HB-2', '2026-11-24T09:30:00', '2', 'no']);
  });
});

describe('guessing', () => {
  it('types by what the values are', async () => {
    expect(
      await types(
        'Name,Weight,Seen,Day,At,Mail,Site,Photo,Phone,Code\nBramble,14.5,yes,2026-11-23,2026-11-23 15:58,a@b.example,https://x.example,https://x.example/a.png,+44 7700 900123,007\nClover,21,no,2026-11-24,2026-11-24 16:00,c@d.example,https://y.example,https://y.example/b.jpg,0161 496 0000,012',
      ),
    ).toEqual({
      Name: 'text',
      Weight: 'number',
      Seen: 'yesno',
      Day: 'date',
      At: 'datetime',
      Mail: 'mail',
      Site: 'web',
      Photo: 'picture',
      Phone: 'phone',
      Code: 'text',
    });
  });
  it('knows money, percent and times', async () => {
    expect(await types('Price,Off,At\n€ 4.50,10%,09:30\n€ 12.00,25 %,16:15')).toEqual({
      Price: 'money',
      Off: 'percent',
      At: 'time',
    });
  });
  it('finds choices and long text', () => {
    expect(
      inferType(
        Array.from({ length: 30 }, (_, i) => ['Active', 'Resting', 'Retired'][i % 3]!),
        'Status',
      ).type,
    ).toBe('choice');
    expect(inferType(['a'.repeat(90), 'b'.repeat(120)], 'Notes').type).toBe('longtext');
  });
  it('asks when a date can be read two ways, and not when one value settles it', async () => {
    expect((await draft('When\n03/04/2026\n05/06/2026')).columns[0]).toMatchObject({ type: 'date', ambiguous: true });
    expect((await draft('When\n03/04/2026\n25/06/2026')).columns[0]).toMatchObject({
      ambiguous: false,
      dayOrder: 'day first',
    });
    expect((await draft('When\n03/04/2026\n06/25/2026')).columns[0]).toMatchObject({
      ambiguous: false,
      dayOrder: 'month first',
    });
  });
  it('reads decimal commas', async () => {
    expect(readRows(await draft('Weight\n"1.234,5"\n"12,25"')).rows).toEqual([[1234.5], [12.25]]);
  });
  it('names missing and doubled headers and says so', async () => {
    const d = await draft('Name,,Name\na,b,c');
    expect(d.columns.map((c) => c.name)).toEqual(['Name', 'Column 2', 'Name 2']);
    expect(d.notes).toHaveLength(2);
  });
  it('sees that there is no header, or that it is not in the first row', async () => {
    expect((await draft('14,2026-01-02,x\n15,2026-01-03,y')).headerRow).toBe(-1);
    expect((await draft('Heatherfield stores,,\nGoods,Unit,Price\nJar,piece,0.6')).headerRow).toBe(1);
  });
  it('rejects ragged rows with line and reason, and keeps short ones', async () => {
    const rows = readRows(await draft('A,B\n1,2\n3\n4,5,6\n7,8'));
    expect(rows.rows).toEqual([
      [1, 2],
      [3, null],
      [7, 8],
    ]);
    expect(rows.rejected).toEqual([
      { line: 4, reason: 'The row has 3 cells, the header has 2. A delimiter inside a text needs quotation marks.' },
    ]);
  });
  it('keeps a cell that does not fit beside its column, tells, and leaves it empty when that is chosen', async () => {
    const d = await draft(`N,M\n${Array.from({ length: 30 }, (_, i) => `${i},x`).join('\n')}\nmany,y`);
    const rows = readRows(d);
    expect(d.columns.map((c) => [c.name, c.type])).toEqual([
      ['N', 'number'],
      ['M', 'choice'],
      ['N as written', 'text'],
    ]);
    expect(rows.rows.at(-1)).toEqual([null, 'y', 'many']);
    expect(rows.rows[0]).toEqual([0, 'x', null]);
    expect(rows.misfits).toEqual([{ line: 32, reason: 'N: “many” is not a number; it is kept in “N as written”.' }]);
    d.oddApart = false;
    expect(readRows(d).rows.at(-1)).toEqual([null, 'y']);
    expect(d.columns).toHaveLength(2);
    expect(readRows(d).misfits[0]!.reason).toContain('the cell is left empty');
    // A type that takes them all needs nothing beside it.
    d.oddApart = true;
    d.columns[0]!.type = 'text';
    expect(readRows(d).rows.at(-1)).toEqual(['many', 'y']);
  });
  it('reads years of birth up to this one, and as the maker says', async () => {
    const d = await draft('Name,Date of birth,Paid\nAnn,03/04/31,05/06/31\nBo,24/12/05,24/12/05');
    expect(d.columns.map((c) => [c.type, c.ambiguousYears])).toEqual([
      ['text', false],
      ['date', true],
      ['date', false],
    ]);
    expect(readRows(d).rows.map((r) => r.slice(1))).toEqual([
      ['1931-04-03', '2031-06-05'],
      ['2005-12-24', '2005-12-24'],
    ]);
    d.columns[1]!.until = 1999;
    expect(readRows(d).rows.map((r) => r[1])).toEqual(['1931-04-03', '1905-12-24']);
  });
});

describe('an app of sheets', () => {
  const visits = `Tag code,When\n${Array.from({ length: 15 }, (_, i) => `HB-${1 + (i % 6)},2026-11-${10 + i}`).join('\n')}`;
  const hives = `Name,Tag code\n${Array.from({ length: 5 }, (_, i) => `Hive ${i},HB-${i + 1}`).join('\n')}`;
  it('links columns that hold the same values', async () => {
    const { links } = await bring([file('Hives.csv', hives), file('Visits.csv', visits)]);
    expect(links).toEqual([{ from: { table: 1, column: 0 }, to: { table: 0, column: 1 }, found: 13, of: 15 }]);
  });
  it('does not link numbers that only happen to be alike', async () => {
    expect(
      (await bring([file('A.csv', 'Name,Count\na,1\nb,2\nc,3'), file('B.csv', 'Title,Stars\nx,1\ny,2\nz,3')])).links,
    ).toEqual([]);
  });
  it('has a list, a detail and a form for every table, linked at both ends, and is valid', async () => {
    const { drafts, data, links } = await bring([file('Hives.csv', hives), file('Visits.csv', visits)]);
    const { app, records } = makeApp('Bees', drafts, data, links);
    expect(AppSchema.safeParse(app).success).toBe(true);
    expect(app.screens.map((s) => s.name)).toEqual(['Hives', 'Hive', 'Hive form', 'Visits', 'Visit', 'Visit form']);
    expect(app.tabs.map((t) => t.name)).toEqual(['Hives', 'Visits']);
    const r = new Records(app);
    for (const t of app.tables)
      r.load(
        t.id,
        records.filter((x) => x.table === t.id),
      );
    const hive = r.rows(app.tables[0]!.id)[0]!;
    expect(hive.title()).toBe('Hive 0');
    expect(hive.get('Visits')).toHaveLength(3);
  });
});

describe('going out', () => {
  const open = (): Records => {
    const r = new Records(hiveApp());
    someRecords(r);
    return r;
  };
  it('CSV comes back as it went (property)', async () => {
    const text = fc
      .string({ maxLength: 12 })
      .filter((s) => s.trim() === s && !/^[=+\-@'\t\r]/.test(s) && s !== '' && !/[\r\n\0]/.test(s));
    await fc.assert(
      fc.asyncProperty(fc.array(fc.tuple(text, text), { minLength: 1, maxLength: 5 }), async (rows) => {
        const csv = toCsv({
          name: 'T',
          fields: [
            { id: 'f_a000000', name: 'First', type: 'text' },
            { id: 'f_b000000', name: 'Second', type: 'text' },
          ],
          rows,
        });
        expect((await readSheets('t.csv', bytes(csv)))[0]!.rows.slice(1)).toEqual(
          rows.filter((r) => r.some((c) => c.trim())),
        );
      }),
      { numRuns: 60 },
    );
  });
  it('a text that a spreadsheet program would run is harmless', () => {
    expect(toCsv({ name: 'T', fields: [{ id: 'f_a000000', name: 'A', type: 'text' }], rows: [['=1+1'], ['-2']] })).toBe(
      "\uFEFFA\r\n'=1+1\r\n'-2\r\n",
    );
  });
  it('so is one behind a line break or a sign that is not seen, and it comes back as it was (property)', () => {
    expect(['\n=1', ' =1', '\ufeff=1', '\u200b+1', '＝1'].map(harmless)).toEqual([
      "'\n=1",
      "' =1",
      "'\ufeff=1",
      "'\u200b+1",
      "'＝1",
    ]);
    const letter = fc.constantFrom("'", '=', '+', '-', '@', ' ', '\n', '\t', '\r', '\ufeff', '1', 'a');
    fc.assert(
      fc.property(fc.string({ unit: letter, maxLength: 6 }), (text) => {
        expect(withoutApostrophe(harmless(text))).toBe(text);
        expect(harmless(text)).not.toMatch(/^[\s\ufeff]*[=+\-@]/);
      }),
    );
  });
  it('JSON is typed and keyed by name', () => {
    expect(toJsonRows(exportTable(open(), T.visits))[0]).toEqual({
      'Hive tag': 'HB-1',
      When: '2026-11-01',
      Fed: '1.1 litres',
      Hive: 'Bramble',
      Label: 'Bramble Odile',
    });
  });
  it('XLSX keeps numbers and dates', async () => {
    const { default: ExcelJS } = await import('exceljs');
    const book = new ExcelJS.Workbook();
    await book.xlsx.load((await toXlsx(exportTable(open(), T.visits))).slice().buffer as ArrayBuffer);
    const row = book.worksheets[0]!.getRow(2);
    expect(row.getCell(2).value).toEqual(new Date(Date.UTC(2026, 10, 1)));
    expect(row.getCell(3).value).toBe(1.1);
  });
  it('an exported app is the same app again', () => {
    const app = hiveApp();
    const bundle = {
      app,
      records: [{ table: T.hives, id: 'h1', cells: { f_name000: 'Bramble', f_weight0: 3 } }],
      ownerKey: 'k'.repeat(43),
      address: 'bees',
      files: {},
    };
    expect(readBundle(writeBundle(bundle), 'x')).toEqual(bundle);
  });
  it('takes the files of its records along, whole or not at all', () => {
    const content = Uint8Array.from({ length: 70_000 }, (_, i) => (i * 7) % 251);
    const [hash, bare] = [hashOf(content), { app: hiveApp(), records: [], ownerKey: null, address: null }];
    const text = writeBundle({ ...bare, files: { [hash]: content } });
    expect(readBundle(text, 'x').files).toEqual({ [hash]: content });
    expect(JSON.parse(text)).toMatchObject({ version: 2 });
    const other = hashOf(content.subarray(1));
    expect(() => readBundle(text.replace(hash, other), 'bees')).toThrow('a picture or file in it is not whole');
    expect(() => readBundle(text.replace(/"files":\{"[^"]*":"/, '$&!'), 'bees')).toThrow('is not whole');
  });
  it.each([
    ['cut off', (t: string) => t.slice(0, -40), 'is cut off or damaged'],
    ['newer', (t: string) => t.replace(/"version":\d+,"id"/, '"version":9,"id"'), 'newer Mellow Kite'],
    ['foreign', () => '{"a":1}', 'is not a Mellow Kite app'],
    ['no JSON', () => 'Name,Weight', 'is not a Mellow Kite app'],
    ['damaged', (t: string) => t.replace('"name":"Hives"', '"name":7'), 'is damaged: at'],
  ])('an app file that is %s gets a clear message', (_what, spoil, words) => {
    const text = spoil(writeBundle({ app: hiveApp(), records: [], ownerKey: null, address: null, files: {} }));
    expect(() => readBundle(text, 'bees.kite.json')).toThrow(words);
  });
});

describe('mail (RFC 5322)', () => {
  const message = {
    from: { name: 'Heatherfield “Bees”', address: 'bees@kite.example' },
    to: ['a@b.example', 'c@d.example'],
    subject: 'Tea & a first look – über die Bienen, with more words than one line of a header can hold',
    body: 'Hello Odile,\n\nséance at ten.\n.\nBye',
    date: new Date(Date.UTC(2026, 10, 23, 15, 58)),
    id: 'abc123',
  };
  it('says the same when another program reads it', async () => {
    const read = await PostalMime.parse(compose(message));
    expect(read.subject).toBe(message.subject);
    expect(read.from).toMatchObject(message.from);
    expect(read.to!.map((t) => t.address)).toEqual(message.to);
    expect(read.text!.trim().replace(/\r\n/g, '\n')).toBe(message.body);
    expect(read.messageId).toBe('<abc123@kite.example>');
    expect(new Date(read.date!)).toEqual(message.date);
  });
  it('carries any words (property)', async () => {
    await fc.assert(
      fc.asyncProperty(
        fc.string({ unit: 'grapheme', maxLength: 80 }),
        fc.string({ unit: 'grapheme' }),
        async (subject, body) => {
          const eml = compose({ ...message, subject, body });
          expect(eml.split('\r\n').every((l) => l.length <= 998)).toBe(true);
          const read = await PostalMime.parse(eml);
          expect((read.subject ?? '').replace(/\s+/g, ' ').trim()).toBe(subject.replace(/\s+/g, ' ').trim());
        },
      ),
      { numRuns: 60 },
    );
  });
  it('has no line over 998 bytes and no sign beyond ASCII in its head, whatever it is given', async () => {
    const long = 'x'.repeat(3000);
    const files = [{ name: `${'long '.repeat(300)}ærø\ud800.pdf`, type: 'application/pdf', data: 'AAAA' }];
    const eml = compose({
      ...message,
      from: { name: `Bees\u0007${long}`, address: 'bees@kite.example' },
      to: ['a@ærø.example'],
      subject: `${long} \ud800`,
      body: long,
      files,
    });
    for (const line of eml.split('\r\n')) {
      expect(line.length).toBeLessThanOrEqual(998);
      expect(line).toMatch(/^[\x20-\x7e]*$/);
    }
    const read = await PostalMime.parse(eml);
    expect(read.subject).toBe(`${long} \ufffd`);
    expect(read.from!.name).toBe(`Bees ${long}`);
    expect(read.to![0]!.address).toBe(`a@${domainToASCII('ærø.example')}`);
    expect(read.attachments[0]!.filename).toBe(`${'long '.repeat(300)}ærø\ufffd.pdf`);
    expect(read.text!.trim()).toBe(long);
  });
  it('takes no address that mail servers refuse', () => {
    const odd = [
      'bø@b.example',
      'b\u0007@b.example',
      'b@\u202eb.example',
      `${'b'.repeat(65)}@b.example`,
      'b@b\ud800.example',
    ];
    expect(odd.filter(isMailAddress)).toEqual([]);
  });
  it('no line end in a subject makes a header', () =>
    expect(compose({ ...message, subject: 'x\r\nBcc: evil@x.example' })).not.toMatch(/^Bcc:/m));
  it('knows an address', () => {
    expect(['a@b.example', 'a b@c', 'a@', '@b', 'a@b@c', 'x,y@z'].map(isMailAddress)).toEqual([
      true,
      false,
      false,
      false,
      false,
      false,
    ]);
  });
});
