import { createServer } from 'node:http';
import type { AddressInfo } from 'node:net';
import { afterAll, beforeAll, expect, it, vi } from 'vitest';
import { newId, thisId } from '../core/document/ids.ts';
import { F, hiveApp, T } from '../core/records/fixture.ts';
import type { BoardMessage } from '../core/runs/board.ts';
import { make, routine } from '../core/runs/fixture.ts';
import { change, KEY, TestServer } from './fixture.ts';

/** An operator’s gateway for text messages, which answers as it is told. */
const came: { body: Record<string, unknown>; once: string | undefined; key: string | undefined }[] = [];
let answers: number[] = [];
const gateway = createServer((req, res) => {
  const parts: Buffer[] = [];
  req.on('data', (d: Buffer) => parts.push(d));
  req.on('end', () => {
    const status = answers.shift() ?? 202;
    if (status < 300)
      came.push({
        body: JSON.parse(Buffer.concat(parts).toString()) as Record<string, unknown>,
        once: req.headers['idempotency-key'] as string | undefined,
        key: req.headers.authorization,
      });
    res.writeHead(status).end(status < 300 ? '' : 'No such number');
  });
});
let server: TestServer;
beforeAll(async () => {
  await new Promise<void>((r) => gateway.listen(0, '127.0.0.1', r));
  const texts = `http://127.0.0.1:${(gateway.address() as AddressInfo).port}/send`;
  server = await TestServer.start({ texts, textsKey: 'secret' });
  const app = hiveApp();
  const me = thisId(T.hives);
  app.routines.push(
    routine('Text', 'record changed', { how: 'added' }, [make.step('text message', { to: `${me}.${F.tag}`, words: `New: {${me}.${F.name}}` })]),
  ); // prettier-ignore
  await server.release('bees', KEY, app);
});
afterAll(async () => {
  await server.stop();
  gateway.closeAllConnections();
  await new Promise((r) => gateway.close(r));
});

it('text messages of phones and of the server go to the operator’s address, once each, with a key that is the same again', async () => {
  const id = newId('m');
  const send = () => server.call('/api/apps/bees/mail', { json: { id, kind: 'text message', to: ['+44 20 7946 0000'], subject: '', body: 'Come' } }); // prettier-ignore
  await send();
  await send();
  await vi.waitFor(() => expect(came).toHaveLength(1), { timeout: 5000 });
  expect(came[0]).toEqual({
    body: { id, app: 'bees', to: ['+44 20 7946 0000'], words: 'Come' },
    once: `bees/${id}`,
    key: 'Bearer secret',
  });
  // A notice is no text message, and what was sent is not sent again after a start.
  await server.call('/api/apps/bees/mail', { json: { id: newId('m'), kind: 'notice', to: ['Ines'], subject: 'x', body: '' } }); // prettier-ignore
  await server.restart();
  await server.push('bees', change({ [F.name]: 'Oak', [F.tag]: '+44 20 7946 0001' }, 'oak'));
  await vi.waitFor(() => expect(came).toHaveLength(2), { timeout: 5000 });
  expect(came[1]!.body).toMatchObject({ to: ['+442079460001'], words: 'New: Oak' });
});

it('what the address refuses for good is told at the run', async () => {
  answers = [422];
  await server.push('bees', change({ [F.name]: 'Elm', [F.tag]: '+44 20 7946 0002' }, 'elm'));
  const board = async (): Promise<BoardMessage> => (await server.call('/api/apps/bees/runs', { key: KEY })).body as BoardMessage; // prettier-ignore
  await vi.waitFor(async () => expect((await board()).past[0]!.returned).toContain('422. No such number'), { timeout: 5000 }); // prettier-ignore
});
