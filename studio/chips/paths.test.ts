import { describe, expect, it } from 'vitest';
import { ElementMaker } from '../../core/app/make.ts';
import { F, T, hiveApp } from '../../core/records/fixture.ts';
import { Model } from '../../core/records/model.ts';
import { inside, reachOfScreen, thingOf } from '../../core/screens/reach.ts';
import { thingsInRoutine } from '../../core/routines/program.ts';
import { stepKinds } from '../../core/routines/kinds.ts';
import { chipLabel, pathsAt, preferring } from './paths.ts';

const app = hiveApp();
const model = new Model(app);
const on = (given: string) => ({ self: null, things: thingOf(model, given) });
const labels = (place: Parameters<typeof pathsAt>[2], wanted: Parameters<typeof pathsAt>[3]): string[] =>
  pathsAt(app, model, place, wanted).map((p) => p.label);

describe('values along links', () => {
  it('are offered nearest first, from the record at hand', () => {
    const found = labels(on(T.visits), 'value');
    expect(found).toEqual(
      expect.arrayContaining(['this visit › When', 'this visit › Hive › Name', 'this visit › Hive › Keeper › Mail']),
    );
    expect(found.indexOf('this visit › When')).toBeLessThan(found.indexOf('this visit › Hive › Keeper › Mail'));
  });
  it('need no prefix where the record’s own fields are in reach', () => {
    expect(labels({ self: T.hives, things: [] }, 'value')).toEqual(expect.arrayContaining(['Weight', 'Keeper › Mail']));
  });
  it('know who uses the app and what day it is, among the conditions of a query too', () => {
    for (const self of [T.hives, null])
      expect(labels({ self, things: [] }, 'value')).toEqual(
        expect.arrayContaining(['the person using the app', 'today', 'now']),
      );
  });
  it('fit what is wanted: a record of a table, records, yes or no', () => {
    expect(labels(on(T.visits), { record: T.keepers })).toEqual([
      'this visit › Hive › Keeper',
      'the person using the app',
    ]);
    expect(labels(on(T.hives), { records: T.visits })).toEqual(['this hive › Visits']);
    expect(labels(on(T.keepers), 'yesno')).toEqual([
      'this keeper › Lives nearby',
      'the person using the app › Lives nearby',
    ]);
  });
  it('put the row of a list before the screen’s record of the same table', () => {
    const rows = (given: string) => inside(model, reachOfScreen(model, { id: 's', given }), { row: T.hives }).things;
    expect(rows(T.hives)).toHaveLength(1);
    expect(rows(T.keepers).map((t) => t.name)).toEqual(['this keeper', 'this hive']);
  });
  it('know the results of a routine’s steps', () => {
    const step = { ...new ElementMaker().step('add'), table: T.visits, resultName: 'new visit' } as never;
    const withRoutine = { ...app, routines: [{ id: 'q_routine00', name: 'Q', given: T.hives, steps: [step] }] };
    const known = new Model(withRoutine);
    const things = thingsInRoutine(stepKinds, known, withRoutine.routines[0]!);
    const found = pathsAt(withRoutine, known, { self: null, things }, 'value');
    expect(found.map((p) => p.label)).toContain('new visit › Fed');
  });
  it('are found as deep as links lead, through no table twice', () => {
    // A row of tables, each linked to the next.
    const names = ['a', 'b', 'c', 'd', 'e', 'f', 'g'];
    const id = (n: string): string => `t_${n.repeat(10)}`;
    const tables = names.map((n, i) => ({
      ...app.tables[2]!,
      id: id(n),
      name: `Table ${n}`,
      one: `thing ${n}`,
      fields: [
        { id: `f_${n}n00000000`, name: 'Name', type: 'text' as const },
        ...(names[i + 1]
          ? [
              {
                id: `f_${n}to0000000`,
                name: `To ${names[i + 1]}`,
                type: 'link' as const,
                link: { kind: 'picked' as const, table: id(names[i + 1]!), backName: `From ${n}` },
              },
            ]
          : []),
      ],
      titleField: `f_${n}n00000000`,
    }));
    const chain = { ...app, tables };
    const known = new Model(chain);
    const place = { self: null, things: thingOf(known, id('a')) };
    const far = 'this thing a › To b › To c › To d › To e › To f › To g › Name';
    const found = (deep: boolean): string[] => pathsAt(chain, known, place, 'value', deep).map((p) => p.label);
    expect(found(false)).not.toContain(far);
    expect(found(true)).toContain(far);
  });
  it('prefer fields of a type, in a group of their own', () => {
    const paths = preferring(pathsAt(app, model, on(T.hives), 'value'), model, 'mail', 'Mail addresses');
    expect(paths[0]).toMatchObject({ label: 'this hive › Keeper › Mail', group: 'Mail addresses' });
  });
});

it.each([
  [`this_${T.hives}.${F.keeper}.${F.mail}`, 'this hive › Keeper › Mail', 'path'],
  ['"Active"', 'Active', 'literal'],
  ['"say \\"hi\\""', 'say "hi"', 'literal'],
  ['12.5', '12.5', 'literal'],
  ['true', 'yes', 'literal'],
  ['today()', 'today', 'literal'],
  ['@"2026-11-23"', '2026-11-23', 'literal'],
  ['@"PT1H30M"', '1 hour 30 minutes', 'literal'],
  [`${F.weight} * 2`, 'Weight * 2', 'formula'],
  ['f_gone00000', 'f_gone00000', 'formula'],
  [`all_${T.keepers}[item = person()][1]`, 'the person using the app', 'path'],
  [`all_${T.keepers}[item = person()][1].${F.mail}`, 'the person using the app › Mail', 'path'],
])('a chip shows %s as %s', (stored, label, kind) => expect(chipLabel(model, stored)).toEqual({ label, kind }));
