import { readFile } from 'node:fs/promises';
import { basename } from 'node:path';
import jsqr from 'jsqr';
import { PNG } from 'pngjs';
import type { Page } from 'puppeteer-core';
import { openStudio, Person, watchConsole } from './browser.ts';
import type { Stage, Test } from './stage.ts';
import { clubSheets } from './sheets.ts';

// The package is CommonJS: its function arrives one level down.
const jsQR = (jsqr as unknown as { default?: typeof jsqr }).default ?? jsqr;

const PHONE = { width: 390, height: 844, isMobile: true, hasTouch: true, deviceScaleFactor: 1 };

/** What a phone’s camera reads from a picture of a QR code; nothing where it sees none. */
export function readQr(png: Buffer): string | undefined {
  const code = PNG.sync.read(png);
  return jsQR(new Uint8ClampedArray(code.data), code.width, code.height)?.data;
}

/** Brings the club's sheets and makes the app of them. */
export async function makeClub(stage: Stage): Promise<Person> {
  const maker = await openStudio(stage);
  const { page } = maker;
  await maker.sees('From a spreadsheet');
  await dropFiles(page, await clubSheets(stage.folder));
  await maker.sees('Trips match Boats by Sail no: 112 of 120 found');
  await maker.pressText('Trips', 'nav');
  await maker.sees('1 row could not be read');
  await maker.sees('The row has 6 cells, the header has 5.');
  await maker.press('Make the app', 'button');
  await maker.sees('Far Shore 5', '.k-app', 15_000);
  return maker;
}

/** Adds a formula field to the table that is open in Data. */
export async function addFormulaField(p: Person): Promise<void> {
  await p.pressText('Data', 'header');
  await p.press('Field', 'button');
  await p.pressText('A formula field');
}

/** Writes a formula in place of the one that stands in an editor. */
export async function writeFormula(page: Page, label: string, text: string): Promise<void> {
  const editor = `[aria-label="${label}"]`;
  await page.waitForSelector(editor);
  await page.focus(editor);
  await page.keyboard.down('Control');
  await page.keyboard.press('a');
  await page.keyboard.up('Control');
  await page.keyboard.press('Backspace');
  await page.keyboard.type(text);
}

/** Opens a chip’s popover and chooses by the words of a choice. With several chips of one name, the nth from 0. */
export async function choose(p: Person, chip: string, choice: string, nth = 0): Promise<void> {
  for (let attempt = 0; ; attempt++) {
    try {
      const selector = `main [aria-label^="${chip}:"]`;
      await p.page.waitForFunction((s, n) => document.querySelectorAll(s).length > n, { timeout: 8000 }, selector, nth);
      const handle = (await p.page.$$(selector))[nth];
      await handle!.scrollIntoView();
      await handle!.click();
      await p.page.waitForSelector('[cmdk-root]', { timeout: 3000 });
      break;
    } catch (e) {
      // A sentence may be drawn anew between finding a chip and pressing it.
      if (attempt > 2) throw e;
    }
  }
  const input = await p.page.$('[cmdk-root] input');
  if (input) await input.type(choice);
  await p.page.waitForFunction(
    (c) => [...document.querySelectorAll('[cmdk-item]')].some((e) => (e as HTMLElement).innerText.includes(c)),
    {},
    choice,
  );
  const items = await p.page.$$('[cmdk-item]');
  let best: (typeof items)[number] | null = null;
  for (const item of items) {
    const text = await item.evaluate((e) => (e as HTMLElement).innerText.split('\n')[0]!.trim());
    if (text === choice) {
      best = item;
      break;
    }
    if (!best && text.includes(choice)) best = item;
  }
  await best!.click();
  await p.page.waitForFunction(() => !document.querySelector('[cmdk-root]'));
}

/** Drops files on the opening view, as from a file manager. */
export async function dropFiles(page: Page, paths: string[]): Promise<void> {
  const files = await Promise.all(paths.map(async (p) => ({ name: basename(p), text: await readFile(p, 'utf8') })));
  await page.evaluate((list) => {
    const data = new DataTransfer();
    for (const f of list) data.items.add(new File([f.text], f.name));
    const target = [...document.querySelectorAll('section')].find((s) => s.innerText.includes('From a spreadsheet'))!;
    for (const type of ['dragover', 'drop'])
      target.dispatchEvent(new DragEvent(type, { dataTransfer: data, bubbles: true, cancelable: true }));
  }, files);
}

