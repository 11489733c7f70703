import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { NOBODY, OWNER, type Who } from '../access/access.ts';
import { keepersRules } from '../access/fixture.ts';
import type { CatchUp, Compared, News, Receipt } from '../host/protocol.ts';
import { isRemoved, Replica } from '../host/replica.ts';
import type { Change, Draft, RecordState } from '../records/change.ts';
import { F, hiveApp, T } from '../records/fixture.ts';
import { Records } from '../records/store.ts';
import type { Network, Spy } from './network.ts';
import { World, type WorldPhone } from './world.ts';
import './warm.fixture.ts';

/** What leaves the host for people who may not see everything, over any lives of phones. */

const MINUTE = 60_000;
const somebody = (person: string): Who => ({ kind: 'somebody', person });
const KEEPERS = ['odile', 'ines', 'tom'];

type Cells = RecordState['cells'];
const filled = (cells: Cells): Cells => Object.fromEntries(Object.entries(cells).filter(([, c]) => c !== null));

type Judged = Pick<World['host'], 'access' | 'replica'>;

/** The host as it was after so many changes, made anew from what it has kept. */
function hostAt(world: World, at: number): Judged {
  const records = new Records(hiveApp());
  const replica = new Replica(records);
  for (const c of structuredClone(world.log.kept.slice(0, at))) replica.apply(c);
  return { access: keepersRules(records, hiveApp), replica };
}

/** What somebody may have, by asking the rules of every record; with `removed` also of what was removed. */
function allowed(world: World, who: Who, removed = false, host: Judged = world.host): Record<string, Cells> {
  const { access, replica } = host;
  const rights = access.rights(who);
  const out: Record<string, Cells> = {};
  for (const s of replica.all())
    if ((removed || !isRemoved(s)) && access.mayRead(rights, s))
      out[s.id] = filled(
        Object.fromEntries(Object.entries(s.cells).filter(([f]) => access.mayReadField(rights, s, f))),
      );
  return out;
}
const has = (phone: WorldPhone): Record<string, Cells> =>
  Object.fromEntries(
    Array.from(phone.replica.all())
      .filter((s) => !isRemoved(s))
      .map((s) => [s.id, filled(s.cells)]),
  );

/** A world in which whatever leaves the host is looked at as it does. */
function watchedWorld(seed = 1) {
  const leaks: string[] = [];
  const spy: Spy = (what, value, who, asked = 0) => {
    const v = value as Partial<News & Compared & Receipt & CatchUp>;
    // An answer is of the change that it says: what changed while it was on its way is told after it.
    const host = what === 'news' ? world.host : hostAt(world, v.at!);
    if (what !== 'news' && v.at! < asked) leaks.push(`${what}: as it was after ${v.at}, asked after ${asked}`);
    // What was removed while news were on their way was theirs to read.
    const may = allowed(world, who, what === 'news', host);
    const look = (id: string, cells: Cells): void => {
      for (const [f, c] of Object.entries(cells))
        if (c !== null && !(f in (may[id] ?? {})) && !(may[id] && !hasCell(host, id, f)))
          leaks.push(`${what}: ${id}.${f} = ${String(c)} to ${who.person ?? who.kind}`);
    };
    const states = (list: readonly (RecordState | null)[] = []): void => list.forEach((s) => s && look(s.id, s.cells));
    const changes = (list: readonly Change[] = []): void => {
      for (const c of list) if (c.do !== 'remove') look(c.record, c.cells ?? {});
      for (const c of list) if (c.author !== undefined) leaks.push(`the author of ${c.id}`);
    };
    states(v.states);
    states(v.given);
    states(v.corrected);
    states(v.raised);
    states(v.refused?.map((r) => r.state));
    changes(v.changes);
  };
  const world = new World({ app: hiveApp(), access: keepersRules, seed, spy });
  /** A cell that was emptied since may still be told with what it held, where its field may be read. */
  const hasCell = ({ access, replica }: Judged, id: string, field: string): boolean => {
    const s = replica.state(id);
    return s !== undefined && (s.cells[field] ?? null) !== null && !access.mayReadField('x', s, field);
  };
  return { world, leaks };
}

