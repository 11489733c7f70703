import '../fields/typed-texts.ts';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { renameField, renameTable } from '../app/edits.ts';
import type { Field } from '../tables/schema.ts';
import type { Query } from '../document/pieces.ts';
import { toJson } from '../formula/json.ts';
import { toStored } from '../formula/stored.ts';
import { typedCell } from './cells.ts';
import { checkCell } from './check-cell.ts';
import { readNumberText } from '../fields/read-number.ts';
import { readDateText, readDateTimeText } from '../fields/read-text.ts';
import { dateText, dateTimeText } from '../formula/temporal.ts';
import { display } from './format.ts';
import { F, T, hiveApp, someRecords } from './fixture.ts';
import { Model } from './model.ts';
import { compileQuery } from './query.ts';
import { Records } from './store.ts';
import { compileTemplate, shownTemplate, storedTemplate } from './template.ts';
import { joinPieces, pieces } from './words.ts';

const NOW = Date.UTC(2026, 10, 23, 12);
function open(app = hiveApp()): Records {
  const records = new Records(app, () => NOW);
  someRecords(records);
  return records;
}
const read = (r: Records, table: string, id: string, field: string): unknown => toJson(r.row(table, id)!.get(field));
const formula = (id: string, name: string, text: string): Field => ({ id, name, type: 'formula', formula: text });

describe('links and formula fields', () => {
  it('match without case and spaces, from both ends', () => {
    const r = open();
    expect(r.row(T.visits, 'v2')!.get('Hive')).toBe(r.row(T.hives, 'bramble'));
    expect(toJson(r.row(T.hives, 'bramble')!.get('Visits'))).toEqual(['v1', 'v2']);
    expect(toJson(r.row(T.keepers, 'odile')!.get('Hives'))).toEqual(['bramble']);
  });
  it('work out along links', () => {
    const r = open();
    expect(read(r, T.hives, 'bramble', F.total)).toBe(3.3);
    expect(read(r, T.hives, 'bramble', F.perVisit)).toBe(1.65);
    expect(read(r, T.visits, 'v1', F.label)).toBe('Bramble Odile');
    expect(read(r, T.visits, 'v3', F.label)).toBeNull();
  });
  it('follow an edit to every dependent value', () => {
    const r = open();
    expect(read(r, T.hives, 'bramble', F.perVisit)).toBe(1.65);
    r.set(T.visits, 'v1', { [F.fed]: 3 });
    expect(read(r, T.hives, 'bramble', F.total)).toBe(5.2);
    expect(read(r, T.hives, 'bramble', F.perVisit)).toBe(2.6);
    r.set(T.visits, 'v1', { [F.hiveTag]: 'HB-2' });
    expect(read(r, T.hives, 'bramble', F.total)).toBe(2.2);
    expect(read(r, T.hives, 'clover', F.total)).toBe(3);
    r.remove(T.visits, 'v1');
    expect(read(r, T.hives, 'clover', F.total)).toBe(0);
    expect(read(r, T.visits, 'v2', F.label)).toBe('Bramble Odile');
    r.set(T.keepers, 'odile', { [F.keeperName]: 'Ines' });
    expect(read(r, T.visits, 'v2', F.label)).toBe('Bramble Ines');
  });
  it('give after any edits what a fresh start gives (property)', () => {
    const edit = fc.oneof(
      fc.record({
        do: fc.constant('set' as const),
        table: fc.constant(T.visits),
        id: fc.constantFrom('v1', 'v2', 'v3', 'v4'),
        cells: fc.record(
          {
            [F.hiveTag]: fc.constantFrom('HB-1', 'HB-2', 'HB-3', null),
            [F.fed]: fc.option(fc.integer({ min: 0, max: 9 })),
          },
          { requiredKeys: [] },
        ),
      }),
      fc.record({
        do: fc.constant('set' as const),
        table: fc.constant(T.hives),
        id: fc.constantFrom('bramble', 'clover'),
        cells: fc.record(
          {
            [F.tag]: fc.constantFrom('HB-1', 'HB-2', 'HB-3'),
            [F.keeper]: fc.constantFrom('odile', 'tam', null),
            [F.name]: fc.string(),
          },
          { requiredKeys: [] },
        ),
      }),
      fc.record({
        do: fc.constant('set' as const),
        table: fc.constant(T.keepers),
        id: fc.constantFrom('odile', 'tam'),
        cells: fc.record({ [F.keeperName]: fc.string({ minLength: 1 }) }),
      }),
      fc.record({
        do: fc.constant('remove' as const),
        table: fc.constantFrom(T.visits, T.hives, T.keepers),
        id: fc.constantFrom('v1', 'v2', 'bramble', 'odile'),
        cells: fc.constant({}),
      }),
    );
    const app = hiveApp({
      keepers: [formula('f_allfed0', 'All fed', `sum(${F.keeper}_back.${F.total})`)],
      hives: [formula('f_share00', 'Share', `${F.total} / sum(all_${T.hives}.${F.total})`)],
    });
    const snapshot = (r: Records): unknown =>
      [T.hives, T.visits, T.keepers].map((t) =>
        Object.fromEntries(
          r.rows(t).map((row) => [
            row.id,
            row.store.model.members.map((m) => {
              const v = toJson(m.get(row));
              return Array.isArray(v) ? [...v].sort() : v;
            }),
          ]),
        ),
      );
    fc.assert(
      fc.property(fc.array(edit, { maxLength: 12 }), fc.array(fc.nat(11)), (edits, looks) => {
        const r = open(app);
        edits.forEach((e, i) => {
          if (looks.includes(i)) snapshot(r); // what has been read must forget just as well
          if (e.do === 'set') r.set(e.table, e.id, { ...e.cells });
          else r.remove(e.table, e.id);
        });
        const fresh = new Records(app, () => NOW);
        for (const t of [T.keepers, T.hives, T.visits])
          fresh.load(
            t,
            r.rows(t).map((row) => ({ id: row.id, cells: { ...row.cells } })),
          );
        expect(snapshot(r)).toEqual(snapshot(fresh));
      }),
      { numRuns: 300 },
    );
  });
  it('count from the clock and forget with it', () => {
    let now = NOW;
    const r = new Records(hiveApp({ visits: [formula('f_ago0000', 'Ago', `(today() - ${F.when}).days`)] }), () => now);
    someRecords(r);
    expect(read(r, T.visits, 'v1', 'f_ago0000')).toBe(22);
    now += 86_400_000;
    r.tick();
    expect(read(r, T.visits, 'v1', 'f_ago0000')).toBe(23);
  });
});

