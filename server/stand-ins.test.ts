import { createHash } from 'node:crypto';
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
    const { json } = await post('/tokens', me);
    const keys = createRemoteJWKSet(new URL(`${services.url}/keys`));
    expect((await jwtVerify(String(json['access_token']), keys)).payload['name']).toBe('Odile');
    expect((await ask('/me', { token: json['access_token'] })).json['mail']).toBe(me.mail);
    // A token that is good for a second: waiting for its end is no race with the machine.
    const brief = await post('/tokens', { ...me, seconds: 1 });
    await new Promise((r) => setTimeout(r, 1100));
    expect((await ask('/me', { token: brief.json['access_token'] })).status).toBe(401);
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

  it('signs members in at its page: a code for whoever brings the proof, once', async () => {
    const me = { mail: 'page@marsh.example', password: 'long enough', name: 'Odile' };
    await post('/members', me);
    const described = (await ask('/.well-known/openid-configuration')).json;
    expect(described['authorization_endpoint']).toBe(`${services.url}/authorize`);
    const verifier = 'v'.repeat(43);
    const asked = {
      response_type: 'code',
      client_id: '<club>',
      redirect_uri: 'https://app.example/a/club?x=1',
      state: 'st&1',
      code_challenge: createHash('sha256').update(verifier).digest('base64url'),
      code_challenge_method: 'S256',
    };
    const shown = await fetch(`${services.url}/authorize?${new URLSearchParams(asked)}`);
    const html = await shown.text();
    expect(html).not.toContain('<club>');
    expect((await fetch(`${services.url}/authorize?client_id=x`)).status).toBe(400);
    const sent = (more: object) =>
      fetch(`${services.url}/authorize`, {
        method: 'POST',
        redirect: 'manual',
        body: new URLSearchParams({ ...asked, ...me, ...more }),
      });
    expect((await sent({ password: 'wrong' })).status).toBe(401);
    const denied = new URL((await sent({ answer: 'no' })).headers.get('location')!);
    expect(Object.fromEntries(denied.searchParams)).toEqual({ x: '1', state: 'st&1', error: 'access_denied' });
    const code = async () => new URL((await sent({})).headers.get('location')!).searchParams.get('code')!;
    const tokens = (form: Record<string, string>) =>
      fetch(`${services.url}/tokens/by-code`, { method: 'POST', body: new URLSearchParams(form) });
    const right = {
      grant_type: 'authorization_code',
      redirect_uri: asked.redirect_uri,
      client_id: asked.client_id,
      code_verifier: verifier,
    };
    for (const wrong of [
      { code_verifier: 'x'.repeat(43) },
      { client_id: 'other' },
      { redirect_uri: 'https://b.example' },
    ])
      expect((await tokens({ ...right, code: await code(), ...wrong })).status).toBe(400);
    const good = await code();
    const given = (await (await tokens({ ...right, code: good })).json()) as Record<string, string>;
    expect((await tokens({ ...right, code: good })).status).toBe(400);
    const keys = createRemoteJWKSet(new URL(`${services.url}/keys`));
    const { payload } = await jwtVerify(given['id_token']!, keys, { audience: '<club>', issuer: services.url });
    expect(payload).toMatchObject({ name: 'Odile', email: 'page@marsh.example' });
    expect((await ask('/me', { token: given['access_token'] })).json['name']).toBe('Odile');
    const renewed = await tokens({ grant_type: 'refresh_token', refresh_token: given['refresh_token']! });
    expect(renewed.status).toBe(200);
  });

  it('takes claims with a photo, in parts, and gives the photo as it came', async () => {
    const form = (photo: Blob | null) => {
      const made = new FormData();
      made.append('good', 'G-0042');
      made.append('words', 'It has a hole');
      if (photo) made.append('photo', photo, 'hole ä.png');
      return fetch(`${services.url}/claims`, { method: 'POST', body: made });
    };
    expect(await (await form(null)).json()).toMatchObject({ errors: [{ pointer: '#/photo' }] });
    const bytes = new Uint8Array([137, 80, 78, 71, 0, 255]);
    const made = (await (await form(new Blob([bytes], { type: 'image/png' }))).json()) as { photo: string };
    const photo = await fetch(made.photo);
    expect(photo.headers.get('content-type')).toBe('image/png');
    expect(photo.headers.get('content-disposition')).toContain("UTF-8''hole%20%C3%A4.png");
    expect(new Uint8Array(await photo.arrayBuffer())).toEqual(bytes);
    expect((await ask('/claims')).json.items).toHaveLength(1);
  });

  it('works with words by the request that is documented, and says how', async () => {
    const text = 'The veil is torn. Please send a new veil by 24 December 2026. The smoker is fine.';
    const by = 'counting (stand-in)';
    const summed = (await post('/words/sum-up', { text, most: 1 })).json;
    expect(summed).toEqual({ words: expect.stringContaining('veil'), by });
    expect(
      (await post('/words/judge', { text, choices: 'Claim: torn, broken\nThanks: fine, lovely' })).json,
    ).toMatchObject({ by });
    expect((await post('/words/pull-out', { text, kind: 'dates', year: 2026 })).json['found']).toEqual(['2026-12-24']);
    expect(
      (await post('/words/draft', { prompt: 'Say thanks', to: 'Ann', facts: 'Good: veil' })).json['words'],
    ).toContain('Ann');
    expect((await post('/words/judge', { text })).status).toBe(422);
    const form = new FormData();
    form.append('picture', new Blob([new Uint8Array(10)], { type: 'image/png' }), 'a.png');
    const described = await fetch(`${services.url}/words/describe`, { method: 'POST', body: form });
    expect(await described.json()).toMatchObject({ sure: 0, by });
  });
});
