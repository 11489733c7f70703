import { readFile } from 'node:fs/promises';
import { createRequire } from 'node:module';
import type { Page } from 'puppeteer-core';
import { makeDemo } from '../demo/heatherfield.ts';
import { releaseDemo } from './first-screen.ts';
import { PHONE } from './phone.ts';
import { openStudio, Person, watchConsole } from './browser.ts';
import { INSIDE, look } from './no-ids.ts';
import type { Test } from './stage.ts';
import { blankApp } from './supplier.ts';
import { addFormulaField, choose, makeClub } from './whole-path.ts';

const axePath = createRequire(import.meta.url).resolve('axe-core/axe.min.js');

/** Serious faults that axe finds on what is shown now. */
async function faults(page: Page, where: string, within?: string): Promise<string[]> {
  // The page's own policy allows no foreign script, so it is evaluated through the browser.
  if (!within) await page.evaluate(await readFile(axePath, 'utf8'));
  const violations = await page.evaluate(async (inside) => {
    // What is just coming or going is half transparent: its contrast is that of no state that anybody reads.
    const moving = document.getAnimations().filter((a) => a.effect?.getComputedTiming().iterations !== Infinity);
    await Promise.allSettled(moving.map((a) => a.finished));
    const { axe } = window as unknown as {
      axe: {
        run(
          at: unknown,
          o: object,
        ): Promise<{ violations: { id: string; impact: string; help: string; nodes: { html: string }[] }[] }>;
      };
    };
    return (await axe.run(inside ?? document, { resultTypes: ['violations'] })).violations.filter(
      (v) => v.impact === 'serious' || v.impact === 'critical',
    );
  }, within ?? null);
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
    await p.sees('records of', 'main');
    found.push(...(await faults(p.page, 'list')));
    for (const w of ['Data', 'Logic', 'Rehearse', 'Release']) {
      await p.pressText(w, 'header');
      await p.page.waitForSelector('main h1, main h2');
      await new Promise((r) => {
        setTimeout(r, 400);
      });
      found.push(...(await faults(p.page, w.toLowerCase())));
    }
    // A scene with a step that is corrected, and chance.
    await p.pressText('Rehearse', 'header');
    await p.pressText('Scene', '[aria-label="What happens"]');
    await p.pressText('Add', '[aria-label="Phones"] .k-app');
    await p.sees('taps Add', '[aria-label="What happens"]');
    found.push(...(await faults(p.page, 'what is written down')));
    await p.press('Keep as a scene', 'button');
    await p.sees('passes, in', 'main', 60_000);
    await p.press('Select step 1', 'button');
    await p.sees('Where', 'main');
    found.push(...(await faults(p.page, 'scene')));
    await p.pressText('Chance', 'nav');
    await p.sees('Two people use the app by chance', 'main');
    found.push(...(await faults(p.page, 'chance')));
    if (found.length) throw new Error(found.join('\n'));
  },
};

const axeInServices: Test = {
  name: 'axe finds nothing serious in the Services workspace',
  async run(stage) {
    const found: string[] = [];
    const p = await blankApp(stage);
    await p.pressText('Services', 'header');
    await p.sees('Ask other people', 'main');
    found.push(...(await faults(p.page, 'no services')));
    await p.press('Use the stand-in supplier', 'button');
    await p.press('Add it', 'button');
    const operations = 'main [aria-label="What it can be asked"]';
    await p.page.waitForSelector(operations);
    for (const name of ['Sign in', 'List goods', 'Add an order']) await p.pressText(name, operations);
    found.push(...(await faults(p.page, 'operations')));
    await p.press('Add 3 requests', 'button');
    await p.sees('Used for records of Goods', 'main');
    found.push(...(await faults(p.page, 'service')));
    await p.pressText('Add an order', 'nav');
    await p.sees('It sends', 'main');
    found.push(...(await faults(p.page, 'request with a body')));
    await p.pressText('List goods', 'nav');
    await p.press('Try it', 'button');
    await p.sees('Status 200', 'main');
    found.push(...(await faults(p.page, 'answer')));
    await p.pressText('Signing in', 'nav');
    await p.press('Sign in', 'button');
    await p.sees('The token is renewed by', 'main');
    await choose(p, 'What the token says', 'believed after its signature was checked');
    await p.sees('It must be given by', 'main');
    found.push(...(await faults(p.page, 'signing in')));
    await p.press('End signing in', 'button');
    await p.pressText('Signing in', 'nav');
    await p.sees('At a page of the service', 'main');
    found.push(...(await faults(p.page, 'signing in at a page')));
    await p.pressText('Words and pictures', 'nav');
    await p.sees('Texts are summed up by', 'main');
    found.push(...(await faults(p.page, 'words and pictures')));
    if (found.length) throw new Error(found.join('\n'));
  },
};

