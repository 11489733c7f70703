import { describe, expect, it } from 'vitest';
import type { Change, RecordState } from '../records/change.ts';
import { F, hiveApp, T } from '../records/fixture.ts';
import { Records } from '../records/store.ts';
import { HybridClock, readStamp, stampText } from './clock.ts';
import { newDeviceId, newRecordId, runOf } from './device.ts';
import { bring, queueAll } from './bring.ts';

import { NeverTakenError, OfflineError, type HostLink } from './link.ts';
import type { CatchUp, Receipt } from './protocol.ts';
import { Replica } from './replica.ts';
import { World } from '../world/world.ts';

const set = (record: string, cells: Record<string, string | number | null>) => ({
  do: 'set' as const,
  table: T.hives,
  record,
  cells,
});
const taken = (changes: readonly Change[], more: Partial<Receipt> = {}): Receipt => ({
  accepted: changes.map((c) => c.id),
  refused: [],
  corrected: [],
  at: 0,
  ...more,
});

/** The device of a phone in a world, whose host answers what the test says. */
function alone({ link = true, sendable = (c: Change): boolean => c.id !== '' } = {}) {
  const pushes: Change[][] = [];
  const pulls: [number, number | undefined][] = [];
  const answers: (Receipt | Error | ((c: Change[]) => Receipt))[] = [];
  const news: CatchUp[] = [];
  const wire: HostLink = {
    async push(changes) {
      pushes.push(structuredClone(changes));
      const answer = answers.shift() ?? taken(changes);
      if (answer instanceof Error) throw answer;
      return typeof answer === 'function' ? answer(changes) : answer;
    },
    async pull({ since, from }) {
      pulls.push([since, from]);
      return news.shift() ?? { from: since, at: since, changes: [] };
    },
  };
  const world = new World({ app: hiveApp() });
  const phone = world.phone({ byHand: true });
  const { store: memory, device, replica, refused: told } = phone;
  const saves: Parameters<typeof memory.save>[0][] = [];
  const { save } = memory;
  memory.save = (u) => (saves.push(structuredClone(u)), save.call(memory, u));
  device.connect(link ? wire : null, sendable);
  const names = (): string[] => replica.records.rows(T.hives).map((r) => r.id);
  /** The phone's clock shows so many milliseconds. */
  const shows = (ms: number): void => void (phone.off = ms - world.clock.now());
  return { device, replica, memory, saves, pushes, pulls, answers, news, told, wire, names, shows };
}

describe('a clock', () => {
  it('counts within a millisecond, and goes on in the next when the counter is full', () => {
    const c = new HybridClock('aaaa', () => 1000);
    expect([c.next(), c.next()].map((s) => readStamp(s).count)).toEqual([0, 1]);
    c.saw(stampText(1000, 36 ** 4 - 2, 'bbbb'));
    expect([c.next(), c.next()].map(readStamp)).toEqual([
      { ms: 1000, count: 36 ** 4 - 1, device: 'aaaa' },
      { ms: 1001, count: 0, device: 'aaaa' },
    ]);
  });
  it('begins to count anew with the time, and is not set back by what is earlier', () => {
    let now = 1000;
    const c = new HybridClock('aaaa', () => now);
    c.saw(stampText(1000, 7, 'bbbb'));
    c.saw(stampText(1000, 3, 'bbbb'));
    c.saw(stampText(900, 50, 'bbbb'));
    expect(readStamp(c.next()).count).toBe(8);
    now = 1001;
    expect(readStamp(c.next())).toEqual({ ms: 1001, count: 0, device: 'aaaa' });
    c.saw(stampText(5000, 2, 'bbbb'));
    expect(readStamp(c.next())).toEqual({ ms: 5000, count: 3, device: 'aaaa' });
    c.forget();
    expect(readStamp(c.next())).toEqual({ ms: 1001, count: 0, device: 'aaaa' });
  });
  it('lets stamps stand that are ten minutes ahead, and none beyond', () => {
    const c = new HybridClock('aaaa', () => 1_000_000);
    expect([600_000, 600_001].map((ahead) => c.takes(stampText(1_000_000 + ahead, 0, 'bbbb')))).toEqual([true, false]);
  });
  it('gives stamps that sort as text', () => {
    expect(stampText(35, 36, 'aaaa')).toBe('00000000z-0010-aaaa');
    expect(stampText(36, 0, 'aaaa') > stampText(35, 36 ** 4 - 1, 'zzzz')).toBe(true);
  });
});

