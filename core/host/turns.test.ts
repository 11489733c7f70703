import { describe, expect, it } from 'vitest';
import { NOBODY, OWNER, type AccessTo, type Who } from '../access/access.ts';
import { accessWith } from '../access/fixture.ts';
import type { Change } from '../records/change.ts';
import { F, T, hiveApp } from '../records/fixture.ts';
import { stampText } from './clock.ts';

import type { Host } from './host.ts';
import type { App } from '../app/schema.ts';
import { World } from '../world/world.ts';
import type { News } from './protocol.ts';

const link = NOBODY;
let n = 0;
const stamp = (): string => stampText(1_700_000_000_000 + n++, 0, 'test');
const set = (record: string, cells: Record<string, string | number | null>, table: string = T.hives): Change => ({
  id: `c${n}`,
  stamp: stamp(),
  table,
  record,
  do: 'set',
  cells,
});
const remove = (record: string, table: string = T.hives): Change => ({
  id: `c${n}`,
  stamp: stamp(),
  table,
  record,
  do: 'remove',
});
const restore = (record: string, cells?: Record<string, string>, table: string = T.hives): Change => ({
  id: `c${n}`,
  stamp: stamp(),
  table,
  record,
  do: 'restore',
  cells,
});

const hostOf = (app: App = hiveApp(), access?: AccessTo): Host => new World({ app, access }).host;

/** A host whose log ends each append when it is told to. */
function slowHost(access?: AccessTo) {
  const { host, log } = new World({ app: hiveApp(), access });
  const ends: (() => void)[] = [];
  const appends: number[] = [];
  const { append } = log;
  log.append = async (changes) => {
    appends.push(changes.length);
    await new Promise<void>((resolve) => ends.push(resolve));
    await append.call(log, changes);
  };
  const end = async (): Promise<void> => {
    ends.shift()!();
    await new Promise((r) => {
      setTimeout(r, 0);
    });
  };
  return { host, appends, end };
}

describe('pushes that come together', () => {
  it('share one flush, and are told as one', async () => {
    const { host, appends, end } = slowHost();
    const news: News[] = [];
    host.subscribe(link, (x) => news.push(x));
    const pushes = ['a', 'b', 'c', 'd'].map((id) => host.accept([set(id, { [F.name]: id })], link));
    await end();
    await end();
    expect(appends).toEqual([1, 3]);
    expect((await Promise.all(pushes)).map((r) => [r.accepted.length, r.at])).toEqual([
      [1, 1],
      [1, 4],
      [1, 4],
      [1, 4],
    ]);
    expect(news.map((x) => [x.from, x.at, x.changes.length])).toEqual([
      [0, 1, 1],
      [1, 4, 3],
    ]);
  });
  it('all hear it when they could not be kept, and nothing of them is there', async () => {
    const { host, log } = new World({ app: hiveApp() });
    log.fail = true;
    const pushes = ['a', 'b', 'c'].map((id) => host.accept([set(id, { [F.name]: id })], link));
    expect((await Promise.allSettled(pushes)).map((r) => r.status)).toEqual(['rejected', 'rejected', 'rejected']);
    expect([host.replica.size, host.position]).toEqual([0, 0]);
    log.fail = false;
    expect((await host.accept([set('a', { [F.name]: 'again' })], link)).at).toBe(1);
  });
  it('go on when one of them holds what nobody foresaw', async () => {
    const access = accessWith({
      refusal: (_who, c) => {
        if (c.record === 'odd') throw new Error('nobody foresaw this');
        return null;
      },
    });
    const { host, end } = slowHost(access);
    const one = (id: string) => host.accept([set(id, { [F.name]: id })], link);
    const first = one('a');
    const rest = [one('b'), host.accept([set('c', { [F.name]: 'c' }), set('odd', { [F.name]: 'x' })], link), one('d')];
    const settled = Promise.allSettled([first, ...rest]);
    await end();
    await end();
    expect((await settled).map((r) => r.status)).toEqual(['fulfilled', 'fulfilled', 'rejected', 'fulfilled']);
    expect([...host.replica.all()].map((s) => s.id)).toEqual(['a', 'b', 'd']);
  });
  it('two that want the same value: the first has it', async () => {
    const app = hiveApp();
    app.tables[0]!.fields[1]!.unique = true;
    const host = hostOf(app);
    const [first, second] = await Promise.all(
      ['a', 'b'].map((id) => host.accept([set(id, { [F.tag]: 'HB-1' })], link)),
    );
    expect([first!.accepted.length, second!.refused.map((r) => r.reason)]).toEqual([
      1,
      ['Tag code “HB-1” is taken by another hive.'],
    ]);
  });
  it('wait while something is done in between', async () => {
    const host = hostOf();
    let inside = false;
    const seen: boolean[] = [];
    const pause = host.pause(async () => {
      inside = true;
      await new Promise((r) => {
        setTimeout(r, 5);
      });
      inside = false;
      return 'done';
    });
    const push = host.accept([set('a', { [F.name]: 'a' })], link).then(() => seen.push(inside));
    expect(await pause).toBe('done');
    await push;
    expect(seen).toEqual([false]);
    await expect(host.pause(async () => Promise.reject(new Error('no')))).rejects.toThrow('no');
    expect((await host.accept([set('b', { [F.name]: 'b' })], link)).accepted).toHaveLength(1);
  });
});

