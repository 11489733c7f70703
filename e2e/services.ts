import { join } from 'node:path';
import type { ElementHandle } from 'puppeteer-core';
import { photo } from './kept-files.ts';
import { openStudio, type Person } from './browser.ts';
import { choose, writeFormula } from './whole-path.ts';
import { phoneAt, release } from './phone.ts';
import type { Stage, Test } from './stage.ts';

const RESULT = '.k-list .k-row';

/** What the rows of the first list on a phone say. */
const rowsOf = (p: Person): Promise<string[]> =>
  p.page.$$eval(RESULT, (all) => all.map((e) => (e as HTMLElement).innerText.replace(/\s+/g, ' ').trim()));
async function waitForRows(p: Person, test: (rows: string[]) => boolean, what: string): Promise<string[]> {
  const end = Date.now() + 20_000;
  let rows: string[] = [];
  while (Date.now() < end) {
    rows = await rowsOf(p);
    if (test(rows)) return rows;
    await new Promise((r) => setTimeout(r, 60));
  }
  throw new Error(`${what}: ${rows.slice(0, 5).join(' | ')}`);
}

async function until(test: () => Promise<boolean>, what: string): Promise<void> {
  const end = Date.now() + 20_000;
  while (!(await test())) {
    if (Date.now() > end) throw new Error(what);
    await new Promise((r) => setTimeout(r, 100));
  }
}

/** A blank app that knows the catalogue of the stand-in supplier, from its description. */
async function withCatalogue(stage: Stage): Promise<Person> {
  const p = await openStudio(stage);
  await p.press('Begin blank', 'button');
  await p.sees('Tables', 'body', 15_000);
  await p.pressText('Services', 'header');
  await p.press('Use the stand-in supplier', 'button');
  await p.press('Add it', 'button');
  await p.sees('Heatherfield supplier', 'main');
  // Searched by words, and by what it is for.
  await p.page.type('[aria-label="Search what it can be asked"]', 'goods');
  await p.pressText('List goods', 'main');
  await p.press('One', 'radio');
  await p.page.$eval('[aria-label="Search what it can be asked"]', (e) => (e as HTMLInputElement).select());
  await p.page.keyboard.press('Backspace');
  await p.pressText('Get one good', 'main');
  await p.press('Add 2 requests', 'button');
  await p.sees('Used for records of Goods', 'main');
  return p;
}