describe('writing', () => {
  it('is kept and queued with a host, and only kept without one', async () => {
    const [a, b] = [alone(), alone({ link: false })];
    for (const { device } of [a, b]) await device.write([set('h1', { [F.name]: 'Bramble' })]);
    expect([a.device.waiting, b.device.waiting]).toEqual([1, 0]);
    expect(a.saves).toMatchObject([{ states: [{ id: 'h1' }], queued: [{ record: 'h1' }] }]);
    expect(b.saves).toMatchObject([{ states: [{ id: 'h1' }], queued: [] }]);
  });
  it('gives every change an id of its own, and those together a group of theirs', async () => {
    const { device } = alone();
    const one = await device.write([set('h1', { [F.name]: 'a' })], true);
    const two = await device.write([set('h1', { [F.name]: 'b' }), set('h2', { [F.name]: 'c' })], true);
    const three = await device.write([set('h3', { [F.name]: 'd' }), set('h4', { [F.name]: 'e' })]);
    const all = [...one, ...two, ...three];
    expect(new Set(all.map((c) => c.id)).size).toBe(5);
    for (const c of all) expect(c.id).toMatch(new RegExp(`^${device.id}:[0-9a-z]+:\\d+$`));
    expect(all.map((c) => c.group === undefined)).toEqual([true, false, false, true, true]);
    expect(two[0]!.group).toBe(two[1]!.group);
    expect(two[0]!.group).toMatch(new RegExp(`^${device.id}:g[0-9a-z]+:\\d+$`));
  });
  it('is later than all that the device has, also what it was started with', async () => {
    const phone = new World({ app: hiveApp() }).phone({ byHand: true });
    phone.store.states.set('h1', {
      table: T.hives,
      id: 'h1',
      stamp: stampText(10, 0, 'b'),
      stamps: { [F.name]: stampText(9_000_000_000_000, 4, 'bbbb') },
      cells: { [F.name]: 'x' },
    });
    phone.restart();
    const { device, replica } = phone;
    const [c] = await device.write([set('h1', { [F.name]: 'later' })]);
    expect(readStamp(c!.stamp)).toEqual({ ms: 9_000_000_000_000, count: 5, device: device.id });
    expect(replica.records.row(T.hives, 'h1')!.cells[F.name]).toBe('later');
  });
  it('brings many records in parts, and says how far it is', async () => {
    const records = Array.from({ length: 10_001 }, (_, i) => ({
      table: T.hives,
      id: `h${i}`,
      cells: { [F.name]: `n${i}` },
    }));
    const [a, b] = [alone(), alone({ link: false })];
    const seen: number[] = [];
    await bring(a.device, records, (n) => seen.push(n));
    await bring(b.device, records.slice(0, 2));
    expect(seen).toEqual([5000, 10_000, 10_001]);
    expect(a.saves.map((s) => [s.states?.length, s.queued?.length])).toEqual([
      [5000, 5000],
      [5000, 5000],
      [1, 1],
    ]);
    expect([a.device.waiting, b.device.waiting, a.names().length, b.names()]).toEqual([
      10_001,
      0,
      10_001,
      ['h0', 'h1'],
    ]);
  });
  it('has names for devices, runs and records that no two share', () => {
    expect(newDeviceId()).toMatch(/^d[a-z0-9]+$/);
    expect(newRecordId()).toMatch(/^r_[a-z0-9]+$/);
    const runs = new Set(Array.from({ length: 50 }, () => runOf('dabc')));
    expect(runs.size).toBeGreaterThan(45);
    for (const r of runs) expect(r).toMatch(/^dabc[a-z0-9]{4}$/);
  });
});

