import fc from 'fast-check';
import { expect, it } from 'vitest';
import type { Access } from '../access/access.ts';
import { F, T, hiveApp } from '../records/fixture.ts';
import type { Change, Draft, RecordState } from '../records/change.ts';
import { Records } from '../records/store.ts';
import { Device, type Refusal } from './device.ts';
import { OfflineError, type HostLink } from './link.ts';
import { Host } from './host.ts';
import { contents, memoryLog, memoryStore } from './fixture.ts';
import { Replica } from './replica.ts';

const link = { kind: 'link' as const };

/** An app whose tag codes are unique, and a rule that some weights break. */
const app = hiveApp();
app.tables[0]!.fields[1]!.unique = true;
const access: Access = {
  mayRead: () => true,
  refusal: (_who, c) => (c.do === 'set' && c.cells[F.weight] === 9 ? 'Nine is not believed.' : null),
};

/** A host and its devices, in which everything can go wrong that goes wrong outside. */
class Town {
  readonly log = memoryLog();
  host = new Host(app, this.log, access);
  readonly made: Change[] = [];
  readonly told = new Set<string>();
  readonly devices = [0, 1, 2].map((i) => ({
    ...this.start(i, memoryStore()),
    run: 0,
  }));
  readonly online = [true, true, true];
  /** The answer to the next push is lost on its way back. */
  readonly losesAnswer = [false, false, false];

  private start(i: number, memory: ReturnType<typeof memoryStore>, run = 0) {
    const replica = new Replica(new Records(app));
    replica.load(structuredClone([...memory.states.values()]));
    const queue = structuredClone([...memory.queue.values()]);
    const device = new Device(`dev${i}run${run}`, replica, memory.store, this.wire(i), queue, memory.kept.at);
    device.onRefused = (list: Refusal[]) => list.forEach((r) => this.told.add(r.change.id));
    return { device, replica, memory };
  }

  private wire(i: number): HostLink {
    return {
      push: async (changes) => {
        if (!this.online[i]) throw new OfflineError();
        const receipt = structuredClone(await this.host.accept(changes, link));
        if (this.losesAnswer[i]) {
          this.losesAnswer[i] = false;
          throw new OfflineError();
        }
        return receipt;
      },
      pull: async (since, from) => {
        if (!this.online[i]) throw new OfflineError();
        return structuredClone(this.host.catchUp(since, link, from));
      },
    };
  }

  async write(i: number, drafts: Draft[], together = false): Promise<void> {
    this.made.push(...(await this.devices[i]!.device.write(drafts, together)));
  }
  sync(i: number): Promise<void> {
    return this.devices[i]!.device.sync().catch(() => undefined);
  }
  /** The device goes out at once, and starts again from what it had kept. */
  restart(i: number): void {
    const { memory, run } = this.devices[i]!;
    this.devices[i] = { ...this.start(i, memory, run + 1), run: run + 1 };
  }
  /** The host goes out at once, and starts again from its log. */
  restartHost(): void {
    this.host = new Host(app, this.log, access);
    this.host.restore([], structuredClone(this.log.kept), this.log.kept.length);
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
    else if (a.do === 'lose') town.losesAnswer[a.who] = true;
    else if (a.do === 'restart') town.restart(a.who);
    else if (a.do === 'off' || a.do === 'on') town.online[a.who] = a.do === 'on';
    else if (a.do === 'host') town.restartHost();
    else town.log.fail = a.do === 'full';
  }
  town.log.fail = false;
  town.online.fill(true);
  town.losesAnswer.fill(false);
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
      for (const d of town.devices) {
        expect(d.device.waiting).toBe(0);
        expect(contents(d.replica.records)).toEqual(contents(town.host.replica.records));
      }
      // Each change is on the host, or its maker was told that it was refused.
      const lost = town.made.filter((c) => !town.told.has(c.id) && !holds(town.host.replica.state(c.record), c));
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
      town.restartHost();
      town.restart(0);
      expect(contents(town.host.replica.records)).toEqual(before);
      expect(contents(town.devices[0]!.replica.records)).toEqual(before);
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
