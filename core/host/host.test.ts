import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { NOBODY, OWNER } from '../access/access.ts';
import { accessWith } from '../access/fixture.ts';
import { F, T, hiveApp } from '../records/fixture.ts';
import { Records } from '../records/store.ts';
import { checkChange } from './check.ts';
import { ChangeSchema, type Change, type RecordState } from '../records/change.ts';
import { HybridClock, stampText } from './clock.ts';
import { bring, queueAll } from './bring.ts';
import { OfflineError } from './link.ts';
import { contents } from './fixture.ts';
import { Host } from './host.ts';
import { cellsBefore, Replica } from './replica.ts';
import { MemoryLog } from '../released/memory.ts';
import { World, type PhoneOptions, type WorldOptions, type WorldPhone } from '../world/world.ts';
import '../world/warm.fixture.ts';

const owner = OWNER;
const link = NOBODY;

/** A world whose phones send and fetch only when they are told to. */
function byHand(options: Partial<WorldOptions> = {}) {
  const world = new World({ app: hiveApp(), ...options });
  return {
    world,
    host: world.host,
    log: world.log,
    phone: (more: PhoneOptions = {}) => world.phone({ byHand: true, ...more }),
  };
}
const reasons = (p: WorldPhone): string[] => p.refused.map((r) => r.reason);
const change = (id: string, record: string) => ({
  id,
  stamp: stampText(Date.now(), 0, 'zzzz'),
  table: T.hives as string,
  record,
  do: 'set' as const,
});
const setHive = (record: string, cells: Record<string, string | number | null>) => ({
  do: 'set' as const,
  table: T.hives,
  record,
  cells,
});