const catalogue: Test = {
  name: 'a service is described by its document, tried, and its records are on phones: searched, in pages, by link alone, offline',
  async run(stage) {
    const p = await withCatalogue(stage);
    const { page } = p;

    // Tried at once: everything that came is there, and can be searched.
    await p.pressText('List goods', 'main');
    await p.press('Try it', 'button');
    await p.sees('Status 200', 'main');
    await page.type('[aria-label="Search the answer"]', 'G-0007');
    await p.sees('2 found', 'main');
    await page.type('[aria-label="Test value of Search"]', 'cedar veil');
    await p.press('Try it', 'button');
    await p.press('What was sent', 'radio');
    await p.sees('search=cedar+veil', 'main');

    // A fault is told in words.
    await page.$eval('[aria-label="Test value of Search"]', (e) => (e as HTMLInputElement).select());
    await page.keyboard.press('Backspace');

    // Its screens are made, and show it at once beside the work.
    await p.pressText('Goods', 'main section[aria-label="What is taken out of the answer"]');
    await p.sees('Fetched by', 'main');
    await p.sees('G-0001', '[role=grid]', 15_000);
    await p.press('Make screens for it', 'button');
    await waitForRows(p, (rows) => rows.length >= 8, 'The phone beside the work shows no goods');
    const link = await release(p);

    // On a phone: the first page, more by scrolling, what is typed asked of the service.
    const ann = await phoneAt(stage, link, 'Goods');
    const first = await waitForRows(ann, (rows) => rows.length >= 8, 'The phone shows no goods');
    const scroll = (to: number): Promise<void> => ann.page.$eval('.k-scroll', (e, y) => e.scrollTo(0, y), to);
    await scroll(100_000);
    // Each time the end comes near, the next page is asked for.
    for (let i = 0; i < 6; i++) {
      await new Promise((r) => setTimeout(r, 250));
      await scroll(100_000);
    }
    const later = await waitForRows(
      ann,
      (rows) => rows.length > 0 && rows[0] !== first[0],
      'Scrolling leads no further',
    );
    if (later.some((r) => first.includes(r))) throw new Error('After six pages the first one is still there.');
    await scroll(0);
    await ann.page.type('[aria-label="Search this list"]', 'winter veil');
    await waitForRows(
      ann,
      (rows) => rows.length > 0 && rows.every((r) => /winter veil/i.test(r)),
      'The search of the service is not shown',
    );

    const name = await ann.page.$eval(RESULT, (e) => (e as HTMLElement).innerText.trim().split('\n')[0]!);
    // A detail, whose link alone leads there on another phone.
    await (await ann.page.waitForSelector(RESULT))!.click();
    await ann.sees('Price', '.k-app');
    const alone = ann.page.url();
    const bo = await phoneAt(stage, alone, name);
    await bo.sees('In stock', '.k-app');

    // Without a network what came last is there, with its age said; what never came says why.
    await ann.page.goto(link);
    await waitForRows(ann, (rows) => rows.length >= 8, 'The phone shows no goods when it is opened again');
    await new Promise((r) => setTimeout(r, 1200));
    await ann.page.setOfflineMode(true);
    await ann.page.reload();
    await waitForRows(ann, (rows) => rows.length >= 8, 'Offline there are no goods');
    await ann.page.type('[aria-label="Search this list"]', 'smoker');
    await ann.sees('cannot be reached', '.k-app');
    // As soon as there is a way again it is asked for by itself.
    await ann.page.setOfflineMode(false);
    await waitForRows(
      ann,
      (rows) => rows.length > 0 && rows.every((r) => /smoker/i.test(r)),
      'Trying again brings nothing',
    );
    // What happened without a network is no error of the app.
    stage.errors.splice(0, stage.errors.length, ...stage.errors.filter((e) => !/ERR_INTERNET_DISCONNECTED/.test(e)));
  },
};

/** A blank app in which members of the stand-in supplier sign in and order. */
async function withOrders(stage: Stage): Promise<Person> {
  const p = await openStudio(stage);
  await p.press('Begin blank', 'button');
  await p.sees('Tables', 'body', 15_000);
  await p.pressText('Services', 'header');
  await p.press('Use the stand-in supplier', 'button');
  await p.press('Add it', 'button');
  await p.sees('Heatherfield supplier', 'main');
  for (const name of [
    'Sign up',
    'Sign in',
    'Sign out',
    'Renew the tokens',
    'Who am I',
    'List my orders',
    'Add an order',
  ])
    await p.pressText(name, 'main [aria-label="What it can be asked"]');
  await p.press('Add 7 requests', 'button');
  await p.sees('Used for records of Orders', 'main');
  await p.pressText('Signing in', 'nav');
  await p.press('Sign in', 'button');
  await p.sees('The token is renewed by', 'main');
  await p.sees('before it ends or after the service refuses it', 'main');
  await p.sees('My name', 'main');
  // What the token says is believed once its signature is checked.
  const { standIns } = await p.page.evaluate(() =>
    fetch('/api/server').then((r) => r.json() as Promise<{ standIns: string }>),
  );
  await choose(p, 'What the token says', 'believed after its signature was checked');
  await (await p.page.waitForSelector('[aria-label="Where the keys are"]'))!.type(`${standIns}/keys`);
  await (await p.page.waitForSelector('[aria-label="A claim of the token"]'))!.type('sub');
  await p.press('Keep this claim', 'button');
  await p.sees('is kept as My number', 'main');
  await p.pressText('Data', 'header');
  await p.pressText('Orders', 'nav');
  await p.press('Make screens for it', 'button');
  await p.sees('Sign in', '.k-app');
  return p;
}

