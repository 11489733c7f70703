import { readdir, readFile } from 'node:fs/promises';
import { join } from 'node:path';
import { createTransport } from 'nodemailer';
import PostalMime, { type Email } from 'postal-mime';
import { openStudio, until } from './browser.ts';
import { away } from './board.ts';
import { main } from './logic.ts';
import { phoneAt, release } from './phone.ts';
import type { Stage, Test } from './stage.ts';
import { makeClub } from './whole-path.ts';

const APP = 'heatherfield-bees';

/** Mails as they lie in the outbox of the app, the oldest first. */
async function sentBy(stage: Stage, app = APP): Promise<Email[]> {
  const folder = join(stage.folder, 'data', app, 'outbox');
  const names = (await readdir(folder).catch(() => [])).filter((n) => n.endsWith('.eml'));
  return Promise.all(names.map(async (n) => PostalMime.parse(await readFile(join(folder, n)))));
}

const isAnswer = (mail: Email): boolean => mail.text?.startsWith('Dear Ada, I come at six. Hello,') ?? false;

/**
 * A help desk fed by mail: a mail becomes a case with what is late and how urgent it is; it is answered from a draft that
 * somebody changes on their phone, in the thread; the answer to that opens it again, and it is closed.
 */
async function helpDesk(stage: Stage): Promise<void> {
  const p = await openStudio(stage);
  await p.press('Heatherfield Bees', 'button');
  await p.sees('days', '.k-app', 20_000);
  const link = await release(p);
  const mail = createTransport({ host: '127.0.0.1', port: stage.server.mailPort!, ignoreTLS: true });
  const to = `${APP}@mellow-kite.example`;
  const where = 'Chimney at the old school';
  const photo = Buffer.alloc(9 * 2 ** 20, 'a swarm ');
  await mail.sendMail({
    from: 'Ada Holm <ada@post.example>',
    to,
    subject: where,
    messageId: '<swarm-1@post.example>',
    text: 'A swarm has settled in the chimney of the old school, and the children pass below it. Could somebody come?',
    attachments: [{ filename: 'chimney.jpg', contentType: 'image/jpeg', content: photo }],
  });
  const reports = await away(link, 'Swarm reports');
  const messages = await away(link, 'Messages');
  const report = async () => {
    const found = (await reports.rows()).filter((r) => r.cells[reports.field('Where')] === where);
    if (found.length > 1) throw new Error(`One thread made ${found.length} reports.`);
    return found[0]?.cells;
  };
  const stateIs = (state: string): Promise<void> =>
    until(`The report is ${state}.`, async () => (await report())?.[reports.field('State')] === state);
  await stateIs('waiting');
  await until('It is judged.', async () => (await report())?.[reports.field('Priority')] === 'high');
  if (!(await report())?.[reports.field('Due by')]) throw new Error('It has no time by which it is due.');
  const [first] = (await messages.rows()).filter((m) => m.cells[messages.field('Mail')] === 'swarm-1@post.example');
  const hash = /sha-256;([\w-]+)/.exec(String(first?.cells[messages.field('File')]))?.[1];
  const got = Buffer.from(await (await fetch(`${new URL(link).origin}/api/apps/${APP}/files/${hash}`)).arrayBuffer());
  if (!got.equals(photo)) throw new Error('The attachment is not what was sent.');

  // Somebody answers on their phone, from a draft that they change.
  const phone = await phoneAt(stage, link, 'Skip');
  await phone.press('Skip', 'button');
  await phone.pressText('Swarms', '.k-tabs');
  await phone.pressText('A swarm has settled in the chimney', '.k-app main');
  await phone.press('Answer', 'button');
  await phone.sees('What to write to ada@post.example', '.k-app');
  const box = (await phone.page.waitForSelector('[data-ask] textarea'))!;
  const draft = await box.evaluate((e) => (e as HTMLTextAreaElement).value);
  if (!draft.includes('Thank you for your report') || !draft.includes('Heatherfield Bees'))
    throw new Error(`The draft is “${draft}”.`);
  await box.evaluate((e) => (e as HTMLTextAreaElement).setSelectionRange(0, 0));
  await box.type('Dear Ada, I come at six. ');
  await phone.press('OK', 'button');
  await phone.sees('The answer is on its way.', '.k-app');
  await stateIs('answered');
  await until('The answer leaves in the thread.', async () =>
    (await sentBy(stage)).some((m) => isAnswer(m) && m.inReplyTo === '<swarm-1@post.example>'),
  );

  // Ada writes back, as a mail program of another language does; a machine of hers is not answered.
  const id = (await sentBy(stage)).find(isAnswer)!.messageId;
  const raw = Buffer.from(
    `From: ada@post.example\r\nTo: ${to}\r\nSubject: Re: ${where}\r\nIn-Reply-To: ${id}\r\nReferences: ${id}\r\nMessage-ID: <swarm-2@post.example>\r\nContent-Type: text/plain; charset=windows-1251\r\n\r\n\xcf\xf7\xe5\xeb\xfb\r\n`,
    'latin1',
  );
  await mail.sendMail({ envelope: { from: 'ada@post.example', to }, raw });
  await mail.sendMail({ from: 'ada@post.example', to, subject: `Re: ${where}`, inReplyTo: id, text: 'I am away.', headers: { 'Auto-Submitted': 'auto-replied' } }); // prettier-ignore
  await stateIs('waiting');
  await until('The words are read.', async () =>
    (await messages.rows()).some((m) => m.cells[messages.field('Words')] === 'Пчелы'),
  );
  await phone.sees('Пчелы', '.k-app main');
  await p.pressText('Logic', 'header');
  await p.pressText('Mailbox', 'nav');
  await p.pressText(where, 'main');
  await main(p, 'I come at six');
  await main(p, 'written by a machine, not answered');
  // Closed by whoever collected it.
  await phone.press('It is collected', 'button');
  await phone.sees('Collected. Thank you!', '.k-app');
  await stateIs('collected');
  const sent = await sentBy(stage);
  if (sent.length !== 2) throw new Error(`${sent.length} mails left; the machine was answered.`);
}

