import { readdir, readFile } from 'node:fs/promises';
import { join } from 'node:path';
import { openStudio, Person, watchConsole } from './browser.ts';
import type { Stage, Test } from './stage.ts';
import { makeClub } from './whole-path.ts';

/** Lets the browser save files into the stage's folder. */
async function downloads(p: Person, stage: Stage): Promise<(name: RegExp) => Promise<string>> {
  const client = await p.page.createCDPSession();
  await client.send('Browser.setDownloadBehavior', { behavior: 'allow', downloadPath: stage.folder });
  return async (name) => {
    for (let i = 0; i < 60; i++) {
      const found = (await readdir(stage.folder)).find((f) => name.test(f) && !f.endsWith('.crdownload'));
      if (found) return join(stage.folder, found);
      await new Promise((r) => {
        setTimeout(r, 100);
      });
    }
    throw new Error(`No file ${name} was saved.`);
  };
}

const undo: Test = {
  name: 'everything can be undone and done again',
  async run(stage) {
    const p = await makeClub(stage);
    const { page } = p;
    await p.pressText('Data', 'header');
    await p.sees('24 records', 'main');
    const firstName = (): Promise<string> => page.$eval('#cell-0-0', (e) => (e as HTMLElement).innerText.trim());
    await page.waitForFunction(() =>
      (document.querySelector('#cell-0-0') as HTMLElement | null)?.innerText.includes('Old Otter 1'),
    );

    // A cell, by keyboard alone.
    await page.click('#cell-0-0');
    await page.keyboard.type('Kittiwake');
    await page.keyboard.press('Enter');
    await page.waitForFunction(() =>
      (document.querySelector('#cell-0-0') as HTMLElement).innerText.includes('Kittiwake'),
    );
    // A wrong value is told at its place and not taken.
    await page.keyboard.press('ArrowUp');
    await page.keyboard.press('ArrowRight');
    await page.keyboard.press('ArrowRight');
    await page.keyboard.type('long');
    await p.sees('“long” is not a number', 'main');
    await page.keyboard.press('Escape');
    // A field, renamed, retyped and removed.
    await page.evaluate(() =>
      (
        [...document.querySelectorAll('[role=columnheader] button')].find((e) =>
          (e as HTMLElement).innerText.includes('Berth'),
        ) as HTMLElement
      ).click(),
    );
    await p.fill('Name of the field', 'Mooring');
    await page.keyboard.press('Enter');
    await p.sees('Mooring', '[role=grid]');
    await page.click('section [aria-label^="Type:"]');
    await p.pressText('number', '[cmdk-root]');
    await p.sees('24 of 24 values are no number');
    await p.press('Leave it as it is', 'button');
    await p.press('Remove this field', 'button');
    await p.seesNot('Mooring', '[role=grid]');
    // A record removed.
    await page.hover('#cell-1-0');
    await (await page.waitForSelector('[aria-label="Remove this record"]'))!.click();
    await p.sees('23 records', 'main');

    const back = async (): Promise<void> => {
      await page.keyboard.down('Control');
      await page.keyboard.press('z');
      await page.keyboard.up('Control');
    };
    await page.evaluate(() => (document.activeElement as HTMLElement | null)?.blur());
    await back();
    await p.sees('Undid: Removed a boat');
    await p.sees('24 records', 'main');
    await back();
    await p.sees('Mooring', '[role=grid]');
    await back();
    await p.sees('Berth', '[role=grid]');
    await back();
    await page.waitForFunction(() =>
      (document.querySelector('#cell-0-0') as HTMLElement).innerText.includes('Old Otter 1'),
    );
    await page.keyboard.down('Control');
    await page.keyboard.press('y');
    await page.keyboard.up('Control');
    await page.waitForFunction(() =>
      (document.querySelector('#cell-0-0') as HTMLElement).innerText.includes('Kittiwake'),
    );
    if (!(await firstName()).includes('Kittiwake')) throw new Error('The cell was not done again.');
  },
};