/** Fills in the inputs of what is seen on a phone, by their labels. */
async function fillIn(p: Person, values: Record<string, string>): Promise<void> {
  for (const [label, value] of Object.entries(values)) {
    const box = await p.page.waitForSelector(`.k-app ::-p-aria([name="${label}"][role="textbox"])`).catch(() => null);
    const found = box ?? (await p.find(label));
    await found.click({ count: 3 });
    await p.page.keyboard.type(value);
  }
}

const signingIn: Test = {
  name: 'people sign up and in with the maker’s own service; tokens end, are renewed or not; forms say what the service refuses',
  async run(stage) {
    const p = await withOrders(stage);
    const standIns = await p.page.evaluate(() =>
      fetch('/api/server').then((r) => r.json() as Promise<{ standIns: string }>),
    );
    const endTokens = async (renewals: boolean): Promise<void> =>
      void (await fetch(`${standIns.standIns}/faults/end-tokens?renewals=${renewals ? 1 : 0}`, { method: 'POST' }));
    const link = await release(p);

    // Closed by default: whoever comes sees where to sign in, also by the link of a screen.
    const ann = await phoneAt(stage, link, 'Sign in');
    await ann.press('Sign up', 'button');
    await ann.find('Name', 'textbox');
    await fillIn(ann, { Mail: 'odile@marsh.example', Password: 'short', Name: 'Odile Marsh' });
    await ann.press('Sign up', 'button');
    await ann.sees('Some fields are not right', 'body');
    await fillIn(ann, { Password: 'long enough' });
    await ann.press('Sign up', 'button');
    await ann.sees('No orders yet', '.k-app');

    // What the service refuses is said at its field, and what was typed stays.
    await ann.press('Add', 'button');
    await fillIn(ann, { Good: 'G-0042', Quantity: '900', Note: 'for the spring' });
    await ann.press('Save', 'button');
    await ann.sees('At most 500', '.k-app');
    const typed = await ann.page.$$eval('.k-app input, .k-app textarea', (all) =>
      all.map((e) => (e as HTMLInputElement).value),
    );
    if (!typed.includes('for the spring')) throw new Error(`What was typed is gone: ${typed.join(', ')}`);

    // Meanwhile the token has ended: it is renewed, and the order made once.
    await endTokens(false);
    await fillIn(ann, { Quantity: '3' });
    await ann.press('Save', 'button');
    await ann.sees('G-0042', '.k-app');
    await waitForRows(ann, (rows) => rows.length === 1, 'The order is not in the list once');

    // Opened again, still signed in; nothing of the token is readable on the device.
    await ann.page.reload();
    await waitForRows(ann, (rows) => rows.length === 1, 'Opened again the order is not there');
    const kept = await ann.page.evaluate(async () => {
      const all: string[] = [];
      for (const { name } of await indexedDB.databases()) {
        const db = await new Promise<IDBDatabase>((done, fail) => {
          const open = indexedDB.open(name!);
          open.addEventListener('success', () => done(open.result));
          open.addEventListener('error', () => fail(open.error!));
        });
        for (const store of db.objectStoreNames) {
          const rows = await new Promise<unknown[]>((done) => {
            const get = db.transaction(store).objectStore(store).getAll();
            get.addEventListener('success', () => done(get.result as unknown[]));
          });
          all.push(JSON.stringify(rows));
        }
        db.close();
      }
      return all.join('\n') + JSON.stringify({ ...localStorage, ...sessionStorage }) + document.cookie;
    });
    if (!kept.includes('G-0042')) throw new Error('The store was not read: the order is not in it.');
    if (/eyJ[\w-]{10,}\./.test(kept)) throw new Error('A token can be read on the device.');

    // When it cannot be renewed they are told, sign in, and are back with what they had typed.
    await ann.press('Add', 'button');
    await fillIn(ann, { Good: 'G-0007', Quantity: '2', Note: 'half typed' });
    await endTokens(true);
    await ann.press('Save', 'button');
    await ann.sees('You are signed out', 'body');
    await ann.sees('Sign in', '.k-app');
    await fillIn(ann, { Mail: 'odile@marsh.example', Password: 'long enough' });
    await ann.press('Sign in', 'button');
    await ann.page.waitForFunction(() =>
      [...document.querySelectorAll<HTMLInputElement>('.k-app input, .k-app textarea')].some(
        (e) => e.value === 'half typed',
      ),
    );
    await ann.press('Save', 'button');
    await waitForRows(ann, (rows) => rows.length === 2, 'The second order is not in the list');

    // Another phone knows nothing of hers.
    const bo = await phoneAt(stage, link, 'Sign in');
    if ((await rowsOf(bo)).length) throw new Error('A phone that has not signed in shows orders.');
  },
};