describe('merging', () => {
  const change = fc.record({
    device: fc.constantFrom('aaaa', 'bbbb', 'cccc'),
    ms: fc.integer({ min: 1, max: 30 }),
    record: fc.constantFrom('h1', 'h2'),
    what: fc.oneof(
      fc.record({
        do: fc.constant('set' as const),
        cells: fc.dictionary(fc.constantFrom(F.name, F.tag), fc.constantFrom('x', 'y', null), { minKeys: 1 }),
      }),
      fc.record({ do: fc.constant('remove' as const) }),
      fc.record({
        do: fc.constant('restore' as const),
        cells: fc.dictionary(fc.constantFrom(F.name, F.tag), fc.constantFrom('x', 'y', null)),
      }),
    ),
  });
  const changes = fc.uniqueArray(change, { maxLength: 10, selector: (c) => `${c.ms}${c.device}` }).map((list) =>
    list.map(
      (c): Change =>
        ({
          ...c.what,
          id: `${c.ms}${c.device}`,
          stamp: stampText(c.ms, 0, c.device),
          table: T.hives,
          record: c.record,
        }) as Change,
    ),
  );
  const merged = (list: readonly Change[]): unknown => {
    const replica = new Replica(new Records(hiveApp()));
    for (const c of list) replica.apply(structuredClone(c));
    return contents(replica.records);
  };
  it('gives the same records in any order and with repeats (property)', () => {
    fc.assert(
      fc.property(changes, fc.infiniteStream(fc.nat(1000)), (list, order) => {
        const shuffled = list
          .map((c) => [order.next().value as number, c] as const)
          .sort((a, b) => a[0] - b[0])
          .map(([, c]) => c);
        expect(merged([...shuffled, ...shuffled.slice(0, 3)])).toEqual(merged(list));
      }),
      { numRuns: 500 },
    );
  });
  it('merging states is the same as merging changes (property)', () => {
    fc.assert(
      fc.property(changes, fc.nat(10), (list, cut) => {
        const [a, b] = [list.slice(0, cut), list.slice(cut)].map((part) => {
          const r = new Replica(new Records(hiveApp()));
          part.forEach((c) => r.apply(structuredClone(c)));
          return r;
        });
        for (const s of b!.all()) a!.merge(structuredClone(s));
        expect(contents(a!.records)).toEqual(merged(list));
      }),
    );
  });
  it('keeps two fields of one record changed on two devices', () => {
    const r = new Replica(new Records(hiveApp()));
    const base = { table: T.hives, record: 'h', do: 'set' as const };
    r.apply({ ...base, id: '1', stamp: stampText(1, 0, 'aaaa'), cells: { [F.name]: 'Bramble', [F.tag]: 'HB-1' } });
    r.apply({ ...base, id: '2', stamp: stampText(5, 0, 'bbbb'), cells: { [F.name]: 'Thorn' } });
    r.apply({ ...base, id: '3', stamp: stampText(4, 0, 'cccc'), cells: { [F.tag]: 'HB-9' } });
    expect(r.records.row(T.hives, 'h')!.cells).toEqual({ [F.name]: 'Thorn', [F.tag]: 'HB-9' });
  });
  it('a removed record stays removed when it is changed elsewhere', () => {
    const r = new Replica(new Records(hiveApp()));
    const base = { table: T.hives, record: 'h' };
    r.apply({ ...base, do: 'set', id: '1', stamp: stampText(1, 0, 'aaaa'), cells: { [F.name]: 'Bramble' } });
    r.apply({ ...base, do: 'remove', id: '2', stamp: stampText(2, 0, 'aaaa') });
    r.apply({ ...base, do: 'set', id: '3', stamp: stampText(9, 0, 'bbbb'), cells: { [F.name]: 'Thorn' } });
    expect(r.records.rows(T.hives)).toHaveLength(0);
    r.apply({ ...base, do: 'restore', id: '4', stamp: stampText(10, 0, 'aaaa'), cells: {} });
    expect(r.records.row(T.hives, 'h')!.cells[F.name]).toBe('Thorn');
  });
  it('a removed record leaves a marker, and its cells only where they can be brought back from', () => {
    const life = (remembers: boolean): Replica => {
      const r = new Replica(new Records(hiveApp()), remembers);
      const base = { table: T.hives, record: 'h' };
      r.apply({ ...base, do: 'set', id: '1', stamp: stampText(3, 0, 'aaaa'), cells: { [F.name]: 'Bramble' } });
      r.apply({ ...base, do: 'remove', id: '2', stamp: stampText(5, 0, 'aaaa') });
      // On its way when the record was removed.
      r.apply({ ...base, do: 'set', id: '3', stamp: stampText(4, 0, 'bbbb'), cells: { [F.tag]: 'HB-1' } });
      return r;
    };
    const forgets = life(false).state('h')!;
    expect([forgets.cells, forgets.was, JSON.stringify(forgets).includes('Bramble')]).toEqual([{}, undefined, false]);
    const remembers = life(true).state('h')!;
    expect([remembers.cells, cellsBefore(remembers)]).toEqual([{}, { [F.name]: 'Bramble', [F.tag]: 'HB-1' }]);
  });
  it('records that came back before removing took cells keep theirs, also beside newer markers', () => {
    const old: RecordState = {
      table: T.hives,
      id: 'h',
      stamp: stampText(1, 0, 'aaaa'),
      cells: { [F.name]: 'Bramble' },
      removed: stampText(2, 0, 'aaaa'),
      restored: stampText(3, 0, 'aaaa'),
    };
    const [a, b] = [0, 1].map(() => new Replica(new Records(hiveApp())));
    a!.load([structuredClone(old)]);
    b!.apply({ table: T.hives, record: 'h', do: 'remove', id: 'x', stamp: old.removed! });
    b!.merge(structuredClone(a!.state('h')!));
    for (const r of [a!, b!]) expect(r.records.row(T.hives, 'h')?.cells[F.name]).toBe('Bramble');
  });
});