const keeping: Test = {
  name: 'closing the tab in the middle of typing loses nothing, and Undo goes on where it was',
  async run(stage) {
    const p = await makeClub(stage);
    const name = async (at: Person, to: string): Promise<void> => {
      await at.pressText('Data', 'header');
      await at.sees(to, '#cell-0-0');
    };
    await name(p, 'Old Otter 1');
    await p.page.click('#cell-0-0');
    await p.page.keyboard.type('New Otter');
    await p.page.keyboard.press('Enter');
    await p.sees('New Otter', '#cell-0-0');
    await p.pressText('Screens', 'header');
    await p.pressText('List of Boats', 'nav');
    const field = await p.find('Words for an empty list');
    const url = p.page.url();
    await field.click({ count: 3 });
    await p.page.keyboard.type('No boat is out');
    await p.page.close({ runBeforeUnload: true });
    await new Promise((r) => {
      setTimeout(r, 500);
    });
    const page = await stage.browser.newPage();
    watchConsole(page, stage.errors);
    await page.goto(url);
    const again = new Person(page);
    await again.sees('24 of 24 records');
    const words = await page.$$eval('main [role=textbox]', (all) => all.map((t) => t.textContent ?? ''));
    if (!words.includes('No boat is out')) throw new Error(`What was typed is lost; there is ${words.join(' | ')}`);
    // What was done before the tab was closed is undone step by step: the words, then the record.
    await page.click('[aria-label^="Undo: "]');
    await page.waitForFunction(
      () => ![...document.querySelectorAll('main [role=textbox]')].some((t) => t.textContent === 'No boat is out'),
    );
    await again.pressText('Data', 'header');
    await again.sees('New Otter', '#cell-0-0');
    await page.click('[aria-label^="Undo: "]');
    await again.sees('Old Otter 1', '#cell-0-0');
    await page.reload();
    await again.sees('Old Otter 1', '#cell-0-0');
    await page.click('[aria-label^="Do again: "]');
    await again.sees('New Otter', '#cell-0-0');
  },
};

const twoTabs: Test = {
  name: 'an app is open in one tab at a time',
  async run(stage) {
    const p = await makeClub(stage);
    const second = await stage.browser.newPage();
    await second.goto(p.page.url());
    await new Person(second).sees('This app is open in another tab');
    await p.page.close();
    await second.bringToFront();
    await second.reload();
    await new Person(second).sees('Far Shore 5', '.k-app');
  },
};

const filesOut: Test = {
  name: 'an app goes out as one file and comes back the same; tables go out as CSV and XLSX',
  async run(stage) {
    const p = await makeClub(stage);
    const saved = await downloads(p, stage);
    await p.press('App menu', 'button');
    await p.pressText('Export this app with its records', '[role=menu]');
    const file = await saved(/kite\.json$/);
    await p.pressText('Data', 'header');
    for (const [label, name] of [
      ['Export as CSV', /Boats\.csv$/],
      ['Export as XLSX', /Boats\.xlsx$/],
    ] as const) {
      await p.press('More for this table', 'button');
      await p.pressText(label, '[role=menu]');
      if (name.source.includes('xlsx')) await saved(name);
    }
    const csv = await readFile(await saved(/^Boats( \(1\))?\.csv$/), 'utf8');
    if (!csv.includes('Old Otter 1')) throw new Error('The CSV has no records.');

    // Elsewhere: another browser context has nothing of this one.
    const other = await openStudio(stage, undefined, await stage.browser.createBrowserContext());
    const { page } = other;
    const [chooser] = await Promise.all([page.waitForFileChooser(), other.press('Open an app file', 'button')]);
    await chooser.accept([file]);
    await other.sees('24 records', 'main');
    await other.sees('Old Otter 1', '[role=grid]');
    await other.pressText('Trips', 'nav');
    await other.sees('120 records', 'main');
    const docs = await Promise.all(
      [p.page, page].map((x) =>
        x.evaluate(async () => {
          const db = await new Promise<IDBDatabase>((resolve) => {
            const r = indexedDB.open('mellow-kite');
            r.addEventListener('success', () => resolve(r.result));
          });
          const all = await new Promise<{ app: unknown; ownerKey: string }[]>((resolve) => {
            const r = db.transaction('apps').objectStore('apps').getAll();
            r.addEventListener('success', () => resolve(r.result as never));
          });
          db.close();
          return [all[0]!.app, all[0]!.ownerKey];
        }),
      ),
    );
    const sorted = (v: unknown): unknown =>
      Array.isArray(v)
        ? v.map(sorted)
        : v && typeof v === 'object'
          ? Object.fromEntries(
              Object.entries(v)
                .sort(([a], [b]) => (a < b ? -1 : 1))
                .map(([k, x]) => [k, sorted(x)]),
            )
          : v;
    if (JSON.stringify(sorted(docs[0])) !== JSON.stringify(sorted(docs[1])))
      throw new Error('The app that came back is not the same.');
    await page.browserContext().close();
  },
};

