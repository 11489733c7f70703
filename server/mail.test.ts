import { createConnection } from 'node:net';
import { createTransport } from 'nodemailer';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { App, Routine } from '../core/app/schema.ts';
import { F, hiveApp, T } from '../core/records/fixture.ts';
import { make, routine } from '../core/runs/fixture.ts';
import type { HookCallKept } from '../core/runs/hook-calls.ts';
import { hookSecret } from '../core/runs/hooks.ts';
import { createHmac } from 'node:crypto';
import { MailboxMessage } from '../core/runs/mailbox.ts';
import { KEY, TestServer, type Call } from './fixture.ts';

const input = (id: string, name: string, type: string, from?: string, more = {}) =>
  ({ id, name, type, first: '', ...(from && { from }), ...more }) as NonNullable<Routine['inputs']>[number];
const [SENDER, SUBJECT, WORDS, THREAD, MESSAGE, FILES] = ['i_sender00', 'i_subject0', 'i_words000', 'i_thread00', 'i_message0', 'i_files000']; // prettier-ignore
const PAPERS = 'f_papers00';

/** Each thread is one hive, its messages are visits; every mail is answered in its thread. */
function app(): App {
  const made = hiveApp({
    visits: [
      { id: PAPERS, name: 'Papers', type: 'file' },
      { id: 'f_notes000', name: 'Notes', type: 'longtext' },
    ],
    hives: [],
  });
  made.tables.find((t) => t.id === T.hives)!.key = [F.tag];
  const mail = routine(
    'Mail',
    'mail came',
    {},
    [
      make.step('add', { table: T.hives, update: true, values: [{ field: F.tag, value: THREAD! }, { field: F.name, value: SUBJECT! }] }),
      make.step('add', { table: T.visits, values: [{ field: F.hiveTag, value: THREAD! }, { field: 'f_notes000', value: WORDS! }, { field: PAPERS, value: FILES! }] }),
      make.step('mail', { to: SENDER!, subject: `Re: {${SUBJECT}}`, body: 'Thank you.', answers: MESSAGE! }),
    ],
    {
      given: null,
      inputs: [
        input(SENDER!, 'Sender', 'mail', 'sender'),
        input(SUBJECT!, 'Subject', 'text', 'subject'),
        input(WORDS!, 'Words', 'longtext', 'words of the mail'),
        input(THREAD!, 'Thread', 'text', 'thread of the mail'),
        input(MESSAGE!, 'Message', 'text', 'id of the mail'),
        input(FILES!, 'Files', 'file', 'files of the mail', { several: true }),
      ],
    },
  ); // prettier-ignore
  const hook = routine('Hook', 'hook called', {}, [make.step('add', { table: T.visits, values: [{ field: F.fed, value: 'i_litres00' }] })], {
    id: 'q_hook000000',
    given: null,
    inputs: [input('i_litres00', 'Litres', 'number')],
  }); // prettier-ignore
  const signed = { ...structuredClone(hook), id: 'q_signed0000', name: 'Signed' };
  signed.starts![0] = { on: 'hook called', proof: 'signature', once: 'Idempotency-Key' };
  made.routines.push(mail, hook, signed);
  return made;
}

let server: TestServer;
beforeAll(async () => {
  server = await TestServer.start({ mail: 0 });
  await server.release('bees', KEY, app());
  await server.release('quiet', KEY, hiveApp());
});
afterAll(() => server.stop());

const transport = () =>
  createTransport({ host: '127.0.0.1', port: server.server.mailPort!, secure: false, ignoreTLS: true });
const TO = 'bees@mellow-kite.example';
const send = (more: object) => transport().sendMail({ from: 'Ada <ada@post.example>', to: TO, subject: 'A swarm', text: 'In the oak.', ...more }); // prettier-ignore
const rows = async (table: string): Promise<Record<string, unknown>[]> => {
  const all = new Map<string, Record<string, unknown>>();
  const { body } = await server.call('/api/apps/bees/changes?since=0');
  const { states = [] } = body as { states?: { id: string; table: string; cells: Record<string, unknown> }[] };
  for (const s of states) if (s.table === table) all.set(s.id, s.cells);
  return [...all.values()];
};
async function until(work: () => Promise<boolean>): Promise<void> {
  for (let i = 0; i < 200; i++) {
    if (await work()) return;
    await new Promise((done) => setTimeout(done, 25));
  }
  throw new Error('It never came.');
}
const outbox = async (): Promise<string[]> => {
  const { text } = await server.call('/api/apps/bees/outbox', { key: KEY });
  return (JSON.parse(text) as { eml?: string }[]).map((m) => m.eml ?? '');
};

