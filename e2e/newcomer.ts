import type { Page } from 'puppeteer-core';
import { openStudio, type Person } from './browser.ts';
import { newRoutine, typeStep } from './logic.ts';
import { addInside } from './screens.ts';
import { phoneAt, release } from './phone.ts';
import { sheetFiles } from './sheets.ts';
import { choose, dropFiles } from './whole-path.ts';
import type { Stage, Test } from './stage.ts';

/**
 * The first apps of a newcomer, each made from small sheets by presses, released and used on a phone. Every press of the
 * mouse counts as one, so does what is typed in one go, and Enter, Escape or a key with Ctrl.
 */

const SCREENS = 'nav[aria-label=Screens]';

async function countPresses(page: Page): Promise<void> {
  await page.evaluate(() => {
    let typing: Element | null = null;
    const counted = window as unknown as { presses: number };
    counted.presses = 1; // the files that are dropped
    document.addEventListener(
      'pointerdown',
      () => {
        counted.presses++;
        typing = null;
      },
      true,
    );
    document.addEventListener(
      'keydown',
      (e) => {
        const letters = (e.key.length === 1 && !e.ctrlKey && !e.metaKey) || e.key === 'Backspace';
        if (['Shift', 'Control', 'Meta', 'Alt'].includes(e.key)) return;
        if (letters && typing === document.activeElement) return;
        counted.presses++;
        typing = letters ? document.activeElement : null;
      },
      true,
    );
  });
}
const presses = (page: Page): Promise<number> =>
  page.evaluate(() => (window as unknown as { presses: number }).presses);

/** Brings sheets in, and makes an app of them. */
async function begin(stage: Stage, sheets: Record<string, string[]>, sees: string): Promise<Person> {
  const p = await openStudio(stage);
  await p.sees('From a spreadsheet');
  await countPresses(p.page);
  await dropFiles(p.page, await sheetFiles(stage.folder, sheets));
  await p.press('Make the app', 'button');
  await p.sees(sees, '.k-app', 20_000);
  return p;
}

/** Opens the list of a table in Screens. */
async function openList(p: Person, table: string): Promise<void> {
  await p.pressText(table, SCREENS);
  await p.pressText(`List of ${table}`, SCREENS);
}

/** Presses the button on a phone that says this and nothing more. */
const pressExactly = (phone: Person, words: string): Promise<void> =>
  phone.page.$$eval(
    '.k-app main button',
    (all, w) => (all.find((b) => (b as HTMLElement).innerText.trim() === w) as HTMLElement).click(),
    words,
  );

const hearts = async (phone: Person, many: number): Promise<void> => {
  await phone.page.waitForFunction(
    (n) => ((document.querySelector<HTMLElement>('.k-app main')?.innerText ?? '').match(/♥/g)?.length ?? 0) === n,
    {},
    many,
  );
};

/** A newcomer's app: how it is made, how it is used, and how many presses it may take. */
const app = (name: string, most: number, make: (stage: Stage) => Promise<{ p: Person; phone: Person }>): Test => ({
  name: `a newcomer makes ${name} in at most ${most} presses`,
  async run(stage) {
    const { p } = await make(stage);
    const took = await presses(p.page);
    console.log(`      ${name} took ${took} presses, of ${most}`);
    if (took > most) throw new Error(`${name} took ${took} presses; at most ${most} are allowed.`);
  },
});

const todo = app('a to-do list with what is mine', 90, async (stage) => {
  const p = await begin(
    stage,
    {
      'Tasks.csv': [
        'Task;Due;Done;Owner',
        'Mend the gate;2026-12-01;no;Ida Brook',
        'Order seeds;2026-12-03;no;Tom Reed',
        'Sweep the yard;2026-12-02;yes;Ida Brook',
        'Call the vet;2026-12-05;no;',
      ],
      'People.csv': ['Name;Mail', 'Ida Brook;ida@farm.example', 'Tom Reed;tom@farm.example'],
    },
    'Mend the gate',
  );
  await openList(p, 'Tasks');
  await choose(p, 'Whose', 'only my own');
  await p.sees('the person using the app', 'main');
  await addInside(p, 'Done button');
  // As docs/first-hour.md has it.
  await p.pressText('Logic', 'header');
  await newRoutine(p, 'Remind', 'this task');
  await typeStep(p, 'mail owner is it done yet', 'Send mail to this task › Person › Mail: “Is it done yet”');
  const phone = await phoneAt(stage, await release(p), 'Tasks');
  await phone.press('Say who you are, to see what is yours', 'button');
  await phone.pressText('Ida Brook', '.k-who-names');
  await phone.sees('Mend the gate', '.k-app main');
  await phone.seesNot('Order seeds', '.k-app main');
  await pressExactly(phone, '○ Done');
  await phone.page.waitForFunction(
    () => (document.querySelector<HTMLElement>('.k-app main')?.innerText ?? '').match(/✓ Done/g)?.length === 2,
  );
  return { p, phone };
});

