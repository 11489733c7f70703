import PostalMime from 'postal-mime';
import { mkdtemp, readdir, readFile, stat } from 'node:fs/promises';
import { unzipSync } from 'fflate';
import type { Page } from 'puppeteer-core';
import { join } from 'node:path';
import { makeDemo } from '../demo/heatherfield.ts';
import { inOutline } from './built.ts';
import { openStudio, Person, until, watchConsole } from './browser.ts';
import { PHONE, readyForOffline, release } from './phone.ts';
import type { Stage, Test } from './stage.ts';
import { forgive, waitForRows } from './supplier.ts';
import { choose } from './whole-path.ts';

/** Two keepers of the demo: one with hives of her own who lives far away, and one who lives nearby. */
export function keepers() {
  const { app, records } = makeDemo();
  const tableOf = (name: string) => app.tables.find((t) => t.name === name)!;
  const [people, hives] = [tableOf('Keepers'), tableOf('Hives')];
  const fieldOf = (t: typeof people, name: string): string => t.fields.find((f) => f.name === name)!.id;
  const of = (table: string) => records.filter((r) => r.table === table);
  const all = of(people.id).map((r) => ({
    name: String(r.cells[fieldOf(people, 'Name')]),
    mail: String(r.cells[fieldOf(people, 'Mail')]),
    near: r.cells[fieldOf(people, 'Lives nearby')] === true,
    hives: of(hives.id)
      .filter((h) => h.cells[fieldOf(hives, 'Keeper')] === r.id)
      .map((h) => String(h.cells[fieldOf(hives, 'Name')])),
  }));
  return {
    far: all.find((k) => !k.near && k.hives.length > 1 && k.hives.length < 6)!,
    near: all.find((k) => k.near && k.hives.length > 0)!,
    count: of(hives.id).length,
  };
}

/** A phone of its own that has been sent an invitation, and has come in by it. */
async function comesIn(stage: Stage, link: string): Promise<Person> {
  const page = await (await stage.browser.createBrowserContext()).newPage();
  await page.setViewport(PHONE);
  watchConsole(page, stage.errors, /ERR_\w+|Failed to fetch|status of 40[134]/);
  await page.goto(link);
  const person = new Person(page);
  await person.sees('You are invited.', 'body', 15_000);
  await person.press('Come in', 'button');
  await person.sees('Skip', '.k-app', 20_000);
  await person.pressText('Skip', '.k-app');
  await person.sees('Signed in as', '.k-app', 15_000);
  return person;
}

/** Everything that this browser keeps for the app, as text. */
const keptOn = (p: Person): Promise<string> =>
  p.page.evaluate(`(async () => {
    const asked = (request) => new Promise((done) => request.addEventListener('success', () => done(request.result)));
    const texts = [];
    for (const { name } of await indexedDB.databases()) {
      if (!name.startsWith('app-')) continue;
      const db = await asked(indexedDB.open(name));
      for (const store of db.objectStoreNames) texts.push(await asked(db.transaction(store).objectStore(store).getAll()));
      db.close();
    }
    return JSON.stringify(texts);
  })()`) as Promise<string>;

/** Opens the sentences behind a cell of the matrix. */
async function cellOf(p: Person, table: string, column: number): Promise<void> {
  await p.sees(table, 'main table');
  await p.page.$$eval(
    'main table tbody tr',
    (rows, t, c) => {
      const row = rows.find((r) => r.querySelector('th')?.textContent === t)!;
      Array.from(row.querySelectorAll('button'))[c]!.click();
    },
    table,
    column,
  );
}

