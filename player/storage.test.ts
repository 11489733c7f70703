import 'fake-indexeddb/auto';
import { Dexie } from 'dexie';
import fc from 'fast-check';
import { afterEach, describe, expect, it, vi } from 'vitest';
import type { RecordState } from '../core/records/change.ts';
import { stampText } from '../core/host/clock.ts';
import { DeviceDb } from './storage.ts';

let n = 0;
const opened: DeviceDb[] = [];
const open = (name = `test-${n++}`): DeviceDb => {
  opened.push(new DeviceDb(name));
  return opened.at(-1)!;
};
afterEach(async () => {
  const names = new Set(opened.map((db) => db.name));
  for (const db of opened.splice(0)) db.close();
  for (const name of names) await Dexie.delete(name);
});
const state = (id: string, value: number): RecordState => ({
  table: 't_hives000',
  id,
  cells: { f_value000: value },
  stamp: stampText(1000, value, 'test'),
});
const many = (count: number, value: number, from = 0): RecordState[] =>
  Array.from({ length: count }, (_, i) => state(`r${from + i}`, value));
const values = async (db: DeviceDb): Promise<Record<string, unknown>> =>
  Object.fromEntries((await db.allStates()).map((s) => [s.id, s.cells['f_value000']]));

describe('what a device keeps', () => {
  it('comes back, whether it was saved one by one or many at once', async () => {
    const db = open();
    await db.save({ states: many(3000, 1) });
    await db.save({ states: [state('r5', 2), state('new', 3)] });
    const all = await values(db);
    expect(Object.keys(all)).toHaveLength(3001);
    expect([all['r4'], all['r5'], all['new']]).toEqual([1, 2, 3]);
  });
  it('has what is typed in each form, though two pages keep it; and nothing of a form that is empty', async () => {
    const [one, other] = [open('drafts'), open('drafts')];
    await one.keepDraft('s_a//f/', { f_name000: 'Half' });
    await other.keepDraft('s_b//f/', { f_name000: 'Other' });
    await one.keepDraft('s_c//f/', { f_name000: 'Gone' });
    await other.keepDraft('s_c//f/', null);
    expect(await open('drafts').drafts()).toEqual({
      's_a//f/': { f_name000: 'Half' },
      's_b//f/': { f_name000: 'Other' },
    });
  });
  it('a later pack is newer than an earlier one and than single records before it', async () => {
    const db = open();
    await db.save({ states: many(500, 1) });
    await db.save({ states: [state('r7', 2)] });
    await db.save({ states: many(400, 3) });
    const all = await values(db);
    expect([all['r7'], all['r399'], all['r450']]).toEqual([3, 3, 1]);
  });
  it('forgets what it is told to, packed or not', async () => {
    const db = open();
    await db.save({ states: many(300, 1) });
    await db.save({ states: [state('single', 1)] });
    await db.save({ gone: ['r3', 'single', 'unknown'] });
    const all = await values(db);
    expect(Object.keys(all)).toHaveLength(299);
    await db.save({ states: [state('r3', 9)] });
    expect((await values(db))['r3']).toBe(9);
  });
  it('keeps nothing of what it forgets, and nothing of before of what is given anew, to the last byte', async () => {
    const db = open();
    const secret = (id: string): RecordState => ({ ...state(id, 1), cells: { f: `secret ${id}` } });
    await db.save({ states: Array.from({ length: 300 }, (_, i) => secret(`r${i}`)) });
    await db.save({ states: [secret('single')] });
    await db.save({ gone: ['r3', 'single', 'r4'], states: [state('r4', 2)] });
    const bytes = JSON.stringify([await db.table('packs').toArray(), await db.table('states').toArray()]);
    for (const id of ['r3', 'single', 'r4']) expect(bytes).not.toContain(`secret ${id}\\`);
    expect(bytes).toContain('secret r5');
    expect((await values(db))['r4']).toBe(2);
    // All of a pack at once.
    await db.save({ gone: Array.from({ length: 300 }, (_, i) => `r${i}`) });
    expect(JSON.stringify([await db.table('packs').toArray(), await db.table('states').toArray()])).toBe('[[],[]]');
  });
  it('is packed again when many single records have gathered, without a difference', async () => {
    const db = open();
    for (let i = 0; i < 40; i++) await db.save({ states: many(150, i, i * 150) });
    await db.save({ gone: ['r1'] });
    const before = await values(db);
    expect(await values(db)).toEqual(before);
    db.close();
    const again = open(db.name);
    expect(await values(again)).toEqual(before);
    expect(Object.keys(before)).toHaveLength(5999);
  });
  it('says the same as a plain map after any saving (property)', async () => {
    const step = fc.oneof(
      fc.record({ do: fc.constant('one' as const), id: fc.nat(9), value: fc.nat(99) }),
      fc.record({ do: fc.constant('many' as const), id: fc.nat(5), value: fc.nat(99) }),
      fc.record({ do: fc.constant('gone' as const), id: fc.nat(9), value: fc.constant(0) }),
    );
    await fc.assert(
      fc.asyncProperty(fc.array(step, { maxLength: 12 }), async (steps) => {
        const db = open();
        const plain: Record<string, number> = {};
        for (const s of steps) {
          const states = s.do === 'many' ? many(200, s.value, s.id) : [state(`r${s.id}`, s.value)];
          if (s.do === 'gone') {
            await db.save({ gone: [`r${s.id}`] });
            delete plain[`r${s.id}`];
          } else {
            await db.save({ states });
            for (const x of states) plain[x.id] = s.value;
          }
        }
        expect(await values(db)).toEqual(plain);
      }),
      { numRuns: 40 },
    );
  });
  it('keeps the queue in order and takes out what was sent', async () => {
    const db = open();
    const change = (id: string) => ({ ...state('r', 1), do: 'set' as const, record: 'r', id });
    await db.save({ queued: ['a', 'b', 'c'].map((id) => change(id) as never), at: 7 });
    await db.save({ sent: ['b'] });
    expect((await db.queued()).map((c) => c.id)).toEqual(['a', 'c']);
    expect(await db.get('at')).toBe(7);
  });
});

