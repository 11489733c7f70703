import type { Page } from 'puppeteer-core';
import { openStudio, Person } from './browser.ts';
import { addCheck, boats, openField, pause, plainValue, tickKey, undo } from './data-steps.ts';
import type { Test } from './stage.ts';
import { addFormulaField, choose } from './whole-path.ts';

/** Waits until the first column reads like this from the top; group lines are read by their names. */
async function firstColumn(page: Page, expected: string[]): Promise<void> {
  const read = (): Promise<string[]> =>
    page.evaluate(
      (n) =>
        Array.from({ length: n }, (_, i) =>
          (
            (document.querySelector(`#cell-${i}-0, [role=row][aria-rowindex="${i + 1}"]`) as HTMLElement | null)
              ?.innerText ?? ''
          )
            .split('\n')[0]!
            .trim(),
        ),
      expected.length,
    );
  let last: string[] = [];
  for (let i = 0; i < 80; i++) {
    last = await read();
    if (last.join('|') === expected.join('|')) return;
    await pause(100);
  }
  throw new Error(`The first column reads ${last.join(', ')}, not ${expected.join(', ')}.`);
}

const looking: Test = {
  name: 'a table is filtered, ordered by several, put together, its columns moved, hidden and widened; a reload keeps it',
  async run(stage) {
    const p = await boats(stage);
    const { page } = p;
    await choose(p, 'Sort by', 'Length');
    await choose(p, 'Direction', 'downwards');
    await choose(p, 'Sort by 2', 'Boat');
    await firstColumn(page, ['Old Otter 7', 'Grey Seal 15', 'Far Shore 23', 'Grey Seal 3']);
    await p.press('all of them: add a condition', 'button');
    await choose(p, 'Condition 1', 'Boat');
    await choose(p, 'Comparison', 'contains');
    await plainValue(p, 'Compared with 1', 'otter');
    await p.sees('4 of 24 records', 'main');
    await firstColumn(page, ['Old Otter 7', 'Old Otter 19', 'Old Otter 13', 'Old Otter 1']);

    // Figures below the columns, and below every group.
    await page.click('[aria-label^="Figure below Length"]');
    await p.pressText('sum', '[role=menu]');
    await page.waitForSelector('[aria-label="Figure below Length: sum 29.3"]');

    // A new record that the condition hides says so, and can be seen.
    await p.press('Record', 'button');
    await p.sees('The new boat is there, but it does not fit what is shown.');
    await pause(500); // the message slides in
    await p.press('Show all', 'button');
    await page.waitForFunction(() => !document.querySelector('main [aria-label^="Condition 1"]'));
    await p.sees('25 records', 'main');
    await undo(p);
    await p.sees('4 of 25 records', 'main');
    await undo(p);
    await p.sees('4 of 24 records', 'main');

    await p.press('Remove condition 1', 'button');
    await choose(p, 'Group by', 'Length');
    await page.waitForFunction(() => document.querySelectorAll('[aria-expanded]').length > 1);
    await p.sees('Length sum', '[role=grid]');
    await page.click('[aria-label^="Fold 5"]');
    await page.waitForSelector('[aria-label^="Unfold 5"]');
    await choose(p, 'Group by', 'nothing');

    // Columns: moved by dragging, widened by their edge, hidden, kept in view.
    const header = async (name: string) =>
      (await page.evaluateHandle(
        (n) =>
          [...document.querySelectorAll<HTMLElement>('[role=columnheader]')].find((e) =>
            e.innerText.trim().startsWith(n),
          )!,
        name,
      ))!;
    const berth = (await (await header('Berth')).asElement()!.boundingBox())!;
    const edge = { x: berth.x + berth.width, y: berth.y + berth.height / 2 };
    await page.mouse.move(edge.x, edge.y);
    await page.mouse.down();
    await page.mouse.move(edge.x + 80, edge.y, { steps: 4 });
    await page.mouse.up();
    await page.waitForFunction(
      (w) =>
        [...document.querySelectorAll<HTMLElement>('[role=columnheader]')]
          .find((e) => e.innerText.trim().startsWith('Berth'))!
          .getBoundingClientRect().width >
        w + 60,
      {},
      berth.width,
    );
    const from = (await (await header('Berth')).asElement()!.boundingBox())!;
    const to = (await (await header('Boat')).asElement()!.boundingBox())!;
    await page.mouse.move(from.x + 30, from.y + 15);
    await page.mouse.down();
    await page.mouse.move(to.x + 20, to.y + 15, { steps: 8 });
    await page.mouse.up();
    await page.waitForFunction(() =>
      (document.querySelector('[role=columnheader]') as HTMLElement).innerText.includes('Berth'),
    );
    await openField(page, 'Skipper mail');
    await p.press('Hide this column');
    await p.seesNot('Skipper mail', '[role=grid]');
    await p.sees('1 of 5 columns hidden', 'main');

    await page.reload();
    await p.sees('1 of 5 columns hidden', 'main', 15_000);
    await page.waitForFunction(() =>
      (document.querySelector('[role=columnheader]') as HTMLElement | null)?.innerText.includes('Berth'),
    );
    await page.waitForSelector('[aria-label^="Figure below Length: sum"]');
    await page.waitForSelector('main [aria-label="Sort by 2: Boat"]');

    // Own order: made by a choice, changed by keys, taken back.
    await choose(p, 'Sort by', 'own order');
    await page.waitForFunction(() =>
      (document.querySelector('#cell-0-1') as HTMLElement)?.innerText.includes('Old Otter 1'),
    );
    await page.click('#cell-0-1');
    await page.keyboard.down('Alt');
    await page.keyboard.press('ArrowDown');
    await page.keyboard.up('Alt');
    await page.waitForFunction(
      () =>
        (document.querySelector('#cell-0-1') as HTMLElement).innerText.includes('Sandpiper 2') &&
        (document.querySelector('#cell-1-1') as HTMLElement).innerText.includes('Old Otter 1'),
    );
    await undo(p);
    await page.waitForFunction(() =>
      (document.querySelector('#cell-0-1') as HTMLElement).innerText.includes('Old Otter 1'),
    );
    // The same by mouse, by its handle: the third before the first.
    const handle = (await (await page.waitForSelector('#cell-2-0 [title^="Drag to another place"]'))!.boundingBox())!;
    const firstLine = (await (await page.waitForSelector('#cell-0-1'))!.boundingBox())!;
    const third = await page.$eval('#cell-2-1', (e) => (e as HTMLElement).innerText);
    await page.mouse.move(handle.x + 5, handle.y + 6);
    await page.mouse.down();
    await page.mouse.move(firstLine.x + 10, firstLine.y + 10, { steps: 8 });
    await page.mouse.up();
    await page.waitForFunction(
      (name) => (document.querySelector('#cell-0-1') as HTMLElement).innerText === name,
      { timeout: 8000 },
      third,
    );
    await undo(p);
  },
};

