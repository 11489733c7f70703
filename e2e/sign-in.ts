import type { Person } from './browser.ts';
import { phoneAt, release } from './phone.ts';
import type { Stage, Test } from './stage.ts';
import { choose } from './whole-path.ts';
import { blankApp, fillIn, forgive, rowsOf, standInsOf, waitForRows, withSupplier } from './supplier.ts';

/** A blank app in which members of the stand-in supplier sign in and order. */
async function withOrders(stage: Stage): Promise<Person> {
  const requests = ['Sign up', 'Sign in', 'Sign out', 'Renew the tokens', 'Who am I', 'List my orders', 'Add an order'];
  const p = await withSupplier(stage, requests, 'Orders');
  await p.pressText('Signing in', 'nav');
  await p.press('Sign in', 'button');
  await p.sees('The token is renewed by', 'main');
  await p.sees('before it ends or after the service refuses it', 'main');
  await p.sees('My name', 'main');
  // What the token says is believed once its signature is checked.
  const standIns = await standInsOf(p);
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

const signingIn: Test = {
  name: 'people sign up and in with the maker’s own service; tokens end, are renewed or not; forms say what the service refuses',
  async run(stage) {
    const p = await withOrders(stage);
    const standIns = await standInsOf(p);
    const endTokens = async (renewals: boolean): Promise<void> =>
      void (await fetch(`${standIns}/faults/end-tokens?renewals=${renewals ? 1 : 0}`, { method: 'POST' }));
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

const atPage: Test = {
  name: 'people sign in at a page of the service and come back to where they were, known by name',
  async run(stage) {
    const p = await blankApp(stage);
    const standIns = await standInsOf(p);
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
    await p.page.waitForSelector(`${form} input`);
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
    forgive(stage, /status of (401|422)/);
  },
};

export const tests: Test[] = [signingIn, atPage];
