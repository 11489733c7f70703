import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { emptyApp, readApp } from './document.ts';
import { addTable } from './edits.ts';
import { addWritten, appOfWritten, beyondRoom, readWritten, writtenInWords } from './written-tables.ts';

/** What is read of a line, as "Name: type words". */
const read = (text: string): string[] =>
  readWritten(text).flatMap((t) => t.fields.map((f) => `${f.name}: ${writtenInWords(f)}`));

describe('tables as people write them', () => {
  it.each([
    ['name, price, seller', 'Name: text', 'Price: money', 'Seller: text'],
    [
      'Boats: name, length in m, price (€), sold?',
      'Name: text',
      'Length: number in m',
      'Price: money in €',
      'Sold: yes/no',
    ],
    ['state (in, out, away)', 'Name: text', 'State: in, out, away'],
    ['state (in / out)', 'Name: text', 'State: in, out'],
    [
      'notes; photo; e-mail; phone number',
      'Name: text',
      'Notes: long text',
      'Photo: picture',
      'E-mail: mail',
      'Phone number: phone',
    ],
    [
      'due date, held on (date and time), opening time',
      'Name: text',
      'Due date: date',
      'Held on: date and time',
      'Opening time: time',
    ],
    [
      'done, is open, discount in %, rating',
      'Name: text',
      'Done: yes/no',
      'Is open: yes/no',
      'Discount: percent',
      'Rating: rating',
    ],
    [
      'area (checkbox), pages (integer), teaser (paragraph)',
      'Name: text',
      'Area: yes/no',
      'Pages: number',
      'Teaser: long text',
    ],
    ['owner, quantity, website', 'Name: text', 'Owner: person', 'Quantity: number', 'Website: web address'],
    ['size (as it is), holiday, pricey', 'Size (as it is): text', 'Holiday: text', 'Pricey: text'],
    ['name\tprice\tseller', 'Name: text', 'Price: money', 'Seller: text'],
  ])('%s', (text, ...fields) => expect(read(text)).toEqual(fields));

  it('a line is a table; a field that is called as one leads to it, and so does what is said in brackets', () => {
    const text =
      '- Boats: name, member, built by (Yards)\n\n- Members: name, phone\nYards: name\nTrips: boat, skipper (member), date';
    const app = appOfWritten(readWritten(text));
    expect(app.tables.map((t) => [t.name, t.fields.map((f) => `${f.name} ${f.type}`)])).toEqual([
      ['Boats', ['Name text', 'Member link', 'Built by link']],
      ['Members', ['Name text', 'Phone phone']],
      ['Yards', ['Name text']],
      ['Trips', ['Boat link', 'Skipper link', 'Date date']],
    ]);
    const [boats, members] = app.tables;
    expect(boats!.fields[1]!.link).toEqual({ kind: 'picked', table: members!.id, backName: 'Boats' });
    expect(app.tabs.map((t) => t.name)).toContain('Boats');
    expect(readApp(JSON.parse(JSON.stringify(app)))).toEqual(app);
  });

  it('leads to tables that are there, and whose records they are to the people', () => {
    const app = emptyApp('Club');
    addTable(app, 'Keepers');
    addWritten(app, readWritten('Hives: name, keeper\nLoans: tool, owner', app.tables));
    expect(app.tables.slice(1).flatMap((t) => t.fields.map((f) => [f.name, f.link?.table ?? null]))).toEqual([
      ['Name', null],
      ['Keeper', app.tables[0]!.id],
      ['Tool', null],
      ['Owner', app.tables[0]!.id],
    ]);
    // Two links to one table are called apart from the other end.
    addWritten(app, readWritten('Swaps: keeper, taker (Keepers)', app.tables));
    expect(app.tables.at(-1)!.fields.flatMap((f) => (f.link ? [f.link.backName] : []))).toEqual(['Swaps', 'Swaps 2']);
  });

  it('a table without a name or without a text field gets one, and no name is taken twice', () => {
    const app = emptyApp('Club');
    addWritten(app, readWritten('price, price, date'));
    addWritten(app, readWritten('price'));
    expect(app.tables.map((t) => [t.name, t.fields.map((f) => f.name)])).toEqual([
      ['New table', ['Name', 'Price', 'Price 2', 'Date']],
      ['New table 2', ['Name', 'Price']],
    ]);
    expect(readWritten(' \n, ;\n')).toMatchObject([{ fields: [{ name: 'Name', type: 'text' }] }]);
    expect(readWritten('')).toEqual([]);
  });

  it('what is shown while it is written is what is made, names that are taken included', () => {
    const app = emptyApp('Club');
    addTable(app, 'Boats');
    const written = readWritten('Boats: price, price, boat\nboats: name', app.tables);
    addWritten(app, written);
    expect(written.map((t) => [t.name, t.fields.map((f) => f.name)])).toEqual(
      app.tables.slice(1).map((t) => [t.name, t.fields.map((f) => f.name)]),
    );
    expect(written.map((t) => t.name)).toEqual(['Boats 2', 'Boats 3']);
  });

  it('says what an app has no room for, and makes the rest', () => {
    const many = readWritten(Array.from({ length: 205 }, (_, i) => `T${i}: a`).join('\n'));
    expect([beyondRoom(many), beyondRoom(many.slice(0, 200)), beyondRoom(many.slice(0, 3), 198)]).toEqual([
      'An app has up to 200 tables: 5 of these are left out.',
      null,
      'An app has up to 200 tables: 1 of these is left out.',
    ]);
    const wide = readWritten(`Wide: ${Array.from({ length: 310 }, (_, i) => `f${i}`).join(', ')}`);
    expect(beyondRoom(wide)).toBe('A table has up to 300 fields: 10 of Wide are left out.');
    expect([appOfWritten(many).tables.length, appOfWritten(wide).tables[0]!.fields.length]).toEqual([200, 300]);
  });

  it('words of any length fit the document, and a sentence is no figure', () => {
    const app = appOfWritten(readWritten(`a (${'x'.repeat(300)}, y)\n${'T'.repeat(400)}: ${'f'.repeat(400)}`));
    expect(readApp(JSON.parse(JSON.stringify(app)))).toEqual(app);
    expect(read('what I remember of each year')).toEqual(['What I remember of each year: text']);
  });

  it('whatever is written makes a document that can be read (property)', () => {
    const words = fc.array(
      fc.constantFrom(
        'Boats',
        ':',
        ',',
        '(',
        ')',
        ' ',
        '€',
        'name',
        '?',
        '\n',
        'in',
        'm',
        'boat',
        ';',
        '\t',
        'link',
        'formula',
      ),
      {
        maxLength: 60,
      },
    );
    fc.assert(
      fc.property(
        fc.oneof(
          words.map((w) => w.join('')),
          fc.string({ unit: 'grapheme', maxLength: 400 }),
        ),
        (text) => {
          const app = appOfWritten(readWritten(text));
          expect(readApp(JSON.parse(JSON.stringify(app)))).toEqual(app);
        },
      ),
      { numRuns: 400 },
    );
  });
});
