import ICAL from 'ical.js';
import jsqr from 'jsqr';
import { PNG } from 'pngjs';
import { getDocument } from 'pdfjs-dist/legacy/build/pdf.mjs';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { MadeContact, MadeEvent, MadePage } from '../../routines/made.ts';
import { contactsText } from './contacts.ts';
import { calendarText } from './calendar.ts';
import { madeBytes } from './made-bytes.ts';

const jsQR = (jsqr as unknown as { default?: typeof jsqr }).default ?? jsqr;
const nothing = async (): Promise<never> => {
  throw new Error('The file is not here now.');
};

const event = (more: Partial<MadeEvent>): MadeEvent => ({
  id: 'r_1',
  title: 'Visit',
  start: { clock: '2026-11-26T09:30:00' },
  end: null,
  lasts: 45,
  place: '',
  words: '',
  ...more,
});
const readEvents = (text: string): InstanceType<typeof ICAL.Event>[] =>
  new ICAL.Component(ICAL.parse(text) as unknown[]).getAllSubcomponents('vevent').map((e) => new ICAL.Event(e));

describe('a calendar file, read by another reader of RFC 5545', () => {
  it('holds the words, place and times of its events', () => {
    const [a] = readEvents(
      calendarText([event({ title: 'Søby; “far”, hives\\1', place: 'North, gate', words: 'One\nTwo' })]),
    );
    expect(a!.summary).toBe('Søby; “far”, hives\\1');
    expect(a!.location).toBe('North, gate');
    expect(a!.description).toBe('One\nTwo');
    expect(a!.startDate.toString()).toBe('2026-11-26T09:30:00');
    expect(a!.startDate.zone.tzid).toBe('floating');
    expect(a!.endDate.toString()).toBe('2026-11-26T10:15:00');
    expect(a!.uid).toBe('r_1@mellow-kite.example');
  });
  it('knows days, whose last one counts, and moments the world over', () => {
    const [one, several, moment] = readEvents(
      calendarText([
        event({ start: { day: '2026-12-31' } }),
        event({ start: { day: '2026-12-30' }, end: { day: '2026-12-31' } }),
        event({ start: { moment: Date.UTC(2026, 0, 2, 3, 4) }, end: { moment: Date.UTC(2026, 0, 2, 5, 0) } }),
      ]),
    );
    expect(one!.startDate.isDate).toBe(true);
    expect(one!.endDate.toString()).toBe('2027-01-01');
    expect(several!.endDate.toString()).toBe('2027-01-01');
    expect(several!.duration.toString()).toBe('P2D');
    expect(moment!.startDate.toJSDate().toISOString()).toBe('2026-01-02T03:04:00.000Z');
    expect(moment!.endDate.toJSDate().toISOString()).toBe('2026-01-02T05:00:00.000Z');
  });
});

it('a calendar keeps what is hostile as words, and refuses a day that it cannot write', () => {
  const hostile = 'A\r\nATTENDEE:mailto:x@y.example\rB\u0007';
  const text = calendarText([event({ title: hostile, place: hostile, words: hostile, start: { day: '2026-02-28' } })]);
  const [read] = readEvents(text);
  expect(read!.summary).toBe('A\nATTENDEE:mailto:x@y.example\nB');
  expect(read!.attendees).toEqual([]);
  expect(text.replace(/\r\n/g, '')).not.toMatch(/[\r\n]/);
  expect(text).toContain('DTEND;VALUE=DATE:20260301');
  expect(() => calendarText([event({ start: { day: '0999-12-31' } })])).toThrow('before the year 1000: 0999-12-31');
});

it('a calendar folds its lines to 75 bytes, whatever the letters are (RFC 5545, 3.1)', () => {
  const unit = fc.oneof(
    fc.string({ unit: 'grapheme', maxLength: 1 }),
    fc.constantFrom('æ', '蜂', '🐝', ' ', ',', '\u2028'),
  );
  const words = fc.string({ unit, maxLength: 200 });
  fc.assert(
    fc.property(words, words, (title, note) => {
      const text = calendarText([event({ title, words: note })]);
      for (const line of text.split('\r\n')) expect(new TextEncoder().encode(line).length).toBeLessThanOrEqual(75);
      // For no reader does a line end where none was meant.
      expect(text.replace(/\r\n/g, '')).not.toMatch(/[\r\n\v\f\u0085\u2028\u2029]/);
      const plain = (s: string): string =>
        s.replace(/\r\n?|[\v\f\u0085\u2028\u2029]/g, '\n').replace(/(?!\n)\p{Cc}/gu, '');
      const [read] = readEvents(text);
      expect(read!.summary ?? '').toBe(plain(title));
      expect(read!.description ?? '').toBe(plain(note));
    }),
  );
});

