import type { Page } from 'puppeteer-core';
import { ElementMaker } from '../core/app/make.ts';
import { thisId } from '../core/document/ids.ts';
import type { App } from '../core/app/schema.ts';
import { F, hiveApp, T } from '../core/records/fixture.ts';
import { launch, Person } from '../e2e/browser.ts';
import { cableTo } from '../e2e/cable.ts';
import { allRecords, change, onVictim, push, release, type Findings } from './server.ts';

const pause = (ms: number): Promise<void> =>
  new Promise((resolve) => {
    setTimeout(resolve, ms);
  });

/** An app with a list and a button that waits, then adds a hive; and one that adds at once. */
function waitingApp(): App {
  const make = new ElementMaker();
  const app = { ...hiveApp(), id: 'a_devices00' };
  const add = (name: string) =>
    make.step('add', { table: T.hives, values: [{ field: F.name, value: `"${name}"` }], resultName: 'h' });
  app.routines = [
    {
      id: 'q_later0000',
      name: 'Later',
      given: null,
      steps: [make.step('wait', { time: 'duration("PT6S")' }), add('Later')],
    },
    { id: 'q_now000000', name: 'Now', given: null, steps: [add('Now')] },
  ];
  const [first] = app.screens;
  first!.given = null;
  first!.root = make.box('down', [
    make.button('Add later', { do: 'routine', routine: 'q_later0000' }),
    make.button('Add now', { do: 'routine', routine: 'q_now000000' }),
    make.list(T.hives, [make.text(`{${thisId(T.hives)}.${F.name}}`)]),
  ]);
  return app;
}

/** What browsers do to an app: several tabs, a way that takes and never answers, a store without room. */
export const devices = (): Promise<Findings> =>
  onVictim('devices', async (victim, wrong) => {
    const chrome = await launch();
    const cable = await cableTo(victim.url);
    const figures: Findings['figures'] = {};
    try {
      await release(victim.url, 'bees', waitingApp());
      await push(victim.url, 'bees', [change('first', { [F.name]: 'First' })]);
      const named = async (name: string): Promise<number> =>
        [...(await allRecords(victim.url, 'bees')).values()].filter((s) => s.cells[F.name] === name).length;
      const until = async (holds: () => Promise<boolean>, ms: number): Promise<boolean> => {
        for (const end = Date.now() + ms; Date.now() < end; await pause(250)) if (await holds()) return true;
        return false;
      };
      const open = async (page: Page): Promise<Person> => {
        // What is looked for on a page is looked for when it is drawn.
        await page.bringToFront();
        await page
          .goto(`${cable.url}/a/bees/`, { waitUntil: 'domcontentloaded', timeout: 40_000 })
          .catch(() => undefined);
        const p = new Person(page);
        await p.sees('First', '.k-app');
        return p;
      };

      // Three tabs; the one in which a routine waits is closed, and another goes on with it.
      const context = await chrome.browser.createBrowserContext();
      const [one, two, three] = [await context.newPage(), await context.newPage(), await context.newPage()];
      const first = await open(one);
      await open(two);
      const third = await open(three);
      await one.bringToFront();
      await first.press('Add later', 'button');
      await pause(1500);
      await one.close();
      if (!(await until(async () => (await named('Later')) > 0, 25_000)))
        wrong.push('a closed tab’s routine did not go on');
      await pause(3000);
      figures['records of a routine in one of three tabs'] = await named('Later');
      if ((await named('Later')) !== 1)
        wrong.push(`a routine in one of three tabs added ${await named('Later')} records`);

      // The way takes everything and answers nothing.
      cable.swallow();
      await two.close();
      const started = performance.now();
      const again = await open(three).catch(() => null);
      const seconds = (performance.now() - started) / 1000;
      figures['opening with a way that answers nothing, s'] = seconds.toFixed(1);
      if (!again || seconds > 12)
        wrong.push(`an app opened after ${seconds.toFixed(1)} s of a way that answers nothing`);
      await three.bringToFront();
      await third.press('Add now', 'button');
      await third.sees('Now', '.k-app');
      await pause(2000);
      cable.mend();
      const back = performance.now();
      if (!(await until(async () => (await named('Now')) === 1, 90_000)))
        wrong.push('what was written meanwhile never came');
      figures['until what waited has come, s'] = ((performance.now() - back) / 1000).toFixed(1);
      await context.close();

      // A store without room: the app goes on from memory, says so, and what is written comes to the host.
      const small = await chrome.browser.createBrowserContext();
      const page = await small.newPage();
      const session = await page.createCDPSession();
      await session.send('Storage.overrideQuotaForOrigin', { origin: cable.url, quotaSize: 1 });
      const p = await open(page);
      const words = 'Wide '.repeat(200);
      await push(
        victim.url,
        'bees',
        Array.from({ length: 300 }, (_, i) => change(`w${i}`, { [F.name]: `${words}${i}` })),
      );
      await p.press('Add now', 'button');
      if (!(await until(async () => (await named('Now')) === 2, 30_000)))
        wrong.push('a store without room kept a change back');
      figures['records beside a store without room'] = (await allRecords(victim.url, 'bees')).size;
      await small.close();
    } finally {
      await chrome.close();
      await cable.close();
    }
    return figures;
  });
