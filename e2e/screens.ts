import type { Person } from './browser.ts';
import { phoneAt, release } from './phone.ts';
import { choose, makeClub } from './whole-path.ts';
import type { Stage, Test } from './stage.ts';

/** Adds an element into the screen or box that is selected, by its name in Add. */
export async function addInside(p: Person, name: string): Promise<void> {
  await p.press('Add inside', 'button');
  await p.page.waitForSelector('[cmdk-root] input');
  await p.page.type('[cmdk-root] input', name);
  await p.pressText(name, '[cmdk-root] [cmdk-item]');
  await p.page.waitForFunction(() => !document.querySelector('[cmdk-root]'));
}

/** Types words into a field for words with values. */
async function write(p: Person, field: string, words: string): Promise<void> {
  await (await p.find(field, 'textbox')).click();
  await p.page.keyboard.type(words);
}

/** An input fills in a variable; words, a list and what is seen follow it, in the studio and on a phone. */
async function variables(stage: Stage): Promise<void> {
  const p = await makeClub(stage);
  const { page } = p;
  await p.pressText('Screens', 'header');
  await p.press('Add a screen', 'button');
  await p.sees('It opens with', 'main');

  // A variable of the screen, with a first value.
  await p.press('Add a variable', 'button');
  await p.sees('It keeps', 'main');
  await p.fill('Name of the variable', 'Longest');
  await page.keyboard.press('Enter');
  await choose(p, 'What it keeps', 'a number');
  await p.sees('holds nothing now', 'main');

  // A variable may not have the name of a field: in a condition they could not be told apart.
  await p.press('Add a variable', 'button');
  await p.sees('New variable', 'nav[aria-label=Screens]');
  await p.fill('Name of the variable', 'Length');
  await page.keyboard.press('Enter');
  await page.waitForFunction(
    () => (document.querySelector('[aria-label="Name of the variable"]') as HTMLInputElement).value === 'Length 2',
  );
  await p.press('Remove this variable', 'button');
  await p.seesNot('Length 2', 'nav[aria-label=Screens]');

  await p.pressText('New screen', 'nav[aria-label=Screens]');
  await p.sees('It opens with', 'main');
  await addInside(p, 'Input');
  await choose(p, 'Field', 'Longest');
  await write(p, 'Hint', 'any length');
  // A brace offers values; the name in braces becomes a chip.
  await write(p, 'Help', 'Up to {Longest} metres');
  await page.waitForFunction(() => document.querySelector('main .kite-chip')?.textContent === 'Longest');
  await page.click('main .kite-chip');
  await page.waitForSelector('[aria-label="When it is missing"]');
  await page.type('[aria-label="When it is missing"]', 'any number of');
  await page.keyboard.press('Escape');
  await p.sees('Up to any number of metres', '.k-app');

  // A list that is filtered by it, also by nothing while it is empty.
  await p.pressText('New screen', 'nav[aria-label=Screens]');
  await addInside(p, 'List');
  await p.sees('records of', 'main');
  await choose(p, 'Records', 'Boats');
  await p.press('any: add a condition', 'button');
  await choose(p, 'Condition 1', 'Length');
  await choose(p, 'Comparison', 'is at most');
  await choose(p, 'Compared with 1', 'Longest');
  await p.sees('while it is filled in', 'main');
  await p.pressText('Use', 'aside');
  await page.waitForSelector('.k-app .k-list[aria-label="24 records"]');
  await page.type('.k-app .k-field input', '6,5');
  await p.sees('Up to 6.5 metres', '.k-app');
  await page.waitForSelector('.k-app .k-list:not([aria-label="24 records"])');
  const few = await page.$eval('.k-app .k-list', (e) => e.getAttribute('aria-label'));
  // The present value stands in the index.
  await p.sees('6.5', 'nav[aria-label=Screens]');
  // What does not fit is said, and changes nothing.
  await page.type('.k-app .k-field input', 'x');
  await p.sees('is not a number', '.k-app');
  await page.waitForSelector(`.k-app .k-list[aria-label="${few}"]`);

  // On a phone of its own, after a reload it begins anew.
  await p.pressText('New screen', 'nav[aria-label=Screens]');
  await choose(p, 'In the tab bar', 'tab 4');
  const link = await release(p);
  const phone = await phoneAt(stage, link, 'Boats');
  await phone.page.click('[data-tab]:last-child');
  await phone.page.waitForSelector('.k-field input');
  await phone.page.type('.k-field input', '6,5');
  await phone.page.waitForSelector(`.k-list[aria-label="${few}"]`);
  await phone.page.reload();
  await phone.page.waitForSelector('.k-field input', { timeout: 15_000 });
  await phone.page.waitForSelector('.k-list[aria-label="24 records"]');
}

