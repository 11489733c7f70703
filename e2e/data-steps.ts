/** Steps that several tests of the Data workspace take. */
import type { Page } from 'puppeteer-core';
import type { Person } from './browser.ts';
import type { Stage } from './stage.ts';
import { makeClub } from './whole-path.ts';

export const pause = (ms: number): Promise<void> =>
  new Promise((r) => {
    setTimeout(r, ms);
  });

/** The club’s boats in the Data workspace, with the phone folded away. */
export async function boats(stage: Stage): Promise<Person> {
  const p = await makeClub(stage);
  await p.pressText('Data', 'header');
  await p.page.waitForFunction(() =>
    (document.querySelector('#cell-0-0') as HTMLElement | null)?.innerText.includes('Old Otter 1'),
  );
  return p;
}

export async function openField(page: Page, name: string): Promise<void> {
  await page.evaluate(
    (n) =>
      [...document.querySelectorAll<HTMLElement>('[role=columnheader] button')]
        .find((e) => e.innerText.trim().startsWith(n))!
        .click(),
    name,
  );
  await page.waitForSelector(`section[aria-label="Field ${name}"]`);
}

/** Writes into the cell at a place and keeps it. */
export async function write(page: Page, row: number, column: number, text: string): Promise<void> {
  await page.click(`#cell-${row}-${column}`);
  await page.keyboard.type(text);
  await page.keyboard.press('Enter');
}
export const undo = async (p: Person): Promise<void> => {
  await p.page.evaluate(() => (document.activeElement as HTMLElement | null)?.blur());
  await p.page.keyboard.down('Control');
  await p.page.keyboard.press('z');
  await p.page.keyboard.up('Control');
};

/** Puts a plain value, not a field, into a chip of a sentence. */
export async function plainValue(p: Person, chip: string, value: string): Promise<void> {
  await p.page.click(`main [aria-label^="${chip}:"]`);
  await p.page.waitForSelector('[cmdk-root] input');
  await p.page.type('[cmdk-root] input', value);
  await p.pressText(`Use “${value}”`, '[cmdk-root]');
  await p.page.waitForFunction(() => !document.querySelector('[cmdk-root]'));
}

/** Writes the check of a field as a formula and keeps it. */
export async function addCheck(p: Person, field: string, formula: string): Promise<void> {
  await openField(p.page, field);
  await p.page.click('section [aria-label^="Check:"]');
  const editor = `[aria-label="Formula for the check of ${field}"]`;
  await p.page.waitForSelector(editor);
  await p.page.type(editor, formula);
  await p.sees('A yes/no');
  await p.press('Keep it', 'button');
}

/** Ticks the fields that tell the records of the table apart. */
export async function tickKey({ page }: Person, names: string[]): Promise<void> {
  await page.click('main [aria-label^="Key:"]');
  await page.evaluate((wanted) => {
    for (const name of wanted)
      [...document.querySelectorAll<HTMLElement>('[data-radix-popper-content-wrapper] label')]
        .find((l) => l.innerText.trim() === name)!
        .click();
  }, names);
  await page.keyboard.press('Escape');
}