/** A blank app that knows the orders of the stand-in supplier as an OData service. */
async function withOData(stage: Stage): Promise<{ p: Person; odata: string }> {
  const p = await openStudio(stage);
  await p.press('Begin blank', 'button');
  await p.sees('Tables', 'body', 15_000);
  const { standIns } = await p.page.evaluate(() =>
    fetch('/api/server').then((r) => r.json() as Promise<{ standIns: string }>),
  );
  await p.pressText('Services', 'header');
  await p.sees('Ask other people', 'main');
  await (await p.page.waitForSelector('main textarea'))!.type(`${standIns}/odata/$metadata`);
  await p.press('Add it', 'button');
  await p.sees('List orders', 'main');
  for (const name of [
    'List orders',
    'Get one of orders',
    'Add to orders',
    'Change one of orders',
    'Remove one of orders',
  ])
    await p.pressText(name, 'main [aria-label="What it can be asked"]');
  await p.press('Add 5 requests', 'button');
  await p.sees('Used for records of Orders', 'main');
  return { p, odata: `${standIns}/odata` };
}

const odata: Test = {
  name: 'an OData service is described by its metadata: listed, added to also without a network, changed by its marks, and its sample stands for it',
  async run(stage) {
    const { p, odata } = await withOData(stage);
    await p.pressText('List orders', 'main');
    await p.press('Try it', 'button');
    await p.sees('Status 200', 'main');
    await p.press('Keep it as a sample', 'button');
    await p.sees('Samples that are kept with the app', 'main');
    await choose(p, 'Orders without a network', 'waits on the phone until it can be sent');
    await p.pressText('Orders', 'main section[aria-label="What is taken out of the answer"]');
    await p.press('Make screens for it', 'button');
    await p.sees('No orders', '.k-app', 15_000);
    const link = await release(p);

    const ann = await phoneAt(stage, link, 'No orders');
    await ann.press('Add', 'button');
    await fillIn(ann, { Good: 'G-0042', Quantity: '3', Note: 'by post' });
    await ann.press('Save', 'button');
    await ann.sees('Saved as', 'body');
    await waitForRows(ann, (rows) => rows.length === 1, 'The order is not in the list');

    // Changed by somebody else while the form is open: it is said, not overwritten.
    await (await ann.page.waitForSelector(RESULT))!.click();
    await ann.press('Change this order', 'button');
    await ann.find('Note', 'textbox');
    const [order] = (await (await fetch(`${odata}/Orders`)).json()).value as {
      id: string;
      quantity: number;
      note: string;
    }[];
    await fetch(`${odata}/Orders('${order!.id}')`, {
      method: 'PATCH',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ quantity: 5 }),
    });
    await fillIn(ann, { Note: 'by boat' });
    await ann.press('Save', 'button');
    await ann.sees('Somebody else has changed it meanwhile', '.k-app');
    const [after] = (await (await fetch(`${odata}/Orders`)).json()).value as { quantity: number; note: string }[];
    if (after!.note !== 'by post' || after!.quantity !== 5) throw new Error(`Overwritten: ${JSON.stringify(after)}`);
    // The word about the order before lies over the button for a moment.
    await ann.page.waitForFunction(() => !document.body.innerText.includes('Saved as'), { timeout: 15_000 });
    await ann.press('Save', 'button');
    await ann.sees('Changes saved', 'body');
    const [mine] = (await (await fetch(`${odata}/Orders`)).json()).value as { quantity: number; note: string }[];
    if (mine!.note !== 'by boat' || mine!.quantity !== 5) throw new Error(`Bent: ${JSON.stringify(mine)}`);

    // Without a network it waits, is seen meanwhile, and goes out once.
    await ann.page.goto(link);
    await waitForRows(ann, (rows) => rows.length === 1, 'Opened again the order is not there');
    await new Promise((r) => setTimeout(r, 1200));
    await ann.press('Add', 'button');
    await ann.find('Good', 'textbox');
    await ann.page.setOfflineMode(true);
    await fillIn(ann, { Good: 'G-0007', Quantity: '2' });
    await ann.press('Save', 'button');
    await ann.sees('waits to be sent', '.k-app');
    await waitForRows(ann, (rows) => rows.length === 2, 'What waits is not seen');
    await ann.page.reload();
    await ann.sees('waits to be sent', '.k-app', 15_000);
    await ann.page.setOfflineMode(false);
    await waitForRows(ann, (rows) => rows.length === 2, 'The second order is gone');
    await ann.page.waitForFunction(() => !document.querySelector('.k-waits'), { timeout: 40_000 });
    const all = (await (await fetch(`${odata}/Orders`)).json()).value as { good: string }[];
    if (all.filter((o) => o.good === 'G-0007').length !== 1) throw new Error(`Not sent once: ${JSON.stringify(all)}`);
    stage.errors.splice(0, stage.errors.length, ...stage.errors.filter((e) => !/ERR_INTERNET_DISCONNECTED/.test(e)));
  },
};