describe('sending', () => {
  it('goes in parts of 500 changes, and of two million letters', async () => {
    const { device, pushes } = alone();
    await device.write(Array.from({ length: 1001 }, (_, i) => set(`h${i}`, { [F.weight]: i })));
    await device.write([0, 1, 2].map((i) => set(`l${i}`, { [F.name]: 'x'.repeat(900_000) })));
    await device.sync();
    expect(pushes.map((p) => p.length)).toEqual([500, 500, 3, 1]);
    expect(device.waiting).toBe(0);
  });
  it('leaves out what the released app does not know, and sends it later', async () => {
    const { device, pushes, wire } = alone({ sendable: (c) => c.record !== 'new' });
    await device.write([set('new', { [F.name]: 'a' })]);
    await device.write([set('new', { [F.name]: 'b' }), set('old', { [F.name]: 'c' })], true);
    await device.write([set('old2', { [F.name]: 'd' })]);
    await device.sync();
    expect(pushes.map((p) => p.map((c) => c.record))).toEqual([['old2']]);
    expect(device.waiting).toBe(3);
    device.connect(wire);
    await device.sync();
    expect(pushes[1]!.map((c) => c.record)).toEqual(['new', 'new', 'old']);
    device.connect(null);
    await device.write([set('h9', { [F.name]: 'e' })]);
    await device.sync();
    expect(pushes).toHaveLength(2);
  });
  it('is done once for several who ask, and once more for what came meanwhile', async () => {
    const { device, pushes, pulls } = alone();
    await device.write([set('h1', { [F.name]: 'a' })]);
    const first = device.sync();
    await device.write([set('h2', { [F.name]: 'b' })]);
    expect(device.sync()).toBe(first);
    await first;
    expect(pushes.flat().map((c) => c.record)).toEqual(['h1', 'h2']);
    expect(pulls).toHaveLength(2);
    await device.sync();
    expect(pulls).toHaveLength(3);
  });
  it('without a way leaves everything as it is, and can be tried again', async () => {
    const { device, answers, memory } = alone();
    await device.write([set('h1', { [F.name]: 'a' })]);
    answers.push(new OfflineError('gone'));
    await expect(device.sync()).rejects.toThrow('gone');
    expect([device.waiting, memory.queue.size]).toEqual([1, 1]);
    await device.sync();
    expect([device.waiting, memory.queue.size]).toEqual([0, 0]);
  });
  it('finds the one that is never taken among others, and sets it aside with why', async () => {
    const { device, answers, told, pushes, memory } = alone();
    await device.write(['h1', 'h2', 'h3', 'bad', 'h4'].map((id) => set(id, { [F.name]: id })));
    const look = (c: Change[]): Receipt => {
      if (c.some((x) => x.record === 'bad')) throw new NeverTakenError('Too much.');
      return taken(c);
    };
    answers.push(...Array.from({ length: 12 }, () => look));
    await device.sync();
    expect(told.map((t) => [t.change.record, t.reason])).toEqual([
      ['bad', 'Too much. It stays on this device and reaches no other.'],
    ]);
    expect(
      [
        ...new Set(
          pushes
            .filter((p) => !p.some((c) => c.record === 'bad'))
            .flat()
            .map((c) => c.record),
        ),
      ].sort(),
    ).toEqual(['h1', 'h2', 'h3', 'h4']);
    expect([device.waiting, memory.queue.size]).toEqual([0, 0]);
  });
});

describe('what the host answers', () => {
  const refused = (c: Change, state: RecordState | null) => ({
    id: c.id,
    table: c.table,
    record: c.record,
    reason: 'No.',
    state,
  });
  it('a record it has never heard of goes, here and from what is kept', async () => {
    const { device, answers, told, names, memory } = alone();
    const [c] = await device.write([set('h1', { [F.name]: 'a' })]);
    answers.push({ ...taken([]), refused: [refused(c!, null)] });
    await device.sync();
    expect([names(), [...memory.states.keys()], told.map((t) => [t.change.id, t.reason])]).toEqual([
      [],
      [],
      [[c!.id, 'No.']],
    ]);
  });
  it('a record becomes what it is there, with what still waits on top', async () => {
    const { device, answers, replica, memory } = alone();
    const state: RecordState = {
      table: T.hives,
      id: 'h1',
      stamp: stampText(1, 0, 'host'),
      cells: { [F.name]: 'there', [F.weight]: 3 },
    };
    await device.write([set('h1', { [F.name]: 'a' })]);
    answers.push((sent) => {
      void device.write([set('h1', { [F.weight]: 9 })]);
      return { ...taken([]), refused: [refused(sent[0]!, state)] };
    });
    await device.sync();
    expect(replica.records.row(T.hives, 'h1')!.cells).toEqual({ [F.name]: 'there', [F.weight]: 9 });
    expect(memory.states.get('h1')!.cells).toEqual({ [F.name]: 'there', [F.weight]: 9 });
  });
  it('a corrected record sets the clock right, and what waits stays later than all', async () => {
    const { device, answers, replica, shows } = alone();
    shows(50_000_000_000);
    const [ahead] = await device.write([set('h1', { [F.name]: 'a' })]);
    shows(1_000_000);
    const state: RecordState = {
      table: T.hives,
      id: 'h1',
      stamp: stampText(1_000_500, 0, 'host'),
      cells: { [F.name]: 'a' },
    };
    answers.push({ ...taken([ahead!]), corrected: [state] });
    await device.sync();
    const [next] = await device.write([set('h1', { [F.name]: 'b' })]);
    expect(readStamp(next!.stamp)).toEqual({ ms: 1_000_500, count: 1, device: device.id });
    expect(replica.records.row(T.hives, 'h1')!.cells[F.name]).toBe('b');
  });
});

