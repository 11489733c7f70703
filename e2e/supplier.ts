import { openStudio, until, type Person } from './browser.ts';
import type { Stage } from './stage.ts';

/** What tests of services begin with, and what they look for: the stand-in supplier, and lists on phones. */

/** The rows of lists on a phone. */
export const ROW = '.k-list .k-row';

/** What the rows of the first list on a phone say. */
export const rowsOf = (p: Person): Promise<string[]> =>
  p.page.$$eval(ROW, (all) => all.map((e) => (e as HTMLElement).innerText.replace(/\s+/g, ' ').trim()));

export async function waitForRows(p: Person, test: (rows: string[]) => boolean, what: string): Promise<string[]> {
  let rows: string[] = [];
  await until(what, async () => test((rows = await rowsOf(p)))).catch(() => {
    throw new Error(`${what}: ${rows.slice(0, 5).join(' | ')}`);
  });
  return rows;
}

/** Fills in the inputs of what is seen on a phone, by their labels. */
export async function fillIn(p: Person, values: Record<string, string>): Promise<void> {
  for (const [label, value] of Object.entries(values)) {
    const box = await p.page.waitForSelector(`.k-app ::-p-aria([name="${label}"][role="textbox"])`).catch(() => null);
    const found = box ?? (await p.find(label));
    await found.click({ count: 3 });
    await p.page.keyboard.type(value);
  }
}

/** What the console said of a network that the test took away, or of an answer that it wanted, is no error. */
export function forgive(stage: Stage, expected: RegExp): void {
  stage.errors.splice(0, stage.errors.length, ...stage.errors.filter((e) => !expected.test(e)));
}

export async function blankApp(stage: Stage): Promise<Person> {
  const p = await openStudio(stage);
  await p.press('Begin blank', 'button');
  await p.sees('Tables', 'body', 15_000);
  return p;
}

/** Where the services that stand in for other people’s are. */
export const standInsOf = async (p: Person): Promise<string> =>
  (await p.page.evaluate(() => fetch('/api/server').then((r) => r.json() as Promise<{ standIns: string }>))).standIns;

/** Takes these requests over from a description that is shown; their list becomes a table. */
async function take(p: Person, requests: readonly string[], table: string): Promise<void> {
  for (const name of requests) await p.pressText(name, 'main [aria-label="What it can be asked"]');
  await p.press(`Add ${requests.length} requests`, 'button');
  await p.sees(`Used for records of ${table}`, 'main');
}

/** A blank app in which the stand-in supplier is being described. */
export async function describing(stage: Stage): Promise<Person> {
  const p = await blankApp(stage);
  await p.pressText('Services', 'header');
  await p.press('Use the stand-in supplier', 'button');
  await p.press('Add it', 'button');
  await p.sees('Heatherfield supplier', 'main');
  return p;
}

/** A blank app that knows some requests of the stand-in supplier, from its description. */
export async function withSupplier(stage: Stage, requests: readonly string[], table: string): Promise<Person> {
  const p = await describing(stage);
  await take(p, requests, table);
  return p;
}

export const withCatalogue = (stage: Stage): Promise<Person> =>
  withSupplier(stage, ['List goods', 'Get one good'], 'Goods');

/** A blank app that knows the orders of the stand-in supplier as an OData service, with where that is. */
export async function withOData(stage: Stage): Promise<{ p: Person; odata: string }> {
  const p = await blankApp(stage);
  const odata = `${await standInsOf(p)}/odata`;
  await p.pressText('Services', 'header');
  await p.sees('Ask other people', 'main');
  await (await p.page.waitForSelector('main textarea'))!.type(`${odata}/$metadata`);
  await p.press('Add it', 'button');
  await p.sees('List orders', 'main');
  const requests = [
    'List orders',
    'Get one of orders',
    'Add to orders',
    'Change one of orders',
    'Remove one of orders',
  ];
  await take(p, requests, 'Orders');
  return { p, odata };
}
