import { describe, expect, it, vi } from 'vitest';
import { dateText } from '../formula/temporal.ts';
import type { CalendarDate } from '../formula/values.ts';
import { stampText } from '../host/clock.ts';
import { contents } from '../host/fixture.ts';
import type { Change } from '../records/change.ts';
import { F, hiveApp, T } from '../records/fixture.ts';
import { Random } from './random.ts';
import { worldAfter } from './acts.fixture.ts';
import { VirtualClock } from './clock.ts';
import type { Spy } from './network.ts';
import { World } from './world.ts';
import './warm.fixture.ts';

describe('the clock of a world', () => {
  it('does what is due in its order, with all that comes of it, and no time passes otherwise', async () => {
    const clock = new VirtualClock(0);
    const did: string[] = [];
    clock.after(20, () => did.push(`second at ${clock.now()}`));
    clock.after(10, () => {
      did.push(`first at ${clock.now()}`);
      clock.after(5, () => void Promise.resolve().then(() => did.push(`of the first at ${clock.now()}`)));
    });
    const cancel = clock.after(12, () => did.push('never'));
    cancel();
    await clock.pass(9);
    expect([did, clock.now()]).toEqual([[], 9]);
    await clock.pass(100);
    expect(did).toEqual(['first at 10', 'of the first at 15', 'second at 20']);
    expect([clock.now(), clock.next]).toEqual([109, null]);
  });
  it('stops for nothing that is done again and again, and does it before what it stops for', async () => {
    const clock = new VirtualClock(0);
    const did: string[] = [];
    const end = clock.every(10, () => did.push(`again at ${clock.now()}`));
    clock.after(35, () => did.push(`once at ${clock.now()}`));
    await clock.pass(100);
    expect(did).toEqual(['again at 35', 'once at 35', 'again at 100']);
    end();
    await clock.pass(100);
    expect(did).toHaveLength(3);
  });
});