describe('cycles', () => {
  it('are refused with the cycle spelled out', () => {
    const app = hiveApp({
      hives: [formula('f_first00', 'First', 'f_second0 + 1'), formula('f_second0', 'Second', 'f_first00 + 1')],
    });
    const r = open(app);
    const model = r.model.tables.get(T.hives)!;
    expect(r.model.formula(T.hives, model.fields.get('f_first00')!).problems[0]!.message).toBe(
      'These fields go round in a circle: First uses Second uses First. Change one of them.',
    );
    expect(read(r, T.hives, 'bramble', 'f_first00')).toBeNull();
  });
  it('a formula that refers to itself says so', () => {
    const r = open(hiveApp({ hives: [formula('f_self000', 'Own', 'f_self000 + 1')] }));
    expect(
      r.model.formula(T.hives, r.model.tables.get(T.hives)!.fields.get('f_self000')!).problems[0]!.message,
    ).toContain('uses itself');
  });
});

describe('stored formulas', () => {
  it('survive renaming and are shown with today’s names', () => {
    const app = hiveApp();
    const { stored } = toStored('sum(Visits.Fed) + Weight', new Model(app).optionsFor(T.hives));
    expect(stored).toBe(`sum(${F.hive}_back.${F.fed}) + ${F.weight}`);
    renameField(app, T.visits, F.fed, 'Litres fed');
    renameTable(app, T.hives, 'Colonies');
    const model = new Model(app);
    expect(model.shown(stored)).toBe('sum(Visits.Litres fed) + Weight');
    expect(toStored(model.shown(stored), model.optionsFor(T.hives)).stored).toBe(stored);
    expect(model.shown(`count(all_${T.hives})`)).toBe('count(all Colonies)');
  });
  it('tell the records linked to this one from the whole table', () => {
    const model = new Model(hiveApp());
    expect(toStored('count(Visits)', model.optionsFor(T.hives)).stored).toBe(`count(${F.hive}_back)`);
    expect(toStored('count(all Visits)', model.optionsFor(T.hives)).stored).toBe(`count(all_${T.visits})`);
  });
  it('leave text in quotes alone', () => {
    expect(new Model(hiveApp()).shown(`"${F.weight}" + ${F.name}`)).toBe(`"${F.weight}" + Name`);
  });
});

