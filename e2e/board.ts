import { createTransport } from 'nodemailer';
import { makeDemo } from '../demo/heatherfield.ts';
import { openStudio, until } from './browser.ts';
import { main, newRoutine, typeStep } from './logic.ts';
import { phoneAt, release } from './phone.ts';
import type { Stage, Test } from './stage.ts';
import { choose, makeClub } from './whole-path.ts';

interface Doc {
  app: { tables: { id: string; name: string; fields: { id: string; name: string }[] }[] };
}
/** As a phone far away: what an app holds of a table, and a change of a record of it. */
export async function away(link: string, table: string) {
  const at = new URL(link);
  const name = at.pathname.split('/')[2]!;
  const api = `${at.origin}/api/apps/${name}`;
  const { app } = (await (await fetch(`${api}/app`)).json()) as Doc;
  const of = app.tables.find((t) => t.name === table)!;
  const field = (n: string): string => of.fields.find((f) => f.name === n)!.id;
  const rows = async (): Promise<{ id: string; cells: Record<string, unknown> }[]> => {
    const found: { id: string; table: string; cells: Record<string, unknown> }[] = [];
    for (let from: number | undefined = 0; from !== undefined; ) {
      const page = (await (await fetch(`${api}/changes?since=0&from=${from}`)).json()) as { states: typeof found; next?: number };
      found.push(...page.states);
      from = page.next;
    }
    return found.filter((s) => s.table === of.id);
  };
  let n = 0;
  const set = async (record: string, cells: Record<string, unknown>): Promise<void> => {
    const stamp = `${Date.now().toString(36).padStart(9, '0')}-${(n++).toString(36).padStart(4, '0')}-e2eaway`;
    const change = { id: `away${Date.now()}${n}`, stamp, table: of.id, record, do: 'set', cells };
    const answer = await fetch(`${api}/changes`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ changes: [change] }),
    });
    const { accepted } = (await answer.json()) as { accepted: string[] };
    if (accepted.length !== 1) throw new Error('The change was not taken.');
  };
  return { rows, set, field };
} // prettier-ignore

/** A maker has the server do something when a record changes, sees it on the board with its values, holds it up and lets it go on. */
async function byHand(stage: Stage): Promise<void> {
  const p = await makeClub(stage);
  await p.pressText('Logic', 'header');
  await p.pressText('Board', 'nav');
  await main(p, 'They begin when the app is released.');
  await newRoutine(p, 'Move it to the yard', 'this boat');
  await p.pressText('Start it also when', 'main');
  await p.pressText('a record is added, changed or removed', '[cmdk-root]');
  await main(p, 'Starts on the server, when a record of Boats is');
  await choose(p, 'What happens', 'changed');
  await typeStep(p, 'set Berth to Z9', 'Berth to Z9');
  // What needs a phone is not offered where there is none.
  await p.pressText('Add a step', 'main');
  await p.page.waitForSelector('[aria-label="What should happen"]');
  await p.page.type('[aria-label="What should happen"]', 'photo');
  await p.seesNot('Take a photo', '[cmdk-root]');
  await p.page.keyboard.press('Escape');
  const link = await release(p);
  const phone = await away(link, 'Boats');
  await until('The boats come to the server.', async () => (await phone.rows()).length > 0);
  const [boat] = await phone.rows();
  await phone.set(boat!.id, { [phone.field('Sail no')]: 'S-999' });
  const berth = async (): Promise<unknown> =>
    (await phone.rows()).find((r) => r.id === boat!.id)!.cells[phone.field('Berth')];
  await until('The server moves the boat.', async () => (await berth()) === 'Z9');
  await p.pressText('Logic', 'header');
  await p.pressText('Board', 'nav');
  await p.sees('Lately', 'main');
  await p.pressText('Move it to the yard', 'main section[aria-label=Lately]');
  await main(p, 'Values beside the steps are from the run of');
  await main(p, 'Z9');
  await p.pressText('Board', 'nav');
  await p.press('Pause all', 'button');
  await main(p, 'All routines of the server are held up.');
  await phone.set(boat!.id, { [phone.field('Berth')]: 'A1' });
  await main(p, 'waits for its turn');
  if ((await berth()) !== 'A1') throw new Error('It ran though it was held up.');
  await p.page.reload();
  await p.press('Go on', 'button');
  await until('The server moves the boat.', async () => (await berth()) === 'Z9');
}

