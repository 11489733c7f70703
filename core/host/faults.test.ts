import fc from 'fast-check';
import { expect, it } from 'vitest';
import { F, T, hiveApp } from '../records/fixture.ts';
import type { Change, Draft, RecordState } from '../records/change.ts';
import { Host } from './host.ts';
import { contents } from './fixture.ts';
import { World } from '../world/world.ts';
import type { MemoryLog } from '../released/memory.ts';
import { accessWith } from '../access/fixture.ts';
import '../world/warm.fixture.ts';

/** An app whose tag codes are unique, and a rule that some weights break. */
const app = hiveApp();
app.tables[0]!.fields[1]!.unique = true;
const access = accessWith({
  refusal: (_who, c) => (c.do === 'set' && c.cells[F.weight] === 9 ? 'Nine is not believed.' : null),
});

/** A host and its phones, in which everything can go wrong that goes wrong outside. */
class Town {
  readonly world = new World({ app, access });
  readonly made: Change[] = [];
  readonly phones = [0, 1, 2].map(() => this.world.phone({ byHand: true }));

  get host(): Host {
    return this.world.host;
  }
  get log(): MemoryLog {
    return this.world.log;
  }
  /** Ids of the changes that their makers were told are refused. */
  get told(): Set<string> {
    return new Set(this.phones.flatMap((p) => p.refused.map((r) => r.change.id)));
  }
  async write(i: number, drafts: Draft[], together = false): Promise<void> {
    await this.world.pass(1);
    this.made.push(...(await this.phones[i]!.write(drafts, together)));
  }
  /** What fails is tried again later. */
  sync(i: number): Promise<void> {
    return this.phones[i]!.device.sync().catch(() => undefined);
  }
}

const hive = fc.constantFrom('h1', 'h2', 'h3');
const draft: fc.Arbitrary<Draft> = fc.oneof(
  {
    weight: 6,
    arbitrary: hive.chain((record) =>
      fc
        .oneof(
          fc.record({ [F.name]: fc.constantFrom('Bramble', 'Clover') }),
          fc.record({ [F.weight]: fc.constantFrom(1, 2, 9) }),
          fc.record({ [F.tag]: fc.constantFrom('HB-1', 'HB-2', null) }),
        )
        .map((cells): Draft => ({ do: 'set', table: T.hives, record, cells })),
    ),
  },
  hive.map((record): Draft => ({ do: 'remove', table: T.hives, record })),
  hive.map((record): Draft => ({ do: 'restore', table: T.hives, record })),
);
const act = fc.oneof(
  {
    weight: 5,
    arbitrary: fc.record({
      do: fc.constant('write' as const),
      who: fc.nat(2),
      drafts: fc.array(draft, { minLength: 1, maxLength: 3 }),
      together: fc.boolean(),
    }),
  },
  { weight: 4, arbitrary: fc.record({ do: fc.constant('sync' as const), who: fc.nat(2) }) },
  {
    weight: 3,
    arbitrary: fc.record({
      do: fc.constantFrom('off' as const, 'on' as const, 'lose' as const, 'restart' as const),
      who: fc.nat(2),
    }),
  },
  fc.record({ do: fc.constantFrom('host' as const, 'full' as const, 'room' as const) }),
);

type Act = typeof act extends fc.Arbitrary<infer A> ? A : never;

async function live(acts: readonly Act[]): Promise<Town> {
  const town = new Town();
  for (const a of acts) {
    if (a.do === 'write') await town.write(a.who, a.drafts, a.together);
    else if (a.do === 'sync') await town.sync(a.who);
    else if (a.do === 'lose') town.phones[a.who]!.network = 'answers lost';
    else if (a.do === 'restart') town.phones[a.who]!.restart();
    else if (a.do === 'off' || a.do === 'on') town.phones[a.who]!.network = a.do;
    else if (a.do === 'host') town.world.restartHost();
    else town.log.fail = a.do === 'full';
  }
  town.log.fail = false;
  for (const p of town.phones) p.network = 'on';
  for (let i = 0; i < 2; i++) for (const who of [0, 1, 2]) await town.sync(who);
  return town;
}

/** Is a change, or a later one in its place, part of a state? */
function holds(s: RecordState | undefined, c: Change): boolean {
  if (!s) return false;
  if (c.do === 'remove') return (s.removed ?? '') >= c.stamp;
  if (c.do === 'restore' && (s.restored ?? '') < c.stamp) return false;
  // Removing a record writes all of its cells.
  const at = (f: string): string => (f in s.cells ? (s.stamps?.[f] ?? s.stamp) : (s.removed ?? ''));
  return Object.keys(c.cells ?? {}).every((f) => at(f) >= c.stamp);
}

it('devices end alike and nothing is lost unsaid, whatever fails on the way (property)', async () => {
  await fc.assert(
    fc.asyncProperty(fc.array(act, { maxLength: 30 }), async (acts) => {
      const town = await live(acts);
      for (const d of town.phones) {
        expect(d.device.waiting).toBe(0);
        expect(contents(d.records)).toEqual(contents(town.host.replica.records));
      }
      // Each change is on the host, or its maker was told that it was refused.
      const { told } = town;
      const lost = town.made.filter((c) => !told.has(c.id) && !holds(town.host.replica.state(c.record), c));
      expect(lost).toEqual([]);
    }),
    { numRuns: 300 },
  );
});

it('a device and the host start again as they were (property)', async () => {
  await fc.assert(
    fc.asyncProperty(fc.array(act, { maxLength: 30 }), async (acts) => {
      const town = await live(acts);
      const [before, at] = [contents(town.host.replica.records), town.host.position];
      town.world.restartHost();
      town.phones[0]!.restart();
      expect(contents(town.host.replica.records)).toEqual(before);
      expect(contents(town.phones[0]!.records)).toEqual(before);
      expect(town.host.position).toBe(at);
    }),
    { numRuns: 150 },
  );
});

it('of what was written together the log holds all or nothing (property)', async () => {
  await fc.assert(
    fc.asyncProperty(fc.array(act, { maxLength: 30 }), async (acts) => {
      const town = await live(acts);
      const logged = new Set(town.log.kept.map((c) => c.id));
      for (const c of town.made) {
        if (c.group === undefined || !logged.has(c.id)) continue;
        const missing = town.made.filter((x) => x.group === c.group && !holds(town.host.replica.state(x.record), x));
        expect(missing).toEqual([]);
      }
    }),
    { numRuns: 150 },
  );
});
