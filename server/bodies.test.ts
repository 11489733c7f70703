import { createServer, request, type ClientRequest, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { afterEach, describe, expect, it } from 'vitest';
import { answerTo } from './answers.ts';
import { Bodies, type BodyBounds } from './bodies.ts';

const open: { server?: Server; requests: ClientRequest[] } = { requests: [] };
afterEach(async () => {
  for (const r of open.requests.splice(0)) r.destroy();
  open.server?.closeAllConnections();
  await new Promise((done) => open.server?.close(done));
});

/** A server that answers how many bytes it has read; the address that asks is told by a header. */
async function serve(bounds: Partial<BodyBounds>) {
  const bodies = new Bodies({ all: 1000, address: 600, idleMs: 60_000, ...bounds });
  const server = createServer((req, res) => {
    bodies.read(req, res, String(req.headers['x-from']), 500).then(
      (body) => res.end(String(body.length)),
      (e: unknown) => {
        const { status, message } = answerTo(e);
        res.statusCode = status;
        res.end(message);
      },
    );
  });
  open.server = server;
  await new Promise<void>((done) => server.listen(0, '127.0.0.1', done));
  const { port } = server.address() as AddressInfo;
  /** Whether each answer in turn ended its connection. */
  const closes: boolean[] = [];
  /** Sends so many bytes, and the end of the request only where it is said. */
  const send = (bytes: number, from = 'a', ends = true) => {
    const r = request({ port, method: 'POST', headers: { 'x-from': from, 'transfer-encoding': 'chunked' } });
    open.requests.push(r);
    const answer = new Promise<string>((resolve) => {
      r.on('error', () => resolve('gone'));
      r.on('response', (res) => {
        let text = '';
        res.on('data', (d) => (text += String(d)));
        res.on('end', () => resolve(`${res.statusCode} ${text}`));
        closes.push(res.headers.connection === 'close');
      });
    });
    r.write('x'.repeat(bytes));
    if (ends) r.end();
    return { answer, leave: () => r.destroy() };
  };
  const until = async (bytes: number): Promise<void> => {
    for (let i = 0; i < 200 && bodies.bytes !== bytes; i++) await new Promise((r) => setTimeout(r, 5));
    expect(bodies.bytes).toBe(bytes);
  };
  return { bodies, send, until, closes };
}

const TOO_MUCH = '503 The server is taking a great deal at once. Try again in a moment.';

describe('the bodies of requests', () => {
  it('are read whole, up to the limit of one request', async () => {
    const { send, until } = await serve({});
    expect(await send(500).answer).toBe('200 500');
    expect(await send(501).answer).toBe('413 This is more than the server takes at once.');
    await until(0);
  });
  it('that never end take the place of their own address only, and give it back when they leave', async () => {
    const { send, until } = await serve({});
    const first = send(400, 'stranger', false);
    await until(400);
    expect(await send(300, 'stranger').answer).toBe(TOO_MUCH);
    expect(await send(300, 'honest').answer).toBe('200 300');
    first.leave();
    await until(0);
    expect(await send(300, 'stranger').answer).toBe('200 300');
  });
  it('of all addresses have a bound together', async () => {
    const { send, until } = await serve({});
    send(450, 'one', false);
    send(450, 'two', false);
    await until(900);
    expect(await send(200, 'three').answer).toBe(TOO_MUCH);
    expect(await send(100, 'three').answer).toBe('200 100');
  });
  it('that are not read to their end end their connection, since their rest would be taken for the next', async () => {
    const { send, closes } = await serve({});
    await send(500).answer;
    await send(501).answer;
    expect(closes).toEqual([false, true]);
  });
  it('that are refused are answered, however much more they send', async () => {
    const { send, until } = await serve({});
    const answers = Array.from({ length: 8 }, () => send(4_000_000, 'a').answer);
    for (const answer of answers) expect(await answer).toBe('413 This is more than the server takes at once.');
    await until(0);
  });
  it('of which nothing comes any more are ended', async () => {
    const { send, until } = await serve({ idleMs: 50 });
    expect(await send(400, 'a', false).answer).toBe('408 The request stopped half-way.');
    await until(0);
  });
});
