import { addCheck, boats, openField, plainValue, tickKey, write } from './data-steps.ts';
import type { Test } from './stage.ts';
import { addFormulaField, choose } from './whole-path.ts';

const fields: Test = {
  name: 'fields have defaults, checks with own words, patterns and keys; removed records come back; app facts reach formulas',
  async run(stage) {
    const p = await boats(stage);
    const { page } = p;

    // A check in the maker’s own words, refused in the grid and in the form on the phone.
    await addCheck(p, 'Length', 'Length <= 20');
    await page.waitForSelector('[aria-label="Words of the check"]');
    await page.type('[aria-label="Words of the check"]', 'No boat of the club is longer than twenty metres.');
    await page.keyboard.press('Enter');
    await write(page, 0, 2, '40');
    await p.sees('No boat of the club is longer than twenty metres.');
    await page.waitForFunction(() => (document.querySelector('#cell-0-2') as HTMLElement).innerText.includes('6.1'));

    // What a field looks like, and what it begins with.
    await openField(page, 'Sail no');
    await page.type('[aria-label="Pattern"]', 'GBR #*');
    await openField(page, 'Berth');
    await plainValue(p, 'Default', 'Visitors');
    await p.press('Record', 'button');
    await page.waitForFunction(() =>
      (document.querySelector('#cell-24-3') as HTMLElement)?.innerText.includes('Visitors'),
    );
    await write(page, 24, 1, 'NED 5');
    await p.sees('Sail no looks like GBR #*');
    await write(page, 24, 1, 'GBR 99');
    await write(page, 24, 0, 'Little Auk 4');

    // A key of two fields: the same boat with the same sail number is refused.
    await p.press('Close this card');
    await tickKey(p, ['Boat', 'Sail no']);
    await p.sees('identified by Boat and Sail no', 'main');
    await write(page, 24, 1, 'GBR 4');
    await p.sees('There is a boat with Boat “Little Auk 4” and Sail no “GBR 4” already.');
    await page.waitForFunction(() =>
      (document.querySelector('#cell-24-1') as HTMLElement).innerText.includes('GBR 99'),
    );

    // Several choices in one cell.
    await p.press('Field', 'button');
    await p.pressText('A field to fill in', '[role=menu]');
    await p.fill('Name of the field', 'Colours');
    await page.keyboard.press('Enter');
    await choose(p, 'Type', 'choice');
    await choose(p, 'One or several', 'several');
    await page.type('section textarea', 'red\nblue');
    await p.press('Close this card');
    const last = await page.$$eval('[role=columnheader]', (all) => all.length - 1);
    await page.$eval('[role=grid]', (e) => e.scrollTo(400, 0));
    await page.waitForSelector(`#cell-0-${last}`);
    await page.click(`#cell-0-${last}`);
    await page.keyboard.press('Enter');
    await p.pressText('red', '[role=dialog]');
    await p.pressText('blue', '[role=dialog]');
    await page.keyboard.press('Escape');
    await page.waitForFunction(
      (c) => /red\s*blue/.test((document.querySelector(`#cell-0-${c}`) as HTMLElement).innerText),
      {},
      last,
    );

    // Removed, and brought back after a reload has forgotten the undo.
    await page.hover('#cell-0-0');
    await (await page.waitForSelector('[aria-label="Remove this record"]'))!.click();
    await p.sees('24 records', 'main');
    await page.reload();
    await p.sees('24 records', 'main', 15_000);
    await p.press('More for this table', 'button');
    await p.pressText('Bring back removed records');
    await p.sees('Old Otter 1', 'section[aria-label="Removed records"]');
    await p.press('Bring back', 'button');
    await p.sees('25 records', 'main');
    await p.press('Close this card');

    // App facts: words used in a formula change it everywhere.
    await p.pressText('App facts', 'nav');
    await p.press('Add app facts', 'button');
    await p.sees('Change one here, and it changes', 'main');
    await p.press('Fact', 'button');
    await p.pressText('A number', '[role=menu]');
    await (await page.waitForSelector('[aria-label="Value of A number: empty"]'))!.click();
    await page.keyboard.type('7');
    await page.keyboard.press('Enter');
    await page.waitForSelector('[aria-label="Value of A number: 7"]');
    await p.pressText('Boats', 'nav');
    await addFormulaField(p);
    await p.press('Formula', 'radio');
    await page.type('[aria-label="Formula of New formula"]', 'Length > app facts.A number');
    await p.sees('Sandpiper 2 yes', 'main');
    await p.pressText('App facts', 'nav');
    await (await page.waitForSelector('[aria-label="Value of A number: 7"]'))!.click();
    await page.keyboard.type('8');
    await page.keyboard.press('Enter');
    await p.sees('used by the field New formula of Boats', 'main');
    await p.pressText('Boats', 'nav');
    await page.waitForSelector('#cell-1-0');
    await page.$eval('[role=grid]', (e) => e.scrollTo(2000, 0));
    await page.waitForFunction(() =>
      [...document.querySelectorAll('[role=row]')].some((r) =>
        /Sandpiper 2[\s\S]*no/.test((r as HTMLElement).innerText),
      ),
    );
  },
};

export const tests: Test[] = [fields];