const arranging: Test = {
  name: 'elements are added, moved, copied and removed, on the phone and in the outline',
  async run(stage) {
    const p = await makeClub(stage);
    const { page } = p;
    await p.press('Arrange');
    const outline = (): Promise<string[]> =>
      page.$$eval('nav[aria-label="Screens"] a', (all) =>
        all.filter((a) => /\/e_/.test((a as HTMLAnchorElement).href)).map((a) => (a as HTMLElement).innerText.trim()),
      );
    // Selected on the phone, the desk shows it.
    const search = await page.waitForSelector('.k-search');
    const box = (await search!.boundingBox())!;
    await page.mouse.click(box.x + 20, box.y + 10);
    await p.sees('records of', 'main');
    // Added behind it, written, moved by keyboard, copied, taken off, brought back.
    await p.pressText('Row', 'nav[aria-label="Screens"]');
    await p.press('Add inside', 'button');
    await p.pressText('Text', '[cmdk-root]');
    await p.sees('Boats › Row › Text');
    await p.fill('Words', 'Moored here');
    await p.sees('Moored here', '.k-app');
    await page.waitForFunction(() =>
      [...document.querySelectorAll('nav[aria-label="Screens"] a')].some((a) =>
        (a as HTMLElement).innerText.includes('Moored here'),
      ),
    );
    const before = await outline();
    await (await page.waitForSelector('nav[aria-label="Screens"] ::-p-text(Moored here)'))!.click();
    await page.focus('nav[aria-label="Screens"] a[aria-current="true"]');
    await page.keyboard.down('Alt');
    await page.keyboard.press('ArrowUp');
    await page.keyboard.up('Alt');
    await page.waitForFunction(
      (old) =>
        [...document.querySelectorAll('nav[aria-label="Screens"] a')]
          .map((a) => (a as HTMLElement).innerText.trim())
          .join('|')
          .indexOf('Moored here') < old,
      {},
      before.join('|').indexOf('Moored here') + 12,
    );
    await p.press('Make a copy (D)', 'button');
    await page.waitForFunction(
      () =>
        [...document.querySelectorAll('nav[aria-label="Screens"] a')].filter((a) =>
          (a as HTMLElement).innerText.includes('Moored here'),
        ).length === 2,
    );
    await p.press('Remove it (Delete)', 'button');
    await page.waitForFunction(
      () =>
        [...document.querySelectorAll('nav[aria-label="Screens"] a')].filter((a) =>
          (a as HTMLElement).innerText.includes('Moored here'),
        ).length === 1,
    );
    // Dragged on the phone: the title row, held where it is selected, into a row of the list. The phone must have
    // heard of the removal first, or places are measured that are not theirs any more.
    await page.waitForFunction(
      () => (document.querySelector('.k-app') as HTMLElement).innerText.split('Moored here').length === 2,
    );
    const title = (await (await page.waitForSelector('.k-app .k-text[data-style="title"]'))!.boundingBox())!;
    const list = (await (await page.waitForSelector('.k-search'))!.boundingBox())!;
    await page.mouse.click(list.x + 20, list.y + 10);
    await p.sees('records of', 'main');
    await page.mouse.move(title.x + 12, title.y + 8);
    await page.mouse.down();
    await page.mouse.move(list.x + 40, list.y + 200, { steps: 6 });
    await page.mouse.up();
    await p.sees('Moved Row', 'section[aria-label="Trace"]');
    // In the outline by mouse, and by keys alone: space picks up, an arrow moves, space puts down.
    const items = () =>
      page.$$eval('nav[aria-label="Screens"] li li a', (list) => list.map((e) => (e as HTMLElement).innerText.trim()));
    const order = await items();
    const links = await page.$$('nav[aria-label="Screens"] li li a');
    const [from, to] = [(await links.at(-1)!.boundingBox())!, (await links[0]!.boundingBox())!];
    await page.mouse.move(from.x + 40, from.y + 14);
    await page.mouse.down();
    await page.mouse.move(to.x + 40, to.y + 3, { steps: 6 });
    await page.mouse.up();
    await page.waitForFunction(
      (was) => (document.querySelector('nav[aria-label="Screens"] li li a') as HTMLElement).innerText.trim() === was,
      {},
      order.at(-1)!,
    );
    await page.keyboard.down('Control');
    await page.keyboard.press('z');
    await page.keyboard.up('Control');
    await page.waitForFunction(
      (was) => (document.querySelector('nav[aria-label="Screens"] li li a') as HTMLElement).innerText.trim() === was,
      {},
      order[0]!,
    );
    await (await page.$$('nav[aria-label="Screens"] li li a')).at(-1)!.focus();
    await page.keyboard.press('Space');
    await new Promise((r) => {
      setTimeout(r, 150);
    });
    for (let i = 0; i < 30; i++) await page.keyboard.press('ArrowUp');
    await new Promise((r) => {
      setTimeout(r, 150);
    });
    await page.keyboard.press('Space');
    await page.waitForFunction(
      (was) => (document.querySelector('nav[aria-label="Screens"] li li a') as HTMLElement).innerText.trim() === was,
      {},
      order.at(-1)!,
    );
    await page.keyboard.down('Control');
    await page.keyboard.press('z');
    await page.keyboard.up('Control');
    // Seen only when a formula is true.
    await page.keyboard.down('Control');
    await page.keyboard.press('z');
    await page.keyboard.up('Control');
    await p.pressText('Moored here', 'nav[aria-label="Screens"]');
    await p.press('Visible when: as a formula', 'button');
    await page.click('main [aria-label="Visible when: write a formula"]');
    await p.pressText('Write a formula', '[cmdk-root]');
    await page.waitForSelector('[aria-label="Formula for Visible when"]');
    await page.type('[aria-label="Formula for Visible when"]', 'count(all Boats) > 100');
    await p.sees('A yes/no');
    // Escape closes offers first, and then asks before what was typed is left.
    if (await page.$('.cm-tooltip-autocomplete')) await page.keyboard.press('Escape');
    await page.keyboard.press('Escape');
    await p.sees('Escape again leaves it as it was');
    await p.press('Keep it', 'button');
    await p.seesNot('Moored here', '.k-app');
  },
};

