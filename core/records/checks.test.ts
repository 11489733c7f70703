import { describe, expect, it } from 'vitest';
import type { Draft } from './change.ts';
import type { App } from '../app/schema.ts';
import { completed } from './begin.ts';
import { recordProblem, recordWithKey } from './checks.ts';
import { F, T, hiveApp } from './fixture.ts';
import { Records } from './store.ts';

const NOW = Date.UTC(2026, 10, 23, 12);
function open(change: (app: App) => void = () => {}): Records {
  const app = hiveApp();
  change(app);
  const records = new Records(app, () => NOW);
  records.load(T.keepers, [{ id: 'k1', cells: { [F.keeperName]: 'Odile', [F.mail]: 'odile@x.example' } }]);
  records.load(T.hives, [
    { id: 'h1', cells: { [F.name]: 'Bramble', [F.tag]: 'HB-1', [F.weight]: 14, [F.status]: 'Active' } },
    { id: 'h2', cells: { [F.name]: 'Clover', [F.tag]: 'HB-2', [F.weight]: 9, [F.status]: 'Active' } },
  ]);
  return records;
}
const hiveField = (app: App, id: string) => app.tables[0]!.fields.find((f) => f.id === id)!;
const said = (r: Records, id: string, cells: Record<string, string | number | null>): string | undefined =>
  recordProblem(r, T.hives, id, cells)?.said;

describe('keys', () => {
  const keyed = (): Records => open((app) => (app.tables[0]!.key = [F.name, F.status]));
  it('of two fields refuse only what is the same in both', () => {
    const r = keyed();
    expect(said(r, 'new', { [F.name]: 'bramble ', [F.status]: 'Active' })).toBe(
      'There is a hive with Name “Bramble” and Status “Active” already.',
    );
    expect(said(r, 'new', { [F.name]: 'Bramble', [F.status]: 'Resting' })).toBeUndefined();
    expect(said(r, 'h2', { [F.name]: 'Bramble' })).toContain('already');
    expect(said(r, 'h1', { [F.weight]: 3 })).toBeUndefined();
  });
  it('with an empty part name nobody', () => {
    const r = keyed();
    expect(said(r, 'new', { [F.name]: 'Bramble', [F.status]: null })).toBeUndefined();
    expect(recordWithKey(r.stores.get(T.hives)!, { [F.name]: 'Clover', [F.status]: 'active' })?.id).toBe('h2');
    expect(recordWithKey(open().stores.get(T.hives)!, { [F.name]: 'Clover' })).toBeNull();
  });
});

describe('checks with the maker’s own words', () => {
  const checked = (formula: string): Records =>
    open((app) => (hiveField(app, F.weight).check = { formula, words: 'Too heavy to lift.' }));
  it('refuse a record for which the formula is no', () => {
    const r = checked(`${F.weight} <= 30`);
    expect(said(r, 'h1', { [F.weight]: 31 })).toBe('Too heavy to lift.');
    expect(said(r, 'h1', { [F.weight]: 30 })).toBeUndefined();
  });
  it('let pass what cannot be told, and what they do not read', () => {
    const r = checked(`${F.weight} <= 5`);
    expect(said(r, 'h1', { [F.weight]: null })).toBeUndefined();
    expect(said(r, 'h1', { [F.name]: 'Other' })).toBeUndefined();
  });
  it('are asked when another field they read changes', () => {
    const r = checked(`${F.status} != "Retired" or ${F.weight} < 5`);
    expect(said(r, 'h1', { [F.status]: 'Retired' })).toBe('Too heavy to lift.');
  });
  it('see links and formula fields of the record as it would be', () => {
    const r = open(
      (app) =>
        (hiveField(app, F.keeper).check = { formula: `${F.keeper}.${F.mail} != "odile@x.example"`, words: 'No' }),
    );
    expect(said(r, 'h1', { [F.keeper]: 'k1' })).toBe('No');
    expect(said(r, 'h1', { [F.keeper]: null })).toBeUndefined();
  });
  it('that are broken stop nobody', () => {
    expect(said(checked('Weight <= '), 'h1', { [F.weight]: 99 })).toBeUndefined();
  });
});

