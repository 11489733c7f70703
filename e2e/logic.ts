import { openStudio, type Person } from './browser.ts';
import { phoneAt, pressLastOn, release } from './phone.ts';
import { addInside } from './screens.ts';
import { choose, makeClub } from './whole-path.ts';
import type { Stage, Test } from './stage.ts';

export const main = (p: Person, words: string): Promise<void> => p.sees(words, 'main');

/** Types what should happen at one of the places to add a step, counted from the end, and takes the first meaning. */
export async function typeStep(p: Person, words: string, said: string, fromEnd = 1): Promise<void> {
  const { page } = p;
  const before = await page.$$eval('main [data-step]', (all) => all.length);
  await page.$$eval(
    'main li button',
    (all, n) => {
      const adds = all.filter((b) => (b as HTMLElement).innerText.trim().startsWith('Add a step')) as HTMLElement[];
      const add = adds.at(-n)!;
      add.scrollIntoView();
      add.click();
    },
    fromEnd,
  );
  await page.waitForSelector('[aria-label="What should happen"]');
  await page.type('[aria-label="What should happen"]', words);
  await p.sees(said, '[cmdk-root]');
  await page.keyboard.press('Enter');
  await page.waitForFunction((n) => document.querySelectorAll('main [data-step]').length > n, {}, before);
}
/** Makes a routine in Logic that works with no record, or with the one that this names. */
export async function newRoutine(p: Person, name: string, given = 'no record'): Promise<void> {
  await p.press('Add a routine', 'button');
  await p.fill('Name of the routine', name);
  await p.page.keyboard.press('Enter');
  await choose(p, 'Record', given);
}
/** The words of the steps in reading order. */
export const lines = (p: Person): Promise<string[]> =>
  p.page.$$eval('main [data-step] .sentence', (all) =>
    all.map((e) =>
      (e as HTMLElement).innerText
        .replace(/\s+/g, ' ')
        .replace(/ ?value ?/g, '')
        .trim(),
    ),
  );
export async function selectStep(p: Person, at: number): Promise<void> {
  const handle = (await p.page.$$('main [data-step] button[aria-pressed]'))[at]!;
  await handle.scrollIntoView();
  await handle.click();
}