const demo: Test = {
  name: 'the demo opens, works and fits 1024 pixels',
  async run(stage) {
    const p = await openStudio(stage, { width: 1024, height: 768 });
    const { page } = p;
    await p.press('Heatherfield Bees', 'button');
    await p.sees('days', '.k-app', 20_000);
    for (const workspace of ['Data', 'Screens', 'Logic', 'Release']) {
      await p.pressText(workspace, 'header');
      await page.waitForSelector('main h1');
      const overflow = await page.evaluate(() => document.documentElement.scrollWidth > innerWidth);
      if (overflow) throw new Error(`${workspace} is wider than 1024 pixels.`);
    }
    // A large table: the last record is reached, and only what is in view exists.
    await p.pressText('Data', 'header');
    await p.sees('Each record is called', 'main');
    await p.pressText('Moves', 'nav');
    await p.sees('4,860 records', 'main');
    await page.waitForSelector('#cell-0-0[data-record]');
    await page.click('#cell-0-0');
    await page.keyboard.down('Control');
    await page.keyboard.press('End');
    await page.keyboard.up('Control');
    await page.waitForSelector('#cell-4859-0', { timeout: 5000 });
    if ((await page.$$('[role=row]')).length > 120) throw new Error('The grid draws rows that nobody sees.');
    await page.keyboard.down('Control');
    await page.keyboard.press('k');
    await page.keyboard.up('Control');
    await page.waitForSelector('[cmdk-root] input');
    await page.keyboard.type('routine first-visit');
    await page.keyboard.press('Enter');
    await p.sees('Starts when', 'main');
    await p.press('Try with sample', 'button');
    await p.sees('1 run', 'main');
  },
};

export const tests: Test[] = [undo, keeping, twoTabs, filesOut, arranging, demo];
