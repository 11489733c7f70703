import type { Page } from 'puppeteer-core';
import { boats, undo } from './data-steps.ts';
import { makeClub } from './whole-path.ts';
import type { Test } from './stage.ts';

const OUTLINE = 'nav[aria-label=Screens] ul ul a';

/** Presses the right button of the mouse in the middle of what is found. */
async function pressRight(page: Page, selector: string): Promise<void> {
  const e = (await page.waitForSelector(selector))!;
  await e.scrollIntoView();
  const box = (await e.boundingBox())!;
  await page.mouse.click(box.x + box.width / 2, box.y + box.height / 2, { button: 'right' });
  await page.waitForSelector('[role=menu]');
}

const elements: Test = {
  name: 'the right button opens menus on the phone and in the outline',
  async run(stage) {
    const p = await makeClub(stage);
    const { page } = p;
    const titles = (): Promise<number> =>
      page.$$eval('.k-app [data-style=title]', (all) => all.filter((e) => e.textContent === 'Boats').length);
    await p.pressText('Screens', 'header');
    await p.press('Arrange', 'radio');
    await page.waitForSelector('[data-arrange]');
    // On the phone what is pressed is selected, and the menu is about it.
    const box = (await (await page.waitForSelector('.k-app [data-style=title]'))!.boundingBox())!;
    const at = [box.x + 20, box.y + box.height / 2] as const;
    await page.mouse.click(...at, { button: 'right' });
    await p.sees('Duplicate', '[role=menu]');
    await page.keyboard.press('Escape');
    await page.waitForFunction(() => !document.querySelector('[role=menu]'));
    // In the outline.
    await pressRight(page, `${OUTLINE} ::-p-text(List of Boats)`);
    await p.pressText('Put into a box', '[role=menu]');
    await p.sees('Box', OUTLINE);
    await undo(p);
    const before = await titles();
    await pressRight(page, `${OUTLINE} ::-p-text(Boats)`);
    await p.pressText('Duplicate', '[role=menu]');
    await page.waitForFunction(
      (n) =>
        [...document.querySelectorAll('.k-app [data-style=title]')].filter((e) => e.textContent === 'Boats').length ===
        n + 1,
      {},
      before,
    );
    await undo(p);
    await page.waitForFunction(
      (n) =>
        [...document.querySelectorAll('.k-app [data-style=title]')].filter((e) => e.textContent === 'Boats').length ===
        n,
      {},
      before,
    );
  },
};

const fields: Test = {
  name: 'fields of a table are dragged onto the phone, or pressed into place',
  async run(stage) {
    const p = await makeClub(stage);
    const { page } = p;
    await p.pressText('Screens', 'header');
    await p.pressText('List of Boats', 'nav[aria-label=Screens]');
    await p.pressText('Fields of Boats', 'nav[aria-label=Screens]');
    const shown = (words: string): Promise<unknown> =>
      page.waitForFunction(
        (w) => [...document.querySelectorAll('.k-app .k-row')].some((r) => (r as HTMLElement).innerText.includes(w)),
        {},
        words,
      );
    const first = await page.$eval('.k-app .k-row', (r) => (r as HTMLElement).innerText);
    if (first.includes('@')) throw new Error('The mail address stands in the row already.');
    // Dragged over the title of a row it is put beside it.
    await page.evaluate(() => {
      const all = [...document.querySelectorAll<HTMLElement>('[data-drag-field]')];
      const data = new DataTransfer();
      (window as unknown as { dragged: DataTransfer }).dragged = data;
      all
        .find((b) => b.innerText.includes('Skipper mail'))!
        .dispatchEvent(new DragEvent('dragstart', { dataTransfer: data, bubbles: true }));
    });
    await page.waitForSelector('[data-arrange]');
    await page.evaluate(() => {
      const at = document.querySelector('.k-app .k-row .k-text')!.getBoundingClientRect();
      for (const type of ['dragover', 'drop'])
        document.querySelector('[data-arrange]')!.dispatchEvent(
          new DragEvent(type, {
            dataTransfer: (window as unknown as { dragged: DataTransfer }).dragged,
            bubbles: true,
            cancelable: true,
            clientX: at.left + 8,
            clientY: at.bottom - 2,
          }),
        );
    });
    await shown('@');
    await p.sees('Put Skipper mail on Boats', 'section[aria-label="Trace"]');
    await undo(p);
    await p.pressText('List of Boats', 'nav[aria-label=Screens]');
    await p.pressText('Skipper mail', 'nav[aria-label=Screens]');
    await shown('@');
  },
};

const cells: Test = {
  name: 'the right button opens menus in the grid: filter, sort, group, duplicate and remove',
  async run(stage) {
    const p = await boats(stage);
    const { page } = p;
    await p.sees('24 records', 'main');
    const name = (): Promise<string> => page.$eval('#cell-0-0', (e) => (e as HTMLElement).innerText.trim());
    const first = await name();
    const field = await page.$eval('[role=columnheader] [data-field]', (e) => (e as HTMLElement).innerText.trim());
    await pressRight(page, '#cell-0-0');
    await p.pressText(`Show only where ${field} is ${first}`, '[role=menu]');
    await p.sees('1 of 24 records', 'main');
    await undo(p);
    await p.sees('24 records', 'main');
    // Where no cell is, no menu opens, and the next one opens all the same.
    const below = await page.$eval('[role=grid]', (e) => e.getBoundingClientRect().toJSON() as DOMRect);
    await page.setViewport({ width: 1280, height: 1600 });
    await page.mouse.click(below.x + 200, 1500, { button: 'right' });
    if (await page.$('[role=menu]')) throw new Error('There is a menu where there is no cell.');
    await page.setViewport({ width: 1280, height: 800 });
    await pressRight(page, '#cell-0-0');
    await p.pressText('Duplicate this record', '[role=menu]');
    await p.sees('25 records', 'main');
    await undo(p);
    await p.sees('24 records', 'main');
    // Several lines that are selected are meant together.
    await page.click('#cell-0-0');
    await page.keyboard.down('Shift');
    await page.click('#cell-2-0');
    await page.keyboard.up('Shift');
    await pressRight(page, '#cell-1-0');
    await p.pressText('Remove 3 records', '[role=menu]');
    await p.sees('21 records', 'main');
    await undo(p);
    await p.sees('24 records', 'main');
    await pressRight(page, '[role=columnheader] [data-field]');
    await p.pressText(`Sort by ${field}, downwards`, '[role=menu]');
    await page.waitForFunction(
      (f) => document.querySelector<HTMLElement>('#cell-0-0')?.innerText.trim() !== f,
      {},
      first,
    );
    await pressRight(page, '[role=columnheader] [data-field]');
    await p.pressText('Hide this column', '[role=menu]');
    await p.sees('hidden', 'main');
  },
};

export const tests: Test[] = [elements, fields, cells];
