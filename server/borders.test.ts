import { request } from 'node:http';
import { connect, type Socket } from 'node:net';
import { readdir, readFile } from 'node:fs/promises';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it, vi } from 'vitest';
import { F } from '../core/records/fixture.ts';
import { ownNames } from './borders.ts';
import { change, KEY, TestServer } from './fixture.ts';

/** What comes to the server that nobody of ours would send. */

let t: TestServer;
beforeAll(async () => {
  t = await TestServer.start({ names: ['bees.example'], proxies: ['127.0.0.1'] });
  await t.release('bees');
});
afterAll(() => t.stop());

/** A request word for word: fetch would put some of it right. */
function raw(path: string, headers: Record<string, string> = {}, method = 'GET', body?: string | Buffer) {
  const { port } = new URL(t.url);
  return new Promise<{ status: number; text: string }>((resolve, reject) => {
    const req = request({ host: '127.0.0.1', port, path, method, headers }, (res) => {
      let text = '';
      res.on('data', (d: Buffer) => (text += String(d)));
      res.on('end', () => resolve({ status: res.statusCode!, text }));
    });
    req.on('error', reject);
    req.end(body);
  });
}

describe('the server answers', () => {
  it('to its own names only', async () => {
    for (const host of ['127.0.0.1:1', 'localhost', 'LOCALHOST:80', 'bees.example'])
      expect((await raw('/api/apps/bees/app', { host })).status, host).toBe(200);
    for (const host of ['evil.example', 'bees.example.evil.example', '127.0.0.1.evil.example', '169.254.1.1'])
      expect(await raw('/api/apps/bees/app', { host, accept: 'application/json' }), host).toMatchObject({
        status: 421,
        text: expect.stringContaining('does not go by the name'),
      });
  });
  it('to no page of another server', async () => {
    const host = new URL(t.url).host;
    const ask = (origin: string, method = 'POST') => raw('/api/apps/bees/changes', { host, origin }, method);
    for (const origin of ['http://evil.example', 'null', `http://${host}.evil.example`, 'http://127.0.0.1'])
      expect((await ask(origin)).status, origin).toBe(403);
    expect((await ask('http://evil.example', 'GET')).status).toBe(403);
    expect((await ask(`http://${host}`, 'GET')).status).toBe(200);
    expect((await raw('/api/apps/bees/changes', { host: 'bees.example', origin: 'https://bees.example' })).status).toBe(
      200,
    );
  });
  it('by the names of the network when it is open to it', () => {
    expect(ownNames([], [])).toEqual(new Set(['127.0.0.1', 'localhost', '[::1]']));
    expect([...ownNames(['192.168.0.7'], ['Bees.Example'])]).toEqual(
      expect.arrayContaining(['192.168.0.7', 'bees.example']),
    );
  });
  it('each phone behind a proxy by its own count', async () => {
    await t.release('count');
    const send = (phone: string) => t.call('/api/apps/count/mail', { json: {}, headers: { 'x-forwarded-for': phone } });
    const busy = await Promise.all(Array.from({ length: 70 }, () => send('10.0.0.1')));
    expect(busy.some((a) => a.status === 429)).toBe(true);
    expect((await send('10.0.0.2')).status).toBe(422);
  });
});

it('pushes of one device are bounded in rate, in words', async () => {
  const send = () =>
    t.call('/api/apps/bees/changes', { method: 'POST', json: {}, headers: { 'x-forwarded-for': '10.0.0.77' } });
  const statuses = new Map<number, string>();
  for (let i = 0; i < 61; i++)
    for (const a of await Promise.all(Array.from({ length: 20 }, send))) statuses.set(a.status, a.text);
  expect([...statuses.keys()].sort()).toEqual([422, 429]);
  expect(JSON.parse(statuses.get(429)!)).toEqual({ error: 'Too many requests. Wait a minute, then try again.' });
});