describe('queries', () => {
  const query = (q: Partial<Query>): Query => ({
    table: T.hives,
    where: { match: 'all', conditions: [] },
    order: [],
    limit: null,
    ...q,
  });
  const ids = (r: Records, q: Query, search?: string): string[] =>
    compileQuery(r, q, [])
      .run([], search)
      .map((x) => x.id);
  it('filter by conditions joined with and or or', () => {
    const r = open();
    const conditions = [
      { left: F.status, op: 'is' as const, right: '"active"' },
      { left: F.weight, op: 'over' as const, right: '20' },
    ];
    expect(ids(r, query({ where: { match: 'all', conditions } }))).toEqual([]);
    expect(ids(r, query({ where: { match: 'any', conditions } }))).toEqual(['bramble', 'clover']);
  });
  it('leave an unfinished condition out and say so', () => {
    const r = open();
    const compiled = compileQuery(
      r,
      query({ where: { match: 'all', conditions: [{ left: F.status, op: 'is', right: '' }] } }),
      [],
    );
    expect(compiled.run([])).toHaveLength(2);
    expect(compiled.problems).toHaveLength(1);
  });
  it('order with nothing last, both ways', () => {
    const r = open();
    r.set(T.hives, 'x', { [F.name]: 'hive 10' });
    r.set(T.hives, 'y', { [F.name]: 'Hive 9', [F.weight]: 1 });
    expect(ids(r, query({ order: [{ by: F.weight, descending: true }] }))).toEqual(['clover', 'bramble', 'y', 'x']);
    expect(ids(r, query({ order: [{ by: F.weight, descending: false }] }))).toEqual(['y', 'bramble', 'clover', 'x']);
    expect(ids(r, query({ order: [{ by: F.name, descending: false }] }))).toEqual(['bramble', 'clover', 'y', 'x']);
  });
  it('search in fields and linked titles', () => {
    const r = open();
    expect(ids(r, query({}), 'odil')).toEqual(['bramble']);
    expect(ids(r, query({ table: T.visits }), 'clover')).toEqual(['v3']);
  });
  it('take the records linked to a record', () => {
    const r = open();
    const things = [{ id: `this_${T.hives}`, name: 'this hive', type: { k: 'record' as const, table: T.hives } }];
    const q = compileQuery(r, query({ table: T.visits, via: `this_${T.hives}.${F.hive}_back` }), things);
    expect(q.run([r.row(T.hives, 'bramble')!]).map((x) => x.id)).toEqual(['v1', 'v2']);
    expect(q.run([null])).toEqual([]);
  });
});

describe('words with values in them', () => {
  const options = () => open().model.optionsFor(T.hives);
  it('take the format of their field', () => {
    const r = open();
    const t = compileTemplate(r.model, `{${F.name}} weighs {${F.weight}}, {{not a place}`, r.model.optionsFor(T.hives));
    expect(t.run([r.runtime as never, r.row(T.hives, 'bramble')!])).toBe('Bramble weighs 14.2 kg, {not a place}');
  });
  it('are stored and shown the same (property)', () => {
    const part = fc.oneof(
      fc.string({ maxLength: 6 }).map((s) => s.replace(/[{}]/g, '')),
      fc.constantFrom('{Name}', '{Weight}', '{sum(Visits.Fed)}'),
    );
    const model = open().model;
    fc.assert(
      fc.property(fc.array(part), (list) => {
        const text = list.join('');
        expect(shownTemplate(storedTemplate(text, options()), model.nameOf)).toBe(text);
      }),
      { numRuns: 60 },
    );
  });
  it('a sign between two values stands only where both are filled in', () => {
    const r = open();
    const t = compileTemplate(r.model, `{${F.hiveTag}} · {${F.fed}}, {${F.label}}`, r.model.optionsFor(T.visits));
    const of = (id: string): string => t.run([r.runtime as never, r.row(T.visits, id)!]);
    expect(of('v1')).toBe('HB-1 · 1.1 litres, Bramble Odile');
    expect(of('v3')).toBe('HB-2');
  });
  it('an open brace without end is plain', () => expect(pieces('a {b')).toEqual([{ words: 'a {b' }]));
});