async function onPhone(page: Page, text: string, timeout = 8000): Promise<void> {
  await new Person(page).sees(text, '.k-app', timeout);
}

const wholePath: Test = {
  name: 'a spreadsheet becomes an app on a phone',
  async run(stage) {
    const maker = await makeClub(stage);
    const { page } = maker;

    // The list in sentences: only boats at berth A-something that are long enough, longest first.
    await maker.pressText('List of Boats', 'nav');
    await maker.sees('24 of 24 records');
    await maker.press('any: add a condition', 'button');
    await choose(maker, 'Condition 1', 'Length');
    await choose(maker, 'Comparison', 'is over');
    await page.click('main [aria-label^="Compared with 1:"]');
    await page.waitForSelector('[cmdk-root] input');
    await page.type('[cmdk-root] input', '7');
    await maker.pressText('Use “7”', '[cmdk-root]');
    await maker.sees('11 of 24 records');
    await choose(maker, 'Sort by', 'Length');
    await choose(maker, 'Direction', 'highest first');
    await onPhone(page, 'Old Otter 7');

    // A formula field over linked records, with its result live.
    await addFormulaField(maker);
    await maker.press('Formula', 'radio');
    await page.waitForSelector('[aria-label="Formula of New formula"]');
    await page.type('[aria-label="Formula of New formula"]', 'sum(Trips.Hours)');
    await maker.sees('Sandpiper 2 15.5');
    await maker.fill('Name of the field', 'Hours out');
    await page.keyboard.press('Enter');
    await page.waitForFunction(() =>
      [...document.querySelectorAll('[role=columnheader] button')].some((e) =>
        (e as HTMLElement).innerText.includes('Hours out'),
      ),
    );

    // A button with a routine that goes one way or the other.
    await maker.pressText('Screens', 'header');
    await page.waitForSelector('nav[aria-label="Screens"]');
    await page.evaluate(() =>
      [...document.querySelectorAll<HTMLElement>('nav[aria-label="Screens"] a')]
        .find((a) => a.innerText.trim() === 'Boat' && /screens\/s_[a-z0-9]+$/.test((a as HTMLAnchorElement).href))!
        .click(),
    );
    await onPhone(page, 'Change this boat');
    await maker.press('Add inside', 'button');
    await maker.pressText('Button', '[cmdk-root]');
    await maker.fill('Words on the button', 'Praise or remind');
    await choose(maker, 'When tapped', 'run');
    await choose(maker, 'Routine', 'a new routine');
    await maker.sees('with this boat');
    await addStep(maker, 'If');
    await choose(maker, 'Condition 1', 'this boat › Hours out');
    await choose(maker, 'Comparison', 'is over');
    await page.click('main [aria-label^="Compared with 1:"]');
    await page.waitForSelector('[cmdk-root] input');
    await page.type('[cmdk-root] input', '10');
    await maker.pressText('Use “10”', '[cmdk-root]');
    await addStep(maker, 'Send mail', 0);
    await choose(maker, 'Mail address', 'this boat › Skipper mail');
    await page.focus('[aria-label="Subject"]');
    await page.keyboard.type('Well sailed, {this boat.Boat}');
    await addStep(maker, 'Show a message', 1);
    await page.type('[aria-label="Message"]', 'Not out much yet');
    await addStep(maker, 'Set fields', 2);
    await choose(maker, 'Record to set', 'this boat');
    await choose(maker, 'Add a field', 'Berth');
    await page.click('main [aria-label^="Value 1:"]');
    await page.waitForSelector('[cmdk-root] input');
    await page.type('[cmdk-root] input', 'Z9');
    await maker.pressText('Use “Z9”', '[cmdk-root]');

    // Tried on the phone beside the work: the trace shows what each step gave.
    await maker.press('Use');
    await (await page.waitForSelector('.k-app .k-button ::-p-text(Praise or remind)'))!.click();
    await maker.sees('Z9', 'main');
    await maker.sees('yes', 'main');
    await page.click('section[aria-label="Trace"] button');
    await maker.sees('Ran Praise or remind for', 'section[aria-label="Trace"]');
    await maker.sees('Tapped Praise or remind on Boat', 'section[aria-label="Trace"]');
    await maker.press('Outbox');
    await maker.sees('Well sailed,', 'section[aria-label="Trace"]');

    // Release, and open it elsewhere as a phone.
    await maker.pressText('Release', 'header');
    await maker.sees('free');
    await maker.press('Release', 'button');
    await maker.sees('Scan it, or send the link', 'main', 20_000);
    const link = await page.$eval('[data-testid=release-link]', (e) => e.textContent!);
    // What a phone’s camera reads from the code is that very link.
    const picture = await page.$eval('main img[alt^="Code to scan"]', (e) => (e as HTMLImageElement).src);
    const scanned = readQr(Buffer.from(picture.split(',')[1]!, 'base64'));
    if (scanned !== link) throw new Error(`The code says ${scanned}, the link is ${link}.`);
    const context = await stage.browser.createBrowserContext();
    const phone = await context.newPage();
    await phone.setViewport(PHONE);
    // Offline on purpose, requests fail: the browser writes that down by itself.
    watchConsole(phone, stage.errors, /ERR_INTERNET_DISCONNECTED/);
    await phone.goto(link);
    await onPhone(phone, 'Old Otter 7', 15_000);
    const user = new Person(phone);

    // The button works there, and its change shows in the studio within a second.
    await user.pressText('Old Otter 7', '.k-app');
    await onPhone(phone, 'Change this boat');
    await user.pressText('Praise or remind', '.k-app');
    await onPhone(phone, 'Z9');
    await maker.pressText('Data', 'header');
    await page.waitForFunction(
      () =>
        [...document.querySelectorAll('[role=row]')].some((r) =>
          /Old Otter 7[\s\S]*Z9/.test((r as HTMLElement).innerText),
        ),
      { timeout: 1500 },
    );

    // It installs, and works offline after a reload; what is added offline catches up.
    await phone.waitForFunction(
      async () => (await navigator.serviceWorker.getRegistration())?.active?.state === 'activated',
      { timeout: 10_000 },
    );
    await phone.reload();
    await onPhone(phone, 'Change this boat');
    await phone.setOfflineMode(true);
    await phone.reload();
    await onPhone(phone, 'Change this boat', 10_000);
    await user.pressText('Trips', '.k-tabs');
    await onPhone(phone, 'Add');
    await user.pressText('Add', '.k-app');
    await onPhone(phone, 'New trip');
    await user.fill('Hours', '6,5');
    await user.fill('Notes', 'Written down without a network');
    await user.pressText('Save', '.k-app');
    await onPhone(phone, 'Saved');
    await new Person(phone).sees('1 change waits', 'body');
    await maker.pressText('Trips', 'nav');
    await maker.sees('120 records');
    await phone.setOfflineMode(false);
    await maker.sees('121 records', 'main', 10_000);

    // A new release reaches the open phone without a reinstall, and says so.
    await maker.pressText('Screens', 'header');
    await maker.pressText('Tab bar', 'nav');
    await (await page.waitForSelector('[aria-label="Name of the tab"]'))!.click({ count: 3 });
    await page.keyboard.type('Fleet');
    await page.keyboard.press('Enter');
    await maker.pressText('Release', 'header');
    await maker.press('Release again', 'button');
    await new Person(phone).sees('Updated to the newest version', 'body', 10_000);
    await new Person(phone).sees('Fleet', '.k-tabs');
    await context.close();
  },
};

/** Adds a step; `at` is which of the “Add a step” places is meant, the last when left out. */
async function addStep(p: Person, kind: string, at?: number): Promise<void> {
  await p.page.waitForSelector('main ol');
  const buttons = await p.page.$$('main ol button');
  const adds = [];
  for (const b of buttons)
    if (await b.evaluate((e) => (e as HTMLElement).innerText.trim().startsWith('Add a step'))) adds.push(b);
  const target = adds[at ?? adds.length - 1]!;
  await target.scrollIntoView();
  await target.click();
  await p.page.waitForSelector('[cmdk-root] input');
  await p.page.type('[cmdk-root] input', kind);
  await p.page.waitForFunction(
    (k) => [...document.querySelectorAll('[cmdk-item]')].some((e) => (e as HTMLElement).innerText.split('\n')[0] === k),
    {},
    kind,
  );
  const items = await p.page.$$('[cmdk-item]');
  for (const item of items)
    if ((await item.evaluate((e) => (e as HTMLElement).innerText.split('\n')[0])) === kind) {
      await item.click();
      break;
    }
  await p.page.waitForFunction(() => !document.querySelector('[cmdk-root]'));
}

export const tests = [wholePath];
