import { until, type Person } from './browser.ts';
import { releaseApp } from './first-screen.ts';
import { KEY, phoneOf } from './people-may.ts';
import type { Test } from './stage.ts';
import { adds, pressBelow, toDosApp } from './to-dos.ts';

const F = { name: 'f_name0000', mail: 'f_mail0000' };
const [ANN, TOM] = ['ann@to-dos.example', 'tom@to-dos.example'];

/** Signs in on a page that asks for an address, with the code that comes. */
async function signsIn(p: Person, url: string, mail: string): Promise<void> {
  await p.fill('Your mail address', mail);
  await p.press('Send me a code', 'button');
  let code = '';
  await until('No code comes', async () => {
    const answer = await fetch(`${url}/api/apps/to-dos/outbox`, { headers: { 'x-owner-key': KEY } });
    const mails = (await answer.json()) as { eml?: string }[];
    code =
      mails
        .map((m) => m.eml ?? '')
        .find((m) => m.includes(`To: ${mail}`))
        ?.match(/Subject: (\d{6})/)?.[1] ?? '';
    return code !== '';
  });
  await p.fill('The code', code);
  await p.press('Sign in', 'button');
}

/** The stores of the app that this browser keeps, with what is in them. */
const stores = (p: Person): Promise<Record<string, string>> =>
  p.page.evaluate(`(async () => {
    const asked = (request) => new Promise((done) => request.addEventListener('success', () => done(request.result)));
    const found = {};
    for (const { name } of await indexedDB.databases()) {
      if (!name.startsWith('app-to-dos')) continue;
      const db = await asked(indexedDB.open(name));
      const texts = [];
      for (const store of db.objectStoreNames) texts.push(await asked(db.transaction(store).objectStore(store).getAll()));
      db.close();
      found[name] = JSON.stringify(texts);
    }
    return found;
  })()`) as Promise<Record<string, string>>;

const shared: Test = {
  name: 'two people share a phone: each has only their own on it, they switch, and what is kept for one goes when they sign out',
  async run(stage) {
    const { url } = stage.server;
    const person = (id: string, name: string, mail: string) => ({
      table: 't_people000',
      id,
      cells: { [F.name]: name, [F.mail]: mail },
    });
    const records = [person('ann', 'Ann Fennick', ANN), person('tom', 'Tom Varga', TOM)];
    await releaseApp(url, 'to-dos', { app: toDosApp(), records });
    const p = await phoneOf(stage, ANN, 'to-dos');
    await adds(p, 'Order frames');

    await p.press('Sign out', 'button');
    await p.sees('Nowhere but here.');
    await pressBelow(p, 'Somebody else uses this device too');
    await signsIn(p, url, TOM);
    await p.sees(`Signed in as ${TOM}`, '.k-app', 20_000);
    await p.seesNot('Order frames');
    await adds(p, 'Mow the lawn');

    // Each has a store of their own, with nothing of the other.
    const kept = Object.values(await stores(p));
    if (kept.some((text) => text.includes('Order frames') && text.includes('Mow the lawn')))
      throw new Error('A store holds the records of both.');

    await p.press('Sign out', 'button');
    await p.sees(ANN, '[aria-label="Others on this device"]');
    await pressBelow(p, 'Go on as them');
    await p.sees(`Signed in as ${ANN}`, '.k-app', 20_000);
    await p.sees('Order frames', '.k-app');
    await p.seesNot('Mow the lawn');

    // She signs out: what is kept for her goes, and he goes on.
    await p.press('Sign out', 'button');
    await p.sees(TOM, '[aria-label="Others on this device"]');
    await p.page.click('.k-who-list > .k-button');
    await p.sees('Or go on as somebody who has signed in here', 'body', 15_000);
    const left = Object.values(await stores(p));
    if (left.some((text) => text.includes('Order frames'))) throw new Error('Something of Ann is still kept.');
    if (!left.some((text) => text.includes('Mow the lawn'))) throw new Error('What is kept for Tom has gone too.');
    await p.press(TOM, 'button');
    await p.sees(`Signed in as ${TOM}`, '.k-app', 20_000);
    await p.sees('Mow the lawn', '.k-app');
  },
};

export const tests: Test[] = [shared];