const joined: Test = {
  name: 'own records lead to fetched ones: a good is chosen by what is typed, its price stands beside my stock, offline too',
  async run(stage) {
    const p = await withCatalogue(stage);
    const { page } = p;
    await p.pressText('Data', 'header');
    await p.press('Add a table', 'button');
    await page.waitForFunction(() => document.activeElement?.tagName === 'TEXTAREA');
    await page.keyboard.type('Stock: shelf, good, pieces (number)');
    await p.sees('Good link to Goods', 'main');
    await page.keyboard.down('Control');
    await page.keyboard.press('Enter');
    await page.keyboard.up('Control');
    await p.sees('Each record is called', 'main');
    // Worked out of both: what my stock is worth.
    await p.press('Field', 'button');
    await p.pressText('A formula field');
    await p.press('Formula', 'radio');
    await writeFormula(page, 'Formula of New formula', 'Good.Price * Pieces');
    await p.press('Close this card');
    await p.press('More for this table', 'button');
    await p.pressText('Make screens for it');
    const link = await release(p);

    const ann = await phoneAt(stage, link, 'No stock');
    await ann.press('Add', 'button');
    await (await ann.page.waitForSelector('.k-pick'))!.click();
    await ann.page.waitForSelector('.k-picker input');
    await ann.page.keyboard.type('winter veil, wide');
    await ann.page.waitForFunction(
      () =>
        [...document.querySelectorAll('.k-picker [role=option]')].length > 0 &&
        [...document.querySelectorAll('.k-picker [role=option]')].every((e) =>
          /winter veil, wide/i.test(e.textContent!),
        ),
    );
    await ann.page.click('.k-picker [role=option]');
    await ann.page.waitForFunction(() =>
      /winter veil, wide/i.test(document.querySelector('.k-pick')?.textContent ?? ''),
    );
    await fillIn(ann, { Shelf: 'In the shed', Pieces: '3' });
    await ann.press('Save', 'button');
    await waitForRows(ann, (rows) => rows.length === 1, 'The stock is not in the list');
    await (await ann.page.waitForSelector(RESULT))!.click();
    await ann.sees('Winter veil, wide', '.k-app');
    await ann.sees('208.02', '.k-app');

    // A phone that never saw the good asks for it by its link, and has it without a network from then on.
    const bo = await phoneAt(stage, ann.page.url(), 'Winter veil, wide');
    await bo.sees('208.02', '.k-app');
    await new Promise((r) => setTimeout(r, 1200));
    await bo.page.setOfflineMode(true);
    await bo.page.reload();
    await bo.sees('208.02', '.k-app', 15_000);
    await bo.page.setOfflineMode(false);
    stage.errors.splice(0, stage.errors.length, ...stage.errors.filter((e) => !/ERR_INTERNET_DISCONNECTED/.test(e)));
  },
};

