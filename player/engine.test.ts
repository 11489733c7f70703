import 'fake-indexeddb/auto';
import { afterAll, afterEach, beforeAll, describe, expect, it, vi } from 'vitest';
import { emptyApp } from '../core/app/document.ts';
import { ElementMaker } from '../core/app/make.ts';
import type { App } from '../core/app/schema.ts';
import type { Change } from '../core/records/change.ts';
import { F, hiveApp, T } from '../core/records/fixture.ts';
import type { DrawnNode } from '../core/screens/element.ts';
import { change, KEY, OTHER, TestServer } from '../server/fixture.ts';
import type { EngineEvent } from './engine-events.ts';
import { LateStore } from './late-store.ts';

// What a worker has and Node.js has not.
const page = vi.hoisted(() => {
  const target = new EventTarget();
  Object.assign(globalThis, { self: target, addEventListener: () => undefined });
  return target;
});
const { Engine } = await import('./worker.ts');

let t: TestServer;
let base = '';
beforeAll(async () => {
  t = await TestServer.start();
  const real = fetch;
  vi.stubGlobal('fetch', (path: string, init: RequestInit) => real(path.startsWith('/') ? base + path : path, init));
});
afterEach(() => {
  base = t.url;
  for (const e of open.splice(0)) e.phone.leaveHost();
});
afterAll(() => t.stop());

const NOWHERE = 'http://127.0.0.1:9';
const open: InstanceType<typeof Engine>[] = [];

/** An app with a list of hives by their names. */
function app(title = 'Hives'): App {
  const made = hiveApp();
  const make = new ElementMaker();
  made.screens = [
    {
      id: 's_hives00000',
      name: title,
      given: null,
      icon: 'box',
      root: make.box('down', [
        make.list(T.hives, [make.text(`{this_${T.hives}.${F.name}}`, 'body')], { id: 'e_list00000' }),
      ]),
    },
  ];
  made.tabs = [{ screen: 's_hives00000', name: title, icon: 'box' }];
  return made;
}

/** Opens an app as a page does, and shows its first screen. */
async function opened(name: string) {
  const engine = new Engine();
  open.push(engine);
  const told: EngineEvent[] = [];
  const frame = await engine.open(name, (e) => told.push(e));
  const nodes = new Map<string, DrawnNode>();
  await engine.phone.show('phone', frame.tabs[0]!.screen, null, async ({ set, gone }) => {
    for (const key of gone) nodes.delete(key);
    for (const n of set) nodes.set(n.key, n);
  });
  const texts = (): unknown[] => [...nodes.values()].flatMap((n) => (n.kind === 'text' ? [n['words']] : []));
  const said = (): string[] => told.flatMap((e) => (e.kind === 'say' || e.kind === 'moved' ? [e.words] : []));
  const sees = (...words: string[]) => vi.waitFor(() => expect(texts().sort()).toEqual(words), { timeout: 5000 });
  return { engine, frame, told, texts, said, sees };
}
/** Does something on a phone that has no network, and is closed then; what was on its way before has arrived. */
async function offline({ engine }: Awaited<ReturnType<typeof opened>>, work: () => Promise<unknown>): Promise<void> {
  await vi.waitFor(() => expect(engine.phone.online).toBe(true));
  await engine.connect();
  base = NOWHERE;
  await work();
  engine.phone.leaveHost();
  base = t.url;
}
const push = (name: string, words: string, record?: string) =>
  t.push(name, change({ [F.name]: words }, record) as unknown as Change);

describe('an app on a phone', () => {
  it('comes with its records, follows its host, and opens again without one', async () => {
    base = t.url;
    await t.release('first', KEY, app());
    await push('first', 'Clover', 'clover');
    const a = await opened('first');
    await a.sees('Clover');
    await push('first', 'Moss');
    await a.sees('Clover', 'Moss');
    expect(a.frame.name).toBe(app().name);
    await a.engine.phone.saveForm(T.hives, 'clover', { [F.name]: 'Clover 2' });
    await vi.waitFor(() => expect(a.engine.phone.device.waiting).toBe(0));
    base = NOWHERE;
    a.engine.phone.leaveHost();
    const b = await opened('first');
    await b.sees('Clover 2', 'Moss');
    await vi.waitFor(() => expect(b.told).toContainEqual(expect.objectContaining({ kind: 'state' })));
    expect(b.engine.phone.online).toBe(false);
    await b.engine.phone.saveForm(T.hives, null, { [F.name]: 'Fern' });
    await b.sees('Clover 2', 'Fern', 'Moss');
    expect(b.engine.phone.device.waiting).toBe(1);
    // The network is back.
    base = t.url;
    page.dispatchEvent(new Event('online'));
    await vi.waitFor(() => expect(b.engine.phone.device.waiting).toBe(0), { timeout: 5000 });
    page.dispatchEvent(new Event('offline'));
    expect(b.engine.phone.online).toBe(false);
  });
  it('takes a newer release while it is open, and keeps it for when there is no network', async () => {
    base = t.url;
    await t.release('renewed', KEY, app());
    const a = await opened('renewed');
    await t.release('renewed', KEY, app('All hives'));
    await vi.waitFor(
      () => {
        const frames = a.told.flatMap((e) => (e.kind === 'frame' && e.updated ? [e.frame] : []));
        expect(frames.at(-1)?.tabs[0]?.name).toBe('All hives');
      },
      { timeout: 5000 },
    );
    a.engine.phone.leaveHost();
    base = NOWHERE;
    expect((await opened('renewed')).frame.tabs[0]!.name).toBe('All hives');
  });
  it('says what its host refused, and takes it back', async () => {
    base = t.url;
    const strict = app();
    strict.tables[0]!.fields.find((f) => f.id === F.name)!.unique = true;
    await t.release('strict', KEY, strict);
    await push('strict', 'Clover', 'clover');
    const a = await opened('strict');
    await a.sees('Clover');
    await offline(a, () => a.engine.phone.saveForm(T.hives, null, { [F.name]: 'Moss' }));
    await push('strict', 'Moss');
    const b = await opened('strict');
    await vi.waitFor(() => expect(b.said().join()).toMatch(/^Not saved: .*Moss/), { timeout: 5000 });
    await b.sees('Clover', 'Moss');
  });
  it('at an address where another app is now stays apart from it, with what waited', async () => {
    base = t.url;
    await t.release('moved', KEY, app());
    const a = await opened('moved');
    await offline(a, () => a.engine.phone.saveForm(T.hives, null, { [F.name]: 'Mine' }));
    await t.call('/api/apps/moved', { method: 'DELETE', key: KEY });
    const other = { ...emptyApp('Others', 'a_another000'), tables: [] };
    expect((await t.release('moved', OTHER, other)).status).toBeLessThan(300);
    const b = await opened('moved');
    await vi.waitFor(() => expect(b.said().join()).toContain('“Others” is'), { timeout: 5000 });
    expect(b.said().join()).toContain('One change that waited');
    expect((await opened('moved')).frame.name).toBe('Others');
    await expect(new LateStore('app-moved').queued()).resolves.toHaveLength(1);
  });
  it('that is nowhere says so', async () => {
    base = t.url;
    await expect(new Engine().open('nowhere', () => undefined)).rejects.toThrow('There is no app at “nowhere”');
  });
});
