import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { afterAll, afterEach, beforeAll, describe, expect, it, vi } from 'vitest';
import { NeverTakenError, OfflineError, OtherAppError } from '../core/host/link.ts';
import { hiveApp, F } from '../core/records/fixture.ts';
import type { Change } from '../core/records/change.ts';
import { keptFile } from '../core/fields/keep-file.ts';
import { keptAddress } from '../core/fields/kept-file.ts';
import { change, KEY, TestServer } from '../server/fixture.ts';
import { ask, HostError, HttpLink } from './link.ts';

let t: TestServer;
let base = '';
beforeAll(async () => {
  t = await TestServer.start();
  const real = fetch;
  // A page asks its own host by paths alone.
  vi.stubGlobal('fetch', (path: string, init: RequestInit) => real(path.startsWith('/') ? base + path : path, init));
  await t.release('hives', KEY, hiveApp({ hives: [{ id: 'f_photo000', name: 'Photo', type: 'picture' }] }));
});
afterEach(() => {
  base = t.url;
});
afterAll(() => t.stop());

const hive = (name: string): Change => change({ [F.name]: name }) as Change;
const link = (): HttpLink => {
  base = t.url;
  return new HttpLink('hives', KEY);
};

describe('the way to a host', () => {
  it('sends what was changed, and gives what was missed, in pages of the host’s choice', async () => {
    const way = link();
    const mine = hive('Clover');
    const { at, accepted } = await way.push([mine]);
    expect(accepted).toEqual([mine.id]);
    const missed = await way.pull({ since: at - 1 });
    expect(missed).toMatchObject({ at, states: [{ id: mine.record }] });
    expect(JSON.stringify(await way.pull({ since: at }))).not.toContain(mine.record);
    await expect(way.compare({ after: null, upTo: null, records: [] })).rejects.toThrow('This app is open to all');
  });
  it('says why something can never be taken, so that it is not sent again and again', async () => {
    const way = link();
    const refused = way.push([{ ...hive('Moss'), stamp: 5 as never }]);
    await expect(refused).rejects.toBeInstanceOf(NeverTakenError);
    // What is asked for is no loss when it is refused: it is said as it is.
    const wrong = way.pull({ since: -1 });
    await expect(wrong).rejects.toBeInstanceOf(HostError);
    await expect(wrong).rejects.not.toBeInstanceOf(NeverTakenError);
  });
  it('gives the host’s words for what it refuses, and its number where it has none', async () => {
    base = t.url;
    await expect(new HttpLink('nowhere').app()).rejects.toMatchObject({
      status: 404,
      message: expect.stringContaining('There is no app at “nowhere”') as string,
    });
    await expect(ask('/api/apps/nowhere/changes?since=0')).rejects.toThrow('There is no app at “nowhere”');
    const other = await answering(418, 'no JSON');
    await expect(ask('/x')).rejects.toThrow('The server answered 418.');
    await expect(new HttpLink('hives').app()).rejects.toThrow('The server answered 418.');
    other.close();
  });
  it('is none where nobody listens, where a proxy has nobody behind it, and where an answer takes too long', async () => {
    const way = link();
    base = 'http://127.0.0.1:9';
    await expect(way.push([hive('Fern')])).rejects.toBeInstanceOf(OfflineError);
    for (const status of [502, 503, 504]) {
      const proxy = await answering(status, '{}');
      await expect(way.pull({ since: 0 }), String(status)).rejects.toBeInstanceOf(OfflineError);
      proxy.close();
    }
    for (const status of [501, 505]) {
      const proxy = await answering(status, '{}');
      await expect(way.pull({ since: 0 }), String(status)).rejects.toBeInstanceOf(HostError);
      proxy.close();
    }
    for (const half of ['', '{"changes":']) {
      const silent = await answering(200, half, false);
      await expect(ask('/x', { limit: 100 })).rejects.toBeInstanceOf(OfflineError);
      silent.closeAllConnections();
      silent.close();
    }
  });
  it('leads to the app that is meant, and to no other at its address', async () => {
    const way = link();
    way.meant = hiveApp().id;
    await way.pull({ since: 0 });
    way.meant = 'a_another000';
    await expect(way.pull({ since: 0 })).rejects.toBeInstanceOf(OtherAppError);
    await expect(way.push([hive('Ash')])).rejects.toBeInstanceOf(OtherAppError);
  });
  it('brings a release once, and nothing where that is here already', async () => {
    const released = (await link().app())!;
    expect(released).toMatchObject({ number: 1, app: { id: hiveApp().id } });
    expect(released.tag).not.toBe('');
    expect(await link().app(released.tag)).toBeNull();
    expect(await link().app('"another"')).toMatchObject({ number: 1 });
  });
  it('takes files in pieces and gives them whole; what is not there is nothing', async () => {
    const bytes = new Uint8Array(700_000).fill(7);
    const content = new Blob([bytes]);
    const file = keptFile(bytes, 'image/png', 'hive.png');
    const { hash } = file;
    const heard: number[] = [];
    await link().sendFile(file, content, (bytes) => heard.push(bytes));
    expect(heard.at(-1)).toBe(content.size);
    // Until a record names it, it is nobody's.
    expect(await link().file(hash)).toBeNull();
    await link().push([{ ...hive('Clover'), cells: { f_photo000: keptAddress(file) } } as Change]);
    expect((await link().file(hash))!.size).toBe(content.size);
    expect(await link().file('A'.repeat(43))).toBeNull();
    base = 'http://127.0.0.1:9';
    await expect(new HttpLink('hives').file(hash)).rejects.toBeInstanceOf(OfflineError);
  });
  it('tells what happens from then on, until it is told to stop', async () => {
    const heard: string[] = [];
    let overs = 0;
    const stop = link().listen(
      { person: '', heard: '', device: 'x'.repeat(43) },
      (event, data) => heard.push(`${event} ${JSON.stringify(data)}`),
      () => overs++,
    );
    const until = (of: string) => vi.waitFor(() => expect(heard.join()).toContain(of), { timeout: 5000 });
    await until('hello');
    const first = hive('Birch');
    await link().push([first]);
    await until(first.id);
    stop();
    const second = hive('Hazel');
    await link().push([second]);
    await new Promise((r) => setTimeout(r, 200));
    expect([heard.join().includes(second.id), overs]).toEqual([false, 0]);
  });
  it('that ends by itself says so; one that was stopped before it began does not', async () => {
    let overs = 0;
    const heard: string[] = [];
    const stop = link().listen(
      {},
      () => heard.push('early'),
      () => overs++,
    );
    stop();
    link().listen(
      {},
      (event) => heard.push(event),
      () => overs++,
    );
    await vi.waitFor(() => expect(heard).toContain('hello'), { timeout: 5000 });
    expect(heard).not.toContain('early');
    await t.restart();
    await vi.waitFor(() => expect(overs).toBe(1), { timeout: 5000 });
    base = 'http://127.0.0.1:9';
    new HttpLink('hives').listen(
      {},
      () => undefined,
      () => overs++,
    );
    await vi.waitFor(() => expect(overs).toBe(2), { timeout: 5000 });
  });
});

/** A host in the place of ours that answers so, and where it does not end, goes on for ever. */
async function answering(status: number, body: string, ends = true): Promise<Server> {
  const server = createServer((_, res) => {
    res.writeHead(status, { 'content-type': 'application/json' });
    if (ends) res.end(body);
    else res.write(body);
  });
  await new Promise<void>((r) => server.listen(0, '127.0.0.1', r));
  base = `http://127.0.0.1:${(server.address() as AddressInfo).port}`;
  return server;
}
