import { createTransport } from 'nodemailer';
import { SMTPServer } from 'smtp-server';
import { afterAll, beforeAll, expect, it, vi } from 'vitest';
import { thisId } from '../core/document/ids.ts';
import { F, hiveApp, T } from '../core/records/fixture.ts';
import type { BoardMessage } from '../core/runs/board.ts';
import { make, routine } from '../core/runs/fixture.ts';
import { change, KEY, TestServer } from './fixture.ts';

/** The mail server of an operator, which takes some mails and refuses others. */
const came: { from: string; to: string[]; raw: string }[] = [];
let busy = 0;
const relay = new SMTPServer({
  authOptional: true,
  disabledCommands: ['STARTTLS', 'AUTH'],
  onRcptTo: ({ address }, _session, done) =>
    address.startsWith('nobody') ? done(Object.assign(new Error('No such mailbox here'), { responseCode: 550 })) : done(),
  onData(stream, session, done) {
    const parts: Buffer[] = [];
    stream.on('data', (d: Buffer) => parts.push(d));
    stream.on('end', () => {
      if (busy-- > 0) return done(Object.assign(new Error('Busy'), { responseCode: 451 }));
      const { mailFrom, rcptTo } = session.envelope;
      came.push({ from: mailFrom ? mailFrom.address : '', to: rcptTo.map((r) => r.address), raw: Buffer.concat(parts).toString() });
      return done();
    });
  },
}); // prettier-ignore
let server: TestServer;
const bees = () => {
  const app = hiveApp();
  const me = thisId(T.hives);
  app.routines.push(
    routine('Mail', 'record changed', { how: 'added' }, [make.step('mail', { to: `${me}.${F.tag}`, subject: `New: {${me}.${F.name}}`, body: 'Look.' })]),
  ); // prettier-ignore
  return app;
};
beforeAll(async () => {
  await new Promise<void>((r) => relay.listen(0, '127.0.0.1', r));
  const { port } = relay.server.address() as { port: number };
  server = await TestServer.start({ relay: `smtp://127.0.0.1:${port}`, mailDomain: 'bees.example', mail: 0 });
});
afterAll(async () => {
  await server.stop();
  await new Promise<void>((r) => relay.close(r));
});
const board = async (): Promise<BoardMessage> =>
  (await server.call('/api/apps/bees/runs', { key: KEY })).body as BoardMessage;

it('mails go out by the relay, once each; what it refuses, or what comes back, is told at the run', async () => {
  await server.release('bees', KEY, bees());
  await server.push('bees', change({ [F.name]: 'Oak', [F.tag]: 'ada@post.example' }, 'oak'));
  await vi.waitFor(() => expect(came).toHaveLength(1), { timeout: 5000 });
  expect(came[0]).toMatchObject({ from: 'bees@bees.example', to: ['ada@post.example'] });
  expect(came[0]!.raw).toContain('Subject: New: Oak');
  // Those that were sent are not sent again after a start; one that came meanwhile is.
  await server.restart();
  await server.push('bees', change({ [F.name]: 'Elm', [F.tag]: 'tom@post.example' }, 'elm'));
  await vi.waitFor(() => expect(came).toHaveLength(2), { timeout: 5000 });
  // Refused for good.
  await server.push('bees', change({ [F.name]: 'Ash', [F.tag]: 'nobody@post.example' }, 'ash'));
  await vi.waitFor(
    async () => expect((await board()).past[0]!.returned).toMatch(/It was not taken: .*No such mailbox here/),
    { timeout: 5000 },
  );
  expect((await board()).past[0]!.given).toBe('Ash');
  // Taken, and returned later by another mail server.
  const id = /^Message-ID: <(.*)>/im.exec(came[0]!.raw)![1]!;
  await createTransport({ host: '127.0.0.1', port: server.server.mailPort!, ignoreTLS: true }).sendMail({
    envelope: { from: '', to: 'bees@bees.example' },
    raw: `From: mailer-daemon@post.example\r\nTo: bees@bees.example\r\nMessage-ID: <back@post.example>\r\nSubject: Undelivered\r\nContent-Type: multipart/report; report-type=delivery-status; boundary=b\r\n\r\n--b\r\nContent-Type: text/plain\r\n\r\nThe mailbox is full.\r\n--b\r\nContent-Type: message/delivery-status\r\n\r\nAction: failed\r\n\r\n--b\r\nContent-Type: text/rfc822-headers\r\n\r\nMessage-ID: <${id}>\r\n--b--\r\n`,
  });
  await vi.waitFor(
    async () =>
      expect((await board()).past.find((p) => p.given === 'Oak')!.returned).toBe('It came back: The mailbox is full.'),
    { timeout: 5000 },
  );
  expect(came).toHaveLength(2);
}); // prettier-ignore
