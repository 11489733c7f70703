import type { Page } from 'puppeteer-core';
import { PushStandIn } from '../server/push-service.fixture.ts';
import { openStudio, Person, until, watchConsole } from './browser.ts';
import { PHONE, readyForOffline, release } from './phone.ts';
import { sheetFiles } from './sheets.ts';
import type { Stage, Test } from './stage.ts';
import { choose, dropFiles } from './whole-path.ts';

/**
 * The browser reaches no push service here: one on this machine takes its place, with which it subscribes. All else is
 * the browser’s own.
 */
async function subscribesWith(page: Page, service: PushStandIn): Promise<void> {
  await page.exposeFunction('agree', (key: string) => service.subscribe('ida', key));
  await page.exposeFunction('disagree', () => service.unsubscribe('ida'));
  // What runs these tests marks functions with their names.
  await page.evaluateOnNewDocument('globalThis.__name = (made) => made');
  await page.evaluateOnNewDocument(() => {
    type Agreed = { endpoint: string; toJSON(): unknown; unsubscribe(): Promise<boolean> };
    const there = globalThis as unknown as { agree(key: string): Promise<Agreed>; disagree(): Promise<void> };
    const agreed = (): Agreed | null => {
      const text = localStorage.getItem('agreed');
      return text ? made(JSON.parse(text) as Agreed) : null;
    };
    const made = (s: Agreed): Agreed => ({
      endpoint: s.endpoint,
      toJSON: () => s,
      unsubscribe: async () => {
        localStorage.removeItem('agreed');
        await there.disagree();
        return true;
      },
    });
    PushManager.prototype.subscribe = async (options) => {
      const bytes = new Uint8Array(options!.applicationServerKey as ArrayBuffer);
      const key = btoa(String.fromCharCode(...bytes))
        .replace(/\+/g, '-')
        .replace(/\//g, '_')
        .replace(/=/g, '');
      const said = agreed()?.toJSON() ?? (await there.agree(key));
      localStorage.setItem('agreed', JSON.stringify(said));
      return agreed() as never;
    };
    PushManager.prototype.getSubscription = async () => agreed() as never;
  });
}

/** Gives a message to the service worker as the browser does when its push service brings one. */
async function brings(page: Page, data: string): Promise<void> {
  const session = await page.createCDPSession();
  const id = new Promise<string>((resolve) => {
    session.on('ServiceWorker.workerRegistrationUpdated', ({ registrations }) => {
      const [own] = registrations.filter((r) => r.scopeURL.includes('/a/') && !r.isDeleted);
      if (own) resolve(own.registrationId);
    });
  });
  await session.send('ServiceWorker.enable');
  await session.send('ServiceWorker.deliverPushMessage', {
    origin: new URL(page.url()).origin,
    registrationId: await id,
    data,
  });
  await session.detach();
}

const shown = (page: Page): Promise<[string, string | undefined][]> =>
  page.evaluate(async () => {
    const all = await (await navigator.serviceWorker.ready).getNotifications();
    return all.map((n): [string, string | undefined] => [n.title, n.body]);
  });

async function closed(stage: Stage): Promise<void> {
  const service = await PushStandIn.start();
  const p = await openStudio(stage);
  await p.sees('From a spreadsheet');
  const sheets = { 'Boxes.csv': ['Box;Owner', 'Blue;Soren', 'Green;Ida'], 'People.csv': ['Name', 'Soren', 'Ida'] };
  await dropFiles(p.page, await sheetFiles(stage.folder, sheets));
  await p.press('Make the app', 'button');
  await p.sees('Blue', '.k-app', 15_000);
  await p.pressText('Boxes', 'nav[aria-label=Screens]');
  await p.pressText('List of Boxes', 'nav[aria-label=Screens]');
  await p.press('any: add a condition', 'button');
  await choose(p, 'Condition 1', 'People');
  await choose(p, 'Compared with 1', 'the person using the app');
  const link = await release(p);
  const { origin } = new URL(link);
  await stage.browser.defaultBrowserContext().overridePermissions(origin, ['notifications']);
  const page = await stage.browser.newPage();
  await page.setViewport(PHONE);
  watchConsole(page, stage.errors);
  await subscribesWith(page, service);
  await page.goto(link);
  const phone = new Person(page);
  await phone.sees('Boxes', '.k-app', 15_000);
  await phone.pressText('Boxes', '.k-tabs');
  await phone.press('Say who you are, to see what is yours', 'button');
  await phone.pressText('Ida', '.k-who-names');
  await phone.sees('Green', '.k-app main');
  const name = /\/a\/([\w-]+)/.exec(link)![1]!;
  const tells = async (id: string, subject: string): Promise<void> => {
    const answer = await fetch(`${origin}/api/apps/${name}/mail`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ id, kind: 'notice', to: ['Ida'], subject, body: 'Come by' }),
    });
    if (!answer.ok) throw new Error(`The notice was answered ${answer.status}.`);
  };
  // With the first notice comes the offer.
  await tells('notice-one', 'The first');
  await phone.press('Tell me also when it is closed', 'button');
  await phone.sees('You are told also when it is closed.', '.k-notice');
  await readyForOffline(phone);
  await tells('notice-two', 'The second');
  await until('The push service has it.', async () => service.brought.length === 1);
  const { text } = service.brought[0]!;
  // Whoever looks at the app is told there alone.
  await phone.sees('The second', '.k-notice');
  await brings(page, text);
  await new Promise((r) => setTimeout(r, 300));
  if ((await shown(page)).length) throw new Error('A notice is shown by the device while somebody looks at the app.');
  // The app is closed on the phone: the same page is elsewhere, and no other shows it.
  await page.goto(origin);
  await brings(page, text);
  await brings(page, text);
  await page.goto(link);
  await until(
    'The device shows it, once.',
    async () => JSON.stringify(await shown(page)) === '[["The second","Come by"]]',
  );
  // It is turned off where they said who they are, and the push service knows the phone no more.
  await phone.sees('Boxes', '.k-app', 15_000);
  await phone.pressText('Boxes', '.k-tabs');
  await phone.press('Not you?', 'button');
  await phone.sees('You are told on this device, also when the app is closed.', '[aria-label=Notices]');
  await phone.press('Tell me only when it is open', 'button');
  await phone.sees('You are told while the app is open.', '[aria-label=Notices]');
  await tells('notice-three', 'The third');
  await phone.sees('The third', '.k-notice');
  await new Promise((r) => setTimeout(r, 500));
  if (service.brought.length !== 1) throw new Error('The phone is told though it does not want to be.');
  await service.close();
}

export const tests: Test[] = [
  { name: 'somebody is told on their phone while the app is closed, when they want it, and not any more when they do not', run: closed },
]; // prettier-ignore
