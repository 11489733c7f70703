import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { AppAccess } from '../app/access-schema.ts';
import { thisId } from '../document/ids.ts';
import type { Tap } from '../document/pieces.ts';
import type { Cell } from '../fields/lists.ts';
import type { Draft } from '../records/change.ts';
import { F, T } from '../records/fixture.ts';
import { World, type WorldPhone } from '../world/world.ts';
import '../world/warm.fixture.ts';
import { NOBODY, OWNER, type Who } from './access.ts';
import { access, ALL_RECORDS, beginning, mailOf, NEAR, ruledApp, set, signedIn } from './plain.fixture.ts';

/** A world with the records that tests of rules begin with, and a phone for each of these people. */
async function begun(rules: AppAccess, people: readonly Who[]): Promise<{ world: World; phones: WorldPhone[] }> {
  const world = new World({ app: ruledApp(rules) });
  await world.phone({ who: OWNER }).write(beginning());
  await world.settle();
  const phones = people.map((who) => world.phone({ who }));
  for (const [i, { person }] of people.entries())
    if (person !== null) await phones[i]!.phone.beUsedBy(mailOf(person), { table: T.keepers, record: person });
  await world.settle();
  return { world, phones };
}

const cells = (...of: [string, fc.Arbitrary<Cell>][]): fc.Arbitrary<Record<string, Cell>> =>
  fc.record(Object.fromEntries(of), { requiredKeys: [] }) as fc.Arbitrary<Record<string, Cell>>;
const draft: fc.Arbitrary<Draft> = fc.oneof(
  fc
    .tuple(
      fc.constantFrom('bramble', 'clover', 'h3'),
      cells(
        [F.status, fc.constantFrom('Active', 'Retired', null)],
        [F.keeper, fc.constantFrom('odile', 'ines', null)],
        [F.weight, fc.constantFrom(1, 30)],
      ),
    )
    .map(([id, c]) => set(T.hives, id, c)),
  fc
    .tuple(
      fc.constantFrom('v1', 'v3'),
      cells([F.hiveTag, fc.constantFrom('a', 'b', null)], [F.fed, fc.constantFrom(1, 9)]),
    )
    .map(([id, c]) => set(T.visits, id, c)),
  fc.tuple(fc.constantFrom('ines', 'tom'), fc.boolean()).map(([id, near]) => set(T.keepers, id, { [F.nearby]: near })),
  fc.constantFrom('bramble', 'v1', 'ines').map((record): Draft => ({
    do: 'remove',
    table: record === 'bramble' ? T.hives : record === 'v1' ? T.visits : T.keepers,
    record,
  })),
);

