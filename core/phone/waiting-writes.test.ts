import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { emptyApp } from '../app/document.ts';
import type { App } from '../app/schema.ts';
import type { Cell } from '../fields/lists.ts';
import { Records } from '../records/store.ts';
import { AskedServices } from '../released/asked-services.ts';
import type { CameBack, Outgoing } from '../services/answer.ts';
import { goodsRequest, goodsTable, supplier } from '../services/fixture.ts';
import { saveByService, writeOutside } from '../session/outside-writes.ts';
import type { ServicesHere } from '../session/ports.ts';
import { VirtualClock } from '../world/clock.ts';
import { MemoryStore } from '../world/memory.ts';
import { Fetched } from './fetched.ts';
import { WaitingWrites } from './waiting-writes.ts';

const [GOODS, NUMBER, NAME, PRICE] = ['t_goods00000', 'f_number000', 'f_name00000', 'f_price0000'];
const input = (id: string, name: string, type: 'text' | 'number') => ({ id, name, type, optional: true as const });
const KEY = input('v_key0000000', 'Key', 'number');
const CALLED = input('v_name000000', 'Name', 'text');
const body = { is: 'json' as const, json: '{"name":"{v_name000000}"}' };
const requests = [
  goodsRequest(),
  goodsRequest({ id: 'n_add0000000', name: 'Add', method: 'POST', inputs: [CALLED], body }),
  goodsRequest({
    id: 'n_change0000',
    name: 'Change',
    method: 'PUT',
    path: '/goods/{v_key0000000}',
    inputs: [KEY, CALLED],
    body,
  }),
  goodsRequest({ id: 'n_remove0000', name: 'Remove', method: 'DELETE', path: '/goods/{v_key0000000}', inputs: [KEY] }),
];

function app(waits: boolean, aMinute?: number): App {
  const table = goodsTable();
  const values = [{ input: CALLED.id, field: NAME }];
  const may = waits ? { waits: true as const } : {};
  table.fetched = {
    ...table.fetched!,
    adds: { request: 'n_add0000000', values, at: '$', ...may },
    changes: { request: 'n_change0000', values: [{ input: KEY.id, field: NUMBER }, ...values], at: '$', ...may },
    removes: { request: 'n_remove0000', input: KEY.id },
  };
  const limits = { seconds: 15, megabytes: 5, ...(aMinute && { aMinute }) };
  return { ...emptyApp('Goods'), tables: [table], services: [supplier({ requests, limits })] };
}

/** A service that adds and changes goods; it marks each by its version, and refuses names that are empty. */
class Goods {
  readonly goods = new Map<number, { id: number; name: string; version: number }>();
  readonly asked: Outgoing[] = [];
  away: CameBack | null = null;

  send = async (out: Outgoing): Promise<CameBack> => {
    this.asked.push(out);
    if (this.away) return this.away;
    const { method, url, headers, body } = out.filled;
    const id = Number(/\/goods\/(\d+)/.exec(url)?.[1] ?? 0);
    if (method === 'GET') return answer(200, { items: [...this.goods.values()].map(marked) });
    const known = this.goods.get(id);
    if (id && !known) return answer(404, {});
    const match = headers.find(([n]) => n === 'if-match')?.[1];
    if (known && match && match !== `"${known.version}"`) return answer(412, { detail: 'Changed.' });
    if (method === 'DELETE') return (this.goods.delete(id), answer(204, {}));
    const name = (JSON.parse(body!) as { name?: string }).name ?? '';
    if (!name) return answer(422, { errors: [{ pointer: '/name', detail: 'must not be empty' }] });
    const good = { id: id || this.goods.size + 1, name, version: (known?.version ?? 0) + 1 };
    this.goods.set(good.id, good);
    return answer(200, marked(good));
  };
}
const marked = (g: { version: number }) => ({ ...g, '@odata.etag': `"${g.version}"` });
const answer = (status: number, json: object): CameBack => ({
  reply: {
    status,
    headers: [['content-type', 'application/json']],
    body: new TextEncoder().encode(JSON.stringify(json)),
    ms: 1,
    url: '',
  },
  tries: 1,
});

type Way = 'on' | 'off' | 'answer lost';