describe('what people type', () => {
  it.each([
    ['2026-11-23', '2026-11-23'],
    ['23/11/2026', '2026-11-23'],
    ['23.11.26', '2026-11-23'],
    ['23 Nov 2026', '2026-11-23'],
    ['Nov 23, 2026', '2026-11-23'],
    ['Mon 23 Nov 2026', '2026-11-23'],
    ['31/02/2026', null],
    ['soon', null],
  ])('date %s', (text, iso) => {
    const d = readDateText(text);
    expect(d && dateText(d)).toBe(iso);
  });
  it('reads month first when told to', () =>
    expect(dateText(readDateText('11/23/2026', 'month first')!)).toBe('2026-11-23'));
  it.each([
    ['2026-11-23 15:58', '2026-11-23T15:58:00'],
    ['23/11/2026 3:05 pm', '2026-11-23T15:05:00'],
    ['2026-11-23T15:58:00Z', '2026-11-23T15:58:00'],
  ])('date and time %s', (text, iso) => expect(dateTimeText(readDateTimeText(text)!)).toBe(iso));
  it.each([
    ['1,234.5', '.', 1234.5],
    ['1.234,5', ',', 1234.5],
    ['€ 12.50', '.', 12.5],
    ['(3)', '.', -3],
    ['12%', '.', 12],
    ["1'000", '.', 1000],
    ['12,5', '.', null],
    ['x', '.', null],
  ] as const)('number %s', (text, sign, n) => expect(readNumberText(text, sign)).toBe(n));
  it('a typed cell is always one its field accepts (property)', () => {
    const field = fc
      .constantFrom('text', 'number', 'money', 'percent', 'time', 'yesno', 'date', 'datetime', 'mail')
      .map((type): Field => ({ id: 'f_any0000', name: 'Any', type: type as Field['type'] }));
    fc.assert(
      fc.property(field, fc.string(), (f, text) => {
        const cell = typedCell(f, text);
        if (cell !== undefined) expect(checkCell(f, cell)).toBeNull();
      }),
    );
  });
  it('reads percent and times of day', () => {
    const field = (type: Field['type']): Field => ({ id: 'f_x000000', name: 'X', type });
    expect(typedCell(field('percent'), '12,5 %', 'day first', ',')).toBe(0.125);
    expect(typedCell(field('money'), '€ 12.50')).toBe(12.5);
    expect(['15:58', '3.58 pm', '25:00', 'noon'].map((t) => typedCell(field('time'), t))).toEqual([
      '15:58:00',
      '15:58:00',
      undefined,
      undefined,
    ]);
  });
  it('keeps numbers in their range', () => {
    const temper: Field = { id: 'f_x000000', name: 'Temper', type: 'number', least: 1, most: 5 };
    expect([0, 1, 5, 6].map((n) => checkCell(temper, n))).toEqual([
      'Temper is at least 1.',
      null,
      null,
      'Temper is at most 5.',
    ]);
    expect(checkCell({ ...temper, type: 'percent', most: 1 }, 1.5)).toBe('Temper is at most 100 %.');
  });
  it('says why a cell may not stand there', () =>
    expect(checkCell({ id: 'f_x000000', name: 'Weight', type: 'number' }, 'heavy')).toBe(
      '“heavy” is not a number for Weight.',
    ));
});

it('values read as people write them', () => {
  expect(display(1998)).toBe('1998');
  expect(display(19980.5, { unit: 'kg', type: 'number' })).toBe('19,980.5 kg');
  expect(display(readDateText('2026-11-23'))).toBe('Mon 23 Nov 2026');
  expect(display(true)).toBe('yes');
  expect(display(1234.5, { type: 'money' })).toBe('€1,234.50');
  expect(display(0.125, { type: 'percent' })).toBe('12.5 %');
  expect(display(8 / 3)).toBe('2.6667');
});

