import { createServer, type IncomingMessage, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { readdir, readFile, stat } from 'node:fs/promises';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { hiveApp } from '../core/records/fixture.ts';
import { goodsRequest, goodsTable, supplier } from '../core/services/fixture.ts';
import type { Service } from '../core/services/schema.ts';
import type { App } from '../core/app/schema.ts';
import { KEY, OTHER, TestServer } from './fixture.ts';

const SECRET = 's3cret-bees/&=+';
const TOKEN = 'person-token-abcdef';
let t: TestServer;
let service: Server;
let at = '';
/** What the service was asked last. */
let last: IncomingMessage | null = null;
let asks = 0;

beforeAll(async () => {
  service = createServer((req, res) => {
    last = req;
    asks++;
    const json = (status: number, value: unknown): void =>
      void res
        .writeHead(status, { 'content-type': 'application/json', 'x-echo': String(req.headers['x-key'] ?? '') })
        .end(JSON.stringify(value));
    if (req.url!.startsWith('/v1/goods')) {
      if (req.headers['x-key'] !== SECRET && req.headers.authorization !== `Bearer ${TOKEN}`)
        return json(401, { detail: `Not ${String(req.headers['x-key'])}` });
      // A service that tells everything it was sent.
      return json(200, {
        items: [{ id: 1, name: String(req.headers['x-key']), price: { amount: 2 } }],
        asked: req.url,
      });
    }
    return json(404, {});
  });
  await new Promise<void>((r) => service.listen(0, '127.0.0.1', r));
  at = `http://127.0.0.1:${(service.address() as AddressInfo).port}`;
  t = await TestServer.start({ outside: ['127.0.0.1'] });
});
afterAll(async () => {
  await t.stop();
  service.closeAllConnections();
  service.close();
});

const input = { id: 'v_words00000', name: 'Words', type: 'text' as const, optional: true as const };
const goods = (more: Partial<Service> = {}): Service =>
  supplier({
    test: `${at}/v1`,
    sign: { how: 'header', name: 'X-Key' },
    requests: [goodsRequest({ inputs: [input], query: [{ name: 'q', value: `{${input.id}}` }] })],
    ...more,
  });
const withGoods = (more: Partial<Service> = {}): App => ({
  ...hiveApp(),
  tables: [...hiveApp().tables, goodsTable({ fetched: { ...goodsTable().fetched!, rows: '$.items[*]' } })],
  services: [goods(more)],
});
const APP = hiveApp().id;
const keep = (secret: string | null, key = KEY, origin = at, where = 'test') =>
  t.call(`/api/services/${APP}/secrets`, {
    method: 'PUT',
    key,
    json: { service: 'w_supplier00', where, origin, secret },
  });
const known = (key?: string) => t.call(`/api/services/${APP}/secrets`, key ? { key } : {});
const tryIt = (more: object = {}, key = KEY) => {
  const { id, sign, limits } = goods();
  return t.call(`/api/services/${APP}/asked`, {
    key,
    json: {
      service: { id, sign, limits },
      filled: { method: 'GET', url: `${at}/v1/goods?q=wax`, headers: [['accept', '*/*']] },
      where: 'test',
      mayRepeat: true,
      ...more,
    },
  });
};
const ask = (name: string, json: object) => t.call(`/api/apps/${name}/asked`, { json });

/** Everything that the server has on its disk. */
async function onDisk(folder: string): Promise<{ path: string; text: string }[]> {
  const all = await readdir(folder, { withFileTypes: true });
  const lists = await Promise.all(
    all.map(async (e) =>
      e.isDirectory()
        ? onDisk(join(folder, e.name))
        : [{ path: join(folder, e.name), text: (await readFile(join(folder, e.name))).toString('latin1') }],
    ),
  );
  return lists.flat();
}
const formsOf = (secret: string): string[] => [
  secret,
  encodeURIComponent(secret),
  JSON.stringify(secret).slice(1, -1),
  Buffer.from(secret).toString('base64').replace(/=+$/, ''),
  Buffer.from(secret).toString('hex'),
];

describe('the keys of services', () => {
  it('belong to an app of one maker, for one address, and are told to nobody', async () => {
    expect((await known()).status).toBe(401);
    expect((await keep(SECRET)).body).toEqual({ kept: true });
    expect(JSON.parse((await known(KEY)).text)).toEqual([{ service: 'w_supplier00', where: 'test', origin: at }]);
    // Whoever has another key has an app of their own, by the same id.
    expect(JSON.parse((await known(OTHER)).text)).toEqual([]);
    for (const odd of ['x', '../x', 'a_short'])
      expect(
        (await t.call(`/api/services/${encodeURIComponent(odd)}/secrets`, { key: KEY })).status,
      ).toBeGreaterThanOrEqual(400);
    expect((await keep(SECRET, KEY, 'javascript:alert(1)')).status).toBe(422);
  });

  it('sign what the studio tries, and are in nothing that comes back', async () => {
    const answer = await tryIt();
    expect(last!.headers['x-key']).toBe(SECRET);
    const [head, body] = answer.text.split('\n') as [string, string];
    expect(JSON.parse(head)).toMatchObject({ reply: { status: 200 }, tries: 1 });
    expect(JSON.parse(body)).toMatchObject({ items: [{ name: '•••' }] });
    for (const form of formsOf(SECRET)) expect(answer.text.includes(form)).toBe(false);
    expect(answer.headers.get('content-type')).toBe('application/octet-stream');
  });

  it('go to no other address, service, place or maker', async () => {
    const before = asks;
    const elsewhere = at.replace('127.0.0.1', 'localhost');
    for (const [more, key] of [
      [{ filled: { method: 'GET', url: `${elsewhere}/v1/goods`, headers: [] } }, KEY],
      [{ where: 'live' }, KEY],
      [{ service: { id: 'w_another000', sign: goods().sign, limits: goods().limits } }, KEY],
      [{}, OTHER],
    ] as const) {
      const { text } = await tryIt(more, key);
      expect(JSON.parse(text)).toMatchObject({ failed: { sort: 'unsigned' } });
    }
    expect(asks).toBe(before);
  });
});

describe('a released app', () => {
  it('asks what it describes with the key of its maker, and gives phones what the app wants', async () => {
    await t.release('shop', KEY, withGoods());
    expect((await ask('shop', { request: 'n_goods00000', inputs: {} })).body).toMatchObject({
      status: 200,
      said: null,
    });
    await t.release('shop', KEY, withGoods({ live: `${at}/v1/` }));
    // Where there is an address for people, the key for trying is not for them.
    expect((await ask('shop', { request: 'n_goods00000', inputs: {} })).body).toMatchObject({
      said: expect.stringContaining('key of the service is not here'),
    });
    await keep(SECRET, KEY, at, 'live');
    const answer = await ask('shop', { request: 'n_goods00000', inputs: { v_words00000: 'wax & honey' } });
    expect(last!.url).toBe('/v1/goods?q=wax+%26+honey');
    expect(answer.body).toMatchObject({
      status: 200,
      said: null,
      rows: { t_goods00000: [{ id: '1', cells: { f_number000: 1, f_name00000: '•••', f_price0000: 2 } }] },
    });
    for (const form of formsOf(SECRET)) expect(answer.text.includes(form)).toBe(false);
  });

  it('asks nothing else, and tells phones nothing of how it asks', async () => {
    const before = asks;
    expect((await ask('shop', { request: 'n_other00000', inputs: {} })).body).toMatchObject({ failure: 'not asked' });
    expect((await ask('shop', { request: 'n_goods00000', inputs: { v_words00000: { $ne: 1 } } })).status).toBe(422);
    expect((await ask('shop', { request: 'x', inputs: {} })).status).toBe(422);
    expect(asks).toBe(before);
    const { text } = await t.call('/api/apps/shop/app');
    for (const hidden of [at, '/v1', 'X-Key', '{v_words00000}', "$['price']", '$.items'])
      expect(text.includes(hidden), hidden).toBe(false);
    expect(text).toContain('Get goods');
  });

  it('of another maker with the same id has no key', async () => {
    await t.release('copy', OTHER, withGoods());
    expect((await ask('copy', { request: 'n_goods00000', inputs: {} })).body).toMatchObject({ failure: 'no answer' });
  });

  it('passes the token of a person on, and keeps it nowhere', async () => {
    await t.release('club', KEY, withGoods({ sign: { how: 'person' } }));
    expect((await ask('club', { request: 'n_goods00000', inputs: {} })).body).toMatchObject({
      failure: 'not signed in',
    });
    const answer = await ask('club', { request: 'n_goods00000', inputs: {}, token: TOKEN });
    expect([answer.body['status'], last!.headers.authorization, answer.text.includes(TOKEN)]).toEqual([
      200,
      `Bearer ${TOKEN}`,
      false,
    ]);
  });

  it('leaves no byte of a key or token on the disk, whatever was done (searched for)', async () => {
    await t.restart();
    await ask('shop', { request: 'n_goods00000', inputs: {} });
    const files = await onDisk(join(t.folder, 'data'));
    expect(files.some((f) => f.path.endsWith('secrets.json'))).toBe(true);
    for (const secret of [SECRET, TOKEN])
      for (const form of formsOf(secret)) for (const f of files) expect(f.text.includes(form), f.path).toBe(false);
    for (const f of files.filter((x) => /secrets\.(json|key)$/.test(x.path)))
      expect((await stat(f.path)).mode & 0o777).toBe(0o600);
  });
});
