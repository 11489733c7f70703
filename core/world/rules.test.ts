import fc from 'fast-check';
import { expect, it } from 'vitest';
import { NOBODY, OWNER, type Who } from '../access/access.ts';
import {
  access,
  beginning,
  mailOf,
  plainFields,
  ruledApp,
  set,
  signedIn,
  type Plain,
} from '../access/plain.fixture.ts';
import type { AppAccess } from '../app/access-schema.ts';
import type { Cell } from '../fields/lists.ts';
import { isRemoved } from '../host/replica.ts';
import { toJson } from '../formula/json.ts';
import type { Draft } from '../records/change.ts';
import { F, T } from '../records/fixture.ts';
import type { Records } from '../records/store.ts';
import type { Network } from './network.ts';
import { World, type WorldPhone } from './world.ts';
import './warm.fixture.ts';

/** Phones of an app with rules of its document: whatever happens, each has exactly what a plain reading of them gives. */

const MINUTE = 60_000;
const filled = (cells: Record<string, Cell | undefined>): Record<string, Cell> =>
  Object.fromEntries(Object.entries(cells).filter(([, c]) => c !== null && c !== undefined)) as Record<string, Cell>;

const STORED = new Set<string>([
  F.name,
  F.tag,
  F.weight,
  F.status,
  F.keeper,
  F.hiveTag,
  F.fed,
  F.keeperName,
  F.mail,
  F.nearby,
]);
const FORMULAS = [F.total, F.perVisit, F.label];

/** What formula fields give, of records and fields that somebody may see: by the host, which has all records. */
function figures(world: World, rules: AppAccess, who: Who, on: Records): Record<string, unknown> {
  const records = plainly(world);
  return Object.fromEntries(
    [...records.values()].flatMap((r) => {
      const seen = plainFields(rules, who, 'see', r, records);
      const row = on.row(r.table, r.id);
      return FORMULAS.filter((f) => seen?.has(f)).map((f) => [`${r.id} ${f}`, row ? toJson(row.get(f)) : 'not here']);
    }),
  );
}

const plainly = (world: World): Map<string, Plain> =>
  new Map(
    [...world.host.replica.all()]
      .filter((s) => !isRemoved(s))
      .map((s): [string, Plain] => [s.id, { table: s.table, id: s.id, cells: s.cells }]),
  );

function allowed(world: World, rules: AppAccess, who: Who): Record<string, Record<string, Cell>> {
  const records = plainly(world);
  return Object.fromEntries(
    [...records.values()].flatMap((r) => {
      const fields = plainFields(rules, who, 'see', r, records);
      return fields ? [[r.id, filled(Object.fromEntries(Object.entries(r.cells).filter(([f]) => fields.has(f))))]] : [];
    }),
  );
}
const has = (phone: WorldPhone): Record<string, Record<string, Cell>> =>
  Object.fromEntries(
    [...phone.replica.all()].filter((s) => !isRemoved(s)).map((s) => [s.id, filled(s.cells as Record<string, Cell>)]),
  );