/** The same screens under tabs, in a drawer and as sheets; what is typed is not lost without a word. */
async function frames(stage: Stage): Promise<void> {
  const p = await makeClub(stage);
  const { page } = p;
  await p.pressText('Screens', 'header');
  await p.pressText('Side drawer', 'nav[aria-label=Screens]');
  await p.press('Make a drawer', 'button');
  await p.sees('Its head says', 'main');
  await choose(p, 'Add a way', 'Boat form');
  await p.pressText('Tab bar', 'nav[aria-label=Screens]');
  await p.sees('The app starts with the first tab', 'main');
  // A count that follows the records.
  await page.click('main [aria-label^="Count of Boats"]');
  await p.pressText('Write a formula', '[cmdk-root]');
  await page.waitForSelector('.kite-code .cm-content');
  await page.keyboard.type('count(all Boats)');
  await p.sees('A number: 24');
  await p.press('Keep it', 'button');
  await p.sees('24', '.k-app .k-tabs');

  // The form opens as a sheet from the list.
  await p.pressText('Boats', 'nav[aria-label=Screens]');
  await p.sees('It opens with', 'main');
  await p.pressText('Add', 'nav[aria-label=Screens]');
  await choose(p, 'How it opens', 'as a sheet of the whole height');
  await p.pressText('Use', 'aside');
  await p.pressText('Add', '.k-app');
  await page.waitForSelector('.k-sheet input');
  await page.type('.k-sheet input', 'Kittiwake 9');
  await p.press('Close', 'button');
  await p.sees('What you typed here is lost', '.k-app');
  await p.press('Stay here', 'button');
  await p.seesNot('What you typed here is lost', '.k-app');

  // A screen that comes first, once.
  await p.press('Add a screen', 'button');
  await p.sees('It opens with', 'main');
  await addInside(p, 'Button');
  await p.fill('Words on the button', 'Begin');
  await choose(p, 'When tapped', 'go back');
  await p.pressText('Start', 'nav[aria-label=Screens]');
  await choose(p, 'The first time', 'New screen');

  const link = await release(p);
  const phone = await phoneAt(stage, link, 'Begin');
  if (await phone.page.$('.k-tabs')) throw new Error('A start screen fills the phone, and there are tabs on it.');
  await phone.pressText('Begin', '.k-app');
  await phone.sees('24', '.k-tabs');
  // The drawer leads to the form; what is typed there is back after a reload, and counts when it is saved.
  await phone.press('Open the menu', 'button');
  await phone.page.waitForSelector('.k-drawer');
  await phone.pressText('Boat form', '.k-drawer');
  await phone.page.waitForSelector('.k-form input');
  await phone.page.type('.k-form input', 'Kittiwake 9');
  await phone.page.reload();
  await phone.sees('What you had typed is back', '.k-app', 15_000);
  await phone.page.waitForFunction(
    () => (document.querySelector('.k-form input') as HTMLInputElement | null)?.value === 'Kittiwake 9',
  );
  await phone.pressText('Save', '.k-form');
  await phone.sees('25', '.k-tabs');
  // The start screen came once.
  await phone.page.goto(link);
  await phone.sees('25', '.k-tabs', 15_000);
  await p.sees('25', '.k-app .k-tabs');
}