/** Mails from outside become one report for each thread, are answered, and are seen in the mailbox; a machine is not answered. */
async function swarms(stage: Stage): Promise<void> {
  const p = await openStudio(stage);
  await p.press('Heatherfield Bees', 'button');
  await p.sees('days', '.k-app', 20_000);
  const link = await release(p);
  const mail = createTransport({ host: '127.0.0.1', port: stage.server.mailPort!, ignoreTLS: true });
  const to = 'heatherfield-bees@mellow-kite.example';
  const first = {
    from: 'Ada Holm <ada@post.example>',
    to,
    subject: 'Chimney at the old school',
    messageId: '<swarm-1@post.example>',
    text: 'A swarm has settled in the chimney of the old school, and the children pass below it. Could somebody come?',
  };
  await mail.sendMail(first);
  await mail.sendMail({ ...first, messageId: '<away@post.example>', subject: 'Away', headers: { 'Auto-Submitted': 'auto-replied' } }); // prettier-ignore
  await p.pressText('Logic', 'header');
  await p.pressText('Mailbox', 'nav');
  // Which thread is open goes by which is newer: the answer to the first may come after the second mail.
  await p.pressText('Away', 'main');
  await main(p, 'written by a machine, not answered');
  await p.pressText('Chimney at the old school', 'main');
  await p.sees('Thank you for telling us.', 'main', 20_000);
  await p.press('Answer as Ada Holm', 'button');
  await p.page.type('textarea[aria-label="Words of the mail"]', 'It is still there.');
  await p.press('Send to the app', 'button');
  await p.sees('It is still there.', 'main article');
  const reports = await away(link, 'Swarm reports');
  const messages = await away(link, 'Messages');
  const ours = async () => (await reports.rows()).filter((r) => r.cells[reports.field('Where')] === first.subject);
  await until('The answer is a message.', async () =>
    (await messages.rows()).some((m) => m.cells[messages.field('Words')] === 'It is still there.'),
  );
  const [report, ...more] = await ours();
  if (!report || more.length) throw new Error(`One thread made ${more.length + 1} reports.`);
  if (report.cells[reports.field('Priority')] !== 'high') throw new Error('It was not judged.');
  const thread = (await messages.rows()).filter((m) => m.cells[messages.field('Report')] === report.id);
  if (thread.length !== 2) throw new Error(`The thread has ${thread.length} messages.`);
  // Somebody reports another on a phone: the server waits until it is collected.
  const phone = await phoneAt(stage, link, 'Skip');
  await phone.press('Skip', 'button');
  await phone.pressText('Swarms', '.k-tabs');
  await phone.sees('Chimney at the old school', '.k-app');
  const { app } = makeDemo();
  if (!app.routines.some((r) => r.name === 'A report has come')) throw new Error('The demo has changed.');
  await reports.set('e2e-report', { [reports.field('What')]: 'In the hedge', [reports.field('Where')]: 'Mill Lane' });
  await p.pressText('Board', 'nav');
  await p.sees('until this swarm report › State is collected', 'main');
  await reports.set('e2e-report', { [reports.field('State')]: 'collected' });
  await p.page.waitForFunction(() => !document.querySelector('main section[aria-label=Holds]'), { timeout: 20_000 });
}

export const tests: Test[] = [
  { name: 'the server does something when a record changes: made, seen on the board with its values, held up and let go on', run: byHand },
  { name: 'mails from outside become one report for each thread; the server holds until a report is collected', run: swarms },
]; // prettier-ignore