describe('what the app fills in', () => {
  const make = (r: Records, cells: Record<string, string | number | null> = {}, record = 'new') => {
    const [draft] = completed(r, [{ do: 'set', table: T.hives, record, cells }]) as [Draft & { do: 'set' }];
    return draft.cells;
  };
  it('defaults, plain or worked out, unless a value is given', () => {
    const r = open((app) => {
      hiveField(app, F.status).default = '"Active"';
      hiveField(app, F.weight).default = `count(all_${T.hives}) * 2`;
      hiveField(app, F.keeper).default = `all_${T.keepers}[1]`;
    });
    expect(make(r)).toEqual({ [F.status]: 'Active', [F.weight]: 4, [F.keeper]: 'k1' });
    expect(make(r, { [F.status]: null })[F.status]).toBeNull();
    expect(make(r, { [F.name]: 'x' }, 'h1')).toEqual({ [F.name]: 'x' });
  });
  it('a default may read what is given with the record', () => {
    const r = open((app) => (hiveField(app, F.tag).default = `"T " + ${F.name}`));
    expect(make(r, { [F.name]: 'Fern' })[F.tag]).toBe('T Fern');
  });
  it('a default that does not fit its field is left out', () => {
    const r = open((app) => (hiveField(app, F.weight).default = '"heavy"'));
    expect(make(r)).toEqual({});
  });
  it('ids, who it is, and the times of making and of the last change', () => {
    const r = open((app) =>
      app.tables[0]!.fields.push(
        { id: 'f_uid00000', name: 'Id', type: 'id', prefix: 'H-' },
        { id: 'f_made0000', name: 'Made', type: 'created' },
        { id: 'f_last0000', name: 'Last', type: 'changed' },
        { id: 'f_who00000', name: 'Who', type: 'person', default: 'person()' },
        { id: 'f_day00000', name: 'Day', type: 'date', default: 'now()' },
      ),
    );
    r.person = 'Odile';
    const cells = make(r);
    expect(cells['f_uid00000']).toMatch(/^H-[A-HJ-NP-Z2-9]{8}$/);
    expect(cells).toMatchObject({
      f_made0000: '2026-11-23T12:00:00',
      f_last0000: '2026-11-23T12:00:00',
      f_who00000: 'Odile',
      f_day00000: '2026-11-23',
    });
    expect(Object.keys(make(r, { [F.name]: 'x' }, 'h1')).sort()).toEqual(['f_last0000', F.name].sort());
  });
  it('a place at the end of the table’s own order, one after the other', () => {
    const r = open((app) => {
      app.tables[0]!.fields.push({ id: 'f_order000', name: 'Order', type: 'number' });
      app.tables[0]!.ownOrder = 'f_order000';
    });
    const two = (): Draft[] =>
      completed(
        r,
        ['n1', 'n2'].map((record) => ({ do: 'set' as const, table: T.hives, record, cells: {} })),
      );
    r.set(T.hives, 'h1', { f_order000: 7 });
    // While a record has no place yet, a new one stands behind it by having none either.
    expect(two().map((d) => d.do === 'set' && d.cells['f_order000'])).toEqual([undefined, undefined]);
    r.set(T.hives, 'h2', { f_order000: 2 });
    const drafts = two();
    expect(drafts.map((d) => d.do === 'set' && d.cells['f_order000'])).toEqual([8, 9]);
  });
});

describe('links to several records', () => {
  const several = (): Records => {
    const r = open((app) => (hiveField(app, F.keeper).several = true));
    r.load(T.keepers, [{ id: 'k2', cells: { [F.keeperName]: 'Ines' } }]);
    r.set(T.hives, 'h1', { [F.keeper]: '["k2","k1"]' });
    return r;
  };
  it('are followed from both ends, in the order they were picked', () => {
    const r = several();
    const end = r.model.tables.get(T.hives)!.links.find((l) => l.field.id === F.keeper)!;
    const back = r.model.tables.get(T.keepers)!.links.find((l) => l.back && l.field.id === F.keeper)!;
    expect(r.followAll(r.row(T.hives, 'h1')!, end).map((x) => x.title())).toEqual(['Ines', 'Odile']);
    expect(r.followAll(r.row(T.keepers, 'k2')!, back).map((x) => x.title())).toEqual(['Bramble']);
    r.set(T.hives, 'h1', { [F.keeper]: '["k1"]' });
    expect(r.followAll(r.row(T.keepers, 'k2')!, back)).toEqual([]);
  });
  it('are lists in formulas', () => {
    const r = several();
    const c = r.model.formulaOf(T.hives, `string join(${F.keeper}.${F.keeperName}, "+")`);
    expect(c.problems).toEqual([]);
    expect(c.run([r.runtime as never, r.row(T.hives, 'h1')!])).toBe('Ines+Odile');
  });
});

describe('app facts', () => {
  it('are at hand by name, and formulas follow them', () => {
    const app = hiveApp();
    app.tables.push({
      id: 't_facts000',
      name: 'App facts',
      one: 'app facts',
      titleField: null,
      pictureField: null,
      facts: true,
      fields: [{ id: 'f_limit000', name: 'Heavy from', type: 'number' }],
    });
    app.tables[0]!.fields.push({
      id: 'f_heavy000',
      name: 'Heavy',
      type: 'formula',
      formula: `${F.weight} >= all_t_facts000.f_limit000`,
    });
    const r = new Records(app);
    r.load('t_facts000', [{ id: 'facts', cells: { f_limit000: 12 } }]);
    r.load(T.hives, [{ id: 'h1', cells: { [F.weight]: 14 } }]);
    expect(r.row(T.hives, 'h1')!.get('Heavy')).toBe(true);
    r.set('t_facts000', 'facts', { f_limit000: 20 });
    expect(r.row(T.hives, 'h1')!.get('Heavy')).toBe(false);
    expect(r.model.shown('all_t_facts000.f_limit000')).toBe('app facts.Heavy from');
  });
});
