import { makeDemo } from '../demo/heatherfield.ts';
import { readMail } from '../core/mail/read-mail.ts';
import type { Person } from './browser.ts';
import { cableTo } from './cable.ts';
import { KEY, releaseApp } from './first-screen.ts';
import { phoneAt } from './phone.ts';
import { atHost } from './stores.ts';
import type { Stage } from './stage.ts';

/** So many phones move goods, and so many of them without a network. */
const PHONES = 20;
const OFFLINE = 8;

/** Puts in or takes out of the line that a phone shows. */
async function move(p: Person, way: 'Put in' | 'Take out', amount: number): Promise<void> {
  await p.press(way, 'button');
  await p.page.waitForSelector('.k-ask input');
  await p.page.type('.k-ask input', String(amount));
  await p.press('OK', 'button');
  await p.sees('There are now', '.k-app');
}

/** The words of the mails of an app about what runs low, as they lie in its outbox. */
async function mails(url: string, name: string): Promise<string[]> {
  const answer = await fetch(`${url}/api/apps/${name}/outbox`, { headers: { 'x-owner-key': KEY } });
  const all = (await answer.json()) as { eml?: string }[];
  const about = all.filter((m) => m.eml?.includes('What runs low in the honey room'));
  return Promise.all(about.map(async (m) => (await readMail(new TextEncoder().encode(m.eml))).whole));
}

/** How often the server has run a routine of an app. */
async function ran(url: string, name: string, routine: string): Promise<number> {
  const answer = await fetch(`${url}/api/apps/${name}/runs`, { headers: { 'x-owner-key': KEY } });
  if (!answer.ok) throw new Error(await answer.text());
  const { routines } = (await answer.json()) as { routines: Record<string, { runs: number; failed: number }> };
  const { runs = 0, failed = 0 } = routines[routine] ?? {};
  if (failed) throw new Error(`The routine failed in ${name}.`);
  return runs;
}

/**
 * Twenty phones move goods of the demo by what is written on them, some without a network: totals are exact. Then, at its
 * time, a mail says what is low, or none goes out where nothing is.
 */
export async function movesOfTwenty(url: string, stage: Stage, wrong: string[]): Promise<Record<string, number>> {
  const { app, records } = makeDemo();
  delete app.starts;
  app.zone = 'UTC';
  const table = (name: string) => app.tables.find((t) => t.name === name)!;
  const [stock, goods] = [table('Stock'), table('Goods')];
  const field = (t: typeof stock, name: string): string => t.fields.find((f) => f.name === name)!.id;
  const quantity = field(stock, 'Quantity');
  const detail = app.screens.find((s) => s.given === stock.id)!;
  await releaseApp(url, 'stores', { app, records });
  const lines = records.filter((r) => r.table === stock.id).slice(0, 4);
  const cable = await cableTo(url);
  const phones: { p: Person; line: (typeof lines)[number]; by: number }[] = [];
  for (let i = 0; i < PHONES; i++) {
    const line = lines[i % lines.length]!;
    const p = await phoneAt(stage, `${i < OFFLINE ? cable.url : url}/a/stores/#/${detail.id}/${line.id}`, 'Put in');
    // Half of them take out; quarters and tenths come together exactly.
    phones.push({ p, line, by: (i % 8 < 4 ? 1 : -1) * (i % 2 ? 0.25 : 0.1) });
  }
  // What a phone needs for a tap has come before the network goes.
  await phones[0]!.p.page.waitForNetworkIdle({ idleTime: 1000 }).catch(() => undefined);
  cable.cut();
  for (const { p, by } of phones) await move(p, by > 0 ? 'Put in' : 'Take out', Math.abs(by));
  cable.mend();
  const total = (line: (typeof lines)[number]): number => {
    const moved = phones.filter((x) => x.line === line).reduce((n, x) => n + Math.round(x.by * 100), 0);
    return (Math.round(Number(line.cells[quantity]) * 100) + moved) / 100;
  };
  for (const { p, line } of phones) await p.sees(`Quantity ${total(line)}`, '.k-app');
  const held = await atHost(url, stock.id);
  for (const line of lines)
    if (held.get(line.id)![quantity] !== total(line)) wrong.push(`the host has ${JSON.stringify(held.get(line.id))}`);
  for (const { p } of phones) await p.page.close();
  await cable.close();

  // The same app where nothing is low; in both it is looked at the next full minute that is far enough away.
  const plenty = records.map((r) => (r.table === stock.id ? { ...r, cells: { ...r.cells, [quantity]: 100_000 } } : r));
  const routine = app.routines.find((r) => r.name === 'What runs low, at four')!;
  await releaseApp(url, 'plenty', { app: { ...app, id: 'a_plenty0000' }, records: plenty });
  const at = new Date(Math.ceil((Date.now() + 10_000) / 60_000) * 60_000);
  Object.assign(routine.starts![0]!, { time: at.toISOString().slice(11, 16) });
  await releaseApp(url, 'stores', { app, records: [] });
  await releaseApp(url, 'plenty', { app: { ...app, id: 'a_plenty0000' }, records: [] });
  await new Promise((r) => setTimeout(r, at.getTime() - Date.now() + 1000));
  for (const name of ['stores', 'plenty'])
    for (let i = 0; (await ran(url, name, routine.id)) === 0; i++) {
      if (i > 20) throw new Error(`The server has not looked what is low in ${name}.`);
      await new Promise((r) => setTimeout(r, 1000));
    }
  const [mail, ...more] = await mails(url, 'stores');
  if (!mail || more.length || (await mails(url, 'plenty')).length)
    wrong.push('there is not one mail for what is low, and none where nothing is');
  // It names every line with less than a quarter of its mark, and no other.
  const marks = new Map(
    records
      .filter((r) => r.table === goods.id)
      .map((r) => [r.cells[field(goods, 'Code')], Number(r.cells[field(goods, 'Low mark')])]),
  );
  const low = [...(await atHost(url, stock.id)).values()].filter(
    (c) => Number(c[quantity]) < marks.get(c[field(stock, 'Goods code')] as string)! / 4,
  );
  const told = mail?.match(/ left in /g)?.length;
  if (low.length === 0 || told !== low.length) wrong.push(`the mail tells of ${told} of ${low.length} lines`);

  return { phones: PHONES, 'of them without a network': OFFLINE, 'lines in the mail': told ?? 0 };
}