describe('what cannot be read', () => {
  const json = { 'content-type': 'application/json', accept: 'application/json' };
  it.each<[string, () => Promise<{ status: number; text: string }>, number]>([
    ['a bad percent sign in an address', () => raw('/a/%E0%A4%A/'), 400],
    ['a bad percent sign in an app', () => raw('/api/apps/%zz/app'), 400],
    ['a file name that leads outside', () => raw('/assets/..%2f..%2fpackage.json'), 404],
    ['a zero byte', () => raw('/assets/%00.js'), 404],
    [
      'a charset nobody has',
      () =>
        raw('/api/apps/bees/changes', { ...json, 'content-type': 'application/json; charset=klingon' }, 'POST', '{}'),
      415,
    ],
    [
      'an encoding nobody has',
      () => raw('/api/apps/bees/changes', { ...json, 'content-encoding': 'secret' }, 'POST', '{}'),
      415,
    ],
    [
      'a text that is not what its encoding says',
      () => raw('/api/apps/bees/changes', { ...json, 'content-encoding': 'gzip' }, 'POST', 'no gzip'),
      415,
    ],
    ['no JSON', () => raw('/api/apps/bees/changes', json, 'POST', '{"changes": [}'), 400],
    ['a range beyond the end', () => raw('/assets/p.js', { range: 'bytes=999999-' }), 416],
    ['nothing at all', () => raw('/api/apps/bees/changes', json, 'POST', ''), 400],
    ['a word for a number', () => raw('/api/apps/bees/changes?since=all'), 422],
    ['a number that is none', () => raw('/api/apps/bees/changes?since=0&from=-1'), 422],
    ['a key of another kind', () => raw('/api/apps/bees/outbox', { 'x-owner-key': 'short' }), 401],
    [
      'a __proto__ in the cells',
      () =>
        raw(
          '/api/apps/bees/changes',
          json,
          'POST',
          '{"changes":[{"id":"a","stamp":"000000001-0000-test","table":"t_hives00","record":"__proto__","do":"set","cells":{"__proto__":{"a":1}}}]}',
        ),
      200,
    ],
  ])('%s is said in words, without the inside', async (_, ask, status) => {
    const said = vi.spyOn(console, 'error').mockImplementation(() => undefined);
    const answer = await ask();
    expect(answer.status).toBe(status);
    expect(answer.text).not.toMatch(/node_modules|at \w+ \(|\.ts:\d/);
    expect(said).not.toHaveBeenCalled();
    said.mockRestore();
  });
});

describe('the name that a proxy tells', () => {
  it('is believed beside the name that the request came by, and not in its place', async () => {
    const { port } = new URL(t.url);
    const asked = (host: string, forwarded?: string): Promise<number> =>
      new Promise((resolve, reject) => {
        const headers = { host, ...(forwarded && { 'x-forwarded-host': forwarded }) };
        const req = request({ host: '127.0.0.1', port, path: '/api/apps/bees/changes?since=0', headers }, (res) => {
          res.resume();
          resolve(res.statusCode!);
        });
        req.on('error', reject);
        req.end();
      });
    expect(await asked(`127.0.0.1:${port}`, '127.0.0.1')).toBe(200);
    // A page elsewhere that has given this address a name of its own can send any header.
    expect(await asked('evil.example', '127.0.0.1')).toBe(421);
    expect(await asked(`127.0.0.1:${port}`, 'evil.example')).toBe(421);
  });
});

describe('a mail with an id that is there already', () => {
  it('changes nothing', async () => {
    const send = (body: string) =>
      t.call('/api/apps/bees/mail', {
        json: { id: 'mail-0001', to: ['odile@heatherfield.example'], subject: 'Tea', body },
        headers: { 'x-forwarded-for': '10.0.0.9' },
      });
    await Promise.all([send('the first'), send('the first')]);
    expect((await send('another')).status).toBe(200);
    expect(await readdir(join(t.folder, 'data/bees/outbox'))).toEqual(['mail-0001.eml']);
    const eml = await readFile(join(t.folder, 'data/bees/outbox/mail-0001.eml'), 'utf8');
    expect(eml).toContain(btoa('the first'));
  });
  it('has the room that a routine gives it, letters beyond ASCII included', async () => {
    const answer = await t.call('/api/apps/bees/mail', {
      json: {
        id: 'mail-0002',
        to: ['odile@heatherfield.example'],
        subject: 'ü'.repeat(1000),
        body: '⚘'.repeat(100_000),
      },
      headers: { 'x-forwarded-for': '10.0.0.9' },
    });
    expect(answer.status).toBe(200);
  });
});

describe('a phone that listens', () => {
  /** Opens a stream and gives what has come on it so far. */
  async function listen(app: string): Promise<{ socket: Socket; text: () => string }> {
    const { port, host } = new URL(t.url);
    const socket = connect(Number(port), '127.0.0.1');
    let text = '';
    socket.on('data', (d) => (text += String(d)));
    socket.write(`GET /api/apps/${app}/live HTTP/1.1\r\nHost: ${host}\r\n\r\n`);
    await vi.waitFor(() => expect(text).toContain('event: hello'));
    return { socket, text: () => text };
  }
  it('and does not read is told no more, and where the app stands once it reads again', async () => {
    await t.release('slow');
    const slow = await listen('slow');
    const quick = await listen('slow');
    slow.socket.pause();
    const before = process.memoryUsage().external + process.memoryUsage().heapUsed;
    const words = 'x'.repeat(100_000);
    for (let i = 0; i < 120; i++) await t.push('slow', change({ [F.name]: `${i} ${words}` }, 'one'));
    await vi.waitFor(() => expect(quick.text()).toContain(`119 ${words.slice(0, 20)}`), 5000);
    expect(process.memoryUsage().external + process.memoryUsage().heapUsed - before).toBeLessThan(150e6);
    slow.socket.resume();
    await vi.waitFor(() => expect(slow.text()).toContain('event: hello\ndata: {"at":120,'), 5000);
    // Much of what happened was never sent to it: it asks for that itself.
    expect(slow.text().length).toBeLessThan(quick.text().length);
    await t.push('slow', change({ [F.name]: 'and on' }, 'one'));
    await vi.waitFor(() => expect(slow.text()).toContain('and on'));
    slow.socket.destroy();
    quick.socket.destroy();
  });
});

describe('removing an app while others use it', () => {
  it('ends it, whatever comes at the same time: nothing serves it afterwards', async () => {
    for (let round = 0; round < 12; round++) {
      const name = `going${round}`;
      await t.release(name);
      await t.push(name, change({ [F.name]: 'before' }, 'h'));
      const traffic = Array.from({ length: 6 }, (_, i) =>
        i % 2 ? t.push(name, change({ [F.name]: `${i}` })) : t.call(`/api/apps/${name}/app`),
      );
      const removed = t.call(`/api/apps/${name}`, { method: 'DELETE', key: KEY });
      const more = Array.from({ length: 6 }, (_, i) =>
        i % 2 ? t.push(name, change({ [F.name]: `${i}` })) : t.call(`/api/apps/${name}/changes?since=0`),
      );
      expect((await removed).status).toBe(200);
      for (const a of await Promise.all([...traffic, ...more])) expect([200, 404]).toContain(a.status);
      expect((await t.call(`/api/apps/${name}/app`)).status).toBe(404);
      expect((await t.push(name, change({ [F.name]: 'after' }))).status).toBe(404);
      expect(await readdir(join(t.folder, 'data'))).not.toContain(name);
    }
  });
  it('and releasing it again at once gives an empty one', async () => {
    await t.release('again');
    await t.push('again', change({ [F.name]: 'old' }, 'h'));
    const both = await Promise.all([
      t.call('/api/apps/again', { method: 'DELETE', key: KEY }),
      t.release('again'),
      t.call('/api/apps/again/app'),
    ]);
    expect(both.map((a) => a.status)).toEqual([200, 200, expect.any(Number)]);
    expect((await t.call('/api/apps/again/changes?since=0')).body).toEqual({ at: 0, states: [] });
  });
});
