import { readFile } from 'node:fs/promises';
import { createRequire } from 'node:module';
import type { Page } from 'puppeteer-core';
import { Person, watchConsole } from './browser.ts';
import type { Test } from './run.ts';
import { makeClub } from './whole-path.ts';

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

export const tests: Test[] = [axe];
