import { openStudio } from './browser.ts';
import { choose } from './whole-path.ts';
import type { Stage, Test } from './stage.ts';

/** One small kind of each sort, made through the interface: a divider, a rating, a wait, and a screen that opens. */
async function smallKinds(stage: Stage): Promise<void> {
  const p = await openStudio(stage);
  const { page } = p;
  await p.sees('What should the phone do');
  await p.press('Heatherfield Bees', 'button');
  await p.sees('days', '.k-app', 20_000);

  // A divider, with the desk that its properties make.
  await p.pressText('Screens', 'header');
  await p.sees('It opens with', 'main');
  await p.press('Add inside', 'button');
  await p.pressText('Divider', '[role=menu]');
  await p.sees('Divider on All hives', 'main');
  await p.pressText('Strong', 'main');
  await page.waitForSelector('.k-divider[data-look=strong]');
  await shot(page, 'divider');

  // A rating: a field of its own, stars in the grid and on the phone.
  await p.pressText('Data', 'header');
  await p.sees('Each record is called', 'main');
  await p.pressText('Field', 'main header');
  await p.pressText('A field to fill in', '[role=menu]');
  await choose(p, 'Type', 'rating');
  await p.sees('rating', 'main');

  // A routine that waits, and that starts when a screen opens.
  await p.pressText('Logic', 'header');
  await p.press('Add a routine', 'button');
  await p.sees('Nothing starts it yet', 'main');
  await choose(p, 'Given', 'nothing');
  await p.press('Start it also when', 'button');
  await p.pressText('a screen opens', '[role=menu]');
  await p.sees('Starts when a screen opens', 'main');
  await choose(p, 'Screen', 'Visits');
  await p.sees('When a screen opens', 'nav');
  await p.press('Add a step', 'button');
  await p.pressText('Wait', '[role=menu]');
  await (await page.waitForSelector('main [aria-label^="How long:"]'))!.click();
  await page.waitForSelector('[cmdk-root]');
  await page.keyboard.type('1 s');
  await p.pressText('as it stands', '[cmdk-root]');
  await p.sees('Wait 1 second', 'main');
  await p.press('Add a step', 'button');
  await p.pressText('Show a message', '[role=menu]');
  await p.fill('Message', 'Good morning');
  await shot(page, 'routine');
  await p.pressText('Visits', '.k-tabs');
  await p.sees('Good morning', '.k-app', 10_000);
  await p.sees('Waited', 'body').catch(() => undefined);
  await p.sees('waited', 'main');
  await shot(page, 'ran');
}

/** Throwaway pictures for whoever works on it: `SHOTS=folder`. */
async function shot(page: Awaited<ReturnType<typeof openStudio>>['page'], name: string): Promise<void> {
  const folder = process.env['SHOTS'];
  if (folder) await page.screenshot({ path: `${folder}/${name}.png` });
}

export const tests: Test[] = [
  { name: 'a divider, a rating, a wait and a screen that opens are made and work', run: smallKinds },
];