/** A phone with a released app whose goods are with a service. */
async function phone({ waits = true, goods = new Goods(), store = new MemoryStore(), aMinute = 0 } = {}) {
  const here = app(waits, aMinute);
  const clock = new VirtualClock(1_000_000);
  const host = new AskedServices(() => here, goods.send, clock);
  const records = new Records(here);
  const net = { way: 'on' as Way };
  const said: string[] = [];
  const asks = async (message: Parameters<ServicesHere['askService']>[0]) => {
    if (net.way === 'off') throw new Error('There is no network.');
    const answer = await host.ask(message, 'ines');
    if (net.way === 'answer lost') throw new Error('There is no network.');
    return answer;
  };
  let fetched: Fetched | null = null;
  const waiting = new WaitingWrites({
    records,
    store,
    asks,
    changed: (t) => fetched?.changed(t),
    counted: () => undefined,
    say: (w) => said.push(w),
  });
  await waiting.open();
  fetched = new Fetched({ records, store, clock, asks, waits: waiting });
  records.fetcher = fetched;
  const services: ServicesHere = {
    askService: async (m) => {
      const a = await asks(m);
      for (const [t, rows] of Object.entries(a.rows)) fetched!.take(t, rows);
      return a;
    },
    signOut: async () => undefined,
    markOf: (t, r) => fetched!.markOf(t, r),
    unmark: (t, r) => fetched!.unmark(t, r),
    waiting,
  };
  const table = here.tables[0]!;
  const save = (record: string | null, cells: Record<string, Cell>) =>
    saveByService(records, table, record, cells, services);
  const settle = async (): Promise<void> => {
    for (let i = 0; i < 60; i++) await Promise.resolve();
  };
  const place = {};
  const list = async (): Promise<string[]> => {
    fetched!.rows(GOODS, {}, place);
    await settle();
    return (fetched!.rows(GOODS, {}, place).rows ?? []).map((r) => String(r.cells[NAME]));
  };
  const remove = (record: string) => writeOutside(records, [{ do: 'remove', table: GOODS, record }], false, services);
  return { goods, net, save, waiting, list, said, services, records, settle, store, remove, fetched, clock };
}
const names = (g: Goods): string[] => [...g.goods.values()].map((x) => x.name);