const audience = app('an audience app with favourites and a code to show', 140, async (stage) => {
  const p = await begin(
    stage,
    {
      'Concerts.csv': [
        'Concert;Day;Hall;Price',
        'Harp at noon;2026-12-05;North;12',
        'Brass;2026-12-06;South;18',
        'Late strings;2026-12-07;South;20',
      ],
      'Members.csv': ['Name;Card', 'Ida Brook;M-001', 'Tom Reed;M-002'],
      'Favourites.csv': [
        'Since;Concert;Name',
        '2026-11-01;Brass;Tom Reed',
        '2026-11-02;Harp at noon;Tom Reed',
        '2026-11-03;Late strings;Ida Brook',
      ],
    },
    'Harp at noon',
  );
  await p.pressText('Concert', `${SCREENS} a`);
  await openList(p, 'Concerts');
  await addInside(p, 'Favourite button');
  await p.pressText('Member', `${SCREENS} a`);
  await openList(p, 'Members');
  await addInside(p, 'QR or bar code');
  await (await p.find('What it says', 'textbox')).click();
  await p.page.keyboard.type('{Card');
  await p.page.waitForSelector('.cm-tooltip-autocomplete');
  await p.page.keyboard.press('Enter');
  const phone = await phoneAt(stage, await release(p), 'Concerts');
  await phone.press('Say who you are, to see what is yours', 'button');
  await phone.pressText('Ida Brook', '.k-who-names');
  await hearts(phone, 1);
  await phone.pressText('♡ Add to favourites', '.k-app main');
  await hearts(phone, 2);
  await phone.pressText('♥ In favourites', '.k-app main');
  await hearts(phone, 1);
  await phone.pressText('Members', '.k-app nav');
  await phone.page.waitForSelector('.k-app main svg');
  return { p, phone };
});

const comparing = app('a list for comparing', 140, async (stage) => {
  const p = await begin(
    stage,
    {
      'Bikes.csv': [
        'Bike;Price;Weight;Gears;Kind',
        'Lark;740;12.5;8;town',
        'Heron;1280;9.8;22;road',
        'Stoat;990;13.2;11;hill',
        'Wren;610;14;3;town',
      ],
    },
    'Lark',
  );
  await openList(p, 'Bikes');
  await p.press('Table', 'radio');
  await p.press('Add an order', 'button').catch(() => undefined);
  await choose(p, 'Sort by', 'Price');
  await choose(p, 'Add to filters', 'Kind');
  const phone = await phoneAt(stage, await release(p), 'Bikes');
  await phone.page.waitForFunction(() => {
    const words = document.querySelector<HTMLElement>('.k-app main')?.innerText ?? '';
    return words.indexOf('Wren') < words.indexOf('Lark') && words.indexOf('Stoat') < words.indexOf('Heron');
  });
  return { p, phone };
});

const stock = app('stock with a dashboard', 150, async (stage) => {
  const p = await begin(
    stage,
    {
      'Goods.csv': ['Goods;Quantity;Minimum;Place', 'Jars;40;10;Cellar', 'Lids;6;20;Cellar', 'Labels;3;5;Desk'],
    },
    'Jars',
  );
  await openList(p, 'Goods');
  await addInside(p, 'One more, one less');
  const phone = await phoneAt(stage, await release(p), 'Goods');
  await phone.pressText('Goods', '.k-app nav').catch(() => undefined);
  await phone.sees('40', '.k-app main');
  await phone.pressText('+', '.k-app main');
  await phone.sees('41', '.k-app main');
  return { p, phone };
});

const shelf = app('a shelf with a form', 45, async (stage) => {
  const p = await begin(
    stage,
    { 'Books.csv': ['Title;Author;Shelf;Pages', 'Tides;Mara Voss;A1;310', 'Salt;Jon Pell;B2;188'] },
    'Tides',
  );
  await openList(p, 'Books');
  await choose(p, 'Group by', 'Shelf');
  const phone = await phoneAt(stage, await release(p), 'Books');
  await phone.pressText('Add', '.k-app main');
  await phone.fill('Title', 'Foam');
  await phone.pressText('Save', '.k-app');
  await phone.sees('Foam', '.k-app main');
  return { p, phone };
});

export const tests: Test[] = [todo, audience, comparing, stock, shelf];
