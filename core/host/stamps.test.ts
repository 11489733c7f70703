import { describe, expect, it } from 'vitest';
import { NOBODY } from '../access/access.ts';
import { ChangeSchema, type Change } from '../records/change.ts';
import { F, T, hiveApp } from '../records/fixture.ts';
import { HybridClock, stampText } from './clock.ts';
import { Host } from './host.ts';
import { World } from '../world/world.ts';
import '../world/warm.fixture.ts';

/** Clocks that are wrong, and stamps that somebody made up. */

const link = NOBODY;
const DAY = 86_400_000;
const NOON = Date.UTC(2026, 10, 25, 12);
const MOST = 36 ** 4 - 1;

/** A host and phones, of which one has a clock that is a day ahead. */
function town(log: readonly Change[] = []) {
  const world = new World({ app: hiveApp() });
  world.log.kept.push(...log);
  world.restartHost();
  const { host } = world;
  const phone = (id: 'near' | 'far') => {
    const p = world.phone({ off: id === 'far' ? DAY : 0, byHand: true });
    const name = (): unknown => p.records.row(T.hives, 'h1')?.cells[F.name];
    const rename = (to: string) => p.write([{ do: 'set', table: T.hives, record: 'h1', cells: { [F.name]: to } }]);
    return { phone: p, device: p.device, name, rename };
  };
  const name = (): unknown => host.replica.records.row(T.hives, 'h1')?.cells[F.name];
  return { world, host, log: world.log, phone, name };
}
const set = (stamp: string, name: string, id = `c${stamp}`): Change => ({
  id,
  stamp,
  table: T.hives,
  record: 'h1',
  do: 'set',
  cells: { [F.name]: name },
});

describe('a counter at its end', () => {
  it('carries on in the next millisecond', () => {
    const clock = new HybridClock('aaaa', () => 1000);
    clock.saw(stampText(1000, MOST, 'zzzz'));
    expect([clock.next(), clock.next()]).toEqual([stampText(1001, 0, 'aaaa'), stampText(1001, 1, 'aaaa')]);
  });
  it('keeps no phone from sending: every stamp after it is one', async () => {
    const { host, phone, name } = town();
    await host.accept([set(stampText(NOON + 9 * 60_000, MOST, 'made'), 'Made up')], link);
    const near = phone('near');
    await near.device.sync();
    const [change] = await near.rename('Real');
    expect(ChangeSchema.safeParse(change).error).toBeUndefined();
    await near.device.sync();
    expect([name(), near.name()]).toEqual(['Real', 'Real']);
  });
});

describe('a phone a day ahead', () => {
  it('does not overwrite a later edit when its answer was lost and it sends again', async () => {
    const { phone, name } = town();
    const far = phone('far');
    far.phone.network = 'answers lost';
    await far.rename('From tomorrow');
    await far.phone.sync();
    far.phone.network = 'on';
    const near = phone('near');
    await near.device.sync();
    await near.rename('Later');
    await near.device.sync();
    await far.device.sync();
    expect([name(), far.name(), near.name()]).toEqual(['Later', 'Later', 'Later']);
  });
  it('is known again after the host has started anew', async () => {
    const first = town();
    const change = set(stampText(NOON + DAY, 0, 'farxxx'), 'From tomorrow', 'once');
    await first.host.accept([change], link);
    await first.host.accept([set(stampText(NOON + 5, 0, 'near'), 'Later')], link);
    const { host, name, log } = town(first.log.kept);
    const kept = log.kept.length;
    const receipt = await host.accept([change], link);
    expect([receipt.accepted, receipt.corrected.map((s) => s.cells[F.name])]).toEqual([['once'], ['Later']]);
    expect([name(), log.kept.length]).toEqual(['Later', kept]);
  });
  it('is known again after its change has gone into a snapshot', async () => {
    const { host, log } = town();
    const change = set(stampText(NOON + DAY, 0, 'farxxx'), 'From tomorrow', 'once');
    await host.accept([change], link);
    await host.accept([set(stampText(NOON + 5, 0, 'near'), 'Later')], link);
    const again = new Host(hiveApp(), log, undefined, () => NOON);
    const { states, ...known } = host.snapshot();
    again.restore(structuredClone([...states]), [], host.position, known);
    const receipt = await again.accept([change], link);
    expect([receipt.accepted, receipt.corrected.length, again.position]).toEqual([['once'], 1, host.position]);
    expect(again.replica.records.row(T.hives, 'h1')!.cells[F.name]).toBe('Later');
  });
  it('writes with the right time again once its clock is right and its stamps are corrected', async () => {
    const { phone, host } = town();
    const far = phone('far');
    await far.rename('From tomorrow');
    await far.device.sync();
    far.phone.off = 1000;
    const [change] = await far.rename('From today');
    expect(host.replica.state('h1')!.cells[F.name]).toBe('From tomorrow');
    expect(change!.stamp < stampText(NOON + 60_000, 0, '')).toBe(true);
    await far.device.sync();
    expect(host.replica.state('h1')!.cells[F.name]).toBe('From today');
  });
  it('keeps what is written on it before it has reached the host', async () => {
    const { phone } = town();
    const far = phone('far');
    await far.rename('One');
    far.phone.off = 0;
    await far.rename('Two');
    expect(far.name()).toBe('Two');
    await far.device.sync();
    expect(far.name()).toBe('Two');
  });
});

it('a correction by the host is later than all it kept, also after it has started anew', async () => {
  const first = town();
  await first.host.accept([set(stampText(NOON + 9 * 60_000, 7, 'ahead'), 'Nine minutes ahead')], link);
  const { host, name } = town(first.log.kept);
  const receipt = await host.accept([set(stampText(NOON + DAY, 0, 'farxxx'), 'Corrected')], link);
  expect(receipt.corrected[0]!.cells[F.name]).toBe('Corrected');
  expect(name()).toBe('Corrected');
});
