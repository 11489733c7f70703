import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { createRemoteJWKSet, jwtVerify } from 'jose';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { startStandIns, type StandIns } from './stand-ins/index.ts';

let folder = '';
let services: StandIns;
beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'kite-stand-ins-'));
  services = await startStandIns(folder);
});
afterAll(async () => {
  await services.close();
  await rm(folder, { recursive: true, force: true });
});

type Answer = Record<string, unknown> & { items: Record<string, unknown>[] };
async function ask(path: string, init: RequestInit & { json?: unknown; token?: unknown } = {}) {
  const { json, token, ...rest } = init;
  const reply = await fetch(services.url + path, {
    ...rest,
    headers: {
      ...(json !== undefined && { 'content-type': 'application/json' }),
      ...(token !== undefined && { authorization: `Bearer ${String(token)}` }),
      ...(rest.headers as Record<string, string>),
    },
    ...(json !== undefined && { body: JSON.stringify(json) }),
  });
  const text = await reply.text();
  return {
    status: reply.status,
    headers: reply.headers,
    json: (text.startsWith('{') ? JSON.parse(text) : {}) as Answer,
  };
}
const post = (path: string, json: unknown, more: object = {}) => ask(path, { method: 'POST', json, ...more });

describe('the supplier that stands in', () => {
  it('has 5,000 goods, found by words, in pages that lead on', async () => {
    const first = await ask('/goods?search=cedar%20frame&per_page=5');
    expect(first.json.items).toHaveLength(5);
    for (const g of first.json.items) expect(`${g['name']}`.toLowerCase()).toMatch(/cedar.*frame|frame.*cedar/);
    const next = /<([^>]+)>; rel="next"/.exec(first.headers.get('link')!)![1]!;
    const second = await ask(next);
    expect(second.json.items[0]!['id']).not.toBe(first.json.items[0]!['id']);
    expect((await ask('/goods')).json['total']).toBe(5000);
    const one = await ask(`/goods/${String(first.json.items[0]!['id'])}`);
    expect(one.json['name']).toBe(first.json.items[0]!['name']);
    expect((await fetch(String(one.json['picture']))).headers.get('content-type')).toContain('svg');
    expect((await ask('/goods/G-9999')).status).toBe(404);
  });

  it('signs members up and in, with tokens that can be checked, end, and are renewed once', async () => {
    const me = { mail: 'odile@marsh.example', password: 'long enough', name: 'Odile' };
    expect((await post('/members', { ...me, password: 'short' })).json['errors']).toEqual([
      { pointer: '#/password', detail: expect.any(String) },
    ]);
    expect((await post('/members', me)).status).toBe(201);
    expect((await post('/members', me)).status).toBe(409);
    expect((await post('/tokens', { ...me, password: 'another one' })).status).toBe(401);
    const { json } = await post('/tokens', { ...me, seconds: 1 });
    const keys = createRemoteJWKSet(new URL(`${services.url}/keys`));
    expect((await jwtVerify(String(json['access_token']), keys)).payload['name']).toBe('Odile');
    expect((await ask('/me', { token: json['access_token'] })).json['mail']).toBe(me.mail);
    await new Promise((r) => setTimeout(r, 1100));
    expect((await ask('/me', { token: json['access_token'] })).status).toBe(401);
    const renewed = await post('/tokens/renewed', { refresh_token: json['refresh_token'] });
    expect((await ask('/me', { token: renewed.json['access_token'] })).status).toBe(200);
    expect((await post('/tokens/renewed', { refresh_token: json['refresh_token'] })).status).toBe(401);
    await ask('/tokens', { method: 'DELETE', token: renewed.json['access_token'] });
    expect((await post('/tokens/renewed', { refresh_token: renewed.json['refresh_token'] })).status).toBe(401);
  });

  it('takes orders with errors by field, once for a key, and not over a change of somebody else', async () => {
    await post('/members', { mail: 'ines@calder.example', password: 'long enough', name: 'Ines' });
    const { json } = await post('/tokens', { mail: 'ines@calder.example', password: 'long enough' });
    const token = json['access_token'];
    expect((await ask('/orders')).status).toBe(401);
    const wrong = await post('/orders', { good: 'nothing', quantity: 900 }, { token });
    expect((wrong.json['errors'] as { pointer: string }[]).map((e) => e.pointer)).toEqual(['#/good', '#/quantity']);
    const once = { token, headers: { 'idempotency-key': 'k1' } };
    const made = await post('/orders', { good: 'G-0042', quantity: 2 }, once);
    const again = await post('/orders', { good: 'G-0042', quantity: 2 }, once);
    expect([made.status, again.status, again.json['id']]).toEqual([201, 200, made.json['id']]);
    expect((await ask('/orders', { token })).json.items).toHaveLength(1);
    const path = `/orders/${String(made.json['id'])}`;
    const change = (tag: string, quantity: number) =>
      ask(path, { method: 'PATCH', token, headers: { 'if-match': tag }, json: { quantity } });
    const tag = made.headers.get('etag')!;
    expect((await change(tag, 3)).status).toBe(200);
    expect((await change(tag, 4)).status).toBe(412);
    // The same orders as OData, also after a restart.
    await services.close();
    services = await startStandIns(folder);
    const { json: list } = await ask('/odata/Orders?$filter=quantity ge 3&$count=true');
    expect(list['@odata.count']).toBe(1);
    const entity = (list['value'] as Record<string, string>[])[0]!;
    const odata = (m: string) =>
      ask(`/odata/Orders('${entity['id']}')`, { method: 'PATCH', headers: { 'if-match': m }, json: { note: 'soon' } });
    expect([(await odata('"old"')).status, (await odata(entity['@odata.etag']!)).status]).toEqual([412, 200]);
  });

  it('has an outlook for whoever has its key, and faults for whoever asks for them', async () => {
    expect((await ask('/outlook?place=Mill%20Lane')).status).toBe(401);
    const key = { headers: { 'x-api-key': 'bees-like-sun' } };
    const days = (await ask('/outlook?place=Mill%20Lane', key)).json['days'];
    expect(days).toHaveLength(7);
    expect((await ask('/outlook?place=mill%20lane', key)).json['days']).toEqual(days);
    expect(await Promise.all(['401', '429', '500'].map(async (f) => (await ask(`/goods?fault=${f}`)).status))).toEqual([
      401, 429, 500,
    ]);
    await expect(ask('/goods?fault=broken')).rejects.toThrow('JSON');
    await expect(ask('/goods?fault=cut')).rejects.toThrow();
  });
});
