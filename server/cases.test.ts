import { createTransport } from 'nodemailer';
import { afterAll, beforeAll, expect, it, vi } from 'vitest';
import { addCases } from '../core/app/cases.ts';
import { hiveApp } from '../core/records/fixture.ts';
import { KEY, TestServer } from './fixture.ts';

let server: TestServer;
const app = hiveApp();
addCases(app);
beforeAll(async () => {
  server = await TestServer.start({ mail: 0 });
  await server.release('desk', KEY, app);
});
afterAll(() => server.stop());

/** The records of a table by the names of its fields. */
async function rows(name: string): Promise<Record<string, unknown>[]> {
  const table = app.tables.find((t) => t.name === name)!;
  const { body } = await server.call('/api/apps/desk/changes?since=0');
  const { states = [] } = body as { states?: { table: string; cells: Record<string, unknown> }[] };
  return states
    .filter((s) => s.table === table.id)
    .map((s) => Object.fromEntries(table.fields.map((f) => [f.name, s.cells[f.id]])));
}
const send = (more: object) =>
  createTransport({ host: '127.0.0.1', port: server.server.mailPort!, ignoreTLS: true }).sendMail({
    from: 'Ada <ada@post.example>',
    to: 'desk@mellow-kite.example',
    subject: 'The oven',
    ...more,
  });

it('a mail becomes a case that is summed up, judged and answered; its answer is added to it, another subject is another', async () => {
  await send({ messageId: '<one@post.example>', text: 'The oven is broken. It smells. Could somebody come today?' });
  await vi.waitFor(async () => expect(await rows('Cases')).toHaveLength(1), { timeout: 5000 });
  await vi.waitFor(async () => expect((await rows('Cases'))[0]).toMatchObject({ Subject: 'The oven', State: 'new', Priority: 'high', From: 'ada@post.example' }), { timeout: 5000 }); // prettier-ignore
  expect((await rows('Cases'))[0]!['In short']).toBe('The oven is broken.');
  await send({ messageId: '<two@post.example>', inReplyTo: '<one@post.example>', text: 'It still smells.' });
  await send({ messageId: '<three@post.example>', subject: 'Hours', text: 'When do you open?' });
  await vi.waitFor(async () => expect(await rows('Messages')).toHaveLength(3), { timeout: 5000 });
  expect((await rows('Cases')).map((c) => [c['Subject'], c['Priority']]).sort()).toEqual([
    ['Hours', 'normal'],
    ['The oven', 'high'],
  ]);
  const outbox = async () => JSON.parse((await server.call('/api/apps/desk/outbox', { key: KEY })).text) as object[];
  await vi.waitFor(async () => expect(await outbox()).toHaveLength(2), { timeout: 5000 });
});
