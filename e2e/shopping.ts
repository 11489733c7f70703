import { writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { openStudio, type Person } from './browser.ts';
import { newRoutine, typeStep } from './logic.ts';
import { phoneAt, release } from './phone.ts';
import { addInside } from './screens.ts';
import { choose, dropFiles, writeFormula } from './whole-path.ts';
import type { Stage, Test } from './stage.ts';

/** What a club buys for its bees: goods of several shops, lists, and lines that put the one on the other. */
async function sheets(folder: string): Promise<string[]> {
  const files: Record<string, string[]> = {
    'Goods.csv': [
      'Good;Kind;Shop;Price',
      'Sugar at the mill;Sugar;Mill Stores;2,40',
      'Sugar at the quay;Sugar;Quay Traders;1,90',
      'Sugar at the hill;Sugar;Hill Farm;2,10',
      'Jars at the mill;Jars;Mill Stores;0,80',
      'Jars at the quay;Jars;Quay Traders;0,95',
    ],
    'Lists.csv': ['List;Note', 'Old list;from last year', 'Older list;from before'],
    'Lines.csv': ['Line;List;Good', 'L1;Old list;Jars at the mill', 'L2;Older list;Sugar at the mill'],
  };
  const paths: string[] = [];
  for (const [name, lines] of Object.entries(files)) {
    const path = join(folder, name);
    await writeFile(path, lines.join('\n'));
    paths.push(path);
  }
  return paths;
}

/** Adds a field with its value to the step that was added last. */
async function fieldValue(p: Person, field: string, value: string, at: number): Promise<void> {
  const last = async (chip: string): Promise<void> => {
    const all = await p.page.$$(`main [aria-label^="${chip}"]`);
    await all.at(-1)!.scrollIntoView();
    await all.at(-1)!.click();
    await p.page.waitForSelector('[cmdk-root]');
  };
  const take = async (words: string, whole = false): Promise<void> => {
    const input = await p.page.$('[cmdk-root] input');
    if (input) await input.type(words);
    await p.page.waitForSelector('[cmdk-root] [cmdk-item]');
    await p.page.$$eval(
      '[cmdk-root] [cmdk-item]',
      (all, w, same) => {
        const texts = all.map((e) => (e as HTMLElement).innerText.trim());
        (all[texts.findIndex((t) => (same ? t === w : t.includes(w)))] as HTMLElement).click();
      },
      words,
      whole,
    );
    await p.page.waitForFunction(() => !document.querySelector('[cmdk-root]'));
  };
  await last('Add a field:');
  await take(field, true);
  await last(`Value ${at}:`);
  await take(value);
}

/** Opens a screen whose name is the beginning of another's. */
async function openScreen(p: Person, name: string): Promise<void> {
  await p.page.waitForSelector('nav[aria-label=Screens] a');
  await p.page.$$eval(
    'nav[aria-label=Screens] a',
    (all, n) => {
      const screens = all.filter((e) => /\/screens\/[^/]+$/.test((e as HTMLAnchorElement).pathname));
      (screens.find((e) => (e as HTMLElement).innerText.trim() === n) as HTMLElement).click();
    },
    name,
  );
}

async function shopping(stage: Stage): Promise<void> {
  const p = await openStudio(stage);
  const { page } = p;
  await p.sees('From a spreadsheet');
  await dropFiles(page, await sheets(stage.folder));
  await p.sees('Lines match Goods by Good: 2 of 2 found');
  await p.press('Make the app', 'button');
  await p.sees('Jars at the mill', '.k-app', 15_000);

  // The total of a list comes over its lines.
  await p.pressText('Data', 'header');
  await p.pressText('Lists', 'nav');
  await p.press('Field', 'button');
  await p.pressText('A formula field');
  await p.press('Formula', 'radio');
  await writeFormula(page, 'Formula of New formula', 'sum(Lines.Good.Price)');
  await p.sees('2.4', 'main');
  await p.fill('Name of the field', 'Total');
  await page.keyboard.press('Enter');
  // It begins without any list.
  for (const left of ['1 record', '0 records']) {
    await page.hover('#cell-0-0');
    await (await page.waitForSelector('[aria-label="Remove this record"]'))!.click();
    await p.sees(left, 'main');
  }

  // The list that is meant is remembered while the routine runs.
  await p.pressText('Screens', 'header');
  await p.press('Add a variable', 'button');
  await p.sees('It keeps', 'main');
  await p.fill('Name of the variable', 'Chosen');
  await page.keyboard.press('Enter');
  await choose(p, 'What it keeps', 'a record');
  await choose(p, 'Table', 'Lists');

  await p.pressText('Logic', 'header');
  await newRoutine(p, 'Put on a list', 'this good');
  await typeStep(p, 'if count(all Lists) = 0', 'If count(all Lists) is 0');
  await typeStep(p, 'add list', 'Add to Lists', 3);
  await fieldValue(p, 'List', 'Shopping', 1);
  await typeStep(p, 'set Chosen to new list', 'Set Chosen to new list', 3);
  await typeStep(p, 'if count(all Lists) > 1', 'If count(all Lists) is over 1', 2);
  await typeStep(p, 'menu of lists', 'Menu: one of Lists', 4);
  await typeStep(p, 'set Chosen to chosen list', 'Set Chosen to chosen list', 4);
  await typeStep(p, 'find one list', 'Find one record: Lists', 3);
  await typeStep(p, 'set Chosen to the list', 'Set Chosen to the list', 3);
  await typeStep(p, 'add line', 'Add to Lines');
  // The good is at hand, so its place is filled in already.
  await fieldValue(p, 'List', 'Chosen', 2);

  // A line is put on the cheapest good of its kind.
  await newRoutine(p, 'Cheaper elsewhere', 'this line');
  await typeStep(p, 'find one good', 'Find one record: Goods');
  await p.press('any: add a condition', 'button');
  await choose(p, 'Condition 1', 'Kind');
  await choose(p, 'Compared with 1', 'this line › Good › Kind');
  await choose(p, 'Sort by', 'Price');
  await typeStep(p, 'set good to the good', 'Good to the good');
  await typeStep(p, 'show Replaced', 'Show “Replaced”');

  for (const [screen, words, routine] of [
    ['Good', 'Put it on a list', 'Put on a list'],
    ['Line', 'Cheaper elsewhere', 'Cheaper elsewhere'],
  ] as const) {
    await p.pressText('Screens', 'header');
    await openScreen(p, screen);
    await p.sees('It opens with', 'main');
    await addInside(p, 'Button');
    await p.fill('Words on the button', words);
    await choose(p, 'When tapped', 'run');
    await choose(p, 'Routine', routine);
  }
  await openScreen(p, 'List');
  await p.sees('It opens with', 'main');
  await addInside(p, 'Text');
  await (await p.find('Words', 'textbox')).click();
  await page.keyboard.down('Control');
  await page.keyboard.press('a');
  await page.keyboard.up('Control');
  await page.keyboard.type('In all {this list.Total}');
  await p.pressText('Use', 'aside');
  await buys(p);
  const phone = await phoneAt(stage, await release(p), 'Jars at the mill');
  await put(phone, 'Jars at the quay');
  await phone.sees('Party', '.k-ask');
  await phone.pressText('Shopping', '.k-ask');
  await totals(phone, 'Shopping', '3.65');
}

async function put(p: Person, good: string): Promise<void> {
  await p.pressText('Goods', '.k-tabs');
  await p.pressText(good, '.k-app');
  await p.pressText('Put it on a list', '.k-app');
}
async function totals(p: Person, list: string, total: string): Promise<void> {
  await p.pressText('Lists', '.k-tabs');
  await p.pressText(list, '.k-app');
  await p.sees(`In all ${total}`, '.k-app');
}

/** One tap makes a list and fills it; once there is a second list it is asked which; a line goes over to a cheaper good. */
async function buys(p: Person): Promise<void> {
  await put(p, 'Sugar at the mill');
  await put(p, 'Jars at the mill');
  await totals(p, 'Shopping', '3.2');
  await p.pressText('Lists', '.k-tabs');
  await p.pressText('Add', '.k-app');
  await p.page.waitForSelector('.k-app .k-form input');
  await p.page.type('.k-app .k-form input', 'Party');
  await p.pressText('Save', '.k-app');
  await put(p, 'Sugar at the hill');
  await p.sees('Shopping', '.k-ask');
  await p.pressText('Party', '.k-ask');
  await totals(p, 'Party', '2.1');
  await totals(p, 'Shopping', '3.2');
  await p.pressText('Sugar at the mill', '.k-app');
  await p.pressText('Cheaper elsewhere', '.k-app');
  await p.sees('Replaced', '.k-app');
  await p.sees('Sugar at the quay', '.k-app');
  await totals(p, 'Shopping', '2.7');
}
export const tests: Test[] = [
  { name: 'one tap makes a list and puts a good on it; with several lists a menu asks which', run: shopping },
];