async function begun(seed?: number) {
  const { world, leaks } = watchedWorld(seed);
  const owner = world.phone({ who: OWNER });
  await owner.write(
    KEEPERS.map((k, i): Draft => ({
      do: 'set',
      table: T.keepers,
      record: k,
      cells: { [F.keeperName]: k, [F.mail]: `${k}@heatherfield.example`, [F.nearby]: i === 0 },
    })),
  );
  await owner.write([
    hive('bramble', { [F.name]: 'Bramble', [F.tag]: 'a', [F.status]: 'Active', [F.keeper]: 'ines', [F.weight]: 20 }),
    hive('clover', { [F.name]: 'Clover', [F.tag]: 'b', [F.status]: 'Retired', [F.keeper]: 'tom', [F.weight]: 30 }),
    visit('v1', { [F.hiveTag]: 'a', [F.fed]: 1 }),
    visit('v2', { [F.hiveTag]: 'b', [F.fed]: 2 }),
  ]);
  await world.settle();
  return { world, owner, leaks };
}
const hive = (record: string, cells: Cells): Draft => ({ do: 'set', table: T.hives, record, cells });
const visit = (record: string, cells: Cells): Draft => ({ do: 'set', table: T.visits, record, cells });

describe('a phone has what its person may see', () => {
  it('from the beginning, and nothing else', async () => {
    const { world, leaks } = await begun();
    const [ines, tom, odile, nobody] = [somebody('ines'), somebody('tom'), somebody('odile'), NOBODY].map((who) =>
      world.phone({ who }),
    );
    await world.settle();
    expect(Object.keys(has(ines!)).sort()).toEqual(['bramble', 'ines', 'odile', 'tom', 'v1']);
    expect(has(ines!)['bramble']).toMatchObject({ [F.weight]: 20 });
    expect(has(tom!)['bramble']).not.toHaveProperty(F.weight);
    expect(Object.keys(has(tom!)).sort()).toEqual(['bramble', 'clover', 'ines', 'odile', 'tom', 'v1', 'v2']);
    expect(Object.keys(has(odile!))).toHaveLength(7);
    expect(Object.keys(has(nobody!))).toEqual(['bramble']);
    for (const p of world.phones) expect(has(p)).toEqual(allowed(world, p.who));
    expect(leaks).toEqual([]);
  });
  it('where there is nothing yet, asked for once', async () => {
    const asked: string[] = [];
    const world = new World({ app: hiveApp(), access: keepersRules, spy: (what) => asked.push(what) });
    const phone = world.phone({ who: somebody('ines') });
    await world.pass(1000);
    expect([has(phone), phone.phone.online]).toEqual([{}, true]);
    expect(asked.length).toBeLessThan(8);
  });
  it('when it becomes readable by what another record says, and when it is no longer', async () => {
    const { world, owner } = await begun();
    const ines = world.phone({ who: somebody('ines') });
    await world.settle();
    await owner.write([hive('clover', { [F.status]: 'Active' })]);
    await world.settle();
    expect(Object.keys(has(ines))).toEqual(expect.arrayContaining(['clover', 'v2']));
    expect(has(ines)['clover']).not.toHaveProperty(F.weight);
    await owner.write([hive('clover', { [F.keeper]: 'ines' })]);
    await world.pass(50);
    expect(has(ines)['clover']).toMatchObject({ [F.weight]: 30 });
    await owner.write([hive('clover', { [F.keeper]: 'tom', [F.status]: 'Retired' })]);
    await world.pass(50);
    expect(has(ines)).not.toHaveProperty('clover');
    expect(has(ines)).not.toHaveProperty('v2');
    expect(ines.store.states.has('clover')).toBe(false);
  });
  it('when somebody gets a role, and loses it', async () => {
    const { world, owner } = await begun();
    const tom = world.phone({ who: somebody('tom') });
    await world.settle();
    const role = async (is: boolean): Promise<void> => {
      await owner.write([{ do: 'set', table: T.keepers, record: 'tom', cells: { [F.nearby]: is } }]);
      await world.settle();
      expect(has(tom)).toEqual(allowed(world, tom.who));
    };
    await role(true);
    expect(has(tom)['ines']).toHaveProperty(F.mail);
    await role(false);
    expect(has(tom)['ines']).not.toHaveProperty(F.mail);
  });
  it('after it was away while all of that happened, and the host began anew', async () => {
    const { world, owner } = await begun();
    const ines = world.phone({ who: somebody('ines') });
    await world.settle();
    ines.network = 'off';
    await owner.write([
      hive('clover', { [F.keeper]: 'ines' }),
      hive('bramble', { [F.status]: null, [F.keeper]: 'tom' }),
    ]);
    await world.settle();
    expect(has(ines)).toHaveProperty('bramble');
    world.restartHost();
    ines.network = 'on';
    await world.pass(MINUTE);
    expect(has(ines)).toEqual(allowed(world, ines.who));
    expect(has(ines)).not.toHaveProperty('bramble');
  });
  it('and the host keeps who made a change, and tells nobody', async () => {
    const { world, leaks } = await begun();
    const ines = world.phone({ who: somebody('ines') });
    await world.settle();
    await ines.write([hive('bramble', { [F.name]: 'Bramble 2' })]);
    await world.settle();
    expect(world.log.kept.at(-1)).toMatchObject({ author: 'ines', cells: { [F.name]: 'Bramble 2' } });
    expect(leaks).toEqual([]);
  });
  it('and those of the same rights are told by one message', async () => {
    const { world, owner } = await begun();
    const told: News[] = [];
    for (const who of [NOBODY, { ...NOBODY }, somebody('odile'), OWNER])
      world.host.subscribe(who, (n) => void told.push(n));
    await owner.write([hive('bramble', { [F.name]: 'New' })]);
    await world.settle();
    expect(told[0]).toBe(told[1]);
    expect(told[2]).toBe(told[3]);
    expect(told[0]).not.toBe(told[2]);
  });
});