describe('contact cards, read by another reader of RFC 6350', () => {
  it('hold together for readers that end lines elsewhere', () => {
    const odd = 'A\u2028END:VCARD\u2029B\u0085C\vD';
    const card: MadeContact = { name: odd, mails: [], phones: [], company: odd, address: odd, note: odd };
    const text = contactsText([card]);
    expect(text.replace(/\r\n/g, '')).not.toMatch(/[\r\n\v\f\u0085\u2028\u2029]/);
    expect(text.replace(/\r\n /g, '')).toContain('NOTE:A\\nEND:VCARD\\nB\\nC\\nD');
  });
  it('give back what they were given, whatever it is', () => {
    // A card holds lines, not control characters (RFC 6350, 3.3).
    const unit = fc.oneof(
      fc.string({ unit: 'grapheme', maxLength: 1 }),
      fc.constantFrom(';', ',', ':', '\\', '\n', 'n'),
    );
    const words = fc.string({ unit, maxLength: 120 }).map((s) => s.replace(/(?![\n])[\p{Cc}\p{Zl}\p{Zp}]/gu, ''));
    fc.assert(
      fc.property(words, words, words, (name, company, note) => {
        const card: MadeContact = { name, mails: ['a@b.example'], phones: ['+45 1'], company, address: '', note };
        const text = contactsText([card]);
        for (const line of text.split('\r\n')) expect(new TextEncoder().encode(line).length).toBeLessThanOrEqual(75);
        const read = new ICAL.Component(ICAL.parse(text) as unknown[]);
        expect(read.getFirstPropertyValue('fn')).toBe(name || '(no name)');
        expect(read.getFirstPropertyValue('note') ?? '').toBe(note);
        if (company) expect([read.getFirstPropertyValue('org')].flat().join(';')).toBe(company);
        expect(read.getFirstPropertyValue('email')).toBe('a@b.example');
        expect(String(read.getFirstPropertyValue('tel'))).toBe('+45 1');
      }),
    );
  });
  it('stand one behind the other', () => {
    const card: MadeContact = { name: 'A', mails: [], phones: [], company: 'Club', address: 'Lane 1, Town', note: '' };
    const cards = ICAL.parse(contactsText([card, { ...card, name: 'B' }])) as unknown[][];
    expect(cards).toHaveLength(2);
    expect(contactsText([card])).toContain('ADR:;;Lane 1\\, Town;;;;\r\n');
  });
});

const page = (more: Partial<MadePage>): MadePage => ({
  turned: false,
  picture: '',
  before: '',
  table: null,
  after: '',
  ...more,
});
async function readPdf(bytes: Uint8Array): Promise<{ pages: string[]; wide: boolean }> {
  const doc = await getDocument({ data: bytes, verbosity: 0 }).promise;
  const pages: string[] = [];
  let wide = false;
  for (let n = 1; n <= doc.numPages; n++) {
    const p = await doc.getPage(n);
    const [, , w, h] = p.view as [number, number, number, number];
    wide = w > h;
    pages.push(
      (await p.getTextContent()).items
        .map((i) => ('str' in i ? i.str : ''))
        .join(' ')
        .replace(/\s+/g, ' '),
    );
  }
  return { pages, wide };
}
const pdf = async (p: MadePage, pictureAt = nothing as Parameters<typeof madeBytes>[1]): Promise<Uint8Array> =>
  (await madeBytes({ is: 'pdf', name: 'a.pdf', page: p }, pictureAt)).bytes;