describe('what comes from others', () => {
  const change = (record: string, ms: number): Change => ({
    id: `x${ms}`,
    stamp: stampText(ms, 0, 'bbbb'),
    ...set(record, { [F.name]: record }),
  });
  const state = (id: string, ms: number): RecordState => ({
    table: T.hives,
    id,
    stamp: stampText(ms, 0, 'bbbb'),
    cells: { [F.name]: id },
  });
  it('by itself is taken where it goes on, fetched where there is a gap, and left where it is old', async () => {
    const { device, names, pulls, memory } = alone();
    await device.receive({ from: 0, at: 2, changes: [change('h1', 5)] });
    expect([names(), device.position, memory.values.get('at')]).toEqual([['h1'], 2, 2]);
    await device.receive({ from: 1, at: 2, changes: [change('h2', 6)] });
    expect([names(), pulls]).toEqual([['h1'], []]);
    await device.receive({ from: 4, at: 5, changes: [change('h3', 7)] });
    expect([names(), pulls]).toEqual([['h1'], [[2, undefined]]]);
  });
  it('in pages is taken one after the other, then what happened meanwhile', async () => {
    const { device, names, pulls, news, memory } = alone();
    news.push(
      { at: 7, states: [state('h1', 1)], next: 1 },
      { at: 8, states: [state('h2', 2)], next: 2 },
      { at: 9, states: [state('h3', 3)] },
      { from: 7, at: 9, changes: [change('h4', 4)] },
    );
    await device.sync();
    expect(pulls).toEqual([
      [0, undefined],
      [0, 1],
      [0, 2],
      [7, undefined],
    ]);
    expect([names(), device.position, memory.values.get('at')]).toEqual([['h1', 'h2', 'h3', 'h4'], 9, 9]);
    expect([...memory.states.keys()]).toEqual(['h1', 'h2', 'h3', 'h4']);
  });
  it('in pages is merged with what is here', async () => {
    const { device, replica, news } = alone();
    await device.write([set('h1', { [F.weight]: 4 })]);
    news.push({ at: 3, states: [state('h1', 1), state('h2', 2)] });
    await device.sync();
    expect(replica.records.row(T.hives, 'h1')!.cells).toEqual({ [F.weight]: 4, [F.name]: 'h1' });
    expect(replica.records.row(T.hives, 'h2')!.cells).toEqual({ [F.name]: 'h2' });
  });
  it('moves the clock on', async () => {
    const { device, shows } = alone();
    shows(1000);
    await device.receive({ from: 0, at: 1, changes: [change('h1', 9000)] });
    const [c] = await device.write([set('h1', { [F.name]: 'mine' })]);
    expect(readStamp(c!.stamp).ms).toBe(9000);
  });
});

it('the first release sends records in the order they were made, with what became of them', async () => {
  const { device, pushes, saves } = alone({ link: false });
  await device.write([set('b', { [F.name]: '1' })]);
  await device.write([set('a', { [F.name]: '2', [F.tag]: 'x' })]);
  await device.write([set('b', { [F.weight]: 3 })]);
  await device.write([{ do: 'remove', table: T.hives, record: 'a' }]);
  await device.write([{ do: 'restore', table: T.hives, record: 'a' }]);
  await device.write([set('c', { [F.name]: '4' })]);
  await device.write([{ do: 'remove', table: T.hives, record: 'c' }]);
  saves.length = 0;
  await queueAll(device);
  expect([device.waiting, device.position, saves.length, saves[0]!.at]).toEqual([6, 0, 1, 0]);
  const wire: HostLink = {
    push: async (c) => (pushes.push(c), taken(c)),
    pull: async ({ since }) => ({ from: since, at: since, changes: [] }),
  };
  device.connect(wire);
  await device.sync();
  const [all] = pushes;
  expect(all!.map((c) => [c.record, c.do, c.do === 'remove' ? null : c.cells])).toEqual([
    ['b', 'set', { [F.name]: '1' }],
    ['b', 'set', { [F.weight]: 3 }],
    ['a', 'set', { [F.name]: '2', [F.tag]: 'x' }],
    ['a', 'remove', null],
    ['a', 'restore', {}],
    ['c', 'remove', null],
  ]);
  const other = new Replica(new Records(hiveApp()));
  for (const c of all!) other.apply(structuredClone(c));
  expect(other.records.row(T.hives, 'a')!.cells).toEqual({ [F.name]: '2', [F.tag]: 'x' });
});