describe('after anything', () => {
  const draft: fc.Arbitrary<Draft> = fc.oneof(
    fc.record({
      do: fc.constant('set' as const),
      table: fc.constant(T.hives),
      record: fc.constantFrom('bramble', 'clover', 'h3'),
      cells: fc
        .dictionary(fc.constantFrom(F.name, F.weight, F.tag), fc.constantFrom('a', 'b'), { minKeys: 1, maxKeys: 2 })
        .chain(
          (cells) =>
            fc.record({
              ...Object.fromEntries(
                Object.entries(cells).map(([f, c]) => [f, fc.constant(f === F.weight ? c.length : c)]),
              ),
              [F.status]: fc.constantFrom('Active', 'Retired', null),
              [F.keeper]: fc.constantFrom(...KEEPERS, null),
            }) as fc.Arbitrary<Cells>,
        ),
    }),
    fc.record({
      do: fc.constant('set' as const),
      table: fc.constant(T.visits),
      record: fc.constantFrom('v1', 'v2', 'v3'),
      cells: fc.record({ [F.hiveTag]: fc.constantFrom('a', 'b', null), [F.fed]: fc.nat(9) }),
    }),
    fc.record({
      do: fc.constant('set' as const),
      table: fc.constant(T.keepers),
      record: fc.constantFrom(...KEEPERS),
      cells: fc.record({ [F.nearby]: fc.boolean(), [F.mail]: fc.constantFrom('a@b.example', null) }),
    }),
    fc.record({
      do: fc.constant('raise' as const),
      table: fc.constant(T.hives),
      record: fc.constantFrom('bramble', 'clover'),
      by: fc.record({ [F.weight]: fc.constantFrom(1, 2) }),
    }),
    fc.record({
      do: fc.constantFrom('remove' as const, 'restore' as const),
      table: fc.constant(T.hives),
      record: fc.constantFrom('bramble', 'clover', 'h3'),
    }),
  );
  const act = fc.oneof(
    { weight: 6, arbitrary: fc.record({ act: fc.constant('write' as const), phone: fc.nat(4), draft }) },
    {
      weight: 3,
      arbitrary: fc.record({
        act: fc.constant('network' as const),
        phone: fc.nat(4),
        to: fc.constantFrom<Network>('on', 'slow', 'off', 'answers lost', 'twice'),
      }),
    },
    { weight: 2, arbitrary: fc.record({ act: fc.constant('restart' as const), phone: fc.nat(4) }) },
    {
      weight: 3,
      arbitrary: fc.record({ act: fc.constant('pass' as const), ms: fc.constantFrom(0, 10, 1000, 20_000) }),
    },
    { weight: 1, arbitrary: fc.constant({ act: 'host restarts' as const }) },
    { weight: 1, arbitrary: fc.constant({ act: 'rules change' as const }) },
  );

  type Act = typeof act extends fc.Arbitrary<infer A> ? A : never;
  const play = async (acts: Act[], seed: number): Promise<void> => {
    const { world, leaks } = await begun(seed);
    for (const who of [somebody('ines'), somebody('tom'), somebody('odile'), NOBODY]) world.phone({ who });
    await world.settle();
    for (const a of acts) {
      if (a.act === 'pass') await world.pass(a.ms);
      else if (a.act === 'host restarts') world.restartHost();
      else if (a.act === 'rules change') world.host.setApp(world.app);
      else if (a.act === 'network') world.phones[a.phone]!.network = a.to;
      else if (a.act === 'restart') world.phones[a.phone]!.restart();
      else await world.phones[a.phone]!.write([structuredClone(a.draft)]);
    }
    for (const p of world.phones) p.network = 'on';
    await world.pass(2 * MINUTE);
    expect(leaks).toEqual([]);
    for (const p of world.phones) {
      expect(p.device.waiting).toBe(0);
      expect({ phone: p.name, has: has(p) }).toEqual({ phone: p.name, has: allowed(world, p.who) });
      // What it keeps for its next opening is the same.
      expect([...p.store.states.keys()].sort()).toEqual([...p.replica.all()].map((s) => s.id).sort());
    }
  };
  const awayKeeper = (record: string): Draft => ({
    do: 'set',
    table: T.keepers,
    record,
    cells: { [F.nearby]: false, [F.mail]: 'a@b.example' },
  });
  const write = (phone: number, one: Draft) => ({ act: 'write' as const, phone, draft: one });
  /** What went wrong once: rights that changed while others heard of it or an answer was under way, and a removal older than what brought back. */
  const FOUND: [Parameters<typeof play>[0], number][] = [
    [
      [
        write(0, { do: 'raise', table: T.hives, record: 'bramble', by: { [F.weight]: 1 } }),
        write(0, { do: 'set', table: T.keepers, record: 'odile', cells: { [F.nearby]: false } }),
      ],
      0,
    ],
    [
      [
        write(3, visit('v1', { [F.hiveTag]: 'b', [F.fed]: 0 })),
        { act: 'rules change' },
        { act: 'restart', phone: 2 },
        write(0, visit('v1', { [F.hiveTag]: 'a', [F.fed]: 0 })),
        write(3, hive('clover', { [F.tag]: 'a', [F.name]: 'a', [F.status]: 'Active', [F.keeper]: 'odile' })),
        { act: 'pass', ms: 0 },
      ],
      0,
    ],
    // A host that went out in the middle of a turn wrote into the log of the next one.
    [
      [
        write(2, { do: 'raise', table: T.hives, record: 'clover', by: { [F.weight]: 1 } }),
        write(2, hive('clover', { [F.tag]: 'b', [F.status]: 'Active', [F.keeper]: 'odile' })),
        { act: 'host restarts' },
        write(0, { do: 'raise', table: T.hives, record: 'bramble', by: { [F.weight]: 1 } }),
        { act: 'network', phone: 0, to: 'on' },
      ],
      0,
    ],
    [
      [
        write(1, awayKeeper('odile')),
        write(0, awayKeeper('odile')),
        write(1, { do: 'remove', table: T.hives, record: 'bramble' }),
        write(2, { do: 'raise', table: T.hives, record: 'bramble', by: { [F.weight]: 1 } }),
        { act: 'rules change' },
      ],
      0,
    ],
    [
      [
        write(0, hive('bramble', { [F.weight]: 1, [F.status]: 'Active', [F.keeper]: 'tom' })),
        write(2, { do: 'restore', table: T.hives, record: 'bramble' }),
        write(1, { do: 'remove', table: T.hives, record: 'bramble' }),
      ],
      0,
    ],
  ];

  it('a phone holds exactly what the rules give, and nothing else has left the host (property)', async () => {
    await fc.assert(fc.asyncProperty(fc.array(act, { minLength: 1, maxLength: 25 }), fc.nat(1000), play), {
      numRuns: Number(process.env['RUNS'] ?? 60),
      examples: FOUND,
    });
  });
});