/** The same made by a press in an app of somebody else's data: a mail becomes a case, is answered in its thread, and closed. */
async function begun(stage: Stage): Promise<void> {
  const p = await makeClub(stage);
  await p.pressText('Logic', 'header');
  await p.pressText('Mailbox', 'nav');
  await p.press('Make cases of mails', 'button');
  await main(p, 'Thank you for your mail. We answer it by');
  const link = await release(p);
  const app = new URL(link).pathname.split('/')[2]!;
  const mail = createTransport({ host: '127.0.0.1', port: stage.server.mailPort!, ignoreTLS: true });
  await mail.sendMail({
    from: 'Bo Rask <bo@post.example>',
    to: `${app}@mellow-kite.example`,
    subject: 'A boat adrift',
    messageId: '<adrift@post.example>',
    text: 'A boat is adrift off the pier. It is urgent.',
  });
  const phone = await phoneAt(stage, link, 'Far Shore');
  await phone.pressText('Cases', '.k-tabs');
  await phone.pressText('A boat adrift', '.k-app main');
  await phone.press('Answer by mail', 'button');
  await phone.sees('What to write to bo@post.example', '.k-app');
  await phone.press('OK', 'button');
  await phone.sees('The answer is on its way.', '.k-app');
  await phone.press('Close the case', 'button');
  await phone.sees('Closed.', '.k-app');
  const cases = await away(link, 'Cases');
  await until('It is closed.', async () => (await cases.rows())[0]?.cells[cases.field('State')] === 'closed');
  if ((await cases.rows())[0]!.cells[cases.field('Priority')] !== 'high') throw new Error('It was not judged.');
  const sent = await sentBy(stage, app);
  if (sent.length !== 2 || sent.some((m) => m.inReplyTo !== '<adrift@post.example>'))
    throw new Error('The mails did not leave in the thread.');
}

export const tests: Test[] = [
  { name: 'a help desk fed by mail: a case for each thread, a draft that is changed and sent in it, answered, closed', run: helpDesk },
  { name: 'a maker begins a help desk by a press: a mail becomes a case, is answered in its thread, and closed', run: begun },
]; // prettier-ignore