describe('what a phone knows of what its person may do', () => {
  it('refuses nothing that the host would take, and all that it refuses where all conditions are known (property)', async () => {
    await fc.assert(
      fc.asyncProperty(
        access,
        fc.constantFrom(signedIn('odile'), signedIn('ines'), NOBODY),
        fc.array(draft, { minLength: 1, maxLength: 5 }),
        async (rules, who, drafts) => {
          const { world, phones } = await begun(rules, [who]);
          const [phone] = phones as [WorldPhone];
          for (const d of drafts) {
            const table = d.table;
            const isHere = phone.records.row(table, d.record) !== undefined;
            const isThere = world.host.replica.records.row(table, d.record) !== undefined;
            // What was removed is not written to by anybody, whatever the rules say.
            if (!isThere && world.host.replica.state(d.record)) continue;
            // Told anew with every role that somebody comes to have.
            const told = phone.store.values.get('may') as { rules: { where: unknown }[] };
            const knowsAll = told.rules.every((r) => r.where !== null);
            const before = phone.refused.length;
            const refused = phone.records.may!.refusal(d);
            // Of records that are hidden a phone knows nothing.
            if (isHere !== isThere || (d.do === 'remove' && !isHere)) continue;
            await phone.write([structuredClone(d)]);
            await world.pass(100);
            const isRefused = phone.refused.length > before;
            if (refused !== null) expect({ d, refused, isRefused }).toEqual({ d, refused, isRefused: true });
            else if (knowsAll) expect({ d, isRefused }).toEqual({ d, isRefused: false });
          }
        },
      ),
      { numRuns: Number(process.env['RUNS'] ?? 40) },
    );
  }, 120_000);

  const own: AppAccess = {
    opens: 'signed in',
    mail: F.mail,
    roles: [
      { id: NEAR, name: 'Near', where: { match: 'all', conditions: [{ left: F.nearby, op: 'holds', right: '' }] } },
    ],
    rules: [
      {
        id: 'u_seeall000',
        who: 'signed in',
        may: ['see'],
        table: T.hives,
        where: ALL_RECORDS,
        fields: { are: 'all but', of: [F.weight] },
      },
      {
        id: 'u_change000',
        who: 'signed in',
        may: ['change'],
        table: T.hives,
        where: { match: 'all', conditions: [{ left: F.keeper, op: 'is', right: 'person()' }] },
        fields: { are: 'only', of: [F.name, F.status] },
      },
      {
        id: 'u_heavy0000',
        who: 'signed in',
        may: ['remove'],
        table: T.hives,
        where: { match: 'all', conditions: [{ left: F.weight, op: 'over', right: '15' }] },
      },
      { id: 'u_near00000', who: NEAR, may: ['add'], table: T.hives, where: ALL_RECORDS },
      {
        id: 'u_back00000',
        who: 'signed in',
        may: ['look back'],
        table: T.hives,
        where: { match: 'all', conditions: [{ left: F.keeper, op: 'is', right: 'person()' }] },
      },
    ],
  };

  it('never has a condition that asks what they do not see', async () => {
    const { phones } = await begun(own, [signedIn('ines')]);
    const told = JSON.stringify(phones[0]!.store.values.get('may'));
    expect(told).toContain(F.keeper);
    expect(told).not.toContain(F.weight);
    // Whether it holds is known to the host alone: here it counts as allowed.
    expect(phones[0]!.records.may!.refusal({ do: 'remove', table: T.hives, record: 'clover' })).toBeNull();
  });
  it('says so of fields, records and tables, and of taps that would be refused for sure', async () => {
    const { world, phones } = await begun(own, [signedIn('ines'), signedIn('odile')]);
    const [ines, odile] = phones.map((p) => p.records.may!) as [
      NonNullable<WorldPhone['records']['may']>,
      (typeof phones)[0]['records']['may'] & object,
    ];
    const hive = (phone: WorldPhone, id: string) => phone.records.row(T.hives, id)!;
    expect([...ines.changes(hive(phones[0]!, 'bramble'))]).toEqual([F.name, F.status]);
    expect([...ines.changes(hive(phones[0]!, 'clover'))]).toEqual([]);
    expect([ines.adds(T.hives), odile.adds(T.hives) !== null]).toEqual([null, true]);
    expect(ines.refusal(set(T.hives, 'clover', { [F.name]: 'Mine' }))).toBe('You may not change this hive.');
    expect(ines.refusal(set(T.hives, 'clover', {}))).toBeNull();
    expect(ines.refusal(set(T.hives, 'bramble', { [F.keeper]: 'tom' }))).toBe('You may not change this hive so.');
    expect(ines.refusal(set(T.hives, 'h9', { [F.name]: 'New' }))).toBe('You may not add such Hives.');
    const { app } = world;
    const step = (id: string, more: object) => ({ id, ...more }) as never;
    app.routines = [
      {
        id: 'g_retire0000',
        name: 'Retire',
        given: T.hives,
        steps: [step('p_1', { do: 'set', record: thisId(T.hives), values: [{ field: F.status, value: '"Retired"' }] })],
      },
      {
        id: 'g_perhaps000',
        name: 'Perhaps',
        given: T.hives,
        steps: [
          step('p_2', { do: 'if', then: [{ id: 'p_3', do: 'stop' }] }),
          step('p_4', { do: 'remove', record: thisId(T.hives) }),
        ],
      },
      {
        id: 'g_past000000',
        name: 'Past',
        given: T.hives,
        steps: [step('p_6', { do: 'look back', record: thisId(T.hives) })],
      },
      { id: 'g_add0000000', name: 'Add', given: null, steps: [step('p_5', { do: 'add', table: T.hives, values: [] })] },
    ];
    const tap = (routine: string): Tap => ({ do: 'routine', routine });
    const at = (phone: WorldPhone, id: string) => [null, null, hive(phone, id)];
    expect(ines.refusesTap(tap('g_retire0000'), at(phones[0]!, 'bramble'))).toBe(false);
    expect(ines.refusesTap(tap('g_retire0000'), at(phones[0]!, 'clover'))).toBe(true);
    expect(['bramble', 'clover'].map((h) => ines.refusesTap(tap('g_past000000'), at(phones[0]!, h)))).toEqual([
      false,
      true,
    ]);
    // What it comes to is not sure.
    expect(ines.refusesTap(tap('g_perhaps000'), at(phones[0]!, 'clover'))).toBe(false);
    expect([ines, odile].map((m) => m.refusesTap(tap('g_add0000000'), []))).toEqual([true, false]);
    // A screen for a role, and one that is there to add only.
    const [screen] = app.screens;
    screen!.roles = [NEAR];
    const opens: Tap = { do: 'open', screen: screen!.id, give: '' };
    expect([ines, odile].map((m) => [m.isClosed(screen!.id), m.refusesTap(opens, [])])).toEqual([
      [true, true],
      [false, false],
    ]);
    delete screen!.roles;
    screen!.root.children.push({ id: 'e_form000000', kind: 'form', table: T.hives, record: '', children: [] } as never);
    expect([ines, odile].map((m) => m.refusesTap(opens, []))).toEqual([true, false]);
  });
  it('says nothing against what is fetched, which is its service’s', async () => {
    const { phones } = await begun(own, [signedIn('ines')]);
    const [phone] = phones as [WorldPhone];
    const may = phone.records.may!;
    const hive = phone.records.row(T.hives, 'clover')!;
    expect([may.adds(T.hives), may.removes(hive)]).toEqual([null, true]);
    Object.assign(phone.records.model.tables.get(T.hives)!.table, { fetched: { request: 'n_hives0000' } });
    expect([may.adds(T.hives)!.has(F.name), may.changes(hive).has(F.keeper), may.removes(hive)]).toEqual([
      true,
      true,
      true,
    ]);
    expect(may.refusal(set(T.hives, 'h9', { [F.name]: 'New' }))).toBeNull();
  });
  it('is told anew when roles change, also to a phone that was off, and is there without a network after a restart', async () => {
    const { world, phones } = await begun(own, [signedIn('ines')]);
    const [ines] = phones as [WorldPhone];
    const adds = () => ines.records.may?.adds(T.hives) !== null;
    expect(adds()).toBe(false);
    const owner = world.phones[0]!;
    await owner.write([set(T.keepers, 'ines', { [F.nearby]: true })]);
    await world.pass(1000);
    expect(adds()).toBe(true);
    ines.network = 'off';
    await owner.write([set(T.keepers, 'ines', { [F.nearby]: false })]);
    await world.pass(1000);
    ines.restart();
    await world.settle();
    expect(adds()).toBe(true);
    ines.network = 'on';
    await world.pass(120_000);
    expect(adds()).toBe(false);
  });
});
