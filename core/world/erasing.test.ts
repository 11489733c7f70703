import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { OWNER } from '../access/access.ts';
import { ALL_RECORDS, beginning, mailOf, ruledApp, set, signedIn } from '../access/plain.fixture.ts';
import type { AppAccess } from '../app/access-schema.ts';
import { isFormer } from '../records/former.ts';
import { F, hiveApp, T } from '../records/fixture.ts';
import type { Draft } from '../records/change.ts';
import { World, type WorldPhone } from './world.ts';
import './warm.fixture.ts';

const ALL: AppAccess = {
  opens: 'people',
  mail: F.mail,
  roles: [],
  rules: [T.hives, T.visits, T.keepers].map((table) => ({
    id: `u_${table.slice(2)}00`,
    who: 'signed in' as const,
    may: ['see' as const, 'add' as const, 'change' as const, 'remove' as const],
    table,
    where: ALL_RECORDS,
  })),
};
/** What is hers alone, and must be nowhere. */
const HERS = ['Ines the First', mailOf('ines')];

const draft: fc.Arbitrary<Draft> = fc.oneof(
  fc
    .tuple(
      fc.constantFrom('bramble', 'clover', 'h3', 'h4'),
      fc.record(
        {
          [F.keeper]: fc.constantFrom('ines', 'odile', 'tom', null),
          [F.name]: fc.constantFrom('Fern', mailOf('ines'), mailOf('tom'), null),
          [F.weight]: fc.constantFrom(1, 2, null),
        },
        { requiredKeys: [] },
      ),
    )
    .map(([id, cells]) => set(T.hives, id, cells as Record<string, string | number | null>)),
  fc.constantFrom('bramble', 'h3', 'ines').map((record): Draft => ({
    do: 'remove',
    table: record === 'ines' ? T.keepers : T.hives,
    record,
  })),
);

/** All that is kept of a world, by where. */
async function keptIn(world: World): Promise<Map<string, string>> {
  const kept = new Map<string, string>();
  for (const [i, { store, replica }] of world.phones.entries())
    kept.set(
      `phone ${i}`,
      JSON.stringify([[...store.values], [...store.states.values()], [...store.queue], [...replica.all()]]),
    );
  const { states, ...rest } = world.host.snapshot();
  kept.set('host', JSON.stringify([[...states], rest]));
  kept.set('log', JSON.stringify(world.log.kept));
  return kept;
}

describe('erasing somebody, over changes made before, meanwhile and without a network (property)', () => {
  it.each([
    ['in an app with rules', () => ruledApp(ALL)],
    ['in an open app', () => ({ ...hiveApp(), people: T.keepers })],
  ])('%s leaves nothing of theirs anywhere, and every link to them leads to one former person', async (_name, app) => {
    await fc.assert(
      fc.asyncProperty(
        fc.array(draft, { maxLength: 6 }),
        fc.array(fc.tuple(fc.nat(1), draft), { maxLength: 6 }),
        fc.array(fc.boolean(), { minLength: 2, maxLength: 2 }),
        fc.boolean(),
        async (before, meanwhile, off, along) => {
          const world = new World({ app: app() });
          const owner = world.phone({ who: OWNER });
          await owner.write(beginning());
          await owner.write([set(T.keepers, 'ines', { [F.keeperName]: HERS[0]!, [F.mail]: HERS[1]! })]);
          await world.settle();
          const phones = ['odile', 'tom'].map((p) => world.phone({ who: signedIn(p) }));
          await world.settle();
          await phones[0]!.write(before);
          await world.settle();
          for (const [i, p] of phones.entries()) if (off[i]) p.network = 'off';
          for (const [i, d] of meanwhile) if (off[i]) await phones[i]!.write([d]);
          // Somebody may have removed her before: then there is nobody to erase.
          const isThere = world.host.replica.records.row(T.keepers, 'ines') !== undefined;
          if (!isThere) return;
          await world.released.erase('ines', along ? [T.hives] : [], OWNER);
          await world.settle();
          for (const p of phones) p.network = 'on';
          await world.pass(60_000);
          await world.settle();
          for (const [where, text] of await keptIn(world))
            for (const hers of HERS)
              if (text.includes(hers)) expect([where, hers, wroteIt(meanwhile, off)]).toEqual([where, HERS[1], true]);
          const former = new Set<string>();
          for (const row of world.host.replica.records.rows(T.hives)) {
            const keeper = row.cells[F.keeper];
            expect(keeper).not.toBe('ines');
            if (isFormer(keeper)) former.add(keeper);
          }
          expect(former.size).toBeLessThanOrEqual(1);
          for (const p of world.phones as WorldPhone[])
            for (const row of p.records.rows(T.hives)) {
              expect(row.cells[F.keeper]).not.toBe('ines');
              if (isFormer(row.cells[F.keeper])) expect(row.get(F.keeper)).toMatchObject({ id: row.cells[F.keeper] });
            }
        },
      ),
      { numRuns: 40 },
    );
  });
});

/** Her address that somebody writes without a network, after she was erased, is their words: it stays. */
const wroteIt = (meanwhile: readonly (readonly [number, Draft])[], off: readonly boolean[]): boolean =>
  meanwhile.some(([i, d]) => off[i] && d.do === 'set' && d.cells[F.name] === HERS[1]);
