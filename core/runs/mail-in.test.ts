import '../../kinds/given/all.ts';
import { expect, it } from 'vitest';
import { compose } from '../formats/eml.ts';
import { hiveApp } from '../records/fixture.ts';
import { routine } from './fixture.ts';
import { MemoryRuns } from './lines.ts';
import { MailIn } from './mail-in.ts';
import type { Start } from './start.ts';

const app = hiveApp();
app.routines = [routine('Mail', 'mail came', {}, [], { given: null })];
const mail = (n: number, subject = `Mail ${n}`): Uint8Array =>
  new TextEncoder().encode(compose({ from: { name: 'Ada', address: `ada${n}@post.example` }, to: ['bees@x.example'], subject, body: 'x', date: new Date(0), id: `m${n}` })); // prettier-ignore

const cameBack: string[] = [];

/** Mails that come to an app, and what they begin. */
async function open(lines = new MemoryRuns(), fails = { now: false }) {
  const began: Start[] = [];
  const mails = new MailIn({
    app: () => app,
    lines,
    now: () => 0,
    keepFile: async () => undefined,
    begin: async (starts) => {
      if (fails.now) throw new Error('The disk is full.');
      began.push(...starts);
    },
    cameBack: async (id, words) => void cameBack.push(`${id} ${words}`),
    say: () => undefined,
  });
  await mails.open();
  return { mails, lines, began, fails };
}

it('a mail is taken once, however many came after it, and also after a start', async () => {
  const w = await open();
  for (let n = 0; n < 260; n++) await w.mails.takes(mail(n), 'bees@x.example', null);
  for (const n of [0, 100, 259]) await w.mails.takes(mail(n), 'bees@x.example', null);
  expect(w.began).toHaveLength(260);
  // The newest are at hand; what is kept of the others is on the disk.
  expect(w.mails.newest.came).toHaveLength(200);
  const again = await open(w.lines);
  await again.mails.takes(mail(3), 'bees@x.example', null);
  expect(again.began).toHaveLength(0);
  expect(again.mails.newest.came).toHaveLength(200);
});

it('what could not begin is not acknowledged, and begins when the mail comes again, or at the next start', async () => {
  const w = await open();
  w.fails.now = true;
  await expect(w.mails.takes(mail(1), 'bees@x.example', null)).rejects.toThrow('The disk is full.');
  w.fails.now = false;
  await w.mails.takes(mail(1), 'bees@x.example', null);
  await w.mails.takes(mail(1), 'bees@x.example', null);
  expect(w.began).toHaveLength(1);
  w.fails.now = true;
  await expect(w.mails.takes(mail(2), 'bees@x.example', null)).rejects.toThrow();
  expect((await open(w.lines)).began).toHaveLength(1);
});

it('nothing of a mail is cut: a subject of any length is whole, and words that are too long are refused', async () => {
  const w = await open();
  await w.mails.takes(mail(1, 'S'.repeat(2000)), 'bees@x.example', null);
  expect(w.mails.newest.came[0]!.subject).toHaveLength(2000);
  const long = new TextEncoder().encode(`From: a@b.example\r\nSubject: x\r\n\r\n${'word '.repeat(120_000)}`);
  await expect(w.mails.takes(long, 'bees@x.example', null)).rejects.toThrow(/more than 500,000 letters/);
});
