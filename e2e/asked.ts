import { openStudio, until } from './browser.ts';
import { away } from './board.ts';
import { newRoutine, typeStep } from './logic.ts';
import { phoneAt, release } from './phone.ts';
import { sheetFiles } from './sheets.ts';
import type { Stage, Test } from './stage.ts';
import { choose, dropFiles, makeClub } from './whole-path.ts';

/** A routine of the server asks somebody, who answers on their phone; the routine goes on with the answer. */
async function asked(stage: Stage): Promise<void> {
  const p = await openStudio(stage);
  const { page } = p;
  await p.sees('From a spreadsheet');
  await dropFiles(
    page,
    await sheetFiles(stage.folder, {
      'Boxes.csv': ['Box;Owner;State', 'Blue;Soren;old', 'Green;Ida;old'],
      'People.csv': ['Name;Telephone', 'Soren;+45 12 34 56 78', 'Ida;'],
    }),
  );
  await p.press('Make the app', 'button');
  await p.sees('Blue', '.k-app', 15_000);
  await p.pressText('Boxes', 'nav[aria-label=Screens]');
  await p.pressText('List of Boxes', 'nav[aria-label=Screens]');
  await p.press('any: add a condition', 'button');
  await choose(p, 'Condition 1', 'People');
  await choose(p, 'Compared with 1', 'the person using the app');
  await p.pressText('Logic', 'header');
  await newRoutine(p, 'Ask the owner', 'this box');
  await p.pressText('Start it also when', 'main');
  await p.pressText('a record is added, changed or removed', '[cmdk-root]');
  await choose(p, 'What happens', 'changed');
  await typeStep(p, 'ask somebody', 'on their phone, and wait for the answer');
  await choose(p, 'Whom', 'this box › People');
  await p.fill('Question', 'May it be emptied?');
  await typeStep(p, 'set State to answer', 'State to answer');
  const link = await release(p);
  const boxes = await away(link, 'Boxes');
  const phone = await phoneAt(stage, link, 'Boxes');
  await phone.press('Say who you are, to see what is yours', 'button');
  await phone.pressText('Ida', '.k-who-names');
  await phone.sees('Green', '.k-app');
  const green = (await boxes.rows()).find((r) => r.cells[boxes.field('Box')] === 'Green')!;
  await boxes.set(green.id, { [boxes.field('State')]: 'full' });
  await phone.sees('May it be emptied?', '.k-notice');
  // It stays until it is answered, also after a reload.
  await phone.page.reload();
  await phone.pressText('May it be emptied?', '.k-notice');
  // Answered without a network, the answer is kept, through a reload too, and sent when there is one.
  await phone.page.setOfflineMode(true);
  await phone.press('Yes', 'button');
  await phone.sees('Your answer is kept, and sent when there is a way to the server.', '.k-app');
  await phone.page.reload();
  await phone.sees('Green', '.k-app');
  await phone.page.setOfflineMode(false);
  await phone.page.reload();
  await until('The routine goes on.', async () =>
    (await boxes.rows()).some((r) => r.id === green.id && r.cells[boxes.field('State')] === 'Yes'),
  );
}

/** A maker says when the app is open; what is no time is said, and formulas reckon by the hours. */
async function openingHours(stage: Stage): Promise<void> {
  const p = await makeClub(stage);
  await p.pressText('Release', 'header');
  await p.press('Say when it is open', 'button');
  await p.fill('Monday', 'nine to five');
  await p.page.keyboard.press('Enter');
  await p.sees('“nine to five” is no time from and until.', 'main');
  await p.fill('Monday', '9-12, 13.30 to 17');
  await p.page.keyboard.press('Enter');
  await p.fill('Days off', '2026-12-26, 2026-12-25');
  await p.page.keyboard.press('Enter');
  const valueOf = (label: string): Promise<string> =>
    p.find(label, 'textbox').then((box) => box.evaluate((e) => (e as HTMLInputElement).value));
  const holds = async (): Promise<boolean> =>
    (await valueOf('Monday')) === '9:00–12:00, 13:30–17:00' && (await valueOf('Days off')) === '2026-12-25, 2026-12-26';
  await until('The hours are read.', holds);
  await p.sees('Kept');
  await p.page.reload();
  await p.sees('Days off', 'main');
  await until('The hours are kept.', holds);
  await p.press('Undo: Changed the days off', 'button');
  await until('The days off are undone.', async () => (await valueOf('Days off')) === '');
}

export const tests: Test[] = [
  {
    name: 'an app says when it is open, in words that are read or said to be wrong, kept and undone',
    run: openingHours,
  },
  { name: 'a routine of the server asks somebody on their phone, and goes on with the answer', run: asked },
];