const ownOnly: Test = {
  name: 'each sees only their own, until a switch gives a role while the phone is open; what is refused, signing out, a member who is removed',
  async run(stage) {
    const { far, near, count } = keepers();
    const p = await openStudio(stage);
    const { page } = p;
    await p.press('Heatherfield Bees', 'button');
    await p.sees('days', '.k-app', 20_000);
    await p.pressText('People', 'header');
    await p.pressText('Each only their own', 'main');
    await p.press('Begin with this', 'button');
    await p.sees('see, add, change, remove some', 'main');

    // A role is conditions over the table of people. Whoever could give it to themselves is named.
    await p.press('Add a role', 'button');
    const name = await p.find('Name of the role', 'textbox');
    await name.click({ count: 3 });
    await page.keyboard.type('Neighbours');
    await page.keyboard.press('Enter');
    await p.press('add a condition: add a condition', 'button');
    await choose(p, 'Condition 1', 'Lives nearby');
    await p.sees('Neighbours are Keepers where Lives nearby', 'main section');
    await p.pressText('Rules', 'nav');
    await cellOf(p, 'Keepers', 0);
    await p.sees('could give themselves more than they have, by Lives nearby', 'main');
    await p.press('Fields: Mail', 'button').catch(() => page.click('main [aria-label^="Fields"]'));
    await page.waitForSelector('fieldset[aria-label=Fields]');
    await p.press('Lives nearby', 'checkbox');
    await page.keyboard.press('Escape');
    await until(
      'The warning stays',
      async () => !(await page.$eval('main', (e) => e.textContent)).includes('could give themselves'),
    );
    await cellOf(p, 'Hives', 1);
    await p.sees('Neighbours and Hives', 'main');
    await p.press('Add a rule', 'button');
    await p.sees('see all', 'main table');

    // A screen is open to neighbours only.
    await p.pressText('Screens', 'header');
    await inOutline(p, 'Stock');
    await p.press('Open to: whoever may open the app', 'button');
    await p.press('Neighbours', 'checkbox');
    await page.keyboard.press('Escape');
    await p.sees('It is open to Neighbours', 'main');
    await p.pressText('People', 'header');

    // The records as the server would send them, each with its rule.
    await p.pressText('What can', 'nav');
    await choose(p, 'Whom you look at', far.name);
    await p.sees(`${far.name} has no role`, 'main');
    await p.sees(`${far.hives.length} of ${count}`, 'main');
    await p.press('Beside somebody else', 'button');
    await choose(p, 'Whom you compare with', near.name);
    await p.sees(`${near.name} has the role Neighbours`, 'main');
    await p.sees(`${far.name} ${far.hives.length} of ${count}; could add some · ${near.name} all ${count}`, 'main');
    await p.press('One alone', 'button');

    const link = await release(p);
    await p.pressText('People', 'header');
    await p.pressText('Who may open it', 'nav');
    await (await page.waitForSelector('textarea[aria-label^="Mail addresses"]'))!.type(`${far.mail}, ${near.mail}`);
    // The records are on their way to the host for a moment.
    await until('Nobody can be invited', async () => {
      await p.press('Make links', 'button').catch(() => undefined);
      return (await page.waitForSelector('[data-testid=invitation]', { timeout: 2000 }).catch(() => null)) !== null;
    });
    const links = await page.$$eval('[data-testid=invitation]', (all) => all.map((e) => e.textContent!));

    // Whoever has only the link of the app gets no further than its name.
    const stranger = await (await stage.browser.createBrowserContext()).newPage();
    await stranger.goto(link);
    await stranger.waitForSelector('.r-sign-in');
    const answers = await stranger.evaluate(
      (at) => Promise.all(['/app', '/changes?since=0'].map(async (path) => (await fetch(at + path)).status)),
      link.replace(/\/a\/([a-z0-9-]+).*$/, '/api/apps/$1'),
    );
    if (answers.join() !== '401,401') throw new Error(`A stranger is answered ${answers.join()}`);

    const [ann, bo] = [await comesIn(stage, links[0]!), await comesIn(stage, links[1]!)];
    // The list leaves out those that are retired.
    const own = await waitForRows(ann, (rows) => rows.length > 0, 'She does not see her own hives');
    if (!own.every((r) => far.hives.some((h) => r.startsWith(h))))
      throw new Error(`She sees others: ${own.join(' | ')}`);
    await waitForRows(bo, (rows) => rows.length > far.hives.length + 3, 'A neighbour does not see the hives');
    const kept = await keptOn(ann);
    if (!kept.includes(far.hives[0]!)) throw new Error('Her own hives are not kept on her phone.');
    const strange = near.hives.find((h) => !far.hives.includes(h) && kept.includes(`"${h}"`));
    if (strange) throw new Error(`A hive of somebody else is kept on her phone: ${strange}`);

    const hasStores = (phone: Person): Promise<boolean> =>
      phone.page.$eval('.k-tabs', (e) => e.textContent!.includes('Stores'));
    if (await hasStores(ann)) throw new Error('A screen for neighbours has a tab on her phone.');
    await until('A neighbour has no tab for it', () => hasStores(bo));

    // A switch in a list, and she is a neighbour, while her phone is open.
    await p.pressText('Data', 'header');
    await p.pressText('Keepers', 'nav');
    await p.sees(far.name, '[role=grid]');
    const line = await page.$$eval(
      '[role=gridcell][aria-colindex="1"]',
      (all, who) => all.find((e) => e.textContent === who)!.id.split('-')[1]!,
      far.name,
    );
    const nearby = `#cell-${line}-3`;
    await page.click(nearby);
    await page.keyboard.type('yes');
    await page.keyboard.press('Enter');
    await p.sees('yes', nearby);
    await waitForRows(ann, (rows) => rows.length > far.hives.length + 3, 'The role does not reach her phone');
    await until('The tab for neighbours does not come to her phone', () => hasStores(ann)).catch(async (e: Error) => {
      throw new Error(`${e.message}: ${await ann.page.$eval('.k-tabs', (x) => x.textContent!)}`);
    });

    // Taken out of the table, her phone has nothing any more.
    await page.hover(nearby);
    await page.click('[role=grid] [aria-label="Remove this record"]');
    await waitForRows(ann, (rows) => rows.length === 0, 'A removed member still sees hives');
    await until('Her phone still keeps hives', async () => !(await keptOn(ann)).includes(far.hives[0]!));
    await ann.page.reload();
    await ann.sees('You cannot use this app any more', 'body', 15_000).catch(() => ann.sees('Sign in', 'body'));

    // Signing out clears the phone of the other.
    await bo.press('Sign out', 'button');
    await bo.sees('What is kept for you leaves this device', 'body');
    await bo.page.click('.k-who-list .k-button');
    await bo.page.waitForSelector('.r-sign-in');
    if ((await keptOn(bo)).includes(near.hives[0]!)) throw new Error('After signing out hives are still kept.');
    forgive(stage, /status of 422/);
  },
};