describe('a mail from outside', () => {
  it('becomes one case for each thread; what is answered stays in it, also after a restart', async () => {
    await send({ messageId: '<first@post.example>' });
    await until(async () => (await outbox()).length === 1);
    const [answer] = await outbox();
    expect(answer).toContain('In-Reply-To: <first@post.example>');
    expect(answer).toContain('Auto-Submitted: auto-replied');
    await server.restart();
    const id = /^Message-ID: (\S+)/m.exec(answer!)![1];
    await send({ subject: 'Re: A swarm', text: 'Still there.\n\nOn Tue, 1 Dec 2026, bees wrote:\n> Thank you.', messageId: '<second@post.example>', inReplyTo: id, references: id }); // prettier-ignore
    await send({ from: 'bo@post.example', subject: 'Honey', text: 'Two jars.' });
    await until(async () => (await rows(T.visits)).length === 3);
    expect((await rows(T.hives)).map((c) => c[F.name]).sort()).toEqual(['Honey', 'Re: A swarm']);
    expect((await rows(T.visits)).map((c) => c['f_notes000']).sort()).toEqual([
      'In the oak.',
      'Still there.',
      'Two jars.',
    ]);
  });

  it('that comes twice is taken once, and one by a machine starts nothing', async () => {
    await until(async () => (await outbox()).length === 3);
    const before = (await rows(T.visits)).length;
    const raw =
      'From: ada@post.example\r\nTo: bees@mellow-kite.example\r\nMessage-ID: <twice@post.example>\r\nSubject: Twice\r\n\r\nOnce.\r\n';
    const envelope = { from: 'ada@post.example', to: TO };
    await Promise.all([0, 1, 2].map(() => transport().sendMail({ envelope, raw })));
    await transport().sendMail({ envelope, raw });
    await send({ subject: 'Away', headers: { 'Auto-Submitted': 'auto-replied' } });
    await until(async () => (await rows(T.visits)).length > before);
    await new Promise((done) => setTimeout(done, 300));
    expect((await rows(T.visits)).length).toBe(before + 1);
    expect((await outbox()).filter((m) => m.includes('twice@post.example'))).toHaveLength(1);
  });

  it('brings its files into file fields, 9 MB too, and another character set', async () => {
    const content = Buffer.alloc(9 * 2 ** 20, 'bees');
    await send({ subject: 'Plan', attachments: [{ filename: 'plan.pdf', contentType: 'application/pdf', content }] });
    const raw = Buffer.from('From: ada@post.example\r\nTo: bees@mellow-kite.example\r\nSubject: =?windows-1251?B?0O7p?=\r\nContent-Type: text/plain; charset=windows-1251\r\n\r\n\xcf\xf7\xe5\xeb\xfb\r\n', 'latin1'); // prettier-ignore
    await transport().sendMail({ envelope: { from: 'ada@post.example', to: TO }, raw });
    await until(async () => (await rows(T.visits)).some((c) => c['f_notes000'] === 'Пчелы'));
    await until(async () => (await rows(T.visits)).some((c) => c[PAPERS]));
    const [file] = (await rows(T.visits)).map((c) => c[PAPERS]).filter(Boolean) as string[];
    const hash = /sha-256;([\w-]+)/.exec(file!)![1];
    const answer = await fetch(`${server.url}/api/apps/bees/files/${hash}`);
    const got = Buffer.from(await answer.arrayBuffer());
    expect([answer.status, got.length, got.equals(content), file]).toEqual([200, content.length, true, file]);
  });

  it('is refused in words in the dialogue where it is not for an app, or too large', async () => {
    await expect(send({ to: 'ada@elsewhere.example' })).rejects.toThrow(/550 .*not passed on/);
    await expect(send({ to: 'nobody@mellow-kite.example' })).rejects.toThrow(/550/);
    await expect(send({ to: 'quiet@mellow-kite.example' })).rejects.toThrow(/550 .*takes no mails/);
    await expect(send({ from: 'nobody', envelope: { from: 'a@b.example', to: TO } })).rejects.toThrow(
      /554 .*no sender/,
    );
    const large = { filename: 'x', content: Buffer.alloc(31 * 2 ** 20) };
    await expect(send({ attachments: [large] })).rejects.toThrow(/552/);
  });

  it('that is cut off half-way is no mail', async () => {
    const before = (await rows(T.visits)).length;
    await new Promise<void>((done) => {
      const socket = createConnection(server.server.mailPort!, '127.0.0.1', () => {
        socket.write('EHLO x\r\nMAIL FROM:<a@b.example>\r\nRCPT TO:<bees@mellow-kite.example>\r\nDATA\r\n');
        setTimeout(() => {
          socket.write('From: a@b.example\r\nSubject: cut\r\n\r\nhalf');
          setTimeout(() => done(void socket.destroy()), 100);
        }, 300);
      });
    });
    await new Promise((done) => setTimeout(done, 300));
    expect((await rows(T.visits)).length).toBe(before);
  });

  it('is written and seen in the mailbox by the holder of the key alone', async () => {
    const json = { from: 'cy@post.example', name: 'Cy', subject: 'Try', words: 'Does it work?' };
    expect((await server.call('/api/apps/bees/mailbox', { json })).status).toBe(401);
    expect((await server.call('/api/apps/bees/mailbox', { json, key: KEY })).body).toEqual({ sent: true });
    await until(async () => (await rows(T.visits)).some((c) => c['f_notes000'] === 'Does it work?'));
    const { text } = await server.call('/api/apps/bees/mailbox', { key: KEY });
    const { mails } = MailboxMessage.parse(JSON.parse(text));
    const thread = mails.find((m) => m.subject === 'Try')!.thread;
    await until(async () => (await outbox()).some((m) => m.includes('cy@post.example')));
    const later = MailboxMessage.parse(JSON.parse((await server.call('/api/apps/bees/mailbox', { key: KEY })).text));
    expect(later.mails.filter((m) => m.thread === thread).map((m) => [m.came, m.words])).toEqual([
      [true, 'Does it work?'],
      [false, 'Thank you.'],
    ]);
  });
});

