import { createServer, type IncomingMessage, type RequestListener, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { gzipSync } from 'node:zlib';
import { afterEach, describe, expect, it } from 'vitest';
import { NoAnswer, type FailureSort } from '../core/services/failures.ts';
import { NamedHosts } from '../core/services/outside-addresses.ts';
import type { OutsideRequest } from '../core/services/outside.ts';
import { Outside } from './outside.ts';

const servers: Server[] = [];
const outsides: Outside[] = [];
afterEach(async () => {
  for (const o of outsides.splice(0)) await o.close();
  for (const s of servers.splice(0)) {
    s.closeAllConnections();
    s.close();
  }
});

/** A service on this machine. Gives its port, and what it was asked. */
async function service(answer: RequestListener) {
  const asked: { path: string; headers: IncomingMessage['headers']; method: string; body: string }[] = [];
  const server = createServer((req, res) => {
    let body = '';
    req.on('data', (d) => (body += String(d)));
    req.on('end', () => {
      asked.push({ path: req.url!, headers: req.headers, method: req.method!, body });
      answer(req, res);
    });
  });
  servers.push(server);
  await new Promise<void>((r) => server.listen(0, '127.0.0.1', r));
  return { port: (server.address() as AddressInfo).port, asked };
}
/** Names that lead where the test says; hosts named by the operator. */
function outside(named: string[], names: Record<string, string[] | (() => string[])> = {}): Outside {
  const made = new Outside(new NamedHosts(named), async (host) => {
    const found = names[host] ?? ['127.0.0.1'];
    return typeof found === 'function' ? found() : found;
  });
  outsides.push(made);
  return made;
}
const get = (url: string, more: Partial<OutsideRequest> = {}): OutsideRequest => ({
  method: 'GET',
  url,
  headers: [],
  limits: { ms: 3000, bytes: 1_000_000 },
  ...more,
});
const text = (body: Uint8Array): string => new TextDecoder().decode(body);
async function sortOf(asking: Promise<unknown>): Promise<FailureSort> {
  const e = await asking.then(
    () => new Error('it was answered'),
    (error: unknown) => error,
  );
  expect(e).toBeInstanceOf(NoAnswer);
  return (e as NoAnswer).sort;
}

describe('a service that is asked', () => {
  it('gets method, headers and body, and its answer comes whole with its status', async () => {
    const { port, asked } = await service((_, res) => res.writeHead(422, { 'x-a': '1' }).end('{"wrong":"weight"}'));
    const reply = await outside([`goods.test:${port}`]).ask(
      get(`http://goods.test:${port}/goods?x=1`, { method: 'POST', headers: [['x-key', 'k']], body: '{"a":1}' }),
    );
    expect([reply.status, text(reply.body), reply.url]).toEqual([
      422,
      '{"wrong":"weight"}',
      `http://goods.test:${port}/goods?x=1`,
    ]);
    expect(reply.headers).toContainEqual(['x-a', '1']);
    expect(asked).toMatchObject([
      { method: 'POST', path: '/goods?x=1', body: '{"a":1}', headers: { 'x-key': 'k', host: `goods.test:${port}` } },
    ]);
  });
  it('is told nothing by headers that belong to the connection', async () => {
    const { port, asked } = await service((_, res) => res.end());
    await outside([`goods.test:${port}`]).ask(
      get(`http://goods.test:${port}/`, {
        headers: [
          ['Host', 'evil.test'],
          ['Transfer-Encoding', 'chunked'],
          ['Content-Length', '5'],
          ['X-Mine', 'yes'],
        ],
      }),
    );
    expect(asked[0]!.headers).toMatchObject({ host: `goods.test:${port}`, 'x-mine': 'yes' });
    expect(asked[0]!.headers).not.toHaveProperty('transfer-encoding');
  });
  it('that does not answer, is too slow, is not there or breaks off is told by its sort', async () => {
    const { port } = await service((req, res) => {
      if (req.url === '/slow') return;
      if (req.url === '/half') {
        res.writeHead(200, { 'content-length': '100' });
        res.write('half');
        setTimeout(() => res.destroy(), 20);
        return;
      }
      if (req.url === '/drip') {
        setInterval(() => res.write('x'), 20).unref();
        return;
      }
      res.socket!.destroy();
    });
    const at = (path: string) => get(`http://goods.test:${port}${path}`, { limits: { ms: 300, bytes: 1000 } });
    const o = outside([`goods.test:${port}`, 'goods.test:1']);
    expect(await sortOf(o.ask(at('/slow')))).toBe('too slow');
    expect(await sortOf(o.ask(at('/drip')))).toBe('too slow');
    expect(await sortOf(o.ask(at('/half')))).toBe('cut off');
    expect(await sortOf(o.ask(at('/gone')))).toBe('cut off');
    expect(await sortOf(o.ask(get('http://goods.test:1/')))).toBe('refused');
    const nobody = new Outside(new NamedHosts([]), async () => {
      throw Object.assign(new Error('getaddrinfo'), { code: 'ENOTFOUND' });
    });
    outsides.push(nobody);
    expect(await sortOf(nobody.ask(get('http://nobody.test/')))).toBe('not found');
  });
  it('may send no more than is allowed, packed or not', async () => {
    const bomb = gzipSync(Buffer.alloc(5_000_000));
    const { port } = await service((req, res) => {
      if (req.url === '/bomb') res.writeHead(200, { 'content-encoding': 'gzip' }).end(bomb);
      else if (req.url === '/packed') res.writeHead(200, { 'content-encoding': 'gzip' }).end(gzipSync('hello'));
      else if (req.url === '/odd') res.writeHead(200, { 'content-encoding': 'zebra' }).end('x');
      else if (req.url === '/broken') res.writeHead(200, { 'content-encoding': 'gzip' }).end('no gzip');
      else res.end('x'.repeat(20_000));
    });
    const o = outside([`goods.test:${port}`]);
    const at = (path: string, bytes: number) =>
      get(`http://goods.test:${port}${path}`, { limits: { ms: 3000, bytes } });
    expect((await o.ask(at('/', 20_000))).body).toHaveLength(20_000);
    expect(await sortOf(o.ask(at('/', 19_999)))).toBe('too large');
    expect(await sortOf(o.ask(at('/bomb', 100_000)))).toBe('too large');
    expect(text((await o.ask(at('/packed', 5))).body)).toBe('hello');
    expect(await sortOf(o.ask(at('/odd', 100)))).toBe('unreadable');
    expect(await sortOf(o.ask(at('/broken', 100)))).toBe('unreadable');
  });
});

describe('what is not public', () => {
  it('is not asked, by whatever name', async () => {
    const { port, asked } = await service((_, res) => res.end('secret'));
    const o = outside([], {
      'private.test': ['127.0.0.1'],
      'mixed.test': ['93.184.216.34', '127.0.0.1'],
      'mapped.test': ['::ffff:127.0.0.1'],
      'nowhere.test': [],
    });
    for (const host of ['127.0.0.1', 'localhost', '2130706433', '[::ffff:127.0.0.1]', 'private.test', 'private.test.'])
      expect(await sortOf(o.ask(get(`http://${host}:${port}/`))), host).toBe('blocked');
    for (const host of ['mixed.test', 'mapped.test', 'nowhere.test'])
      expect(await sortOf(o.ask(get(`http://${host}:${port}/`))), host).toBe('blocked');
    expect(asked).toEqual([]);
  });
  it('is not asked by a name that leads elsewhere at the second look', async () => {
    const { port, asked } = await service((_, res) => res.end('secret'));
    let looks = 0;
    // Public when it is checked; were it looked up once more for the connection, it would be this machine.
    const o = outside([], { 'rebinding.test': () => (looks++ === 0 ? ['192.0.2.1'] : ['127.0.0.1']) });
    const turns = [1, 2, 3].map(() =>
      o.ask(get(`http://rebinding.test:${port}/`, { limits: { ms: 400, bytes: 100 } })),
    );
    for (const turn of turns) expect(['blocked', 'too slow', 'refused']).toContain(await sortOf(turn));
    expect(asked).toEqual([]);
  });
  it('is not asked on another port of a host that is named, not even while that is asked', async () => {
    const named = await service((_, res) => setTimeout(() => res.end('fine'), 100));
    const other = await service((_, res) => res.end('secret'));
    const o = outside([`goods.test:${named.port}`], { 'goods.test': ['127.0.0.1'] });
    const fine = o.ask(get(`http://goods.test:${named.port}/`));
    expect(await sortOf(o.ask(get(`http://goods.test:${other.port}/`)))).toBe('blocked');
    expect(text((await fine).body)).toBe('fine');
    expect(other.asked).toEqual([]);
  });
  it('is not asked behind a redirect', async () => {
    const inner = await service((_, res) => res.end('secret'));
    const places = [
      `http://127.0.0.1:${inner.port}/`,
      `http://localhost:${inner.port}/`,
      `//0x7f.1:${inner.port}/`,
      `http://private.test:${inner.port}/`,
      `http://user@goods.test:${inner.port}/`,
      'file:///etc/passwd',
      'gopher://goods.test/',
    ];
    const { port } = await service((req, res) =>
      res.writeHead(302, { location: places[Number(req.url!.slice(1))]! }).end(),
    );
    const o = outside([`goods.test:${port}`]);
    for (const i of places.keys())
      expect(await sortOf(o.ask(get(`http://goods.test:${port}/${i}`))), places[i]).toBe('blocked');
    expect(inner.asked).toEqual([]);
  });
});

describe('a redirect', () => {
  it('is followed so many times, with what was sent as pages do it', async () => {
    const { port, asked } = await service((req, res) => {
      const [, status, left] = /^\/(\d+)\/(\d+)$/.exec(req.url!)!;
      if (left === '0') res.end('there');
      else res.writeHead(Number(status), { location: `/${status}/${Number(left) - 1}` }).end();
    });
    const o = outside([`goods.test:${port}`]);
    const post = (path: string) =>
      o.ask(
        get(`http://goods.test:${port}${path}`, {
          method: 'POST',
          body: 'a',
          headers: [['content-type', 'text/plain']],
        }),
      );
    expect(text((await post('/302/5')).body)).toBe('there');
    expect(await sortOf(post('/302/6'))).toBe('redirects');
    for (const [status, method, body] of [
      [301, 'GET', ''],
      [302, 'GET', ''],
      [303, 'GET', ''],
      [307, 'POST', 'a'],
      [308, 'POST', 'a'],
    ] as const) {
      asked.length = 0;
      await post(`/${status}/1`);
      expect(asked.at(-1), String(status)).toMatchObject({ method, body });
      expect('content-type' in asked.at(-1)!.headers).toBe(method === 'POST');
    }
  });
  it('takes no secret along to another host', async () => {
    const other = await service((_, res) => res.end());
    const { port, asked } = await service((req, res) => {
      if (req.url === '/here') res.writeHead(307, { location: '/there' }).end();
      else if (req.url === '/there') res.end();
      else res.writeHead(307, { location: `http://other.test:${other.port}/` }).end();
    });
    const o = outside([`goods.test:${port}`, `other.test:${other.port}`]);
    const headers: OutsideRequest['headers'] = [
      ['Authorization', 'Bearer t'],
      ['X-Api-Key', 'k'],
      ['Cookie', 'c=1'],
      ['X-Plain', 'p'],
    ];
    await o.ask(get(`http://goods.test:${port}/away`, { headers, secret: new Set(['x-api-key']) }));
    expect(other.asked[0]!.headers).toMatchObject({ 'x-plain': 'p' });
    for (const name of ['authorization', 'x-api-key', 'cookie'])
      expect(other.asked[0]!.headers, name).not.toHaveProperty(name);
    await o.ask(get(`http://goods.test:${port}/here`, { headers, secret: new Set(['x-api-key']) }));
    expect(asked.at(-1)).toMatchObject({ path: '/there', headers: { authorization: 'Bearer t', 'x-api-key': 'k' } });
  });
});
