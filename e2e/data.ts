import { writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import type { Page } from 'puppeteer-core';
import type { Test } from './stage.ts';
import { addFormulaField, choose, makeClub, writeFormula } from './whole-path.ts';

/** Pastes a text into what has the focus, as the browser does for Ctrl V. */
const paste = (page: Page, text: string): Promise<void> =>
  page.evaluate((t) => {
    const data = new DataTransfer();
    data.setData('text/plain', t);
    document.activeElement!.dispatchEvent(
      new ClipboardEvent('paste', { clipboardData: data, bubbles: true, cancelable: true }),
    );
  }, text);

/** What Ctrl C puts on the clipboard. */
const copied = (page: Page): Promise<string> =>
  page.evaluate(() => {
    const data = new DataTransfer();
    document.activeElement!.dispatchEvent(
      new ClipboardEvent('copy', { clipboardData: data, bubbles: true, cancelable: true }),
    );
    return data.getData('text/plain');
  });

async function hold(page: Page, modifier: 'Control' | 'Shift', keys: string[]): Promise<void> {
  await page.keyboard.down(modifier);
  for (const k of keys) await page.keyboard.press(k as 'a');
  await page.keyboard.up(modifier);
}

const blocks: Test = {
  name: 'blocks of cells are copied, pasted, filled down and emptied, each undone in one step',
  async run(stage) {
    const p = await makeClub(stage);
    const { page } = p;
    await p.pressText('Data', 'header');
    await page.waitForFunction(() =>
      (document.querySelector('#cell-0-0') as HTMLElement | null)?.innerText.includes('Old Otter 1'),
    );
    await page.click('#cell-0-0');
    await hold(page, 'Shift', ['ArrowRight', 'ArrowDown']);
    const text = await copied(page);
    if (text !== 'Old Otter 1\tGBR 1\r\nSandpiper 2\tGBR 2') throw new Error(`Copied: ${text}`);

    // 500 rows from a spreadsheet program, from the last record on: one is changed, 499 are new.
    await hold(page, 'Control', ['End']);
    await page.keyboard.press('Home');
    await paste(
      page,
      Array.from(
        { length: 500 },
        (_, i) => `Pasted ${i}\tGBR ${100 + i}\t${i % 50 === 0 ? 'long' : `${4 + (i % 4)},5`}`,
      ).join('\r\n'),
    );
    await p.sees('Pasted 500 rows, 499 of them new. 10 cells do not fit and are left out.');
    await p.sees('523 records', 'main');
    await page.waitForFunction(() =>
      [...document.querySelectorAll('[role=row]')].some((r) =>
        /Pasted 499[\s\S]*GBR 599[\s\S]*7\.5/.test((r as HTMLElement).innerText),
      ),
    );

    // Filled down, then emptied.
    await hold(page, 'Control', ['Home']);
    await page.keyboard.press('ArrowRight');
    await page.keyboard.press('ArrowRight');
    await page.keyboard.press('ArrowRight');
    await hold(page, 'Shift', ['ArrowDown', 'ArrowDown']);
    await hold(page, 'Control', ['d']);
    await page.waitForFunction(() =>
      ['A1', 'A1', 'A1'].every(
        (v, i) => (document.querySelector(`#cell-${i}-3`) as HTMLElement).innerText.trim() === v,
      ),
    );
    await page.keyboard.press('Delete');
    await page.waitForFunction(() =>
      [0, 1, 2].every((i) => (document.querySelector(`#cell-${i}-3`) as HTMLElement).innerText.trim() === ''),
    );

    await hold(page, 'Control', ['z']);
    await p.sees('Undid: Cleared 3 cells');
    await hold(page, 'Control', ['z']);
    await page.waitForFunction(() => (document.querySelector('#cell-2-3') as HTMLElement).innerText.trim() === 'A3');
    await hold(page, 'Control', ['z']);
    await p.sees('24 records', 'main');
    await p.sees('Undid: Pasted 500 rows into Boats');
  },
};

const sentences: Test = {
  name: 'a formula field is made by a sentence, opens as a formula and back; a record opens as a page',
  async run(stage) {
    const p = await makeClub(stage);
    const { page } = p;
    await addFormulaField(p);
    await p.press('Count or add up', 'button');
    await choose(p, 'Records', 'Trips');
    await choose(p, 'Figure', 'sum');
    await choose(p, 'Field', 'Hours');
    await p.sees('Old Otter 1 17', 'main');
    await p.press('any: add a condition', 'button');
    await choose(p, 'Condition 1', 'Rough');
    await p.sees('sum(Trips[Rough = true].Hours)', 'main');
    await p.press('Formula', 'radio');
    await writeFormula(page, 'Formula of New formula', 'if Length > 7 then "long" else "short"');
    await p.sees('Sandpiper 2 long', 'main');
    await page.evaluate(() => (document.activeElement as HTMLElement).blur());
    await p.press('Sentence', 'radio');
    await p.sees('If Length is over 7', 'main');
    await choose(p, 'Comparison', 'is under');
    await p.sees('Sandpiper 2 short', 'main');

    // The record beside the grid, with its trips; from one of them back to the boat.
    await page.click('#cell-1-0');
    await hold(page, 'Shift', ['Space']);
    await (await page.waitForSelector('aside [aria-label="Change Berth"]'))!.click();
    await page.keyboard.type('B7');
    await page.keyboard.press('Enter');
    await page.waitForFunction(() => (document.querySelector('#cell-1-3') as HTMLElement).innerText.includes('B7'));
    await (await page.waitForSelector('aside section li button'))!.click();
    await page.waitForFunction(
      () => location.pathname.includes('/data/') && document.querySelector('main h1')!.textContent!.includes('Trips'),
    );
    await p.press('Open Sandpiper 2', 'button');
    await page.waitForFunction(() => document.querySelector('main h1')!.textContent!.includes('Boats'));
  },
};

const reimport: Test = {
  name: 'a changed file is brought into its table by key, after showing what it would do, and undone',
  async run(stage) {
    const p = await makeClub(stage);
    const { page } = p;
    await p.pressText('Data', 'header');
    await p.sees('24 records', 'main');
    const path = join(stage.folder, 'boats-again.csv');
    await writeFile(
      path,
      'sail no,Length,Berth,Colour\nGBR 1,"6,1",A1,red\nGBR 2,"9,9",,blue\nGBR 77,5,Q1,\nGBR 3,very,A3,\n',
    );
    const [chooser] = await Promise.all([page.waitForFileChooser(), p.press('Bring in a file', 'button')]);
    await chooser.accept([path]);
    await p.sees('1 new, 1 changed, 1 as they are, 1 refused', 'main');
    await p.sees('“very” does not fit Length.', 'main');
    await p.sees('22 of Boats are not in the file and stay.', 'main');
    await p.press('Bring it in', 'button');
    await p.sees('25 records', 'main');
    await page.waitForFunction(() =>
      [...document.querySelectorAll('[role=row]')].some((r) =>
        /Sandpiper 2[\s\S]*9\.9[\s\S]*A2/.test((r as HTMLElement).innerText),
      ),
    );
    await page.click('#cell-0-0');
    await hold(page, 'Control', ['z']);
    await p.sees('24 records', 'main');
    await page.waitForFunction(() =>
      [...document.querySelectorAll('[role=row]')].some((r) =>
        /Sandpiper 2[\s\S]*7\.2/.test((r as HTMLElement).innerText),
      ),
    );
  },
};

const stopping: Test = {
  name: 'a large file shows how far it is, can be stopped half-way, and what came in is undone in one step',
  async run(stage) {
    const p = await makeClub(stage);
    const { page } = p;
    await p.pressText('Data', 'header');
    await p.sees('24 records', 'main');
    const path = join(stage.folder, 'many.csv');
    const rows = Array.from({ length: 60_000 }, (_, i) => `Boat ${i};X ${i};${4 + (i % 5)},${i % 10};B${i % 90}`);
    await writeFile(path, `Boat;Sail no;Length;Berth\n${rows.join('\n')}\n`);
    const [chooser] = await Promise.all([page.waitForFileChooser(), p.press('Bring in a file', 'button')]);
    await chooser.accept([path]);
    await p.sees('60,000 new', 'main', 20_000);
    await p.sees('decimal comma', 'main');
    await p.press('Bring it in', 'button');
    await p.sees('of 60,000', 'main');
    await p.press('Stop', 'button');
    await p.sees('Stopped after', 'main', 20_000);
    await p.sees('Undo takes back what came in.', 'main');
    await p.press('Leave it');
    await page.evaluate(() => (document.activeElement as HTMLElement | null)?.blur());
    await page.waitForFunction(
      () =>
        Number(
          /([\d,]+) records/.exec((document.querySelector('main') as HTMLElement).innerText)![1]!.replace(/,/g, ''),
        ) > 500,
    );
    await hold(page, 'Control', ['z']);
    await p.sees('24 records', 'main', 20_000);
  },
};

export const tests: Test[] = [blocks, sentences, reimport, stopping];