/** Steps are typed, moved by keys, copied, switched off; a menu and a question are answered on a phone; a failure is dealt with. */
async function asking(stage: Stage): Promise<void> {
  const p = await makeClub(stage);
  const { page } = p;
  await p.pressText('Logic', 'header');
  await newRoutine(p, 'Log the boat');

  await typeStep(p, 'menu out or in', 'Menu: Out, In');
  await typeStep(p, 'show Fair winds', 'Show “Fair winds”', 3);
  await typeStep(p, 'ask for the hours', 'Ask for a value: “The hours?”', 2);
  await main(p, 'what is asked for');
  await choose(p, 'What is asked for', 'a number');
  await main(p, 'Nothing uses “what was typed”, so this step is for nothing.');
  await typeStep(p, 'show Logged', 'Show “Logged”', 2);
  // What was typed is told: the words of the message take it in.
  await page.$$eval('main [role=textbox][aria-label="Words"], main [role=textbox][aria-label="Message"]', (all) =>
    (all.at(-1) as HTMLElement).focus(),
  );
  await page.keyboard.press('End');
  await page.keyboard.type(' {what was typed} h');
  await p.seesNot('so this step is for nothing', 'main');

  // Moved above the step that gives its value, it says so, and the mend puts it right.
  const all = await lines(p);
  const at = all.findIndex((l) => l.includes('Logged'));
  await selectStep(p, at);
  await page.keyboard.down('Alt');
  await page.keyboard.press('ArrowUp');
  await page.keyboard.up('Alt');
  await main(p, '“what was typed” is used here, and given only by a later step.');
  await p.press('Move that step up', 'button');
  await p.seesNot('given only by a later step', 'main');
  await page.keyboard.down('Control');
  await page.keyboard.press('z');
  await page.keyboard.press('z');
  await page.keyboard.up('Control');
  await p.seesNot('given only by a later step', 'main');

  // A question that is not answered fails: what then is said.
  const question = (await lines(p)).findIndex((l) => l.startsWith('Ask for a'));
  await page.$$eval(
    'main [data-step]',
    (rows, i) => {
      const row = rows[i] as HTMLElement;
      (row.querySelector('[aria-label="More for this step"]') as HTMLElement).focus();
    },
    question,
  );
  await page.keyboard.press('Enter');
  await p.pressText('If it fails', '[role=menu]');
  await main(p, 'no more tries');
  await typeStep(p, 'show Not logged', 'Show “Not logged”', 3);

  // Run with a sample: the menu and the question stand on the phone, the values beside the steps.
  await p.press('Try with sample', 'button');
  await p.press('In', 'button');
  await p.sees('The hours?', '.k-app');
  await page.type('.k-ask input', '2,5');
  await p.press('OK', 'button');
  await p.sees('Logged 2.5 h', '.k-app');
  await main(p, 'Values beside the steps are from the run of');
  await p.press('Try it again', 'button');
  await p.press('In', 'button');
  await p.press('Cancel', 'button');
  await main(p, 'Nothing was answered.');

  // Copied below, switched off, pasted into a second routine.
  const said = await lines(p);
  const logged = said.findIndex((l) => l.includes('Not logged'));
  await selectStep(p, logged);
  await page.keyboard.press('d');
  await page.waitForFunction((n) => document.querySelectorAll('main [data-step]').length === n, {}, said.length + 1);
  await page.keyboard.press('o');
  await page.waitForSelector('main li.opacity-55');
  await page.keyboard.down('Control');
  await page.keyboard.press('c', { commands: ['Copy'] });
  await page.keyboard.up('Control');
  await p.press('Add a routine', 'button');
  await p.sees('Add a step', 'main');
  await page.waitForFunction(() => document.querySelectorAll('main [data-step]').length === 0);
  await page.keyboard.down('Control');
  await page.keyboard.press('v', { commands: ['Paste'] });
  await page.keyboard.up('Control');
  await main(p, 'Not logged');

  // A button runs it; on a phone of its own it asks the same.
  await p.pressText('Screens', 'header');
  await p.pressText('Overview', 'nav[aria-label=Screens]');
  await addInside(p, 'Button');
  await choose(p, 'When tapped', 'run');
  await choose(p, 'Routine', 'Log the boat');
  const link = await release(p);
  const phone = await phoneAt(stage, link, 'Boats');
  await pressLastOn(phone, 'Overview');
  await phone.press('Out', 'button');
  await phone.sees('Fair winds', '.k-app');
}

/** What an app says of times and releases is kept, and undone like everything else. */
async function choices(stage: Stage): Promise<void> {
  const p = await openStudio(stage);
  await p.press('Heatherfield Bees', 'button');
  await p.sees('days', '.k-app', 20_000);
  await p.pressText('Release', 'header');
  await choose(p, 'Time zone', 'Auckland');
  const now = new Intl.DateTimeFormat('en-GB', { timeZone: 'Pacific/Auckland', hour: '2-digit', minute: '2-digit' });
  await p.sees(`${now.format()} now`, 'main');
  await p.pressText('Logic', 'header');
  await p.pressText('Smoke, and wait', 'nav');
  await choose(p, 'When a release removes the step it waits at', 'goes on with the next step that is still there');
  await p.page.reload();
  await p.sees('goes on with the next step that is still there', 'main');
  await p.page.keyboard.down('Control');
  await p.page.keyboard.press('z');
  await p.page.keyboard.up('Control');
  await p.sees('ends, and says so', 'main');
  await p.pressText('Release', 'header');
  await p.sees('Auckland', 'main');
}

export const tests: Test[] = [
  { name: 'an app has a time zone, and a routine a way to go when its step is removed', run: choices },
  { name: 'steps are typed and moved; a routine asks and goes on by the answer', run: asking },
];