describe('changes of one push', () => {
  const unique = (): Host => {
    const app = hiveApp();
    app.tables[0]!.fields[1]!.unique = true;
    return hostOf(app);
  };
  it('may take what an earlier one of them has let go of', async () => {
    const host = unique();
    await host.accept([set('a', { [F.tag]: 'HB-1' })], link);
    const receipt = await host.accept([remove('a'), set('b', { [F.tag]: 'HB-1' })], link);
    expect(receipt.refused).toEqual([]);
    expect(host.replica.records.rows(T.hives).map((r) => r.id)).toEqual(['b']);
  });
  it('cannot bring back a record whose value another has by now', async () => {
    const host = unique();
    await host.accept([set('a', { [F.tag]: 'HB-1' })], link);
    await host.accept([remove('a')], link);
    await host.accept([set('b', { [F.tag]: 'hb-1' })], link);
    const receipt = await host.accept([restore('a', { [F.tag]: 'HB-1' })], link);
    expect(receipt.refused.map((r) => r.reason)).toEqual(['Tag code “HB-1” is taken by another hive.']);
    expect(host.replica.records.row(T.hives, 'a')).toBeUndefined();
  });
  it('keeps nothing of a removed record but that it is gone, and takes it back only with its cells', async () => {
    const world = new World({ app: hiveApp() });
    const { host } = world;
    await host.accept([set('a', { [F.name]: 'Bramble' })], link);
    await host.accept([remove('a')], link);
    expect(JSON.stringify([...host.replica.all()])).not.toContain('Bramble');
    expect(JSON.stringify(host.catchUp({ since: 0 }, link))).not.toContain('Bramble');
    expect((await host.accept([restore('a')], link)).refused).toMatchObject([
      { reason: expect.stringContaining('reload it first') as string },
    ]);
    await host.accept([restore('a', { [F.name]: 'Bramble' })], link);
    expect(host.replica.records.row(T.hives, 'a')!.cells).toEqual({ [F.name]: 'Bramble' });
    world.restartHost();
    expect(world.host.replica.records.row(T.hives, 'a')!.cells).toEqual({ [F.name]: 'Bramble' });
  });
  it('brings back from a log of before what came back without its cells', () => {
    const log = [set('a', { [F.name]: 'Bramble' }), remove('a'), restore('a'), set('b', {}), remove('b')];
    const host = hostOf();
    host.restore([], log, log.length);
    expect(host.replica.records.row(T.hives, 'a')!.cells).toEqual({ [F.name]: 'Bramble' });
    expect(host.replica.state('b')!.was).toBeUndefined();
  });
  it('cannot bring two back that have the same', async () => {
    const host = unique();
    await host.accept([set('a', { [F.tag]: 'HB-1' })], link);
    await host.accept([remove('a'), set('b', { [F.tag]: 'HB-1' })], link);
    await host.accept([remove('b')], link);
    const receipt = await host.accept([restore('a', { [F.tag]: 'HB-1' }), restore('b', { [F.tag]: 'HB-1' })], link);
    expect([receipt.accepted.length, receipt.refused.length]).toEqual([1, 1]);
  });
  it('that name a record of another table are refused in words, and show nothing of it', async () => {
    const host = hostOf();
    await host.accept([set('a', { [F.name]: 'Bramble' })], link);
    for (const c of [
      set('a', { [F.keeperName]: 'Odile' }, T.keepers),
      remove('a', T.keepers),
      restore('a', {}, T.keepers),
    ]) {
      const receipt = await host.accept([c], link);
      expect(receipt.refused).toMatchObject([{ reason: 'A record of another table has the same id.', state: null }]);
    }
    expect(host.replica.records.row(T.hives, 'a')!.cells[F.name]).toBe('Bramble');
  });
});

