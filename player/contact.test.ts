import 'fake-indexeddb/auto';
import { Dexie } from 'dexie';
import { afterEach, beforeEach, expect, it } from 'vitest';
import { Device } from '../core/host/device.ts';
import { Replica } from '../core/host/replica.ts';
import { F, hiveApp, T } from '../core/records/fixture.ts';
import { Records } from '../core/records/store.ts';
import { clearWhenDue, CONTACT, keptHere } from './contact.ts';
import { DeviceDb } from './storage.ts';

const DAY = 86_400_000;
const now = Date.now();
let db: DeviceDb;
let said: string[];
const say = (words: string): void => void said.push(words);
const FILE = 'a'.repeat(64);
const OTHER = 'b'.repeat(64);
const state = (id: string) => ({ table: T.hives, id, stamp: '', cells: { [F.name]: `Secret ${id}` } });
const here = { app: { access: { opens: 'people' as const, clears: 3, roles: [], rules: [] } } };
/** The app is opened at some time. */
const opened = (at: number) => keptHere({ here, store: { whole: async () => db }, say }, at);
const own = { id: 'd:1', stamp: '2026-01-01T00:00:00.000Z-0000-d', table: T.hives, record: 'mine' };
const change = { ...own, do: 'set' as const, cells: { [F.name]: 'Mine', [F.tag]: FILE } };

/** Everything in the database as text, to look for what must not be in it. */
const everything = async (): Promise<string> =>
  JSON.stringify(
    await Promise.all(db.tables.map(async (t) => [await t.toArray(), await t.toCollection().primaryKeys()])),
  );

beforeEach(async () => {
  said = [];
  db = new DeviceDb('app-contact');
  await db.put('app', { number: 1 });
  await db.put('answer 1', 'Secret answer');
  await db.keepDraft('s_form', { [F.name]: 'Secret draft' });
  await db.keepFile(FILE, new Blob(['photo to send']));
  await db.keepFile(OTHER, new Blob(['Secret photo']));
  await db.save({ states: [state('one')], queued: [change], at: 7, view: 'v1' });
  await db.save({ states: Array.from({ length: 300 }, (_, i) => state(`many${i}`)) });
});
afterEach(async () => {
  db.close();
  await Dexie.delete('app-contact');
});

it('a phone that was away longer than the maker says opens with what waits to be sent, and nothing else', async () => {
  const kept = await opened(now + 4 * DAY);
  expect([kept.states, kept.at, kept.view, kept.drafts]).toEqual([[], undefined, undefined, {}]);
  expect(kept.queue).toEqual([change]);
  expect(said).toEqual([expect.stringContaining('without contact for 3 days')]);
  expect(await everything()).not.toMatch(/Secret|v1/);
  expect(await everything()).not.toContain(OTHER);
  expect(await db.get('app')).toEqual({ number: 1 });
  expect(await db.file(FILE)).not.toBeNull();
});

it('within that time it has everything; what was kept before contacts were noted counts from then on', async () => {
  expect((await opened(now + 2 * DAY)).states).toHaveLength(301);
  await db.put(CONTACT, undefined);
  expect((await opened(now + 9 * DAY)).states).toHaveLength(301);
  expect((await opened(now + 13 * DAY)).states).toHaveLength(0);
  expect(said).toHaveLength(1);
});

it('an app that stays open lets go of what it shows, too, unless it has its host', async () => {
  const replica = new Replica(new Records(hiveApp()));
  replica.load([state('one')]);
  const device = new Device({ id: 'd', replica, store: db, queue: [change], at: 7, view: 'v1' });
  replica.apply(change);
  const on = {
    here,
    phone: { device, online: true },
    store: { whole: async () => db },
    say,
  };
  const names = () => replica.records.rows(T.hives).map((r) => r.cells[F.name]);
  // With its host it has contact, whatever was noted.
  await clearWhenDue(on, now + 20 * DAY);
  expect(names()).toEqual(['Secret one', 'Mine']);
  on.phone.online = false;
  await clearWhenDue(on, now + 22 * DAY);
  expect(names()).toEqual(['Secret one', 'Mine']);
  await clearWhenDue(on, now + 24 * DAY);
  expect(names()).toEqual(['Mine']);
  expect([device.position, device.view, device.queue]).toEqual([0, undefined, [change]]);
  expect(await everything()).not.toContain('Secret');
  expect(await db.queued()).toEqual([change]);
});