describe('a call of another system', () => {
  const path = (routine: string, secret: string): string => `/hooks/bees/${routine}${secret && `/${secret}`}`;
  const fed = async (): Promise<unknown[]> =>
    (await rows(T.visits)).map((c) => c[F.fed]).filter((n) => n !== undefined);
  const secretOf = async (routine: string): Promise<string> =>
    ((await server.call(`/api/apps/bees/hooks/${routine}`, { key: KEY })).body as { secret: string }).secret;

  it('starts a routine with what it sends, by the secret in its address, once for each mark', async () => {
    const secret = await secretOf('q_hook000000');
    const call = (json: unknown, mark?: string) => server.call(path('q_hook000000', secret), { json, ...(mark && { headers: { 'idempotency-key': mark } }) }); // prettier-ignore
    expect((await call({ litres: 4.5, other: 'x' }, 'one')).status).toBe(202);
    expect((await call({ litres: 4.5 }, 'one')).status).toBe(202);
    await until(async () => (await fed()).length === 1);
    expect((await call({ LITRES: 2 })).status).toBe(202);
    expect((await call({ litres: 2 })).status).toBe(202);
    await until(async () => (await fed()).length === 3);
    expect((await call({ litres: 'many' })).status).toBe(422);
    expect((await call([1])).status).toBe(422);
    expect((await server.call(path('q_hook000000', 'x'.repeat(40)), { json: {} })).status).toBe(404);
    expect((await server.call(path('q_other00000', secret), { json: {} })).status).toBe(404);
    expect(await fed()).toEqual([4.5, 2, 2]);
    // Whoever showed who they are is kept, taken or not, to be looked at and run again by the maker alone.
    const calls = async (): Promise<HookCallKept[]> =>
      ((await server.call('/api/apps/bees/hooks/q_hook000000', { key: KEY })).body as { calls: HookCallKept[] }).calls;
    expect((await calls()).map((c) => [c.body, c.refused !== ''])).toEqual([
      ['[1]', true],
      ['{"litres":"many"}', true],
      ['{"litres":2}', false],
      ['{"LITRES":2}', false],
      ['{"litres":4.5,"other":"x"}', false],
    ]);
    await server.restart();
    const [, , last] = await calls();
    const again = (more: Call) => server.call('/api/apps/bees/hooks/q_hook000000', { method: 'POST', json: JSON.parse(last!.body!), ...more }); // prettier-ignore
    expect((await again({})).status).toBe(401);
    expect((await again({ key: KEY })).status).toBe(202);
    await until(async () => (await fed()).length === 4);
    expect((await again({ key: KEY, json: { litres: 'much' } })).status).toBe(422);
    expect((await calls())[0]!.refused).toContain('“Litres”');
  });

  it('is taken with a signature of what it sends, and with no other', async () => {
    const secret = await secretOf('q_signed0000');
    expect(secret).not.toBe(hookSecret('', 'q_signed0000'));
    const body = JSON.stringify({ litres: 9 });
    const sign = (text: string): string => createHmac('sha256', secret).update(text).digest('hex');
    const call = (headers: Record<string, string>) =>
      fetch(server.url + path('q_signed0000', ''), { method: 'POST', body, headers: { 'content-type': 'application/json', ...headers } }); // prettier-ignore
    expect((await call({})).status).toBe(401);
    expect((await call({ 'x-signature': sign(`${body} `) })).status).toBe(401);
    expect((await call({ 'x-signature-256': `sha256=${sign(body)}` })).status).toBe(202);
    await until(async () => (await fed()).includes(9));
  });
});
