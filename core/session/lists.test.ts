import { describe, expect, it } from 'vitest';
import { ElementMaker } from '../app/make.ts';
import { rowFor } from '../app/generate-screens.ts';
import { showAs } from '../app/shown-as.ts';
import { elementOf } from '../app/edits.ts';
import type { App, Element, Routine } from '../app/schema.ts';
import { thisId } from '../document/ids.ts';
import { allOf } from '../document/queries.ts';
import { F, T, hiveApp, someRecords } from '../records/fixture.ts';
import { queryFigures } from '../screens/query-figures.ts';
import { openSession } from './fixture.ts';

const make = new ElementMaker(undefined, rowFor);
const ORDER = 'f_order000';

/** A session on a screen with these elements. */
function open(elements: Element[], change: (app: App) => void = () => {}) {
  const app = hiveApp({ hives: [{ id: ORDER, name: 'Order', type: 'number' }] });
  app.screens = [{ id: 's_lists0000', name: 'Lists', given: null, icon: 'list', root: make.box('down', elements) }];
  change(app);
  const opened = openSession(app, {}, (records) => {
    someRecords(records);
    records.load(T.hives, [
      { id: 'aster', cells: { [F.name]: 'Aster', [F.weight]: 10, [F.status]: 'Active', [ORDER]: 1 } },
      { id: 'dill', cells: { [F.name]: 'Dill', [ORDER]: 2 } },
    ]);
  });
  opened.show('s_lists0000');
  return { app, ...opened };
}
const titles = (rows: { record: string }[]): string[] => rows.map((r) => r.record);
const look = async (o: ReturnType<typeof open>, key: string, view: Record<string, unknown>): Promise<void> => {
  o.session.look('phone', key, view);
  await Promise.resolve();
};

describe('a list', () => {
  it('puts its records together under heads that count and add up, and follows what changes', async () => {
    const list = make.list(T.hives, [], { by: F.status, sum: F.weight });
    const { page, records } = open([list]);
    const said = (): string[] => page.find('list')[0]!.heads.map((h) => `${h.at} ${h.label} ${h.count} ${h.sum}`);
    expect(said()).toEqual(['0 Active 2 24.2 kg', '3 Retired 1 21 kg', '5 No status 1 ']);
    records.set(T.hives, 'dill', { [F.status]: 'Active', [F.weight]: 0.8 });
    await Promise.resolve();
    expect(said()).toEqual(['0 Active 3 25 kg', '4 Retired 1 21 kg']);
    expect(page.find('list')[0]!.records).toBe(4);
  });
  it('is narrowed by what its person sets, and counts anew when a value changes', async () => {
    const o = open([make.list(T.hives, [], { filters: [F.status, F.weight] })]);
    const list = () => o.page.find('list')[0]!;
    await look(o, list().key, { filters: { [F.status]: { in: ['tActive'] } } });
    expect(titles(list().rows)).toEqual(['bramble', 'aster']);
    await look(o, list().key, { filters: { [F.status]: { in: ['tActive'] }, [F.weight]: { from: '12' } } });
    expect(titles(list().rows)).toEqual(['bramble']);
    expect(list().filtered).toBe(2);
    const counts = () => list().filters[0]!.options.map((f) => `${f.label} ${f.count}`);
    expect(counts()).toEqual(['Active 1', 'Retired 1', 'No status 0']);
    o.records.set(T.hives, 'aster', { [F.weight]: 30 });
    await Promise.resolve();
    expect(titles(list().rows)).toEqual(['bramble', 'aster']);
    expect(counts()).toEqual(['Active 2', 'Retired 1', 'No status 0']);
  });
  it.each([
    ['plain', {}],
    ['under heads', { by: F.status }],
  ])('shows as many as a formula says, and follows it: %s', async (_how, more) => {
    const query = { ...allOf(T.hives), limit: `all_${T.hives}[${F.name} = "Aster"][1].${F.weight} / 4` };
    const o = open([make.list(T.hives, [], { query, ...more })]);
    const list = () => o.page.find('list')[0]!;
    expect([list().records, titles(list().rows).length]).toEqual([2, 2]);
    o.records.set(T.hives, 'aster', { [F.weight]: 15.9 });
    await Promise.resolve();
    expect([list().records, titles(list().rows).length]).toEqual([3, 3]);
    o.records.set(T.hives, 'aster', { [F.weight]: -4 });
    await Promise.resolve();
    expect([list().records, titles(list().rows).length]).toEqual([0, 0]);
    // Nothing is no limit.
    o.records.set(T.hives, 'aster', { [F.weight]: null });
    await Promise.resolve();
    expect(list().records).toBe(4);
  });
  it('does with a row what a swipe says, and stays where it is when that removes it', async () => {
    const o = open([make.list(T.hives, [], { swipe: { do: 'remove' }, swipeWords: 'Away' })]);
    const [list] = o.page.find('list');
    expect(list!.swipe).toBe('Away');
    await o.session.tapped('phone', list!.rows[0]!.key, 'swipe');
    expect(o.records.row(T.hives, 'bramble')).toBeUndefined();
    expect(o.effects).toEqual([{ do: 'message', words: 'Removed', tone: 'plain' }]);
    // A tap does nothing here, and no property that is no tap can be pressed.
    await o.session.tapped('phone', list!.rows[1]!.key);
    await o.session.tapped('phone', list!.rows[1]!.key, 'children');
    expect(o.effects).toHaveLength(1);
  });
  it('of marked rows runs the routine for each', async () => {
    const retire: Routine = {
      id: 'q_retire000',
      name: 'Retire',
      given: T.hives,
      steps: [make.step('set', { record: thisId(T.hives), values: [{ field: F.status, value: '"Retired"' }] })],
    };
    const o = open([make.list(T.hives, [], { several: { do: 'routine', routine: retire.id } })], (app) => {
      app.routines = [retire];
    });
    const [list] = o.page.find('list');
    expect(list!.several).toBe('Do it');
    for (const row of list!.rows.slice(0, 3)) await o.session.tapped('phone', row.key, 'several');
    expect(o.records.rows(T.hives).map((r) => r.get(F.status))).toEqual(['Retired', 'Retired', 'Retired', null]);
  });
  it('is dragged into an order that a number keeps, where it stands in that order', async () => {
    const query = { ...allOf(T.hives), order: [{ by: ORDER, descending: false }] };
    const o = open([make.list(T.hives, [], { query, ordered: ORDER }), make.list(T.hives, [], { ordered: ORDER })]);
    const [list, other] = o.page.find('list');
    expect([list!.ordered, other!.ordered]).toEqual([ORDER, '']);
    const now = (): string[] => titles(o.page.find('list')[0]!.rows);
    expect(now()).toEqual(['aster', 'dill', 'bramble', 'clover']);
    await o.session.moved('phone', `${list!.key}/clover`, 'aster');
    await Promise.resolve();
    expect(now()).toEqual(['clover', 'aster', 'dill', 'bramble']);
    await o.session.moved('phone', `${list!.key}/clover`, null);
    await Promise.resolve();
    expect(now()).toEqual(['aster', 'dill', 'bramble', 'clover']);
  });
});

