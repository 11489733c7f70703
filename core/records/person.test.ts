import { describe, expect, it } from 'vitest';
import { personalScreens, peopleTable } from '../app/people.ts';
import { ElementMaker } from '../app/make.ts';
import { F, hiveApp, someRecords, T } from './fixture.ts';
import { compileQuery } from './query.ts';
import { Records } from './store.ts';

const make = new ElementMaker();

/** Hives with their keepers, as whoever uses the app sees them. */
function open() {
  const app = hiveApp();
  const [hives, keepers] = [app.tables.find((t) => t.id === T.hives)!, app.tables.find((t) => t.id === T.keepers)!];
  hives.fields.push(
    { id: 'f_mine00000', name: 'Mine', type: 'formula', formula: `${F.keeper} = person()` },
    { id: 'f_others000', name: 'Others', type: 'formula', formula: `person() != ${F.keeper}` },
    { id: 'f_known0000', name: 'Known', type: 'formula', formula: 'person() = null' },
    { id: 'f_who000000', name: 'Who', type: 'person' },
  );
  const records = new Records(app);
  someRecords(records);
  records.set(T.hives, 'nobodys', { [F.name]: 'Nobody’s' });
  const where = (op: 'is' | 'is not', left: string = F.keeper) =>
    compileQuery(
      records,
      {
        table: T.hives,
        where: { match: 'all', conditions: [{ left, op, right: 'person()' }] },
        order: [],
        limit: null,
      },
      [],
    )
      .run([])
      .map((r) => r.id);
  const row = (id: string) => records.row(T.hives, id)!;
  const owned = records.rows(T.hives).find((r) => r.get('Keeper') !== null)!;
  const owner = owned.get('Keeper') as unknown as { id: string; title(): string };
  return { app, records, where, row, owned, owner, keepers };
}

describe('the person using the app', () => {
  it('is a record that is linked, by the person’s name, mail address or own record', () => {
    const { records, where, owned, owner } = open();
    for (const name of [
      owner.title(),
      owner.title().toUpperCase(),
      String(records.row(T.keepers, owner.id)!.cells[F.mail]),
    ]) {
      records.person = name;
      expect(where('is'), name).toContain(owned.id);
      expect(owned.get('Mine'), name).toBe(true);
      expect(owned.get('Others'), name).toBe(false);
      expect(where('is not'), name).not.toContain(owned.id);
    }
    // Two people of one name: each has only what is linked to their own record.
    records.set(T.keepers, 'double', { [F.keeperName]: owner.title() });
    records.beUsedBy(owner.title(), { table: T.keepers, record: 'double' });
    expect([where('is'), owned.get('Mine')]).toEqual([[], false]);
    records.beUsedBy(owner.title(), { table: T.keepers, record: owner.id });
    expect(where('is')).toContain(owned.id);
  });
  it('is nobody while nobody has said so: what has no owner is shared by no strangers', () => {
    const { records, where, row, owned } = open();
    records.person = null;
    expect(where('is')).toEqual([]);
    expect(where('is', 'f_who000000')).toEqual([]);
    expect([row('nobodys').get('Mine'), owned.get('Mine'), row('nobodys').get('Known')]).toEqual([false, false, true]);
    expect(where('is not')).toContain('nobodys');
  });
  it('is a text in a field for people, whatever its case', () => {
    const { records, where } = open();
    records.set(T.hives, 'nobodys', { f_who000000: 'Ines Calder' });
    records.person = 'ines calder';
    expect(where('is', 'f_who000000')).toEqual(['nobodys']);
  });
});

describe('screens that depend on the person', () => {
  it('are those that ask who it is, by themselves, by a part, by a field or by a routine that a press runs', () => {
    const { app } = open();
    const screen = (id: string, words: string) => ({
      id,
      name: id,
      given: null,
      icon: 'list',
      root: make.box('down', [make.text(words)]),
    });
    app.tables[0]!.fields.push({ id: 'f_behind000', name: 'Behind', type: 'formula', formula: 'not(f_mine00000)' });
    app.parts = [
      { id: 'u_part00000', name: 'Part', inputs: [], root: make.box('down', [make.text('{person()}')]) },
    ] as never;
    const run = (id: string, routine: string) => ({
      ...screen(id, 'Add'),
      root: make.box('down', [make.button('Add', { do: 'routine', routine })]),
    });
    const steps = { mine: [make.step('work out', { value: 'person()' })], others: [make.step('message')] };
    app.routines = [
      { id: 'q_outer00000', name: 'Outer', given: null, steps: [make.step('run', { routine: 'q_mine00000' })] },
      { id: 'q_mine00000', name: 'Mine', given: null, steps: steps.mine },
      { id: 'q_others0000', name: 'Others', given: null, steps: steps.others },
    ];
    app.screens = [
      screen('s_own', 'Hello {person()}'),
      screen('s_field', '{f_behind000}'),
      screen('s_part', 'u_part00000'),
      run('s_run', 'q_outer00000'),
      run('s_runs', 'q_others0000'),
      screen('s_plain', 'Hello'),
    ] as never;
    expect([...personalScreens(app)]).toEqual(['s_own', 's_field', 's_part', 's_run']);
    expect(peopleTable(app)?.id).toBe(T.keepers);
    expect(peopleTable({ ...app, people: T.hives })?.id).toBe(T.hives);
  });
  it('is one of the table that is compared with them, whatever it is called', () => {
    const app = hiveApp();
    for (const t of app.tables) t.name = `Ting ${t.id.slice(2, 4)}`;
    expect(peopleTable(app)).toBeNull();
    const list = make.list(T.hives, []);
    list.query.where.conditions = [{ left: F.keeper, op: 'is', right: 'person()' }];
    const screen = { id: 's_own0000000', name: 'Own', given: null, icon: 'list', root: make.box('down', [list]) };
    expect(peopleTable({ ...app, screens: [screen] as never })?.id).toBe(T.keepers);
    const mine = { id: 'f_mine00000', name: 'Mine', type: 'formula' as const, formula: `${F.keeper} = person()` };
    app.tables.find((t) => t.id === T.hives)!.fields.push(mine);
    expect(peopleTable(app)?.id).toBe(T.keepers);
  });
});