const inStep: Test = {
  name: 'a table is kept in step with a service: fetched into the app, changed without a network, told to the service, and back',
  async run(stage) {
    const { p, odata } = await withOData(stage);
    const orders = async (): Promise<{ id: string; good: string; quantity: number }[]> =>
      (await (await fetch(`${odata}/Orders`)).json()).value;
    const order = (good: string, quantity: number): Promise<unknown> =>
      fetch(`${odata}/Orders`, {
        method: 'POST',
        headers: { 'content-type': 'application/json' },
        body: JSON.stringify({ good, quantity }),
      });
    await order('G-0003', 4);
    await p.pressText('List orders', 'main');
    await choose(p, 'How Orders come', 'kept in the app, fetched every 5 minutes');
    await p.sees('What is added, changed and removed in the app is told to the service', 'main');
    await p.pressText('Orders', 'main section[aria-label="What is taken out of the answer"]');
    await p.sees('Kept in step with', 'main');
    await p.press('More for this table', 'button');
    await p.pressText('Make screens for it');
    const link = await release(p);

    const ann = await phoneAt(stage, link, 'Orders');
    await waitForRows(ann, (rows) => rows.length === 1, 'The phone does not have the order');
    await ann.press('Add', 'button');
    await ann.find('Good', 'textbox');
    await ann.page.setOfflineMode(true);
    await fillIn(ann, { Good: 'G-0007', Quantity: '2' });
    await ann.press('Save', 'button');
    await waitForRows(ann, (rows) => rows.length === 2, 'What was added without a network is not seen');
    await ann.page.setOfflineMode(false);
    await until(async () => (await orders()).some((o) => o.good === 'G-0007'), 'The service does not have the order');

    // Changed there: it comes when the maker says so, and to the phone by itself.
    const [first] = (await orders()).filter((o) => o.good === 'G-0003');
    await fetch(`${odata}/Orders('${first!.id}')`, {
      method: 'PATCH',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ quantity: 77 }),
    });
    await p.pressText('Data', 'header');
    await p.sees('In step with List orders', 'main');
    await p.press('Fetch now', 'button');
    await ann.sees('77', '.k-app', 15_000);
    await p.sees('77', '[role=grid]', 15_000);
    stage.errors.splice(0, stage.errors.length, ...stage.errors.filter((e) => !/ERR_INTERNET_DISCONNECTED/.test(e)));
  },
};

