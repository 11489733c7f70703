import { until, type Person } from './browser.ts';
import { away } from './board.ts';
import { main, newRoutine, typeStep } from './logic.ts';
import { release } from './phone.ts';
import type { Stage, Test } from './stage.ts';
import { choose, makeClub } from './whole-path.ts';

/** Types a value into the last chip whose label begins so. */
async function useWords(p: Person, chip: string, words: string): Promise<void> {
  const { page } = p;
  await page.$$eval(`main [aria-label^="${chip}"]`, (all) => (all.at(-1) as HTMLElement).click());
  await page.waitForSelector('[cmdk-root] input');
  await page.type('[cmdk-root] input', words);
  await p.pressText(`Use “${words}”`, '[cmdk-root]');
}

/**
 * A routine finds out by a branch where a boat belongs and gives that back to another, which two things start: that one
 * moves the boat, waits until it is there, and says so.
 */
async function byItself(stage: Stage): Promise<void> {
  const p = await makeClub(stage);
  await p.pressText('Logic', 'header');
  await newRoutine(p, 'Where it belongs', 'this boat');
  await typeStep(p, 'if Length is over 7', 'Length is over 7');
  await typeStep(p, 'give back', 'Give back', 3);
  await useWords(p, 'What is given back', 'Long quay');
  await typeStep(p, 'give back', 'Give back');
  await useWords(p, 'What is given back', 'Short quay');

  await newRoutine(p, 'Put it away', 'this boat');
  await p.pressText('Start it also when', 'main');
  await p.pressText('a record is added, changed or removed', '[cmdk-root]');
  await choose(p, 'What happens', 'added');
  await p.pressText('Start it also when', 'main');
  await p.pressText('something becomes so for a record', '[cmdk-root]');
  await choose(p, 'Condition 1', 'Sail no');
  await useWords(p, 'Compared with 1', 'back');
  await typeStep(p, 'run Where it belongs', 'Where it belongs');
  await typeStep(p, 'set Berth to what it gave', 'Berth to what it gave');
  await typeStep(p, 'hold until Sail no is X', 'Hold until');
  await p.page.$$eval('main [aria-label^="How long at most"]', (all) => (all.at(-1) as HTMLElement).click());
  await p.page.waitForSelector('[cmdk-root] input');
  await p.page.type('[cmdk-root] input', '2 h');
  await p.page.keyboard.press('Enter');
  await main(p, 'for 2 hours at most');
  await typeStep(p, 'set Berth to Z9', 'Berth to Z9');
  const link = await release(p);
  const boats = await away(link, 'Boats');
  const berthIs = (id: string, berth: string): Promise<void> =>
    until(`The boat is at ${berth}.`, async () => {
      const boat = (await boats.rows()).find((r) => r.id === id);
      return boat?.cells[boats.field('Berth')] === berth;
    });
  // A new boat that is long, and one of before that is short and comes back.
  await boats.set('e2e-gull', { [boats.field('Boat')]: 'Gull', [boats.field('Length')]: 9 });
  await berthIs('e2e-gull', 'Long quay');
  let short = { id: '' };
  await until('A short boat is on the server.', async () => {
    const found = (await boats.rows()).find((r) => Number(r.cells[boats.field('Length')]) < 7);
    short = found ?? short;
    return found !== undefined;
  });
  await boats.set(short.id, { [boats.field('Sail no')]: 'back' });
  await berthIs(short.id, 'Short quay');
  // Both wait until they are away, each for itself.
  await p.pressText('Logic', 'header');
  await p.pressText('Board', 'nav');
  await p.sees('until this boat › Sail no is X', 'main section[aria-label=Holds]');
  await boats.set(short.id, { [boats.field('Sail no')]: 'X' });
  await berthIs(short.id, 'Z9');
  await berthIs('e2e-gull', 'Long quay');
  // A release meanwhile has another end for it. What waits goes on as it began, and what begins later ends otherwise.
  await p.pressText('Put it away', 'nav');
  await main(p, 'Where it belongs');
  // Of the latest changes it is said which would have started it, as it is on the desk now.
  await p.pressText('would have started it', 'main');
  await p.sees('Gull', '[data-radix-popper-content-wrapper]');
  await p.page.keyboard.press('Escape');
  await typeStep(p, 'set Berth to Y1', 'Berth to Y1');
  await p.pressText('Release', 'header');
  await p.sees('1 run on the server has not ended', 'main');
  await p.pressText('As it began', 'main');
  await p.press('Release again', 'button');
  await p.sees('Release 2 is out.');
  await p.pressText('Logic', 'header');
  await p.pressText('Board', 'nav');
  await p.sees('with the steps of an earlier release', 'main section[aria-label=Holds]');
  await boats.set('e2e-tern', { [boats.field('Boat')]: 'Tern', [boats.field('Length')]: 9 });
  await berthIs('e2e-tern', 'Long quay');
  for (const boat of ['e2e-gull', 'e2e-tern']) await boats.set(boat, { [boats.field('Sail no')]: 'X' });
  await berthIs('e2e-tern', 'Y1');
  await berthIs('e2e-gull', 'Z9');
  // What was given back stands beside the steps of the run.
  await p.sees('Tern', 'main section[aria-label=Lately]');
  await p.pressText('Put it away', 'main section[aria-label=Lately]');
  await main(p, 'Long quay');
}

export const tests: Test[] = [
  { name: 'work that runs by itself: a branch, a wait, another routine that gives a value back, started by two things', run: byItself },
]; // prettier-ignore
