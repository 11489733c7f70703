import { expect, it } from 'vitest';
import type { App } from '../app/schema.ts';
import type { AnyElement } from '../document/meaning.ts';
import { walkElements } from '../document/walk.ts';
import { F, T } from '../records/fixture.ts';
import { make, routine, START } from '../runs/fixture.ts';
import { allKinds } from '../session/fixture.ts';
import { CLUB, clubApp, ruledClub } from './clubs.fixture.ts';
import { play } from './play.ts';
import type { RecordState } from '../records/change.ts';
import { fewRecords, ownRecords, shake, type ShakeFound } from './shake.ts';

/** What is found, up to when all of these sorts are. */
function found(app: App, ...sorts: string[]): Promise<ShakeFound[]> {
  let isEnough = false;
  return shake({
    app,
    states: CLUB,
    kinds: allKinds,
    cast: ['odile', 'tom'].map((record) => ({ is: 'person', record })),
    at: START,
    times: 40,
    acts: 60,
    seed: 3,
    heard: ({ found: all }) => {
      isEnough = sorts.length > 0 && sorts.every((sort) => all.some((f) => f.fault.sort === sort));
    },
    ends: () => isEnough,
  });
}

/** Only some of its tabs, so that chance goes there. */
const withTabs = (app: App, ...names: string[]): App => ({
  ...app,
  tabs: app.tabs.filter((t) => names.includes(t.name)),
});
const plays = async (app: App, { scene }: ShakeFound): Promise<boolean> =>
  (await play({ app, scene, states: [], kinds: allKinds })).passed;

/** A button on the list of hives that fails, and a field of visits that must be filled in and is read-only. */
function faulty(): App {
  const app = clubApp();
  app.routines.push({
    id: 'q_fails00000',
    name: 'Tell the office',
    given: null,
    steps: [make.step('mail', { to: '"nobody"', subject: 'x', body: 'y' })],
  });
  const button = make.button('Tell the office', { do: 'routine', routine: 'q_fails00000' });
  // The ids of what is made here may be those of screens that are made.
  app.screens[0]!.root.children.push({ ...button, id: 'e_fails00000' } as never);
  app.tables
    .find((t) => t.id === T.visits)!
    .fields.push({ id: 'f_owner0000', name: 'Owner', type: 'text', required: true });
  walkElements<AnyElement>([app.screens.find((s) => s.name === 'Visit form')!.root], (e) => {
    if (e.kind === 'form')
      (e as unknown as { children: object[] }).children.unshift({
        id: 'e_owner00000',
        kind: 'input',
        field: 'f_owner0000',
        locked: 'true',
      });
  });
  return app;
}

it('finds what stops and what nobody can save, each with a short scene that fails until it is mended', async () => {
  const app = withTabs(faulty(), 'Hives', 'Visits');
  const all = await found(app, 'stops', 'dead end');
  const of = (sort: string): ShakeFound => all.find((f) => f.fault.sort === sort)!;
  expect(of('stops').fault.said).toContain('“nobody” is not a mail address');
  expect(of('stops').to).toBe(1);
  expect(of('dead end').fault.said).toContain('Owner must be filled in, and nobody can');
  expect(of('dead end').to).toBeLessThan(of('dead end').from);
  for (const f of [of('stops'), of('dead end')]) expect(await plays(app, f), f.fault.said).toBe(false);
  // Mended, the same scene passes.
  const mended = structuredClone(app);
  mended.routines.find((r) => r.id === 'q_fails00000')!.steps = [];
  expect(await plays(mended, of('stops'))).toBe(true);
}, 180_000);

it('finds routines that start one another without end', async () => {
  const app = withTabs(clubApp(), 'Hives');
  const turns = (name: string, field: string, sets: string): App['routines'][number] =>
    routine(name, 'record changed', { table: T.hives, how: 'either', fields: [field] }, [
      make.step('set', {
        record: `this_${T.hives}`,
        values: [{ field: sets, value: `string(this_${T.hives}.${field}) + "a"` }],
      }),
    ]);
  app.routines.push(turns('To and fro', F.name, F.tag), turns('Fro and to', F.tag, F.name));
  const [endless] = await found(app, 'stops');
  expect(endless!.fault.said).toMatch(/were stopped: .*(To and fro|Fro and to) → /);
  expect(await plays(app, endless!)).toBe(false);
}, 180_000);

it('finds a role that people can give themselves', async () => {
  const app = ruledClub();
  app.access!.roles.push({
    id: 'r_near000000',
    name: 'Neighbours',
    where: { match: 'all', conditions: [{ left: F.nearby, op: 'holds', right: '' }] },
  });
  app.access!.rules.push({
    id: 'u_leaks00000',
    who: 'signed in',
    may: ['change'],
    table: T.keepers,
    where: { match: 'all', conditions: [] },
  } as never);
  const leaks = (await found(withTabs(app, 'Keepers'), 'gives itself a role')).find(
    (f) => f.fault.sort === 'gives itself a role',
  )!;
  expect(leaks.fault.said).toContain('who has not the role Neighbours, could give it to');
  expect(await plays(app, leaks)).toBe(false);
}, 180_000);

it('finds a number that is lost when two people change it at the same time, and none where it is raised', async () => {
  const withStep = (step: 'set' | 'raise'): App => {
    const app = clubApp();
    const values = [{ field: F.weight, value: step === 'set' ? `this_${T.hives}.${F.weight} + 1` : '1' }];
    app.routines.push({
      id: 'q_more000000',
      name: 'One more',
      given: T.hives,
      steps: [make.step(step, { record: `this_${T.hives}`, ...(step === 'raise' && { how: 'raise' }), values })],
    });
    const button = make.button('One more', { do: 'routine', routine: 'q_more000000' });
    app.screens[1]!.root.children.push({ ...button, id: 'e_more000000' } as never);
    return app;
  };
  const lost = (all: ShakeFound[]) => all.find((f) => f.fault.key === 'lost Weight');
  const there = lost(await found(withTabs(withStep('set'), 'Hives'), 'lost value'))!;
  expect(there.fault.said).toContain('Steps that raise or lower a number lose none');
  expect(there.scene.steps.at(-1)).toMatchObject({ do: 'expect told', how: 'is not there' });
  expect(await plays(withStep('set'), there)).toBe(false);
  expect(await plays(withStep('raise'), there)).toBe(true);
}, 180_000);

it('finds nothing in an app without these faults', async () => {
  expect(await found(clubApp())).toEqual([]);
}, 180_000);

it('takes a few records of each table, with all that these link to', () => {
  const few = fewRecords(clubApp(), CLUB, 1, ['tom']);
  expect(few.map((s) => s.id).sort()).toEqual(['oak', 'odile', 'tom', 'v1']);
});

it('takes no more records than a scene may have, and whoever is to be there in any case', () => {
  const app = clubApp();
  const tables = Array.from({ length: 300 }, (_, i) => ({ ...app.tables[0]!, id: `t_more${i}` }));
  const many = tables.flatMap(({ id: table }) =>
    Array.from({ length: 20 }, (_, i): RecordState => ({ ...CLUB[2]!, table, id: `${table}_${i}` })),
  );
  const few = fewRecords({ ...app, tables: [...app.tables, ...tables] }, [...many, ...CLUB], 12, ['tom']);
  expect(few.some((s) => s.id === 'tom')).toBe(true);
  for (const { id } of tables) expect(few.filter((s) => s.table === id).length).toBe(6);
  expect(ownRecords(few)).toHaveLength(few.length);
  expect(() => ownRecords(many)).toThrow('2000 records of its own at most, not 6000');
});