describe('what a service is to write', () => {
  it('waits without a network where it may, is seen meanwhile, also after the app was closed, and is sent once', async () => {
    const p = await phone();
    p.net.way = 'off';
    const saved = await p.save(null, { [NAME]: 'Wax' });
    expect(saved).toMatchObject({ created: true, said: expect.stringContaining('as soon as there is a network') });
    expect([await p.list(), p.waiting.count]).toEqual([['Wax'], 1]);
    const q = await phone({ goods: p.goods, store: p.store });
    expect(await q.list()).toEqual(['Wax']);
    await q.waiting.send();
    expect([names(q.goods), q.waiting.count, await q.list()]).toEqual([['Wax'], 0, ['Wax']]);
    await (await phone({ goods: p.goods, store: p.store })).waiting.send();
    expect(names(p.goods)).toEqual(['Wax']);
  });

  it('says at once that there is no network where it may not wait', async () => {
    const p = await phone({ waits: false });
    p.net.way = 'off';
    expect(await p.save(null, { [NAME]: 'Wax' })).toMatchObject({
      problems: { '': 'Nothing was saved: There is no network. What you typed is still here.' },
    });
    expect(p.waiting.count).toBe(0);
  });

  it('is mended or taken back where the service refuses it', async () => {
    const p = await phone();
    p.net.way = 'off';
    const { saved } = (await p.save(null, { [NAME]: '' })) as { saved: string };
    const other = (await p.save(null, { [NAME]: 'Frame' })) as { saved: string };
    p.net.way = 'on';
    await p.waiting.send();
    // What is refused holds nothing else up.
    expect(names(p.goods)).toEqual(['Frame']);
    expect(p.waiting.of(GOODS).map((w) => [w.record, w.said])).toEqual([
      [saved, expect.stringContaining('must not be empty')],
    ]);
    expect(p.said).toHaveLength(1);
    expect(p.waiting.added(other.saved)).toBeUndefined();
    expect(await p.save(saved, { [NAME]: 'Wax' })).toMatchObject({ saved: '2', created: true, said: 'Saved as 2' });
    expect([names(p.goods), p.waiting.of(GOODS)]).toEqual([['Frame', 'Wax'], []]);
    p.net.way = 'off';
    const third = (await p.save(null, { [NAME]: 'Smoker' })) as { saved: string };
    await p.remove(third.saved);
    p.net.way = 'on';
    await p.waiting.send();
    expect(names(p.goods)).toEqual(['Frame', 'Wax']);
  });

  it('goes out once and in its order, whatever happens to the network (property)', async () => {
    const ways = fc.constantFrom<Way>('on', 'off', 'answer lost');
    await fc.assert(
      fc.asyncProperty(fc.array(fc.tuple(ways, fc.boolean()), { minLength: 1, maxLength: 12 }), async (steps) => {
        const p = await phone();
        const typed: string[] = [];
        for (const [i, [way, sends]] of steps.entries()) {
          p.net.way = way;
          if (sends) await p.waiting.send();
          typed.push(`Good ${i}`);
          const saved = await p.save(null, { [NAME]: `Good ${i}` });
          expect('saved' in saved).toBe(true);
        }
        p.net.way = 'on';
        await p.waiting.send();
        expect(names(p.goods).toSorted()).toEqual(typed.toSorted());
        expect([p.waiting.count, (await p.list()).toSorted()]).toEqual([0, typed.toSorted()]);
      }),
    );
  });

  it('is sent under one name where its answer was lost, also by a second press', async () => {
    const p = await phone({ waits: false });
    p.net.way = 'answer lost';
    expect(await p.save(null, { [NAME]: 'Wax' })).toHaveProperty('problems');
    p.net.way = 'on';
    expect(await p.save(null, { [NAME]: 'Wax' })).toMatchObject({ saved: '1' });
    // The same once more is meant as another.
    expect(await p.save(null, { [NAME]: 'Wax' })).toMatchObject({ saved: '2' });
    expect(names(p.goods)).toEqual(['Wax', 'Wax']);
  });

  it('is not sent again by itself where nobody knows whether the service has it', async () => {
    const p = await phone();
    p.net.way = 'off';
    await p.save(null, { [NAME]: 'Wax' });
    p.net.way = 'on';
    p.goods.away = { failed: { sort: 'cut off', words: 'Cut off.' } };
    await p.waiting.send();
    await p.waiting.send();
    expect([p.goods.asked.length, p.waiting.of(GOODS)[0]!.said]).toEqual([1, expect.stringContaining('not known')]);
    p.goods.away = { failed: { sort: 'refused', words: 'Nobody answers.' } };
    await p.save(null, { [NAME]: 'Frame' });
    expect(p.waiting.of(GOODS)).toHaveLength(1);
  });

  it('is refused where somebody has changed the record since, then put in its place', async () => {
    const p = await phone();
    p.goods.goods.set(1, { id: 1, name: 'Wax', version: 1 });
    await p.list();
    p.goods.goods.set(1, { id: 1, name: 'Bees wax', version: 2 });
    const refused = await p.save('1', { [NAME]: 'My wax' });
    expect(refused).toMatchObject({ failure: 'changed', problems: { '': expect.stringContaining('Somebody else') } });
    expect(names(p.goods)).toEqual(['Bees wax']);
    expect(await p.list()).toEqual(['Bees wax']);
    expect(await p.save('1', { [NAME]: 'My wax' })).toMatchObject({ saved: '1' });
    // Its own change has given it a new mark.
    expect(await p.save('1', { [NAME]: 'My own wax' })).toMatchObject({ saved: '1' });
    expect(names(p.goods)).toEqual(['My own wax']);
  });

  it('loses no value that the service does not take', async () => {
    const p = await phone();
    p.goods.goods.set(1, { id: 1, name: 'Wax', version: 1 });
    await p.list();
    expect(await p.save('1', { [NAME]: 'Wax', [PRICE]: 5 })).toEqual({
      problems: { [PRICE]: 'The service takes no Price here.' },
    });
    expect(await p.save('1', { [NAME]: 'Bees wax', [PRICE]: null })).toMatchObject({ saved: '1' });
  });

  it('may be removed, one at a time; what is gone already is gone', async () => {
    const p = await phone();
    for (const id of [1, 2, 3]) p.goods.goods.set(id, { id, name: `Good ${id}`, version: 1 });
    expect(await p.list()).toHaveLength(3);
    await p.remove('1');
    p.goods.goods.delete(2);
    await p.remove('2');
    expect([names(p.goods), await p.list()]).toEqual([['Good 3'], ['Good 3']]);
    const both = ['1', '3'].map((record) => ({ do: 'remove' as const, table: GOODS, record }));
    await expect(writeOutside(p.records, both, true, p.services)).rejects.toThrow('one record at a time');
    p.net.way = 'off';
    await expect(p.remove('3')).rejects.toMatchObject({ sort: 'no network' });
    expect(await p.list()).toEqual(['Good 3']);
  });

  it('and read is bounded by how often the maker lets a service be asked', async () => {
    const p = await phone({ aMinute: 2 });
    await p.list();
    expect(await p.save(null, { [NAME]: 'Wax' })).toHaveProperty('saved');
    await p.settle();
    expect(await p.save(null, { [NAME]: 'Frame' })).toMatchObject({
      failure: 'too often',
      problems: { '': expect.stringMatching(/may be asked 2 times a minute.*Try again in \d+ seconds/) },
    });
    await p.clock.pass(61_000);
    expect(await p.save(null, { [NAME]: 'Frame' })).toHaveProperty('saved');
    expect(names(p.goods)).toEqual(['Wax', 'Frame']);
  });
});
