import type { Page } from 'puppeteer-core';
import { watchConsole, Person } from './browser.ts';
import { releaseDemo } from './first-screen.ts';
import { makeDemo } from '../demo/heatherfield.ts';
import { PHONE } from './phone.ts';
import type { Stage, Test } from './stage.ts';

const { app } = makeDemo();
const screen = (name: string): string => app.screens.find((s) => s.name === name)!.id;

/** A released demo opened at one of its screens, by its address alone. */
async function openedAt(stage: Stage, name: string, of: string | null, viewport: object): Promise<Person> {
  await releaseDemo(stage.server.url, name, (a) => {
    delete a.starts;
  });
  const context = await stage.browser.createBrowserContext();
  const page = await context.newPage();
  await page.setViewport(viewport as typeof PHONE);
  watchConsole(page, stage.errors, /ERR_INTERNET_DISCONNECTED|Failed to fetch/);
  await page.goto(`${stage.server.url}/a/${name}/${of ? `#/${screen(of)}` : ''}`);
  return new Person(page);
}

/** On a laptop a record stands beside its list, and another takes its place; turned to a phone there is one of them. */
async function beside(stage: Stage): Promise<void> {
  const p = await openedAt(stage, 'wide', null, { width: 1280, height: 800 });
  const { page } = p;
  await page.waitForSelector('.k-line-placed:nth-child(3) .k-row .k-text');
  const panes = (): Promise<string[]> =>
    page.$$eval('.k-panes > .k-scroll', (all) => all.map((e) => (e as HTMLElement).innerText.slice(0, 400)));
  const nameAt = (n: number): Promise<string> =>
    page.$eval(`.k-panes > .k-scroll:first-child .k-line:nth-child(${n}) .k-row`, (e) =>
      (e as HTMLElement).innerText.split('\n')[0]!.trim(),
    );
  const [first, third] = [await nameAt(1), await nameAt(3)];
  await page.click('.k-line:nth-child(1) .k-row');
  await p.sees(first, '.k-panes > .k-scroll:nth-child(2)');
  await page.click('.k-panes > .k-scroll:first-child .k-line:nth-child(3) .k-row');
  await p.sees(third, '.k-panes > .k-scroll:nth-child(2)');
  if ((await panes()).length !== 2) throw new Error('A list and a record are two.');
  // What is opened from the record goes on from there, and back leads to the list again.
  await page.setViewport({ width: 420, height: 800 });
  await page.waitForFunction(() => document.querySelectorAll('.k-panes > .k-scroll').length === 1);
  await p.sees(third, '.k-app');
  await page.click('.k-back');
  await page.waitForSelector('.k-list .k-row');
}

/** A drawing over a picture is there after the app was closed; a mark on a plan shows what it stands for. */
async function drawing(stage: Stage): Promise<void> {
  const p = await openedAt(stage, 'drawn', 'Sketch a frame', { ...PHONE, hasTouch: false, isMobile: false });
  const { page } = p;
  const canvas = '.k-drawing canvas';
  const box = (await (await page.waitForSelector(canvas))!.boundingBox())!;
  const inked = (): Promise<number> =>
    page.$eval(canvas, (c) => {
      const { width, height } = c as HTMLCanvasElement;
      const { data } = (c as HTMLCanvasElement).getContext('2d')!.getImageData(0, 0, width, height);
      let n = 0;
      for (let i = 3; i < data.length; i += 4) if (data[i]! > 0) n++;
      return n;
    });
  await page.waitForSelector('.k-drawing-sheet img');
  const stroke = async (y: number): Promise<void> => {
    await page.mouse.move(box.x + 40, box.y + y);
    await page.mouse.down();
    await page.mouse.move(box.x + 200, box.y + y, { steps: 8 });
    await page.mouse.up();
  };
  await stroke(60);
  const one = await inked();
  await stroke(120);
  if ((await inked()) < one * 1.5) throw new Error('A second stroke is not seen.');
  await p.press('One back', 'button');
  await page.waitForFunction(() => document.querySelector('.k-drawing')!.querySelector('button:disabled') === null);
  if (Math.abs((await inked()) - one) > 40) throw new Error('One back takes back one stroke.');
  // A name is signed with one pen.
  const line = '[data-signs] canvas';
  if ((await page.$$('[data-signs] ~ .k-drawing-tools button')).length !== 2)
    throw new Error('A signature has other tools than one back and wipe.');
  await page.$eval(line, (c) => c.scrollIntoView({ block: 'center' }));
  const sign = (await (await page.$(line))!.boundingBox())!;
  await page.mouse.move(sign.x + 40, sign.y + 60);
  await page.mouse.down();
  await page.mouse.move(sign.x + 200, sign.y + 30, { steps: 8 });
  await page.mouse.up();
  await page.waitForSelector(`${line}[aria-label="A signature"]`);
  // Kept after a pause, and there again when the app is opened anew, also without a network.
  await page.evaluate(() => navigator.serviceWorker.ready.then(() => undefined));
  await new Promise((r) => {
    setTimeout(r, 1500);
  });
  await page.setOfflineMode(true);
  await page.reload();
  await page.waitForSelector(canvas);
  await page.waitForSelector(`${line}[aria-label="A signature"]`);
  await page.waitForFunction(
    (sel, n) => {
      const c = document.querySelector(sel) as HTMLCanvasElement;
      const { data } = c.getContext('2d')!.getImageData(0, 0, c.width, c.height);
      let some = 0;
      for (let i = 3; i < data.length; i += 4) if (data[i]! > 0) some++;
      return Math.abs(some - n) < n * 0.1;
    },
    { timeout: 10_000 },
    canvas,
    one,
  );
  await page.setOfflineMode(false);

  await page.evaluate((id) => {
    location.hash = `#/${id}`;
  }, screen('Where things are'));
  await page.waitForSelector('.k-plan-mark');
  const label = await page.$eval('.k-plan-mark', (e) => e.getAttribute('aria-label')!);
  await page.click('.k-plan-mark');
  await p.sees(label, '.k-list .k-row');
}

/** The game: sprites move, the one that is touched counts and jumps, a timer ends it, and it begins anew. */
async function game(stage: Stage): Promise<void> {
  const p = await openedAt(stage, 'game', 'Find the queen', PHONE);
  const { page } = p;
  const place = (n: number): Promise<string> =>
    page.$eval(`.k-sprite-place:nth-of-type(${n})`, (e) => (e as HTMLElement).style.transform);
  const touch = (label: string): Promise<void> =>
    page.$eval(`.k-sprite[aria-label="${label}"]`, (e) => {
      e.dispatchEvent(new PointerEvent('pointerdown', { bubbles: true, pointerId: 1 }));
    });
  await page.waitForSelector('.k-sprite[aria-label="The queen"]');
  const still = await place(1);
  await touch('The queen');
  await p.press('Begin', 'button');
  await p.sees('Give up', '.k-app');
  await page.waitForFunction(
    (was) => (document.querySelector('.k-sprite-place') as HTMLElement).style.transform !== was,
    {},
    still,
  );
  await touch('The queen');
  await p.sees('found 1', '.k-app');
  await touch('Bee 3');
  await p.sees('bees bothered 1', '.k-app');
  for (let n = 2; n <= 5; n++) {
    await touch('The queen');
    await p.sees(`found ${n}`, '.k-app');
  }
  await p.sees('5 found, 1 bees bothered.', '.k-app');
  await page.waitForFunction(() => !document.querySelector('.k-app')!.textContent!.includes('seconds left30'));
  await p.press('Give up', 'button');
  await p.sees('Begin', '.k-app');
  await p.press('Begin', 'button');
  await p.sees('found 0', '.k-app');

  // A phone that has kept the app since before sprites were called so goes on with it, whatever the network does.
  await page.evaluate(() => navigator.serviceWorker.ready.then(() => undefined));
  await makeKeptEarlier(page);
  await page.setOfflineMode(true);
  await page.reload();
  await page.waitForSelector('.k-sprite[aria-label="The queen"]');
  await page.setOfflineMode(false);
}

/** Puts what a phone has kept of its app into the first version of the format. */
async function makeKeptEarlier(page: Page): Promise<void> {
  const isEarlier = await page.evaluate(
    () =>
      new Promise<boolean>((resolve) => {
        indexedDB.open('app-game').onsuccess = (opened) => {
          const db = (opened.target as IDBOpenDBRequest).result;
          const meta = db.transaction('meta', 'readwrite').objectStore('meta');
          meta.get('app').onsuccess = (got) => {
            const text = JSON.stringify((got.target as IDBRequest).result);
            const was = text.replaceAll('"kind":"sprite"', '"kind":"figure"').replace('"version":2', '"version":1');
            meta.put(JSON.parse(was)).onsuccess = () => {
              db.close();
              resolve(was.includes('"kind":"figure"') && was.includes('"version":1'));
            };
          };
        };
      }),
  );
  if (!isEarlier) throw new Error('The phone has kept no app that could be made an earlier one.');
}

/** A long press does something else than a tap, and is taken back; a stroke on the sketch puts its hint away. */
async function pressing(stage: Stage): Promise<void> {
  const { records } = makeDemo();
  const hives = app.tables.find((t) => t.name === 'Hives')!;
  const weight = hives.fields.find((f) => f.name === 'Weight')!.id;
  const hive = records.find((r) => r.table === hives.id && typeof r.cells[weight] === 'number')!;
  const p = await openedAt(stage, 'pressed', 'Hive', { ...PHONE, hasTouch: false, isMobile: false });
  const { page } = p;
  await page.evaluate(
    (to) => {
      location.hash = to;
    },
    `#/${screen('Hive')}/${hive.id}`,
  );
  const button = await page.waitForSelector('.k-button ::-p-text(Weigh it)');
  await button!.scrollIntoView();
  const { x, y, width, height } = (await button!.boundingBox())!;
  await page.mouse.move(x + width / 2, y + height / 2);
  await page.mouse.down();
  await p.sees('The weight is taken off.', '.k-app');
  await page.mouse.up();
  // Lifting the finger is no tap: nobody is asked for a weight.
  if (await page.$('.k-ask')) throw new Error('The end of a long press was taken for a tap.');
  await p.press('Undo', 'button');
  await p.sees('Undone', '.k-app');
  await p.sees(`Weight ${String(hive.cells[weight])} kg`, '.k-app');
  await page.click('.k-button ::-p-text(Weigh it)');
  // It is asked for twice before it stays as it was.
  for (let i = 0; i < 2; i++) {
    await p.sees('weigh, in kg?', '.k-ask');
    const sheet = await page.$('.k-ask');
    await page.keyboard.press('Escape');
    await page.waitForFunction((e) => !e!.isConnected, {}, sheet);
  }
  await p.sees('The weight stays as it was.', '.k-app');

  await page.evaluate(
    (to) => {
      location.hash = to;
    },
    `#/${screen('Sketch a frame')}`,
  );
  await p.sees('Mark what you saw', '.k-app');
  const canvas = (await (await page.waitForSelector('.k-drawing canvas'))!.boundingBox())!;
  await page.mouse.move(canvas.x + 40, canvas.y + 40);
  await page.mouse.down();
  await page.mouse.move(canvas.x + 90, canvas.y + 60, { steps: 4 });
  await page.mouse.up();
  await p.seesNot('Mark what you saw', '.k-app');
}

export const tests: Test[] = [
  { name: 'a long press is no tap; a stroke puts the hint of a sketch away', run: pressing },
  {
    name: 'the game: sprites move and jump, a timer counts, the score is told; a phone that kept it earlier goes on',
    run: game,
  },
  { name: 'on a wide screen a record stands beside its list', run: beside },
  { name: 'a drawing stays on the phone; a mark on a plan shows its record', run: drawing },
];