const draft: fc.Arbitrary<Draft> = fc.oneof(
  fc
    .record({
      record: fc.constantFrom('bramble', 'clover', 'h3'),
      [F.status]: fc.constantFrom('Active', 'Retired', null),
      [F.keeper]: fc.constantFrom('odile', 'ines', 'tom', null),
      [F.weight]: fc.constantFrom(1, 30),
    })
    .map(({ record, ...cells }) => set(T.hives, record as string, cells as Record<string, Cell>)),
  fc
    .record({
      record: fc.constantFrom('v1', 'v2', 'v3'),
      [F.hiveTag]: fc.constantFrom('a', 'b', null),
      [F.fed]: fc.constantFrom(1, 9),
    })
    .map(({ record, ...cells }) => set(T.visits, record as string, cells as Record<string, Cell>)),
  fc
    .record({ record: fc.constantFrom('odile', 'ines', 'tom'), near: fc.boolean() })
    .map(({ record, near }) => set(T.keepers, record, { [F.nearby]: near })),
  // Somebody is somebody else for a while: their address says so.
  fc
    .record({ record: fc.constantFrom('ines', 'tom'), mail: fc.constantFrom(mailOf('ines'), mailOf('tom'), null) })
    .map(({ record, mail }) => set(T.keepers, record, { [F.mail]: mail })),
  fc.constantFrom('bramble', 'v1', 'tom').map((record): Draft => ({
    do: 'remove',
    table: record === 'tom' ? T.keepers : record === 'v1' ? T.visits : T.hives,
    record,
  })),
);
const act = fc.oneof(
  { weight: 6, arbitrary: fc.record({ act: fc.constant('write' as const), phone: fc.nat(4), draft }) },
  {
    weight: 2,
    arbitrary: fc.record({
      act: fc.constant('network' as const),
      phone: fc.nat(4),
      to: fc.constantFrom<Network>('on', 'slow', 'off', 'answers lost', 'twice'),
    }),
  },
  { weight: 2, arbitrary: fc.record({ act: fc.constant('pass' as const), ms: fc.constantFrom(10, 1000, 20_000) }) },
  { weight: 1, arbitrary: fc.record({ act: fc.constant('restart' as const), phone: fc.nat(4) }) },
  { weight: 1, arbitrary: fc.constant({ act: 'host restarts' as const }) },
);

it('a phone holds exactly what the rules of the document give, in memory and in its store, after anything (property)', async () => {
  await fc.assert(
    fc.asyncProperty(
      access,
      fc.array(act, { minLength: 1, maxLength: 16 }),
      fc.nat(1000),
      async (rules, acts, seed) => {
        const world = new World({ app: ruledApp(rules), seed });
        const owner = world.phone({ who: OWNER });
        await owner.write(beginning());
        await world.settle();
        for (const who of [signedIn('odile'), signedIn('ines'), signedIn('tom'), NOBODY]) world.phone({ who });
        await world.settle();
        for (const a of acts) {
          if (a.act === 'pass') await world.pass(a.ms);
          else if (a.act === 'host restarts') world.restartHost();
          else if (a.act === 'network') world.phones[a.phone]!.network = a.to;
          else if (a.act === 'restart') world.phones[a.phone]!.restart();
          else await world.phones[a.phone]!.write([structuredClone(a.draft)]);
        }
        for (const p of world.phones) p.network = 'on';
        await world.pass(2 * MINUTE);
        for (const p of world.phones) {
          if (p.who === OWNER) continue;
          expect({ who: p.who, has: has(p) }).toEqual({ who: p.who, has: allowed(world, rules, p.who) });
          // What they may do is what they were told last, here and in the store.
          const { access: rulesThere } = world.host;
          const may = rulesThere.forPhones(rulesThere.rights(p.who));
          expect({ who: p.who, may: p.store.values.get('may') }).toEqual({ who: p.who, may });
          expect((p.records.may as unknown as { toldRules: unknown }).toldRules).toEqual(may);
          const { records } = world.host.replica;
          expect({ who: p.who, gets: figures(world, rules, p.who, p.records) }).toEqual({
            who: p.who,
            gets: figures(world, rules, p.who, records),
          });
          // What is kept of them is of fields that are seen, and is what is here.
          for (const s of p.replica.all()) {
            if (isRemoved(s)) continue;
            const seen = plainFields(
              rules,
              p.who,
              'see',
              { ...s, cells: {}, ...plainly(world).get(s.id) },
              plainly(world),
            );
            expect(Object.keys(s.told ?? {}).filter((f) => !seen?.has(f))).toEqual([]);
            expect(p.store.states.get(s.id)?.told).toEqual(s.told);
            const all = world.host.fieldsOf(s.table).filter((f) => STORED.has(f));
            expect((s.hidden ?? []).filter((f) => STORED.has(f)).sort()).toEqual(
              all.filter((f) => !seen?.has(f)).sort(),
            );
          }
          expect([...p.store.states.keys()].sort()).toEqual([...p.replica.all()].map((s) => s.id).sort());
        }
      },
    ),
    { numRuns: Number(process.env['RUNS'] ?? 40) },
  );
}, 120_000);
