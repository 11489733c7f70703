import { expect, it } from 'vitest';
import { START } from '../runs/fixture.ts';
import { allKinds } from '../session/fixture.ts';
import { make } from '../runs/fixture.ts';
import { F } from '../records/fixture.ts';
import { CLUB, clubApp, ruledClub } from './clubs.fixture.ts';
import { covered, type Covered } from './covered.ts';
import { play } from './play.ts';
import { castFor, suggest } from './suggest.ts';
import type { Touched } from './result.ts';

it('proposes scenes that come to routines, forms, rules and roles that none does, and pass', async () => {
  const app = ruledClub();
  app.routines.push({
    id: 'q_notes00000',
    name: 'Note it',
    given: null,
    steps: [make.step('message', { words: 'Noted.' })],
  });
  const button = make.button('Note it', { do: 'routine', routine: 'q_notes00000' });
  app.screens.find((s) => s.name === 'Hive')!.root.children.push({ ...button, id: 'e_notes00000' } as never);
  const without = (all: Covered[]): Covered[] => all.filter((c) => c.sort !== 'screens');
  const missing = without(covered(app, []));
  const names = (all: Covered[]): string[] => all.flatMap((c) => c.missing.map((m) => m.name));
  const suggested = await suggest({
    app,
    states: CLUB,
    kinds: allKinds,
    cast: [{ is: 'person', record: 'odile' }],
    at: START,
    missing,
    times: 40,
    acts: 40,
    seed: 5,
  });
  const touched: Touched[] = [];
  for (const { of, scene } of suggested) {
    const result = await play({ app, scene, states: [], kinds: allKinds });
    expect(result.passed, `${of.name}: ${result.failed?.said}`).toBe(true);
    // Each comes to what it was proposed for.
    expect(result.touched[of.sort], of.name).toContain(of.id);
    touched.push(result.touched);
  }
  const left = names(without(covered(app, touched)));
  expect(names(missing)).toEqual(expect.arrayContaining(['Note it', 'Form for hive on Hive form', 'Digest']));
  // Nobody may add keepers or visits, or change them.
  expect(left).toEqual(['Form for visit on Visit form', 'Form for keeper on Keeper form']);
}, 120_000);

it('is tried with somebody in each role, and with nobody in particular where an app has no people', () => {
  const app = ruledClub();
  const near = { match: 'all' as const, conditions: [{ left: F.nearby, op: 'holds' as const, right: '' }] };
  app.access!.roles.push({ id: 'r_near000000', name: 'Neighbours', where: near });
  const people = ['a', 'b', 'c', 'd'].map((id) => ({ table: app.people!, id, cells: { [F.nearby]: id === 'd' } }));
  const records = (of: ReturnType<typeof castFor>): unknown[] => of.map((p) => (p.is === 'person' ? p.record : p.is));
  expect(records(castFor(app, people))).toEqual(['a', 'b', 'd']);
  app.access!.opens = 'anybody';
  expect(records(castFor(app, people))).toEqual(['a', 'b', 'd', 'nobody']);
  expect(records(castFor(clubApp(), []))).toEqual(['nobody']);
});