const files: Test = {
  name: 'a form sends a photo to a service as it was taken, and an answer that is a photo is one',
  async run(stage) {
    const p = await openStudio(stage);
    await p.press('Begin blank', 'button');
    await p.sees('Tables', 'body', 15_000);
    await p.pressText('Services', 'header');
    await p.press('Use the stand-in supplier', 'button');
    await p.press('Add it', 'button');
    await p.sees('Heatherfield supplier', 'main');
    for (const name of ['List claims', 'Claim a broken good', 'Get the photo of a claim'])
      await p.pressText(name, 'main [aria-label="What it can be asked"]');
    await p.press('Add 3 requests', 'button');
    await p.sees('Used for records of Claims', 'main');
    await p.pressText('List claims', 'main');
    await p.pressText('Claims', 'main section[aria-label="What is taken out of the answer"]');
    await p.press('Make screens for it', 'button');
    const link = await release(p);

    const ann = await phoneAt(stage, link, 'No claims');
    await ann.press('Add', 'button');
    await ann.find('Good', 'textbox');
    const picture = join(stage.folder, 'veil with a hole.png');
    await photo(picture, 320);
    await fillIn(ann, { Good: 'G-0042', Words: 'It has a hole' });
    await ann.press('Save', 'button');
    await ann.page.waitForFunction(() =>
      [...document.querySelectorAll('.k-app .k-field')].some((e) => e.textContent?.includes('Photo is missing')),
    );
    const box = (await ann.page.waitForSelector('.k-app input[type=file]')) as ElementHandle<HTMLInputElement>;
    await box.uploadFile(picture);
    await ann.page.waitForSelector('.k-app .k-photo img');
    await ann.press('Save', 'button');
    await ann.sees('Saved as 1', 'body');
    await waitForRows(ann, (rows) => rows.length === 1, 'The claim is not in the list');

    // What came back is seen, and used: the photo as it was sent.
    await p.pressText('Services', 'header');
    await p.pressText('Get the photo of a claim', 'nav');
    await p.page.waitForSelector('[aria-label="Test value of Id"]');
    await p.page.type('[aria-label="Test value of Id"]', '1');
    await p.press('Try it', 'button');
    await p.sees('Status 200', 'main');
    await p.page.waitForSelector('img[alt="What came"]');
    const width = await p.page.$eval('img[alt="What came"]', (e) => (e as HTMLImageElement).naturalWidth);
    if (width !== 320) throw new Error(`The photo is ${width} pixels wide.`);
    await p.sees('Picked as Picture', 'main');
  },
};

const atPage: Test = {
  name: 'people sign in at a page of the service and come back to where they were, known by name',
  async run(stage) {
    const p = await openStudio(stage);
    await p.press('Begin blank', 'button');
    await p.sees('Tables', 'body', 15_000);
    const { standIns } = await p.page.evaluate(() =>
      fetch('/api/server').then((r) => r.json() as Promise<{ standIns: string }>),
    );
    await fetch(`${standIns}/members`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ mail: 'odile@marsh.example', password: 'long enough', name: 'Odile Marsh' }),
    });
    await (await p.page.waitForSelector('main textarea'))!.type('Notes: words');
    await p.press('Add table', 'button');
    await p.sees('Each record is called', 'main');
    await p.press('More for this table', 'button');
    await p.pressText('Make screens for it');
    await p.pressText('Services', 'header');
    await p.pressText('Signing in', 'nav');
    const form = 'section[aria-label="Signing in at a page"]';
    const [address, client] = await p.page.$$(`${form} input`);
    await address!.type(`${standIns}/nowhere`);
    await client!.type('heather-club');
    await p.press('Set it up', 'button');
    await p.sees('It was asked at', form);
    await address!.click({ count: 3 });
    await address!.type(standIns);
    await p.press('Set it up', 'button');
    await p.sees('They do so at the page', 'main');
    const link = await release(p);

    const ann = await phoneAt(stage, link, 'Sign in');
    const leave = async (): Promise<void> => {
      await ann.press('Sign in with 127.0.0.1', 'button');
      await ann.sees('Heatherfield supplier (stand-in)', 'body');
    };
    // The page of the service, and nothing of it in the app: first they do not want to.
    await leave();
    await ann.press('Do not sign in', 'button');
    await ann.sees('You did not sign in', 'body');
    if (ann.page.url().includes('state=')) throw new Error(`It stays in the address: ${ann.page.url()}`);
    await leave();
    await ann.page.type('[name=mail]', 'odile@marsh.example');
    await ann.page.type('[name=password]', 'not this one');
    await ann.press('Sign in', 'button');
    await ann.sees('The mail address or the password is not right', 'body');
    await ann.page.type('[name=mail]', 'odile@marsh.example');
    await ann.page.type('[name=password]', 'long enough');
    await ann.press('Sign in', 'button');
    await ann.sees('No notes yet', '.k-app', 15_000);
    if (/code=|state=/.test(ann.page.url())) throw new Error(`It stays in the address: ${ann.page.url()}`);
    // Opened again, they are still in.
    await ann.page.reload();
    await ann.sees('No notes yet', '.k-app', 15_000);
    // A code that somebody else brings is taken by nobody.
    const bo = await phoneAt(stage, `${link}?code=stolen&state=guessed`, 'Sign in');
    await bo.sees('did not begin here', 'body');
    stage.errors.splice(0, stage.errors.length, ...stage.errors.filter((e) => !/status of (401|422)/.test(e)));
  },
};