it('refusals and corrections show only what whoever asks may read', async () => {
  const access = accessWith({
    mayRead: (rights, s) => rights === 'owner' || s.table !== T.keepers,
    refusal: (_who, c) => (c.table === T.keepers && c.do === 'remove' ? 'Keepers stay.' : null),
  });
  const host = hostOf(hiveApp(), access);
  await host.accept([set('k', { [F.keeperName]: 'Odile' }, T.keepers)], OWNER);
  const states = async (who: Who): Promise<unknown[]> =>
    (await host.accept([remove('k', T.keepers)], who)).refused.map((r) => r.state?.cells ?? null);
  expect(await states(OWNER)).toEqual([{ [F.keeperName]: 'Odile' }]);
  expect(await states(link)).toEqual([null]);
  const tomorrow = {
    ...set('k', { [F.mail]: 'a@b.example' }, T.keepers),
    stamp: stampText(Date.now() + 86_400_000, 0, 'farx'),
  };
  expect((await host.accept([tomorrow], link)).corrected).toEqual([]);
});

describe('all records', () => {
  it('come in pages, and what happens meanwhile comes after them', async () => {
    const pages: number[] = [];
    const world = new World({
      app: hiveApp(),
      spy: (_, what) => {
        const { states, next } = what as { states?: unknown[]; next?: number };
        if (states) pages.push(states.length);
        if (next === 5000)
          void host.accept([set('h1', { [F.name]: 'Meanwhile' }), set('new', { [F.name]: 'New' })], link);
      },
    });
    const { host } = world;
    const many = Array.from({ length: 12_000 }, (_, i) => set(`h${i}`, { [F.name]: `Hive ${i}` }));
    for (let i = 0; i < many.length; i += 4000) await host.accept(many.slice(i, i + 4000), link);
    const phone = world.phone({ byHand: true });
    await phone.sync();
    expect(pages).toEqual([5000, 5000, 2001]);
    expect(phone.records.rows(T.hives)).toHaveLength(12_001);
    expect(phone.cell(T.hives, 'h1', F.name)).toBe('Meanwhile');
    expect([phone.device.position, phone.store.values.get('at'), phone.store.states.size]).toEqual([
      host.position,
      host.position,
      12_001,
    ]);
  });
  it('with large files in them come few at a time, though one at least', async () => {
    const host = hostOf(hiveApp({ hives: [{ id: 'f_photo000', name: 'Photo', type: 'file' }] }));
    const photo = `data:image/png;base64,${'A'.repeat(1_200_000)}`;
    for (let i = 0; i < 5; i++) await host.accept([set(`h${i}`, { f_photo000: photo })], link);
    const sizes: number[] = [];
    for (let from: number | undefined = 0; from !== undefined;) {
      const page = await host.catchUp({ since: 0, from }, link);
      if (!('states' in page)) throw new Error('pages were asked for');
      sizes.push(page.states.length);
      from = page.next;
    }
    expect(sizes).toEqual([2, 2, 1]);
  });
});

describe('a host that is closed', () => {
  it('answers what came before, and refuses what comes after with the reason', async () => {
    const { host, end } = slowHost();
    const before = ['a', 'b'].map((id) => host.accept([set(id, { [F.name]: id })], link));
    const closing = host.close(new Error('It is gone.'));
    await expect(host.accept([set('c', { [F.name]: 'c' })], link)).rejects.toThrow('It is gone.');
    await end();
    await end();
    await closing;
    expect((await Promise.all(before)).map((r) => r.accepted.length)).toEqual([1, 1]);
  });
  it('does what is to be done in between in its turn, however much comes after it', async () => {
    const host = hostOf();
    const order: string[] = [];
    const push = (id: string) => host.accept([set(id, { [F.name]: id })], link).then(() => order.push(id));
    const all = [push('a'), host.pause(async () => order.push('pause')), push('b'), push('c')];
    await Promise.all(all);
    expect(order.indexOf('pause')).toBe(1);
  });
});