describe('a board', () => {
  it('has a column for every choice, and takes what is dragged there', async () => {
    const o = open([make.make('board', { query: allOf(T.hives), by: F.status, sum: F.weight })]);
    const said = (): string[] => o.page.find('board')[0]!.columns.map((c) => `${c.label} ${c.count} ${c.sum}`);
    expect(said()).toEqual(['Active 2 24.2 kg', 'Retired 1 21 kg', 'No status 1 ']);
    const { columns, table, by, drags } = o.page.find('board')[0]!;
    expect(drags).toBe(true);
    await (await o.session.actions()).saveForm(table, 'dill', { [by]: columns[1]!.cell });
    expect(said()).toEqual(['Active 2 24.2 kg', 'Retired 2 21 kg']);
    expect(o.page.find('board')[0]!.columns.map((c) => [c.from, c.shown])).toEqual([
      [0, 2],
      [2, 2],
    ]);
  });
  it('by a link has a column for each record it could lead to, and keeps the id of it', async () => {
    const o = open([make.make('board', { query: allOf(T.hives), by: F.keeper })]);
    const [odile, none] = o.page.find('board')[0]!.columns;
    expect([odile!.label, odile!.cell, odile!.count]).toEqual(['Odile', 'odile', 1]);
    expect([none!.label, none!.cell, none!.count]).toEqual(['No keeper', null, 3]);
    o.records.set(T.keepers, 'nia', { [F.keeperName]: 'Nia' });
    await Promise.resolve();
    expect(o.page.find('board')[0]!.columns.map((c) => c.label)).toEqual(['Odile', 'Nia', 'No keeper']);
  });
  it('by what is worked out is not dragged', () => {
    const { page } = open([make.make('board', { query: allOf(T.hives), by: F.total })]);
    expect(page.find('board')[0]!.drags).toBe(false);
  });
});