const axeInPeople: Test = {
  name: 'axe finds nothing serious in the People workspace, and no id of the inside is shown there',
  async run(stage) {
    const found: string[] = [];
    const p = await openStudio(stage);
    await p.pressText('Heatherfield');
    await p.sees('days', '.k-app', 20_000);
    const seen = new Map<string, string>();
    const view = async (where: string): Promise<void> => {
      await new Promise((r) => {
        setTimeout(r, 300);
      });
      found.push(...(await faults(p.page, where, 'main')));
      await look(p, where, seen);
    };
    await p.page.evaluate(await readFile(axePath, 'utf8'));
    await p.pressText('People', 'header');
    await p.pressText('Needs approval', 'main');
    await p.sees('a yes or no that is added', 'main');
    await view('where to begin');
    await p.press('Begin with this', 'button');
    await p.sees('Rules add up', 'main');
    await view('rules');
    await p.pressText('Approvers', 'nav');
    await p.sees('Approvers are Keepers where', 'main');
    await view('a role');
    await p.pressText('What can', 'nav');
    await p.press('Beside somebody else', 'button');
    await p.sees('comes first', 'main');
    await p.page.$$eval('main details', (all) => all.forEach((e) => (e.open = true)));
    await view('what can see');
    await p.pressText('Who may open it', 'nav');
    await p.sees('may open this app', 'main');
    await view('who may open it');
    for (const [text, where] of seen) if (INSIDE.test(text)) found.push(`${where}: “${text}”`);
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
    await choose(p, 'Group by', 'Length');
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

const axeInDemo: Test = {
  name: 'axe finds nothing serious in any screen of the demo, light and dark',
  async run(stage) {
    const { app, records } = makeDemo();
    await releaseDemo(stage.server.url, 'seen', (a) => {
      delete a.starts;
    });
    const page = await stage.browser.newPage();
    await page.setViewport(PHONE);
    watchConsole(page, stage.errors);
    const found: string[] = [];
    await page.goto(`${stage.server.url}/a/seen/`);
    await page.waitForSelector('.k-row .k-text');
    await page.evaluate(await readFile(axePath, 'utf8'));
    for (const s of app.screens) {
      const record = s.given ? (records.find((r) => r.table === s.given)?.id ?? '') : '';
      await page.evaluate(
        (to) => {
          location.hash = to;
        },
        `#/${s.id}${record && `/${record}`}`,
      );
      await page.waitForSelector(`.k-app[data-screen="${s.id}"] .k-scroll > *`);
      // What comes late is there, and nothing moves any more.
      await page.waitForNetworkIdle({ idleTime: 150, timeout: 5000 }).catch(() => undefined);
      for (const value of ['light', 'dark']) {
        await page.emulateMediaFeatures([{ name: 'prefers-color-scheme', value }]);
        found.push(...(await faults(page, `${s.name}, ${value}`, '.k-app')));
      }
    }
    if (found.length) throw new Error(found.join('\n'));
  },
};

export const tests: Test[] = [axe, axeInServices, axeInData, axeInDemo, axeInPeople];
