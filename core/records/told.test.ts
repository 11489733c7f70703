import { describe, expect, it } from 'vitest';
import { RulesHere } from '../access/rules-here.ts';
import { CalendarDate } from '../formula/values.ts';
import { F, hiveApp, someRecords, T } from './fixture.ts';
import { Records } from './store.ts';
import { compileTemplate } from './template.ts';

/** Records as a phone has them: with values that the host has worked out, and fields that are hidden. */

function open() {
  const app = hiveApp({
    hives: [{ id: 'f_heavy0000', name: 'Heavy', type: 'formula', formula: `${F.total} > 40` }],
    keepers: [{ id: 'f_far00000', name: 'Far', type: 'formula', formula: `not(${F.nearby})` }],
  });
  const records = new Records(app);
  someRecords(records);
  records.may = new RulesHere(records, { roles: [], rules: [] }, () => app);
  const bramble = records.row(T.hives, 'bramble')!;
  const odile = records.row(T.keepers, 'odile')!;
  return { app, records, bramble, odile };
}

describe('a value that the host has worked out', () => {
  it('stands in the place of what comes of the records here, also for formulas and queries that read it', () => {
    const { records, bramble } = open();
    expect([bramble.get(F.total), bramble.get('f_heavy0000')]).toEqual([3.3, false]);
    let heard = 0;
    records.watch([`${T.hives}/${F.total}`]);
    records.subscribe((_, changes) => (heard += changes.rows.get(`${T.hives}/${F.total}`)?.size ?? 0));
    records.tell(T.hives, 'bramble', { told: { [F.total]: 44.5 } });
    expect([bramble.get(F.total), bramble.get('f_heavy0000'), heard]).toEqual([44.5, true, 1]);
    // A change here does not take it away: it is of what is not here.
    records.set(T.visits, 'v1', { [F.fed]: 100 });
    expect(bramble.get(F.total)).toBe(44.5);
    // It is no longer worked out there.
    records.tell(T.hives, 'bramble', {});
    expect([bramble.get(F.total), bramble.get('f_heavy0000')]).toEqual([102.2, true]);
  });
  it('is of any sort that data can be', () => {
    const { records, bramble } = open();
    records.tell(T.hives, 'bramble', {
      told: { [F.total]: { at: '2026-11-30' }, [F.perVisit]: { list: [1, 'a', null] } },
    });
    expect(bramble.get(F.total)).toEqual(new CalendarDate(Date.UTC(2026, 10, 30) / 86_400_000));
    expect(bramble.get(F.perVisit)).toEqual([1, 'a', null]);
  });
});

describe('a field that is hidden', () => {
  it('is nothing, and not what an empty cell would be', () => {
    const { records, odile } = open();
    records.set(T.keepers, 'odile', { [F.nearby]: null });
    expect([odile.get(F.nearby), odile.get('f_far00000')]).toEqual([false, true]);
    records.tell(T.keepers, 'odile', { hidden: [F.nearby] });
    expect([odile.get(F.nearby), odile.get('f_far00000')]).toEqual([null, null]);
    records.tell(T.keepers, 'odile', { hidden: ['f_far00000'] });
    expect([odile.get(F.nearby), odile.get('f_far00000')]).toEqual([false, null]);
  });
  it('is told so where words stand for a value that is missing, along links too', () => {
    const { app, records, bramble } = open();
    const words = (template: string): string =>
      compileTemplate(records.model, template, records.model.optionsFor(T.hives)).run([
        records.runtime as never,
        bramble,
      ]);
    const both = `{${F.weight} | | "no weight"} {${F.keeper}.${F.mail} | | "no mail"}`;
    records.set(T.hives, 'bramble', { [F.weight]: null });
    records.set(T.keepers, 'odile', { [F.mail]: null });
    const empty = words(both);
    records.tell(T.keepers, 'odile', { hidden: [F.mail] });
    const hidden = words(both);
    records.tell(T.hives, 'bramble', { hidden: [F.weight] });
    expect([empty, hidden, words(both)]).toEqual([
      'no weight no mail',
      'no weight not shown to you',
      'not shown to you not shown to you',
    ]);
    expect(app.tables).toHaveLength(3);
  });
});