/** A row becomes a part that takes a whole record, stands on a second screen, and changes in both by one edit. */
async function parts(stage: Stage): Promise<void> {
  const p = await makeClub(stage);
  const { page } = p;
  await p.pressText('Screens', 'header');
  await p.pressText('Boats', 'nav[aria-label=Screens]');
  await p.pressText('List of Boats', 'nav[aria-label=Screens]');
  await p.sees('records of', 'main');
  // The box of the row, in the outline.
  await page.evaluate(() => {
    const items = [...document.querySelectorAll('nav[aria-label=Screens] a')];
    const list = items.findIndex((a) => a.textContent!.includes('List of Boats'));
    (items[list + 1] as HTMLElement).click();
  });
  await p.press('Make a part of it', 'button');
  await p.sees('A part: a change here reaches every place of it', 'main');
  await p.sees('Its input is', 'main');
  await p.fill('Name of the part', 'Boat card');
  await page.keyboard.press('Enter');
  await p.sees('Old Otter 1', '.k-app');
  // A second place, on the overview, given the longest boat.
  await p.pressText('Overview', 'nav[aria-label=Screens]');
  await p.press('Add inside', 'button');
  await page.waitForSelector('[cmdk-root] input');
  await page.type('[cmdk-root] input', 'Boat card');
  await p.pressText('Boat card', '[cmdk-item]');
  await p.sees('Stands for the part', 'main');
  await page.click('main [aria-label^="boat:"]');
  await p.pressText('Write a formula', '[cmdk-root]');
  await page.waitForSelector('.kite-code .cm-content');
  await page.keyboard.type('all Boats[Length = max(all Boats.Length)][1]');
  await p.sees('A record: ', 'body');
  await p.press('Keep it', 'button');
  const card = '.k-app main > .k-box > .k-box:last-child .k-text';
  // Until the formula is kept the part stands for no boat.
  await page.waitForFunction(
    (c) => ![undefined, 'Untitled boat'].includes(document.querySelector<HTMLElement>(c)?.innerText),
    {},
    card,
  );
  const name = await page.$eval(card, (e) => (e as HTMLElement).innerText);

  // One edit of the part, both places.
  await page.click('nav[aria-label=Screens] a[href*="/screens/c_"]');
  await p.sees('A part: a change', 'main');
  await p.press('Add inside', 'button');
  await page.waitForSelector('[cmdk-root] input');
  await page.type('[cmdk-root] input', 'Text');
  await p.pressText('Text', '[cmdk-item]');
  await p.sees('Says', 'main');
  await p.fill('Words', 'Kept in the club');
  await p.pressText('Boats', 'nav[aria-label=Screens]');
  await p.sees('Kept in the club', '.k-app');
  await p.pressText('Overview', 'nav[aria-label=Screens]');
  await p.sees('Kept in the club', '.k-app');

  const link = await release(p);
  const phone = await phoneAt(stage, link, 'Kept in the club');
  await phone.pressText('Overview', '.k-tabs');
  await phone.sees(name, '.k-app');
  await phone.sees('Kept in the club', '.k-app');

  // Removed, its elements stay where they stood.
  await p.pressText('Screens', 'header');
  await (await page.waitForSelector('nav[aria-label=Screens] a[href*="/screens/c_"]'))!.click();
  await p.press('Remove this part', 'button');
  await p.sees('its elements stay', 'body');
  await p.seesNot('Boat card', 'nav[aria-label=Screens]');
  await p.pressText('Boats', 'nav[aria-label=Screens]');
  await p.sees('Kept in the club', '.k-app');
}

/** The map: every screen, drawn; one is put elsewhere, a way is drawn, and a screen is worked on from there. */
async function appMap(stage: Stage): Promise<void> {
  const p = await makeClub(stage);
  const { page } = p;
  await p.pressText('Screens', 'header');
  await p.pressText('Map', 'nav[aria-label=Screens]');
  const node = (name: string): string => `.react-flow__node[aria-label="${name}"]`;
  await page.waitForSelector(`${node('Boats')} .k-row .k-text`, { timeout: 15_000 });
  await p.sees('start, tab 1', node('Boats'));
  const middle = async (selector: string): Promise<{ x: number; y: number }> => {
    const box = await (await page.waitForSelector(selector))!.boundingBox();
    return { x: box!.x + box!.width / 2, y: box!.y + box!.height / 2 };
  };
  const drag = async (from: { x: number; y: number }, to: { x: number; y: number }): Promise<void> => {
    await page.mouse.move(from.x, from.y);
    await page.mouse.down();
    await page.mouse.move((from.x + to.x) / 2, (from.y + to.y) / 2, { steps: 6 });
    await page.mouse.move(to.x, to.y, { steps: 6 });
    await page.mouse.up();
  };
  const before = await middle(node('Trip'));
  await drag(before, { x: before.x + 60, y: before.y + 70 });
  await p.sees('Moved Trip on the map', '[aria-label=Trace]');
  const after = await middle(node('Trip'));
  if (Math.abs(after.x - before.x - 60) > 12) throw new Error('The screen does not stand where it was put.');

  // A new way is a button on the screen it leads from.
  await page.hover(node('Boats'));
  await drag(
    await middle(`${node('Boats')} .react-flow__handle-bottom`),
    await middle(`${node('Trip form')} .react-flow__handle-top`),
  );
  await p.sees('Boats has a button now that opens Trip form', 'body');
  await page.click(node('Boats'));
  await p.sees('Trip form', '.react-flow__edges');
  await p.press('Work on it', 'button');
  await p.sees('It opens with', 'main');
  await p.sees('Trip form', 'nav[aria-label=Screens]');
}

export const tests: Test[] = [
  { name: 'a variable is typed into, and everything follows it', run: variables },
  { name: 'tabs, a drawer and sheets hold the same screens', run: frames },
  { name: 'a row becomes a part, and a change of it reaches every place', run: parts },
  { name: 'the map shows every screen and the ways between them', run: appMap },
];