const words: Test = {
  name: 'a service does the work with words in place of counting, and the desk says which is in use',
  async run(stage) {
    const p = await openStudio(stage);
    await p.press('Begin blank', 'button');
    await p.sees('Tables', 'body', 15_000);
    await p.pressText('Services', 'header');
    await p.pressText('Words and pictures', 'nav');
    await p.sees('Texts are summed up by the app itself, which counts words', 'main');
    await p.press('Use the stand-in', 'button');
    await p.press('Use this service', 'button');
    await p.sees('Texts are summed up by Sum up of Words and pictures', 'main');
    await p.pressText('Sum up of Words and pictures', 'main');
    await (await p.page.waitForSelector('[aria-label="Test value of Text"]'))!.type(
      'The veil is torn. Send a new one.',
    );
    await (await p.page.waitForSelector('[aria-label="Test value of Most"]'))!.type('1');
    await p.press('Try it', 'button');
    await p.sees('Status 200', 'main');
    await p.sees('counting (stand-in)', 'main');
    await p.pressText('Words and pictures', 'nav');
    await p.page.goBack();
    await p.page.goBack();
    await p.press('Texts are summed up by the app itself again', 'button');
    await p.sees('Texts are summed up by the app itself, which counts words', 'main');
  },
};

const straight: Test = {
  name: 'a phone asks a service itself where it may, and the server where it may not',
  async run(stage) {
    const p = await withCatalogue(stage);
    await p.pressText('List goods', 'main');
    await choose(p, 'Who asks it', 'by each phone itself');
    await p.pressText('Goods', 'main section[aria-label="What is taken out of the answer"]');
    await p.press('Make screens for it', 'button');
    const link = await release(p);
    const { standIns } = await p.page.evaluate(() =>
      fetch('/api/server').then((r) => r.json() as Promise<{ standIns: string }>),
    );
    const page = await stage.browser.newPage();
    const asked: string[] = [];
    page.on('request', (r) => void asked.push(r.url()));
    page.on('workercreated', ({ client }) => {
      void client.send('Network.enable').catch(() => undefined);
      client.on('Network.requestWillBeSent', ({ request }) => void asked.push(request.url));
    });
    await page.goto(link);
    await page.waitForSelector(RESULT);
    if (!asked.some((url) => url.startsWith(`${standIns}/goods`)))
      throw new Error(`The phone did not ask the service: ${asked.join(', ')}`);
    if (asked.some((url) => url.endsWith('/asked'))) throw new Error('The server was asked although the phone may.');
    // A single one is still asked by the server.
    await (await page.waitForSelector(RESULT))!.click();
    await page.reload();
    await page.waitForFunction(() => document.querySelector('.k-app')?.textContent?.includes('In stock'));
  },
};

export const tests: Test[] = [catalogue, signingIn, odata, joined, inStep, files, atPage, words, straight];