describe('a PDF, read by another reader', () => {
  it.each([
    [
      'a cell',
      page({ table: { head: ['A'], figures: [false], lines: [['x'.repeat(390_000)]], sums: null } }),
      'A cell',
    ],
    ['signs', page({ before: '['.repeat(100_000) }), 'The words of the PDF cannot be set: one paragraph has 100,000'],
    ['quotes', page({ after: '>'.repeat(3000) }), 'quotes or lists in one another'],
  ])('is refused in words where setting it would take minutes: %s', async (_, p, words) => {
    await expect(pdf(p)).rejects.toThrow(words);
  });
  it('takes no drawing of a size that fills the memory', async () => {
    const svg = `<svg xmlns="http://www.w3.org/2000/svg"><path d="${'M1 1L2 2'.repeat(100_000)}"/></svg>`;
    const at = async () => ({ bytes: new TextEncoder().encode(svg), type: 'image/svg+xml' });
    await expect(pdf(page({ picture: 'x' }), at)).rejects.toThrow('The drawing is too large for a PDF.');
  });
  it('holds the words, and the table with its head on every page and its sums at the end', async () => {
    const lines = Array.from({ length: 90 }, (_, i) => [`Hive ${i}`, String(i)]);
    const { pages, wide } = await readPdf(
      await pdf(
        page({
          turned: true,
          before: '# Honey, 2026\n\nWords with **weight** and Ærø.',
          table: { head: ['Hive', 'Honey'], figures: [false, true], lines, sums: ['', '4005'] },
          after: 'Signed.',
        }),
      ),
    );
    expect(wide).toBe(true);
    expect(pages.length).toBeGreaterThan(2);
    expect(pages[0]).toContain('Honey, 2026');
    expect(pages[0]).toContain('Words with weight and Ærø.');
    for (const p of pages) expect(p).toContain('Hive Honey');
    for (const [name] of lines) expect(pages.some((p) => p.includes(name!))).toBe(true);
    expect(pages.at(-1)).toContain('Sum 4005');
    expect(pages.at(-1)).toContain('Signed.');
  });
  it('holds every letter of a table, however long its words are, and none beyond the edge', async () => {
    const long = fc.string({ unit: fc.constantFrom(...'abcWMi@. -'), minLength: 1, maxLength: 90 });
    await fc.assert(
      fc.asyncProperty(
        fc.array(fc.tuple(long, long, long, long, long), { minLength: 1, maxLength: 12 }),
        async (lines) => {
          const head = ['A', 'B', 'C', 'D', 'E'];
          const table = { head, figures: [false, true, false, false, false], lines, sums: null };
          const doc = await getDocument({ data: await pdf(page({ table })), verbosity: 0 }).promise;
          let letters = '';
          for (let n = 1; n <= doc.numPages; n++)
            for (const i of (await (await doc.getPage(n)).getTextContent()).items)
              if ('str' in i) {
                letters += i.str;
                expect(i.transform[4] + i.width).toBeLessThanOrEqual(595.28 - 47);
              }
          const count = (words: string): string => [...words.replace(/[\s\dA-E/]/g, '')].sort().join('');
          expect(count(letters)).toBe(count(lines.flat().join('')));
        },
      ),
      { numRuns: 15 },
    );
  });
  it('is not made with letters that it cannot print', async () => {
    await expect(pdf(page({ before: 'Bees 🐝' }))).rejects.toThrow('The PDF cannot hold “🐝”');
  });
  it('takes a picture, and says when it cannot be had', async () => {
    const png = new PNG({ width: 2, height: 2 });
    const bytes = new Uint8Array(PNG.sync.write(png));
    const made = await pdf(page({ before: 'x', picture: 'a' }), async () => ({ bytes, type: 'image/png' }));
    expect(made.length).toBeGreaterThan(500);
    const svg = new TextEncoder().encode(
      '<svg xmlns="http://www.w3.org/2000/svg" width="9" height="9"><rect width="9" height="9"/></svg>',
    );
    expect(
      (await pdf(page({ picture: 'a', before: 'x' }), async () => ({ bytes: svg, type: 'image/svg+xml' }))).length,
    ).toBeGreaterThan(500);
    await expect(pdf(page({ picture: 'a', before: 'x' }))).rejects.toThrow('not here now');
    await expect(pdf(page({ picture: 'a' }), async () => ({ bytes, type: 'image/webp' }))).rejects.toThrow('PNG');
  });
});

it('a QR code says what it was given', async () => {
  const { bytes, type } = await madeBytes({ is: 'qr', name: 'code.png', words: 'Hive 7 – Ærø' }, nothing);
  expect(type).toBe('image/png');
  const { data, width, height } = PNG.sync.read(Buffer.from(bytes));
  expect(jsQR(new Uint8ClampedArray(data), width, height)?.data).toBe('Hive 7 – Ærø');
});

it('a table file keeps every cell', async () => {
  const { bytes } = await madeBytes(
    {
      is: 'csv',
      name: 'a.csv',
      lines: [
        ['A', 'B'],
        ['1,5', 'x "y"\nz'],
      ],
    },
    nothing,
  );
  expect(new TextDecoder('utf-8', { ignoreBOM: true }).decode(bytes)).toBe('\uFEFFA,B\r\n"1,5","x ""y""\nz"\r\n');
});