it('a store that a later version of the app has kept more in opens, and keeps that', async () => {
  const name = `test-${n++}`;
  const later = new Dexie(name);
  later.version(9).stores({
    states: 'id',
    queue: '++order,id',
    outbox: 'id,sent,at',
    meta: 'key',
    packs: '++n',
    files: 'hash,at',
    more: 'id',
  });
  await later.open();
  await later.table('meta').put({ key: 'at', value: 5 });
  await later.table('more').put({ id: 'kept' });
  later.close();
  const db = open(name);
  expect(await db.get('at')).toBe(5);
  await db.save({ states: [state('r1', 1)] });
  db.close();
  await later.open();
  expect(await later.table('more').count()).toBe(1);
  later.close();
});

it('where nothing can be kept, memory takes its place until the page is closed, and it is said', async () => {
  const { openDevice } = await import('./storage.ts');
  const given = globalThis.indexedDB;
  const said: string[] = [];
  Reflect.deleteProperty(globalThis, 'indexedDB');
  try {
    const keeper = await openDevice('none', (why) => said.push(why));
    await keeper.put('person', 'Ines');
    await keeper.save({ states: [state('r1', 1)], at: 3 });
    await keeper.queueMail({ id: 'mail-00001', to: [], subject: '', body: '' });
    expect([await keeper.get('person'), await keeper.allStates(), (await keeper.unsentMail()).length]).toEqual([
      'Ines',
      [],
      1,
    ]);
  } finally {
    globalThis.indexedDB = given;
  }
  expect(said).toEqual([
    expect.stringContaining('This device cannot keep the app: This browser keeps nothing for pages.'),
  ]);
});

it('what a routine asked to be written is known with what is written, until its run has ended', async () => {
  const db = new DeviceDb(`wrote-${Math.random()}`);
  const state = { table: 't_hives00', id: 'h1', stamp: '0', cells: {} };
  await db.save({ states: [state], wrote: ['run1:2', 'run10:2'] });
  expect([await db.get('wrote:run1:2'), await db.get('wrote:run1:3')]).toEqual([true, undefined]);
  await db.keepRun('run1', null, []);
  expect([await db.get('wrote:run1:2'), await db.get('wrote:run10:2')]).toEqual([undefined, true]);
  db.close();
});

it('a full store is told in words, however the browser names it; anything else as it is', async () => {
  const named = (name: string): Error => Object.assign(new Error('inside'), { name });
  const db = open();
  for (const [error, words] of [
    [named('QuotaExceededError'), 'storage for the app is full'],
    [Object.assign(named('AbortError'), { inner: named('QuotaExceededError') }), 'storage for the app is full'],
    [Object.assign(named('QuotaExceededError'), { inner: named('AbortError') }), 'storage for the app is full'],
    [named('AbortError'), 'inside'],
  ] as const) {
    const meta = vi.spyOn(db.meta, 'put').mockRejectedValue(error);
    await expect(db.put('device', 'a'), error.name).rejects.toThrow(words);
    meta.mockRestore();
  }
});

it('a message waits until it is said to be sent, also when the page has gone meanwhile', async () => {
  const db = open();
  const mail = (id: string) => ({ id, to: ['odile@heatherfield.example'], subject: 'Tea?', body: 'At ten.' });
  for (const id of ['mail-00001', 'mail-00002']) await db.queueMail(mail(id));
  const again = open(db.name);
  expect((await again.unsentMail()).map((m) => m.id)).toEqual(['mail-00001', 'mail-00002']);
  await again.mailSent('mail-00001');
  expect(await db.unsentMail()).toMatchObject([mail('mail-00002')]);
});