const undone: Test = {
  name: 'pasted rows, a check, a key of two fields, a matched link and a formula are all undone, step by step, and done again',
  async run(stage) {
    const p = await boats(stage);
    const { page } = p;
    const state = (): Promise<string> =>
      page.evaluate(() =>
        JSON.stringify({
          heads: [...document.querySelectorAll('[role=columnheader]')].map((e) => (e as HTMLElement).innerText.trim()),
          first: [0, 1, 2].map((r) => (document.querySelector(`#cell-${r}-0`) as HTMLElement | null)?.innerText),
          key: document.querySelector('main [aria-label^="Key:"]')?.getAttribute('aria-label'),
          foot: [...document.querySelectorAll('main span')]
            .map((e) => (e as HTMLElement).innerText)
            .find((t) => /^[\d,]+ records$/.test(t)),
        }),
      );
    const before = await state();
    await page.click('#cell-0-0');
    await page.evaluate(() => {
      const data = new DataTransfer();
      data.setData('text/plain', Array.from({ length: 500 }, (_, i) => `Row ${i}\tGBR ${500 + i}`).join('\r\n'));
      document.activeElement!.dispatchEvent(
        new ClipboardEvent('paste', { clipboardData: data, bubbles: true, cancelable: true }),
      );
    });
    // They would write over records that are there: it is asked first.
    await p.press('Write over them', 'button');
    await p.sees('500 records', 'main');
    await page.$eval('[role=grid]', (e) => e.scrollTo(0, 0));
    await addCheck(p, 'Length', 'Length < 30');
    await page.waitForSelector('main [aria-label="Check: Length < 30"]');
    await p.press('Close this card');
    await tickKey(p, ['Boat', 'Berth']);
    await page.waitForSelector('main [aria-label="Key: Boat and Berth"]');
    await p.press('Field', 'button');
    await p.pressText('A link to another table', '[role=menu]');
    await choose(p, 'Kind of link', 'that matches');
    await choose(p, 'Field here', 'Sail no');
    await choose(p, 'Field there', 'Sail no');
    await p.press('Close this card');
    await addFormulaField(p);
    await p.press('Count or add up', 'button');
    await choose(p, 'Records', 'Trips');
    await p.sees('count(Trips', 'main');
    await p.press('Close this card');
    const after = await state();
    const until = async (wanted: string): Promise<void> => {
      let now = '';
      for (let i = 0; i < 50; i++) {
        now = await state();
        if (now === wanted) return;
        await pause(100);
      }
      throw new Error(`It is ${now}, not ${wanted}.`);
    };
    const all = async (button: string): Promise<void> => {
      for (let i = 0; i < 30; i++) {
        const enabled = await page.$(`button[aria-label^="${button}"]:not([disabled])`);
        if (!enabled) return;
        await enabled.click();
        await pause(150);
      }
    };
    await all('Undo');
    await page.$eval('[role=grid]', (e) => e.scrollTo(0, 0));
    await until(before);
    await all('Do again');
    await page.$eval('[role=grid]', (e) => e.scrollTo(0, 0));
    await until(after);
  },
};