describe('devices and their host', () => {
  it('a change on one device shows on the other', async () => {
    const { phone } = byHand();
    const [a, b] = [phone(), phone()];
    await a.device.write([setHive('h1', { [F.name]: 'Bramble', [F.weight]: 14 })]);
    await a.device.sync();
    await b.device.sync();
    expect(contents(b.records)).toEqual(contents(a.records));
    expect(a.device.waiting).toBe(0);
  });
  it('news arrives by itself, and a gap before it is fetched', async () => {
    const { host, phone } = byHand();
    const [a, b] = [phone(), phone()];
    await b.device.sync();
    host.subscribe(link, (news) => {
      if (news.at > 1) void b.device.receive(structuredClone(news));
    });
    await a.device.write([setHive('h1', { [F.name]: 'First' })]);
    await a.device.sync();
    await a.device.write([setHive('h2', { [F.name]: 'Second' })]);
    await a.device.sync();
    await b.device.sync();
    expect(contents(b.records)).toEqual(contents(a.records));
  });
  it('a device that was offline sends later, and nothing is doubled', async () => {
    const { host, log, phone } = byHand();
    const a = phone();
    a.network = 'off';
    await a.device.write([setHive('h1', { [F.name]: 'Bramble' })]);
    await expect(a.device.sync()).rejects.toBeInstanceOf(OfflineError);
    // Started again from what it kept, with the answer to its first push lost on the way.
    a.restart();
    expect(a.device.waiting).toBe(1);
    await host.accept([...a.store.queue.values()], link);
    a.network = 'on';
    await a.device.sync();
    expect(a.device.waiting).toBe(0);
    expect(log.kept).toHaveLength(1);
    expect(host.replica.records.rows(T.hives)).toHaveLength(1);
  });
  it('a refused change is rolled back with its reason; the rest stays', async () => {
    const access = accessWith({
      refusal: (_who, c) => (c.do === 'set' && c.cells[F.weight] === 99 ? 'Weights over 90 are not believed.' : null),
    });
    const { phone } = byHand({ access });
    const a = phone();
    await a.device.write([setHive('h1', { [F.name]: 'Bramble', [F.weight]: 14 })]);
    await a.device.sync();
    await a.device.write([
      setHive('h1', { [F.weight]: 99 }),
      setHive('h1', { [F.tag]: 'HB-7' }),
      setHive('new', { [F.weight]: 99 }),
    ]);
    expect(a.records.row(T.hives, 'h1')!.cells[F.weight]).toBe(99);
    await a.device.sync();
    expect(reasons(a)).toEqual(['Weights over 90 are not believed.', 'Weights over 90 are not believed.']);
    expect(a.records.row(T.hives, 'h1')!.cells).toEqual({ [F.name]: 'Bramble', [F.weight]: 14, [F.tag]: 'HB-7' });
    expect(a.records.row(T.hives, 'new')).toBeUndefined();
    const before = contents(a.records);
    a.restart();
    expect(contents(a.records)).toEqual(before);
  });
  it('the host refuses what does not fit the app, whoever sends it', async () => {
    const host = new Host(hiveApp(), new MemoryLog());
    const base = { id: 'x', stamp: stampText(Date.now(), 0, 'aaaa'), record: 'h' };
    const receipt = await host.accept(
      [
        { ...base, do: 'set', table: T.hives, cells: { [F.weight]: 'heavy' } },
        { ...base, id: 'y', do: 'set', table: 't_unknown0', cells: {} },
        { ...base, id: 'z', do: 'set', table: T.hives, cells: { [F.total]: 3 } },
      ],
      owner,
    );
    expect(receipt.accepted).toEqual([]);
    expect(receipt.refused.map((r) => r.reason)).toEqual([
      '“heavy” is not a number for Weight.',
      'This table is not part of the released app.',
      'Fed in all is worked out and cannot be written.',
    ]);
  });
  it('what is written together is taken or refused as one', async () => {
    const app = hiveApp();
    app.tables[0]!.fields[1]!.unique = true;
    const { host, phone } = byHand({ app });
    const [a, b] = [phone(), phone()];
    await a.device.write([setHive('h1', { [F.tag]: 'HB-7' })]);
    await a.device.sync();
    // The second change of the group claims what is taken: neither is made, on the host or in the end on the device.
    await b.device.write([setHive('h2', { [F.name]: 'Fern' }), setHive('h3', { [F.tag]: 'HB-7' })], true);
    await b.device.write([setHive('h4', { [F.tag]: 'HB-8' }), setHive('h5', { [F.name]: 'Moss' })], true);
    await b.device.sync();
    expect(reasons(b)).toEqual([
      'It belongs together with a change that was refused: Tag code “HB-7” is taken by another hive.',
      'Tag code “HB-7” is taken by another hive.',
    ]);
    const there = ['h1', 'h4', 'h5'];
    expect(host.replica.records.rows(T.hives).map((r) => r.id)).toEqual(there);
    expect(
      b.records
        .rows(T.hives)
        .map((r) => r.id)
        .sort(),
    ).toEqual(there);
    expect(b.device.waiting).toBe(0);
  });
  it('a group is never divided between two sendings, and a refused one claims nothing', async () => {
    const app = hiveApp();
    app.tables[0]!.fields[1]!.unique = true;
    const { host, phone } = byHand({ app });
    const sizes: number[] = [];
    const a = phone();
    const { wire } = a;
    a.device.connect({ push: (c) => (sizes.push(c.length), wire.push(c)), pull: (at) => wire.pull(at) });
    const many = (n: number, from: number) =>
      Array.from({ length: n }, (_, i) => setHive(`h${from + i}`, { [F.name]: `Hive ${from + i}` }));
    await a.device.write(many(300, 0), true);
    await a.device.write(many(600, 300), true);
    await a.device.write(many(3, 900));
    await a.device.sync();
    expect(sizes).toEqual([300, 600, 3]);
    const base = { table: T.hives, do: 'set' as const };
    const receipt = await host.accept(
      [
        { ...base, id: 'g1', group: 'g', record: 'x1', stamp: stampText(1, 0, 'aaaa'), cells: { [F.tag]: 'HB-1' } },
        { ...base, id: 'g2', group: 'g', record: 'x2', stamp: stampText(1, 1, 'aaaa'), cells: { [F.weight]: 'no' } },
        { ...base, id: 'free', record: 'x3', stamp: stampText(1, 2, 'aaaa'), cells: { [F.tag]: 'HB-1' } },
      ],
      link,
    );
    expect(receipt.accepted).toEqual(['free']);
    expect(receipt.refused.map((r) => r.id)).toEqual(['g1', 'g2']);
  });
  it('two devices that claim one value offline: the second is refused and told', async () => {
    const app = hiveApp();
    app.tables[0]!.fields[1]!.unique = true;
    const { host, phone } = byHand({ app });
    const [a, b] = [phone(), phone()];
    await a.device.write([setHive('h1', { [F.tag]: 'HB-7' })]);
    await b.device.write([setHive('h2', { [F.tag]: 'hb-7' }), setHive('h3', { [F.tag]: 'HB-8' })]);
    await a.device.sync();
    await b.device.sync();
    expect(reasons(b)).toEqual(['Tag code “hb-7” is taken by another hive.']);
    expect(
      b.records
        .rows(T.hives)
        .map((r) => r.cells[F.tag])
        .sort(),
    ).toEqual(['HB-7', 'HB-8']);
    const both = await host.accept(
      [
        { ...change('x1', 'h8'), cells: { [F.tag]: 'HB-9' } },
        { ...change('x2', 'h9'), cells: { [F.tag]: 'HB-9' } },
      ],
      owner,
    );
    expect(both.accepted).toEqual(['x1']);
  });
  it('nothing is shown or acknowledged before it is kept', async () => {
    const { host, log, phone } = byHand();
    const a = phone();
    log.fail = true;
    await a.device.write([setHive('h1', { [F.name]: 'Bramble' })]);
    await expect(a.device.sync()).rejects.toThrow('disk full');
    expect(host.replica.records.rows(T.hives)).toHaveLength(0);
    expect(a.device.waiting).toBe(1);
    log.fail = false;
    await a.device.sync();
    expect(host.replica.records.rows(T.hives)).toHaveLength(1);
  });
  it('a clock that runs a day ahead is corrected on both sides', async () => {
    const { phone } = byHand();
    const fast = phone({ off: 86_400_000 });
    const a = phone();
    await fast.device.write([setHive('h1', { [F.name]: 'From tomorrow' })]);
    await fast.device.sync();
    await a.device.sync();
    await a.device.write([setHive('h1', { [F.name]: 'Later, in truth' })]);
    await a.device.sync();
    await fast.device.sync();
    expect(fast.records.row(T.hives, 'h1')!.cells[F.name]).toBe('Later, in truth');
  });
  it('changes the released app does not know wait for the next release', async () => {
    const released = hiveApp();
    const { host, phone } = byHand({ app: released });
    const a = phone();
    a.device.connect(a.wire, (c) => checkChange(released, c) === null);
    await a.device.write([setHive('h1', { [F.name]: 'Bramble' }), setHive('h1', { f_newfield: 'x' })]);
    await a.device.sync();
    expect(a.device.waiting).toBe(1);
    const next = hiveApp({ hives: [{ id: 'f_newfield', name: 'New', type: 'text' }] });
    host.setApp(next);
    a.device.connect(a.wire, (c) => checkChange(next, c) === null);
    await a.device.sync();
    expect(host.replica.records.row(T.hives, 'h1')!.cells['f_newfield']).toBe('x');
  });
  it('any devices end with the same records, whenever they sync (property)', async () => {
    const act = fc.record({
      who: fc.nat(2),
      do: fc.constantFrom('write', 'write', 'sync', 'off', 'on', 'remove'),
      record: fc.constantFrom('h1', 'h2'),
      value: fc.nat(9),
    });
    await fc.assert(
      fc.asyncProperty(fc.array(act, { maxLength: 25 }), async (acts) => {
        const { host, phone } = byHand();
        const all = [phone(), phone(), phone()];
        for (const x of acts) {
          const d = all[x.who]!;
          if (x.do === 'write')
            await d.device.write([
              setHive(x.record, { [x.value % 2 ? F.weight : F.name]: x.value % 2 ? x.value : `n${x.value}` }),
            ]);
          else if (x.do === 'remove') await d.device.write([{ do: 'remove', table: T.hives, record: x.record }]);
          else if (x.do === 'sync') await d.device.sync().catch(() => undefined);
          else d.network = x.do === 'on' ? 'on' : 'off';
        }
        for (const d of all) d.network = 'on';
        for (let i = 0; i < 2; i++) for (const d of all) await d.device.sync();
        for (const d of all) expect(contents(d.records)).toEqual(contents(host.replica.records));
      }),
      { numRuns: 150 },
    );
  });
  it('the first release sends every record', async () => {
    const { host, phone } = byHand();
    const a = phone({ who: owner });
    a.device.connect(null);
    await bring(a.device, [
      { table: T.hives, id: 'h1', cells: { [F.name]: 'Bramble' } },
      { table: T.hives, id: 'h2', cells: { [F.name]: 'Clover' } },
    ]);
    await a.device.write([setHive('h1', { [F.weight]: 3 })]);
    expect(a.device.waiting).toBe(0);
    a.device.connect(a.wire);
    await queueAll(a.device);
    await a.device.sync();
    expect(contents(host.replica.records)).toEqual(contents(a.records));
  });
});