describe('values in words', () => {
  const now = Date.UTC(2026, 10, 26, 12);
  const said = (place: string, cells: Record<string, string | number> = {}): string => {
    const records = new Records(
      hiveApp({ hives: [{ id: 'f_moment00', name: 'Moment', type: 'datetime' }] }),
      () => now,
    );
    records.load(T.hives, [{ id: 'h', cells: { [F.name]: 'Moss', [F.weight]: 1234.5, ...cells } }]);
    const t = compileTemplate(records.model, place, records.model.optionsFor(T.hives));
    return t.run([records.runtime as never, records.row(T.hives, 'h')!]);
  };
  const ago = (moment: string): string => said('{f_moment00 | how long ago}', { f_moment00: moment });
  it.each([
    [`{${F.weight} | number 2}`, '1234.50 kg'],
    [`{${F.weight} | number 0}`, '1235 kg'],
    [`{${F.weight} | money}`, '1,234.50 kg'],
    ['{0.25 | percent}', '25 %'],
    ['{@"2026-11-23" | short date}', 'Mon 23 Nov'],
    ['{@"2026-11-23" | weekday}', 'Monday'],
    ['{@"1969-12-28" | weekday}', 'Sunday'],
    ['{@"2026-11-23T08:05:00" | time}', '08:05'],
    ['{@"2026-11-23T08:05:00" | date}', 'Mon 23 Nov 2026'],
    [`{${F.hive}_back | how many} visits`, '0 visits'],
    ['{[1, 2] | how many}', '2'],
    // What a way of telling does not fit is told as it is.
    [`{${F.name} | money}`, 'Moss'],
    [`{${F.status} | "no status yet"}`, 'no status yet'],
    [`{${F.status} | short date | "a | b } c"}!`, 'a | b } c!'],
  ])('%s reads %s', (place, words) => expect(said(place)).toBe(words));
  it.each([
    ['2026-11-26T11:59:30', 'just now'],
    ['2026-11-26T11:15:00', '45 minutes ago'],
    ['2026-11-26T09:30:00', '2 hours ago'],
    ['2026-11-26T15:00:00', 'in 3 hours'],
    ['2026-11-25T11:00:00', '25 hours ago'],
    ['2026-11-23T12:00:00', '3 days ago'],
    ['2026-09-01T12:00:00', '3 months ago'],
    ['2023-11-01T12:00:00', '3 years ago'],
  ])('%s is %s', (moment, words) => expect(ago(moment)).toBe(words));
  it('days are counted by the calendar', () => {
    expect(said('{@"2026-11-25" | how long ago}')).toBe('yesterday');
    expect(said('{@"2026-11-27" | how long ago}')).toBe('tomorrow');
    expect(said('{@"2026-11-26" | how long ago}')).toBe('today');
  });
  it('how long ago moves with the clock', () => {
    const { model } = new Records(hiveApp());
    const volatile = (t: string): boolean => compileTemplate(model, t, model.optionsFor(T.hives)).volatile;
    expect([volatile(`{${F.visited} | how long ago}`), volatile(`{${F.visited} | date}`)]).toEqual([true, false]);
  });
  it('are written and read the same (property)', () => {
    const words = fc.string({ maxLength: 8 });
    const piece = fc.oneof(
      fc.record({ words: words.filter((w) => w !== '') }),
      fc.record({
        formula: fc.constantFrom('a', 'if a = "|}" then 1 else {b: 2}', '"x\\"|y"'),
        spoken: fc.constantFrom('money', 'number 2'),
        missing: words.filter((w) => w !== ''),
      }),
    );
    fc.assert(
      fc.property(fc.array(piece, { maxLength: 5 }), (list) => {
        const joined = list.flatMap((p, i) => ('words' in p && i > 0 && 'words' in list[i - 1]! ? [] : [p]));
        expect(pieces(joinPieces(joined))).toEqual(joined);
      }),
      { numRuns: 200 },
    );
  });
});
