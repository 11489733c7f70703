import { createServer } from 'node:http';
import type { AddressInfo } from 'node:net';
import { ElementMaker } from '../core/app/make.ts';
import type { App } from '../core/app/schema.ts';
import { thisId } from '../core/document/ids.ts';
import { F, hiveApp, T } from '../core/records/fixture.ts';
import { openStudio, Person, watchConsole } from './browser.ts';
import { undo } from './data-steps.ts';
import { releaseApp } from './first-screen.ts';
import type { Stage, Test } from './stage.ts';

/** A picture that a record names: nobody hears that it is looked at, until the maker allows its address. */
async function pictures({ server, browser, errors }: Stage): Promise<void> {
  const heard: string[] = [];
  const spy = createServer((req, res) => {
    heard.push(req.url ?? '');
    res.setHeader('content-type', 'image/svg+xml');
    res.end('<svg xmlns="http://www.w3.org/2000/svg" width="9" height="9"><rect width="9" height="9"/></svg>');
  });
  await new Promise<void>((done) => spy.listen(0, '127.0.0.1', done));
  const host = `127.0.0.1:${(spy.address() as AddressInfo).port}`;
  try {
    const make = new ElementMaker();
    const app: App = hiveApp();
    const hive = thisId(T.hives);
    app.screens[0]!.given = null;
    app.screens[0]!.root = make.box('down', [
      make.list(T.hives, [make.text(`{${hive}.${F.name}}`), make.make('picture', { source: `${hive}.${F.tag}` })]),
    ]);
    const cells = { [F.name]: 'Bramble', [F.tag]: `http://${host}/seen.svg` };
    const records = [{ table: T.hives, id: 'h1', cells }];
    await releaseApp(server.url, 'spied', { app, records });
    const page = await browser.newPage();
    watchConsole(page, errors);
    const p = new Person(page);
    await page.goto(`${server.url}/a/spied/`);
    await p.sees('Bramble', '.k-app');
    await page.waitForSelector(`[role=img][aria-label="This app takes nothing from ${host}."]`);
    if (heard.length) throw new Error(`${heard.length} requests were heard elsewhere.`);

    await releaseApp(server.url, 'spied', { app: { ...app, elsewhere: [host] }, records: [] });
    await p.sees('Updated to the newest version', '.k-app');
    await page.reload();
    await p.sees('Bramble', '.k-app');
    await page.waitForFunction(() =>
      [...document.querySelectorAll('.k-picture img')].some((i) => (i as HTMLImageElement).naturalWidth > 0),
    );
    if (!heard.includes('/seen.svg')) throw new Error('The picture was not asked for.');
  } finally {
    spy.close();
  }
}

/** The maker allows an address and takes it back, by hand and by undo. */
async function allowing(stage: Stage): Promise<void> {
  const p = await openStudio(stage);
  const { page } = p;
  await p.press('Heatherfield Bees', 'button');
  await p.sees('days', '.k-app');
  await p.pressText('Release', 'header');
  await p.sees('named in the app', 'section[aria-label="Addresses elsewhere"]');
  const typed = 'input[aria-label="Address to allow"]';
  await page.type(typed, 'not an address');
  await page.keyboard.press('Enter');
  await p.sees('Write an address such as example.org.', 'main');
  await page.$eval(typed, (e) => (e as HTMLInputElement).select());
  await page.type(typed, 'https://Pictures.Example/a.png');
  await page.keyboard.press('Enter');
  await p.sees('pictures.example', 'section[aria-label="Addresses elsewhere"]');
  await page.reload();
  await p.sees('pictures.example', 'section[aria-label="Addresses elsewhere"]');
  await p.press('Allow pictures.example no more', 'button');
  await p.seesNot('pictures.example', 'section[aria-label="Addresses elsewhere"]');
  await undo(p);
  await p.sees('pictures.example', 'section[aria-label="Addresses elsewhere"]');
}

export const tests: Test[] = [
  { name: 'nothing is asked of addresses that only records name, until the maker allows them', run: pictures },
  { name: 'an address elsewhere is allowed, and taken back', run: allowing },
];