describe('stamps and messages', () => {
  it('a clock never goes back, and passes what it saw (property)', () => {
    fc.assert(
      fc.property(fc.array(fc.record({ now: fc.nat(1e6), saw: fc.option(fc.nat(2e6)) })), (steps) => {
        let now = 0;
        const clock = new HybridClock('aaaa', () => now);
        let last = '';
        for (const s of steps) {
          now = s.now;
          if (s.saw !== null) {
            const seen = stampText(s.saw, 3, 'zzzz');
            clock.saw(seen);
            if (seen > last) last = seen;
          }
          const next = clock.next();
          expect(next > last).toBe(true);
          last = next;
        }
      }),
    );
  });
  it('refuse what is not a change', () => {
    for (const bad of [
      {},
      { do: 'set' },
      { id: 'a', stamp: 'x', table: 't', record: 'r', do: 'remove' },
      { id: 'a', stamp: stampText(1, 0, 'aaaa'), table: 't', record: '../etc', do: 'remove' },
    ])
      expect(ChangeSchema.safeParse(bad).success).toBe(false);
  });
});

describe('a record that somebody else has removed meanwhile', () => {
  it('takes nothing more: whoever writes to it is told, and has what the host has', async () => {
    const { phone } = byHand();
    const [ann, bo] = [phone(), phone()];
    await ann.device.write([setHive('h1', { [F.name]: 'Clover', [F.tag]: 'C1' })]);
    await ann.device.sync();
    await bo.device.sync();
    await ann.device.write([{ do: 'remove', table: T.hives, record: 'h1' }]);
    await ann.device.sync();
    await bo.device.write([setHive('h1', { [F.name]: 'Heather' }), setHive('h2', { [F.name]: 'Thyme' })], true);
    await bo.device.sync();
    expect(reasons(bo)).toEqual([
      'This hive was removed meanwhile, so there is nothing to write to.',
      expect.stringContaining('was removed meanwhile'),
    ]);
    await ann.device.sync();
    const late = phone();
    await late.device.sync();
    for (const d of [ann, bo, late]) expect(d.records.rows(T.hives)).toEqual([]);
  });
  it('takes what is written when it was brought back first', async () => {
    const { phone } = byHand();
    const ann = phone();
    await ann.device.write([setHive('h1', { [F.name]: 'Clover', [F.tag]: 'C1' })]);
    await ann.device.write([{ do: 'remove', table: T.hives, record: 'h1' }]);
    await ann.device.sync();
    await ann.device.write([{ do: 'restore', table: T.hives, record: 'h1' }]);
    await ann.device.write([setHive('h1', { [F.name]: 'Heather' })]);
    await ann.device.sync();
    expect(reasons(ann)).toEqual([]);
    const bo = phone();
    await bo.device.sync();
    expect(bo.records.row(T.hives, 'h1')?.cells).toMatchObject({ [F.name]: 'Heather', [F.tag]: 'C1' });
  });
});