describe('a world', () => {
  it('is the same for the same seed, down to each change that is kept; for another it is another', async () => {
    const [one, again, other] = await Promise.all([7, 7, 8].map((seed) => worldAfter(seed, 150)));
    expect(one!.log.kept.length).toBeGreaterThan(40);
    expect(again!.log.kept).toEqual(one!.log.kept);
    expect(other!.log.kept).not.toEqual(one!.log.kept);
  });
  it('ends alike on every phone, when all have had time and a network', async () => {
    const world = await worldAfter(3, 200);
    for (const p of world.phones) p.network = 'on';
    await world.pass(120_000);
    for (const p of world.phones) expect(contents(p.records)).toEqual(contents(world.host.replica.records));
  });
  it('stops for no try of a phone without a network, and for its next one when the network is back', async () => {
    const world = new World({ app: hiveApp() });
    const p = world.phone();
    await world.settle();
    p.network = 'off';
    await p.write([{ do: 'set', table: T.hives, record: 'h1', cells: { [F.name]: 'One' } }]);
    await world.pass(86_400_000);
    expect([world.clock.next, world.log.kept.length]).toEqual([null, 0]);
    p.network = 'on';
    expect(world.clock.next).not.toBeNull();
    expect(world.clock.next! - world.clock.now()).toBeLessThanOrEqual(15_000);
    await world.pass(15_000);
    expect([world.log.kept.length, p.device.waiting]).toEqual([1, 0]);
    // One that was closed tries nothing any more.
    p.network = 'off';
    await world.pass(60_000);
    p.close();
    p.network = 'on';
    expect(world.clock.next).toBeNull();
  });
  it.each([
    ['on', 1],
    ['twice', 1],
    ['off', 0],
    ['answers lost', 1],
  ] as const)('a change by a network that is %s is on the host %s time', async (network, times) => {
    const world = new World({ app: hiveApp() });
    const p = world.phone();
    await world.settle();
    p.network = network;
    await p.write([{ do: 'set', table: T.hives, record: 'h1', cells: { [F.name]: 'One' } }]);
    await world.pass(5000);
    expect([world.log.kept.length, p.device.waiting]).toEqual([times, network === 'on' || network === 'twice' ? 0 : 1]);
    p.network = 'on';
    await world.pass(60_000);
    expect([world.log.kept.length, p.device.waiting]).toEqual([1, 0]);
  });
  it('a host that goes out in the middle of its work writes nothing more, and answers nobody', async () => {
    const came = new Set<string>();
    for (let turns = 0; turns < 20; turns++) {
      /** What the first host answers, and what of it came when it had gone out. */
      const byFirst = new Set<unknown>();
      const late: unknown[] = [];
      const spy: Spy = (_, answer) => void (byFirst.has(answer) && world.released !== began && late.push(answer));
      const world = new World({ app: hiveApp(), spy });
      const { wire } = world.phone();
      await world.settle();
      const began = world.released;
      vi.spyOn(began, 'accept').mockImplementation(async (...sent) => {
        const answer = await began.host.accept(...sent);
        byFirst.add(answer);
        return answer;
      });
      // The second comes to its turn when the host has kept the first.
      const answers = ['h1', 'h2'].map((record): Promise<string> => {
        const stamp = stampText(world.clock.now(), 0, record);
        const change: Change = { id: record, stamp, table: T.hives, record, do: 'set', cells: { [F.name]: 'One' } };
        return wire.push([change]).then(
          () => record,
          (e: Error) => e.message,
        );
      });
      for (let i = 0; i < turns; i++) await Promise.resolve();
      world.restartHost();
      for (const answer of await Promise.all(answers)) {
        came.add(answer);
        if (answer.startsWith('h')) expect(world.cell(T.hives, answer, F.name)).toBe('One');
      }
      expect(world.host.position).toBe(world.log.kept.length);
      expect(late).toEqual([]);
    }
    expect([...came].sort()).toEqual(['The host has gone out.', 'h1', 'h2']);
  });
  it('a slow network takes its time, and brings what comes in its order', async () => {
    const world = new World({ app: hiveApp() });
    const [a, b] = [world.phone(), world.phone()];
    await world.settle();
    b.network = 'slow';
    for (let i = 1; i <= 20; i++) {
      await a.write([{ do: 'set', table: T.hives, record: 'h1', cells: { [F.weight]: i } }]);
      await world.settle();
    }
    expect(b.cell(T.hives, 'h1', F.weight)).toBeNull();
    await world.pass(120_000);
    expect(b.cell(T.hives, 'h1', F.weight)).toBe(20);
  });
});

it('what looks like chance is spread evenly', () => {
  const random = new Random(1);
  const counts = [0, 0, 0, 0];
  for (let i = 0; i < 4000; i++) counts[random.below(4)]!++;
  for (const n of counts) expect(Math.abs(n - 1000)).toBeLessThan(120);
});

it('has one clock: formulas follow it, on phones by their own zone and on the host by that of the app', async () => {
  const app = hiveApp({ hives: [{ id: 'f_today0000', name: 'Today', type: 'formula', formula: 'today()' }] });
  const told = async (zone: string): Promise<string[]> => {
    const world = new World({ app: { ...app, zone }, at: Date.UTC(2026, 10, 30, 11) });
    const phone = world.phone();
    await phone.write([{ do: 'set', table: T.hives, record: 'h1', cells: { [F.name]: 'One' } }]);
    await world.settle();
    const days = (): string[] =>
      [phone.records, world.host.replica.records].map((r) =>
        dateText(r.row(T.hives, 'h1')!.get('f_today0000') as CalendarDate),
      );
    const first = days();
    await world.pass(86_400_000);
    return [...first, ...days()];
  };
  const here = (day: number): string => {
    const at = new Date(Date.UTC(2026, 10, day, 11));
    return `2026-${String(at.getMonth() + 1).padStart(2, '0')}-${String(at.getDate()).padStart(2, '0')}`;
  };
  expect(await told('Pacific/Kiritimati')).toEqual([here(30), '2026-12-01', here(31), '2026-12-02']);
  expect(await told('Etc/GMT+12')).toEqual([here(30), '2026-11-29', here(31), '2026-11-30']);
});
