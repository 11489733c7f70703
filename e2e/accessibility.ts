import { readFile } from 'node:fs/promises';
import { createRequire } from 'node:module';
import type { Page } from 'puppeteer-core';
import { Person, watchConsole } from './browser.ts';
import type { Test } from './stage.ts';
import { addFormulaField, choose, makeClub } from './whole-path.ts';

const axePath = createRequire(import.meta.url).resolve('axe-core/axe.min.js');

/** Serious faults that axe finds on what is shown now. */
async function faults(page: Page, where: string): Promise<string[]> {
  // The page's own policy allows no foreign script, so it is evaluated through the browser.
  await page.evaluate(await readFile(axePath, 'utf8'));
  const violations = await page.evaluate(async () => {
    const { axe } = window as unknown as {
      axe: {
        run(
          o: object,
        ): Promise<{ violations: { id: string; impact: string; help: string; nodes: { html: string }[] }[] }>;
      };
    };
    return (await axe.run({ resultTypes: ['violations'] })).violations.filter(
      (v) => v.impact === 'serious' || v.impact === 'critical',
    );
  });
  return violations.map(
    (v) =>
      `${where}: ${v.help} (${v.id}): ${v.nodes
        .slice(0, 3)
        .map((n) => n.html.slice(0, 160))
        .join(' | ')}`,
  );
}

const axe: Test = {
  name: 'axe finds nothing serious in any view',
  async run(stage) {
    const found: string[] = [];
    const page = await stage.browser.newPage();
    watchConsole(page, stage.errors);
    await page.goto(stage.server.url);
    await new Person(page).sees('What should the phone do');
    found.push(...(await faults(page, 'start')));
    await page.close();
    const p = await makeClub(stage);
    found.push(...(await faults(p.page, 'screens')));
    await p.pressText('List of Boats', 'nav');
    await p.sees('Shows records of', 'main');
    found.push(...(await faults(p.page, 'list')));
    for (const w of ['Data', 'Logic', 'Release']) {
      await p.pressText(w, 'header');
      await p.page.waitForSelector('main h1, main h2');
      await new Promise((r) => {
        setTimeout(r, 400);
      });
      found.push(...(await faults(p.page, w.toLowerCase())));
    }
    if (found.length) throw new Error(found.join('\n'));
  },
};

const axeInData: Test = {
  name: 'axe finds nothing serious in the cards of the Data workspace',
  async run(stage) {
    const found: string[] = [];
    const p = await makeClub(stage);
    const { page } = p;
    const look = async (where: string): Promise<void> => {
      await new Promise((r) => {
        setTimeout(r, 300);
      });
      found.push(...(await faults(page, where)));
    };
    await p.pressText('Data', 'header');
    await page.waitForSelector('#cell-0-0');
    await choose(p, 'Put together by', 'Length');
    await page.waitForSelector('[aria-expanded=true][aria-label^="Fold"]');
    await look('groups');
    await page.evaluate(() =>
      [...document.querySelectorAll<HTMLElement>('[role=columnheader] button')]
        .find((e) => e.innerText.includes('Length'))!
        .click(),
    );
    await p.sees('It must hold that', 'main');
    await look('field');
    await p.press('Close this card');
    await addFormulaField(p);
    await look('sentences');
    await p.press('Formula', 'radio');
    await page.type('[aria-label="Formula of New formula"]', 'sum(Trips.');
    await page.waitForSelector('.cm-tooltip-autocomplete');
    await look('formula');
    await page.keyboard.press('Escape');
    await p.press('Close this card');
    await p.press('More for this table', 'button');
    await p.pressText('Mirror a file');
    await p.sees('Release it, then mirror a file.');
    await look('mirror');
    await p.pressText('App facts', 'nav');
    await p.press('Add app facts', 'button');
    await p.press('Fact', 'button');
    await p.pressText('Words', '[role=menu]');
    await page.waitForSelector('[aria-label^="Value of New fact"]');
    await look('facts');
    if (found.length) throw new Error(found.join('\n'));
  },
};

export const tests: Test[] = [axe, axeInData];