describe('a calendar', () => {
  it('counts the records of each day of a month, and shows those of the chosen one', async () => {
    const o = open([make.make('calendar', { query: allOf(T.visits), by: F.when })]);
    const calendar = () => o.page.find('calendar')[0]!;
    await look(o, calendar().key, { day: '2026-11-08' });
    expect([calendar().year, calendar().month, calendar().lead]).toEqual([2026, 11, 6]);
    expect(calendar().counts).toHaveLength(30);
    expect([calendar().counts[0], calendar().counts[7], calendar().counts[8]]).toEqual([1, 1, 1]);
    expect(titles(calendar().rows)).toEqual(['v2']);
    o.records.set(T.visits, 'v1', { [F.when]: '2026-11-08' });
    o.records.set(T.visits, 'v3', { [F.when]: null });
    await Promise.resolve();
    expect(titles(calendar().rows)).toEqual(['v1', 'v2']);
    expect(calendar().without).toBe(1);
    await look(o, calendar().key, { month: '2027-02' });
    expect(calendar().counts).toEqual(Array.from({ length: 28 }, () => 0));
    await look(o, calendar().key, { month: '2026-77' });
    expect(calendar().month).toBe(11);
  });
});

describe('a table', () => {
  it('shows fields as people read them, and stands in the order of the column that is pressed', async () => {
    const o = open([make.make('table', { query: allOf(T.hives), columns: [F.name, F.weight, 'f_gone0000'] })]);
    const table = () => o.page.find('table')[0]!;
    expect(table().cells).toEqual([
      ['Bramble', '14.2 kg'],
      ['Clover', '21 kg'],
      ['Aster', '10 kg'],
      ['Dill', ''],
    ]);
    await look(o, table().key, { order: { field: F.weight, descending: true } });
    expect(titles(table().rows)).toEqual(['clover', 'bramble', 'aster', 'dill']);
    await look(o, table().key, { order: null, from: 2, count: 1 });
    expect(table().cells).toEqual([['Aster', '10 kg']]);
    expect(table().total).toBe(4);
  });
});

it('a search of several lists names each by its own name or its table', () => {
  const { page } = open([
    make.make('search', { children: [make.list(T.hives, [], { name: 'All hives' }), make.list(T.visits, [])] }),
  ]);
  expect(page.find('search')[0]!.heads).toEqual(['All hives', 'Visits']);
});

it('records are shown another way, and what both ways have stays', () => {
  const list = make.list(T.hives, [make.text('row')], {
    filters: [F.status],
    tap: { do: 'back' },
    query: { ...allOf(T.hives), limit: 5 },
    name: 'Mine',
  });
  const { app } = open([list]);
  showAs(app, list.id, 'board', make);
  const board = elementOf(app, list.id) as Extract<Element, { kind: 'board' }>;
  expect(board).toMatchObject({ kind: 'board', by: F.status, filters: [F.status], tap: { do: 'back' }, name: 'Mine' });
  expect(board.query.limit).toBe(5);
  expect(board.children).toEqual(list.children);
  showAs(app, list.id, 'table', make);
  expect(elementOf(app, list.id)).toMatchObject({ kind: 'table', children: [], filters: [F.status] });
  showAs(app, list.id, 'list', make);
  // What a table has no use for begins anew.
  expect((elementOf(app, list.id) as typeof list).children).toHaveLength(1);
});

it('the desk tells what each condition left out', () => {
  const { app, records } = open([]);
  const where = {
    match: 'all' as const,
    conditions: [
      { left: F.weight, op: 'over' as const, right: '12' },
      { left: F.status, op: 'is' as const, right: '"Active"' },
    ],
    groups: [{ match: 'any' as const, conditions: [{ left: F.name, op: 'contains' as const, right: '"a"' }] }],
  };
  const figures = queryFigures(records, app.screens[0]!, { ...allOf(T.hives), where }, null);
  expect([figures.shown, figures.of]).toEqual([1, 4]);
  expect(figures.leftOut.map((l) => [l.said, l.records.map((r) => r.title)])).toEqual([
    ['Weight is over 12', ['Aster', 'Dill']],
    ['Status is Active', ['Clover', 'Dill']],
    ['Name contains a', ['Clover', 'Dill']],
  ]);
  const any = queryFigures(records, app.screens[0]!, { ...allOf(T.hives), where: { ...where, match: 'any' } }, null);
  expect(any.leftOut.map((l) => [l.said, l.count])).toEqual([
    ['Weight is over 12 or Status is Active or (Name contains a)', 1],
  ]);
});