const written: Test = {
  name: 'tables written as text, or pasted as rows, make an app; more are written to it',
  async run(stage) {
    const p = await openStudio(stage);
    const { page } = p;
    const box = 'textarea[aria-label="Tables, a line for each"]';
    await page.waitForSelector(box);
    await page.type(box, 'Boats: name, length in m, owner, state (in, out)\nMembers: name, phone');
    await p.sees('link to Members', 'main');
    await p.press('Make the app', 'button');
    await p.sees('No boats yet', '.k-app');
    await p.pressText('Data', 'header');
    await p.press('Add a table', 'button');
    await page.waitForFunction((b) => document.activeElement === document.querySelector(b), {}, box);
    await page.keyboard.type('Trips: boat, left (date and time), back?, notes');
    await p.sees('Boat link to Boats', 'main');
    await page.keyboard.down('Control');
    await page.keyboard.press('Enter');
    await page.keyboard.up('Control');
    await p.sees('Each record is called', 'main');
    for (const field of ['Boat', 'Left', 'Back', 'Notes']) await p.sees(field, '[role=grid]');
    await undo(p);
    await p.seesNot('Trips', 'nav');

    await page.goto(stage.server.url);
    const again = new Person(page);
    await (await page.waitForSelector(box))!.click();
    await page.evaluate(() => {
      document.execCommand('insertText', false, 'Name\tPrice\nOld Otter\t1200\nNew Otter\t800.50');
    });
    await again.press('Review the rows', 'button');
    await again.sees('800.50', 'main');
    await again.press('Make the app', 'button');
    await again.sees('New Otter', '.k-app');
  },
};

export const tests: Test[] = [looking, undone, written];
