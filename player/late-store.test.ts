import 'fake-indexeddb/auto';
import { afterEach, describe, expect, it, vi } from 'vitest';
import { LateStore } from './late-store.ts';

const broken: string[] = [];
let n = 0;
const store = (name = `app-hives-${n}`): LateStore => {
  const made = new LateStore(name);
  made.onBroken = (why) => broken.push(why);
  return made;
};
afterEach(() => {
  broken.length = 0;
  n++;
  vi.unstubAllGlobals();
});

describe('what a device keeps of an app', () => {
  it('is looked for before the package that reads it is fetched', async () => {
    const first = store();
    expect([await first.isThere(), first.isOpen]).toEqual([false, false]);
    await first.put('device', 'a');
    expect([await first.isThere(), first.isOpen, await store('app-other').isThere()]).toEqual([true, true, false]);
  });
  it('may be there where a browser does not say, and is not where it keeps nothing', async () => {
    for (const databases of [undefined, () => Promise.reject(new Error('not allowed'))]) {
      vi.stubGlobal('indexedDB', Object.assign(Object.create(indexedDB) as object, { databases }));
      expect(await store().isThere()).toBe(true);
    }
    vi.stubGlobal('indexedDB', undefined);
    expect(await store().isThere()).toBe(false);
  });
  it('is in memory where the browser keeps nothing, which is said once', async () => {
    vi.stubGlobal('indexedDB', undefined);
    const s = store();
    await s.put('device', 'a');
    await s.put('ear', 'b');
    await s.keepDraft('form', { f_name000: 'Half' });
    expect([await s.get('device'), await s.drafts()]).toEqual(['a', { form: { f_name000: 'Half' } }]);
    expect(broken).toEqual([expect.stringContaining('This browser keeps nothing for pages.')]);
  });
  it('goes on where something cannot be kept, and says why', async () => {
    const s = store();
    const keeper = await s.whole();
    vi.spyOn(keeper, 'put').mockRejectedValue(new Error('The store of this device is full.'));
    await s.put('device', 'a');
    await s.put('ear', 'b');
    expect(broken).toEqual(['The store of this device is full.']);
    await expect(s.get('device')).resolves.toBeUndefined();
  });
  it('comes whole: records, what waits, drafts', async () => {
    const s = store();
    const state = { table: 't_hives000', id: 'r1', cells: { f_name000: 'Clover' }, stamp: '1' };
    const waits = { id: 'c1', stamp: '2', table: 't_hives000', record: 'r1', do: 'set' as const, cells: {} };
    await s.save({ states: [state], queued: [waits] });
    const again = store();
    expect(await again.allStates()).toMatchObject([state]);
    expect((await again.queued()).map((c) => c.id)).toEqual(['c1']);
    expect(await again.file('none')).toBeNull();
  });
});

it('the package that keeps an app is fetched again when it could not be, as without a network', async () => {
  vi.resetModules();
  let tries = 0;
  vi.doMock('./storage.ts', async (original) => {
    if (++tries === 1) throw new Error('offline');
    return original();
  });
  try {
    const { LateStore: Fresh } = await import('./late-store.ts');
    const s = new Fresh('app-late');
    await expect(s.get('device')).rejects.toThrow();
    expect(s.isOpen).toBe(false);
    await s.put('device', 'a');
    expect([await s.get('device'), tries]).toEqual(['a', 2]);
  } finally {
    vi.doUnmock('./storage.ts');
  }
});
