import type { Page } from 'puppeteer-core';
import { openStudio, type Person } from './browser.ts';
import { newRoutine, typeStep } from './logic.ts';
import { addInside } from './screens.ts';
import { phoneAt, release } from './phone.ts';
import { sheetFiles } from './sheets.ts';
import { addFormulaField, choose, dropFiles } from './whole-path.ts';
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
  await p.pressText(table, `${SCREENS} a:not([href*="/e_"])`);
  await p.pressText(`List of ${table}`, SCREENS);
}

/** Presses the button on a phone that says this and nothing more. */
/** Presses the first button of the screen with exactly these words, when it is there: a screen before may still be going. */
const pressExactly = async (phone: Person, words: string): Promise<void> => {
  await phone.page.waitForFunction(
    (w) => {
      const all = [...document.querySelectorAll<HTMLElement>('.k-app main button')];
      const found = all.find((b) => b.innerText.trim() === w);
      found?.click();
      return found !== undefined;
    },
    {},
    words,
  );
};

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
  await p.pressText('List of Tasks', SCREENS);
  await choose(p, 'Sort by', 'Due');
  await choose(p, 'At the end', 'Due');
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
  // The favourites of whoever uses it, under a tab of their own.

  await openList(p, 'Favourites');
  await choose(p, 'Whose', 'only my own');
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
  await pressExactly(phone, '♡');
  await hearts(phone, 2);
  await phone.pressText('Favourites', '.k-app nav');
  await phone.sees('Late strings', '.k-app main');
  await phone.seesNot('Tom Reed', '.k-app main');
  await phone.pressText('Concerts', '.k-app nav');
  await pressExactly(phone, '♥');
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
  // What a kilo costs is worked out, and stands in each row.
  await p.pressText('Data', 'header');
  await addFormulaField(p);
  await p.press('A calculation', 'button');
  await choose(p, 'First value', 'Price');
  await choose(p, 'Sign', 'divided by');
  await choose(p, 'Second value', 'Weight');
  await p.fill('Name of the field', 'A kilo');
  await p.page.keyboard.press('Enter');
  await p.pressText('Screens', 'header');
  await openList(p, 'Bikes');
  await choose(p, 'At the end', 'A kilo');
  await choose(p, 'Add below', 'Kind');
  await choose(p, 'Add to filters', 'Kind');
  await p.sees('59.2', '.k-app');
  // And all of them in a table, the cheapest first.
  await newScreen(p, 'Compare');
  await choose(p, 'In the tab bar', 'tab');
  await addInside(p, 'List with search');
  await p.pressText('List of Bikes', SCREENS);
  await p.press('Table', 'radio');
  await p.press('Add an order', 'button').catch(() => undefined);
  await choose(p, 'Sort by', 'Price');
  const phone = await phoneAt(stage, await release(p), 'Bikes');
  await phone.pressText('Compare', '.k-app nav');
  await phone.page.waitForFunction(() => {
    const words = document.querySelector<HTMLElement>('.k-app main')?.innerText ?? '';
    return words.indexOf('Wren') < words.indexOf('Lark') && words.indexOf('Stoat') < words.indexOf('Heron');
  });
  return { p, phone };
});

/** Adds a screen, gives it a name and a tab. */
async function newScreen(p: Person, name: string): Promise<void> {
  await p.press('Add a screen', 'button');
  await p.sees('It opens with', 'main');
  await p.fill('Name of the screen', name);
  await p.page.keyboard.press('Enter');
  await p.sees(name, SCREENS);
}
/** Goes back to the screen itself, so that what is added next stands below what was added last. */
const toScreen = (p: Person, name: string): Promise<void> => p.pressText(name, `${SCREENS} a`);

/** A condition of the list that is open: a field, how it compares, and with what. */
async function onlyWhere(p: Person, field: string, how: string, what: string): Promise<void> {
  await p.press('any: add a condition', 'button');
  await choose(p, 'Condition 1', field);
  await choose(p, 'Comparison', how);
  if (what) await choose(p, 'Compared with 1', what);
}