/** Sets back when the host was last heard from, as if this phone had lain in a drawer. */
const forDays = (p: Person, days: number): Promise<void> =>
  p.page.evaluate(`(async () => {
    const asked = (request) => new Promise((done) => request.addEventListener('success', () => done(request.result)));
    for (const { name } of await indexedDB.databases()) {
      if (!name.startsWith('app-')) continue;
      const db = await asked(indexedDB.open(name));
      const meta = db.transaction('meta', 'readwrite').objectStore('meta');
      await asked(meta.put({ key: 'contact', value: Date.now() - ${days} * 86400000 }));
      db.close();
    }
  })()`) as Promise<void>;

/** The links in the mails of an app that say somebody is invited, the latest first. */
async function mailedLinks(folder: string, app: string): Promise<string[]> {
  const names = (await readdir(join(folder, app), { recursive: true })).filter((n) => n.endsWith('.eml'));
  const mails = await Promise.all(
    names.map(async (n) => {
      const path = join(folder, app, n);
      return { at: (await stat(path)).mtimeMs, text: (await PostalMime.parse(await readFile(path))).text ?? '' };
    }),
  );
  return mails
    .sort((x, y) => y.at - x.at)
    .flatMap(({ text }) => (text.includes('Welcome to the club') ? (/http:\S+#invited=\S+/.exec(text) ?? []) : []));
}

/** The texts in a ZIP file that a press saves, by their names. */
async function savedZip(page: Page, folder: string, button: string): Promise<Record<string, string>> {
  const to = await mkdtemp(join(folder, 'saved-'));
  const session = await page.createCDPSession();
  await session.send('Page.setDownloadBehavior', { behavior: 'allow', downloadPath: to });
  await (await page.waitForSelector(button))!.click();
  let name: string | undefined;
  await until('No file was saved', async () => {
    [name] = (await readdir(to)).filter((n) => n.endsWith('.zip'));
    return name !== undefined;
  });
  const files = unzipSync(new Uint8Array(await readFile(join(to, name!))));
  return Object.fromEntries(Object.entries(files).map(([n, bytes]) => [n, new TextDecoder().decode(bytes)]));
}

const fromOutside: Test = {
  name: 'somebody with an address of a domain comes by an invitation in a mail; a phone without contact clears after the time that the maker says',
  async run(stage) {
    const p = await openStudio(stage);
    const { page } = p;
    await p.pressText('Heatherfield');
    await p.sees('days', '.k-app', 20_000);
    await p.pressText('People', 'header');
    await p.pressText('Read only', 'main');
    await p.press('Begin with this', 'button');
    await p.sees('Rules add up', 'main');
    await p.pressText('Who may open it', 'nav');
    await p.fill('Domains of addresses', 'not a domain');
    await p.page.keyboard.press('Enter');
    await p.sees('is no domain', 'main');
    await p.fill('Domains of addresses', '@Club.example');
    await p.page.keyboard.press('Enter');
    await choose(p, 'When phones without contact are cleared', 'after 7 days');
    await p.sees('What waits on it to be sent stays', 'main');
    const link = await release(p);
    await p.pressText('People', 'header');
    await p.pressText('Who may open it', 'nav');
    await p.fill('Mail addresses of whom you invite', 'new@club.example');
    await p.fill('Your words in the mail', 'Welcome to the club, Nell!');
    // The records are on their way to the host for a moment.
    await until('Nobody can be invited', async () => {
      await p.press('Send by mail', 'button').catch(() => undefined);
      return p.sees('One invitation is in the outbox', 'main', 2000).then(
        () => true,
        () => false,
      );
    });
    const [mailed] = await mailedLinks(join(stage.folder, 'data'), /\/a\/([a-z0-9-]+)/.exec(link)![1]!);
    const nell = await comesIn(stage, mailed!);
    await waitForRows(nell, (rows) => rows.length > 3, 'She does not see the hives');
    await p.sees('new@club.example', 'section[aria-label="Who has come"]');

    // Somewhere else she is signed in as well, until she ends that from here.
    await p.fill('Mail addresses of whom you invite', 'new@club.example');
    await p.press('Make links', 'button');
    await page.waitForSelector('[data-testid=invitation]');
    const other = await comesIn(stage, await page.$eval('[data-testid=invitation]', (e) => e.textContent!));
    await nell.press('Sign out', 'button');
    await nell.press('Sign out there', 'button');
    await nell.sees('Nowhere but here', 'body');
    await other.page.reload();
    await other.page.waitForSelector('.r-sign-in', { timeout: 20_000 });
    await other.page.browserContext().close();

    // What is kept about her, saved on her phone and by the maker.
    await nell.sees('Save what is kept about you', 'body');
    const mine = await savedZip(nell.page, stage.folder, '.k-who-list a[download]');
    if (!mine['kept.json']?.includes('new@club.example'))
      throw new Error(`She has not what is kept about her: ${Object.keys(mine)}`);
    await nell.page.keyboard.press('Escape');
    const kept = await savedZip(p.page, stage.folder, '[aria-label="Save what is kept about new@club.example"]');
    if (!kept['kept.json']?.includes('"Keepers"')) throw new Error('The maker has not what is kept about her.');

    await readyForOffline(nell);
    await nell.page.setOfflineMode(true);
    await forDays(nell, 5);
    await nell.page.reload();
    await waitForRows(nell, (rows) => rows.length > 3, 'After five days the hives are gone already');
    await forDays(nell, 8);
    await nell.page.reload();
    await nell.sees('without contact for 7 days', 'body');
    await waitForRows(nell, (rows) => rows.length === 0, 'After eight days there are hives still');
    if ((await keptOn(nell)).includes('Tannery Garden')) throw new Error('Records are still kept on the phone.');
    await nell.page.setOfflineMode(false);
    await nell.page.evaluate(() => void dispatchEvent(new Event('online')));
    await waitForRows(nell, (rows) => rows.length > 3, 'The hives do not come back');
  },
};

export const tests: Test[] = [ownOnly, fromOutside];