const stock = app('stock with a dashboard', 150, async (stage) => {
  const p = await begin(
    stage,
    {
      'Goods.csv': [
        'Goods;Quantity;Minimum;Price;Place',
        'Jars;40;10;€0.80;Cellar',
        'Lids;6;20;€0.20;Cellar',
        'Labels;3;5;€0.10;Desk',
      ],
      'Keepers.csv': ['Keeper;Mail', 'Ida Brook;ida@farm.example'],
    },
    'Jars',
  );
  // What is worth how much.
  await p.pressText('Data', 'header');
  await p.pressText('Goods', 'nav');
  await addFormulaField(p);
  await p.press('A calculation', 'button');
  await choose(p, 'First value', 'Quantity');
  await choose(p, 'Second value', 'Price');
  await p.sees('€32.00', '[role=grid]');
  await p.fill('Name of the field', 'Worth');
  await p.page.keyboard.press('Enter');
  // Moves, by one press each; what is low has a name, and is used again below.
  await p.pressText('Screens', 'header');
  await openList(p, 'Goods');
  await addInside(p, 'One more, one less');
  await p.pressText('List of Goods', SCREENS);
  await onlyWhere(p, 'Quantity', 'is under', 'Minimum');
  await p.press('Give this condition a name', 'button');
  await p.page.waitForSelector('[aria-label="Name of the condition"]');
  await p.page.keyboard.type('Low');
  await p.page.keyboard.press('Enter');
  await p.sees('Low', 'main');
  await p.press('Remove condition 1', 'button');
  // The dashboard.
  await newScreen(p, 'Dashboard');
  await choose(p, 'In the tab bar', 'tab');
  await addInside(p, 'Tiles of figures');
  await toScreen(p, 'Dashboard');
  await addInside(p, 'Chart');
  await p.press('Bars', 'radio');
  await choose(p, 'Figure', 'sum');
  await choose(p, 'What is measured', 'Worth');
  await choose(p, 'Group by', 'Place');
  await toScreen(p, 'Dashboard');
  await addInside(p, 'List with search');
  await p.pressText('List of Goods', SCREENS);
  await onlyWhere(p, 'Low', 'is', '');
  // Whoever keeps it is told.
  await p.pressText('Logic', 'header');
  await newRoutine(p, 'Tell', 'this good');
  await typeStep(p, 'if low, mail all keepers it is nearly gone', 'Send mail to');
  const phone = await phoneAt(stage, await release(p), 'Jars');
  await phone.pressText('Dashboard', '.k-app nav');
  await phone.sees('Lids', '.k-app main');
  await phone.seesNot('Jars', '.k-app main');
  await phone.pressText('Goods', '.k-app nav');
  await phone.sees('40', '.k-app main');
  for (const now of ['4', '5']) {
    // The row of the labels, which are listed by name between the jars and the lids.
    await phone.page.$$eval('.k-app .k-row', (rows) => {
      const row = rows.find((r) => (r as HTMLElement).innerText.includes('Labels'))!;
      [...row.querySelectorAll('button')].find((b) => b.innerText.trim() === '+')!.click();
    });
    await phone.page.waitForFunction(
      (n) =>
        [...document.querySelectorAll<HTMLElement>('.k-app .k-row')].some(
          (r) => r.innerText.includes('Labels') && r.innerText.split(/\s+/).includes(n),
        ),
      {},
      now,
    );
  }
  await phone.pressText('Dashboard', '.k-app nav');
  await phone.sees('Lids', '.k-app main');
  await phone.seesNot('Labels', '.k-app main');
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
  // A cover and who has it, on the form and in each row.
  await p.pressText('Data', 'header');
  for (const [name, type] of [
    ['Cover', 'picture'],
    ['Lent to', 'text'],
  ] as const) {
    await p.press('Field', 'button');
    await p.pressText('A field', '[role=menu]');
    await p.fill('Name of the field', name);
    await p.page.keyboard.press('Enter');
    if (type !== 'text') await choose(p, 'Type', type);
  }
  await p.pressText('Screens', 'header');
  await choose(p, 'Picture', 'Cover');
  await choose(p, 'Add below', 'Lent to');
  await p.pressText('Book form', SCREENS);
  await p.pressText('Form for book', SCREENS);
  await p.pressText('Fields of Books', SCREENS);
  await p.pressText('Lent to', '[data-drag-field]');
  const phone = await phoneAt(stage, await release(p), 'Books');
  await phone.pressText('Add', '.k-app main');
  await phone.fill('Title', 'Foam');
  await phone.fill('Lent to', 'Tom Reed');
  await phone.pressText('Save', '.k-app');
  await phone.sees('Foam', '.k-app main');
  return { p, phone };
});

export const tests: Test[] = [todo, audience, comparing, stock, shelf];
