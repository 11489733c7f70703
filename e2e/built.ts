import { writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { PNG } from 'pngjs';
import { openStudio, type Person } from './browser.ts';
import { phoneAt, release } from './phone.ts';
import { openField } from './data-steps.ts';
import { addInside } from './screens.ts';
import { sheetFiles } from './sheets.ts';
import { choose, dropFiles } from './whole-path.ts';
import type { Stage, Test } from './stage.ts';

const SCREENS = 'nav[aria-label=Screens]';

/** Presses the element of the outline with this name, counted among those of the same name. */
export async function inOutline(p: Person, name: string, nth = 0): Promise<void> {
  await p.page.waitForFunction(
    (s, n, i) =>
      [...document.querySelectorAll(`${s} a`)].filter((a) => (a as HTMLElement).innerText.split('\n')[0]!.trim() === n)
        .length > i,
    {},
    SCREENS,
    name,
    nth,
  );
  // The outline may be drawn anew between finding a line and pressing it.
  for (let attempt = 0; ; attempt++) {
    await p.page.$$eval(
      `${SCREENS} a`,
      (all, n, i) =>
        (
          all.filter((a) => (a as HTMLElement).innerText.split('\n')[0]!.trim() === n)[i] as HTMLElement | undefined
        )?.click(),
      name,
      nth,
    );
    const there = await p.page
      .waitForFunction(
        (s, n) =>
          (document.querySelector(`${s} a[aria-current]`) as HTMLElement | null)?.innerText.split('\n')[0]!.trim() ===
          n,
        { timeout: 4000 },
        SCREENS,
        name,
      )
      .catch(() => null);
    if (there) return;
    if (attempt > 3) throw new Error(`“${name}” is not selected in the outline.`);
  }
}

/** Welcome slides from nothing: halves, a round raised picture, and a button whose sign stands at its right. */
async function welcome(stage: Stage): Promise<void> {
  const p = await openStudio(stage);
  const { page } = p;
  await p.press('Begin blank', 'button');
  await p.sees('Tables', 'body', 15_000);
  await p.pressText('Screens', 'header');
  await p.press('Add a screen', 'button');
  await p.sees('It opens with', 'main');
  // What is looked at in Add is drawn before it is taken.
  await p.press('Add inside', 'button');
  await (await page.waitForSelector('[cmdk-root] input'))!.type('Slides');
  await page.waitForSelector('[data-sample] .k-slides .k-box');
  // What shows records is found as well, and says what it needs.
  await p.fill('Search what to add', 'board');
  await p.sees('needs a table', '[cmdk-root]');
  await page.waitForFunction(() => !document.querySelector('[data-sample]'));
  await page.keyboard.press('Enter');
  await p.sees('“Board” needs a table.', 'body');
  await p.sees('Tables', 'nav');
  await p.pressText('Screens', 'header');
  await p.pressText('New screen', 'nav[aria-label=Screens]');
  await p.press('Add inside', 'button');
  await (await page.waitForSelector('[cmdk-root] input'))!.type('nothing like it');
  await p.sees('Nothing is called “nothing like it”', '[cmdk-root]');
  await page.waitForFunction(() => !document.querySelector('[data-sample]'));
  await page.keyboard.press('Escape');
  await page.waitForFunction(() => !document.querySelector('[cmdk-root]'));
  await addInside(p, 'Slides');
  await inOutline(p, 'Slides');
  await side(p, 'height', 'Fill');
  // The first slide has two halves, the upper one with a picture.
  await inOutline(p, 'Box', 0);
  await side(p, 'height', 'Fill');
  for (const half of ['Upper half', 'Lower half']) {
    await inOutline(p, 'Box', 0);
    await addInside(p, 'Box');
    await p.fill('Name of the element', half);
    await page.keyboard.press('Enter');
    await side(p, 'height', 'Fill');
  }
  await inOutline(p, 'Upper half');
  await addInside(p, 'Picture');
  // The desk of the picture is open when this is there; until then the width is that of the box.
  await choose(p, 'Width to height', '4 to 3');
  await side(p, 'width', '%');
  await choose(p, 'Corners', '24');
  await choose(p, 'How it lies', 'raised');
  const [picker] = await Promise.all([page.waitForFileChooser(), choose(p, 'Own picture', 'From this computer')]);
  await picker.accept([await meadow(stage.folder)]);
  await page.waitForSelector('.k-app .k-picture img');
  for (const words of ['First', 'Say something here.']) {
    const elements = (): Promise<number> => page.$$eval(`${SCREENS} a`, (all) => all.length);
    const before = await elements();
    await inOutline(p, words, 0);
    await page.keyboard.press('Delete');
    while ((await elements()) !== before - 1)
      await new Promise((r) => {
        setTimeout(r, 50);
      });
  }
  await inOutline(p, 'Lower half');
  await addInside(p, 'Text');
  await p.fill('Words', 'Welcome to the meadow');
  // The last has a button whose sign stands at its right.
  await inOutline(p, 'Box', 2);
  await addInside(p, 'Button');
  await p.fill('Words on the button', 'Begin');
  await choose(p, 'Icon', 'arrow right');
  await p.press('Behind', 'radio');
  await choose(p, 'When tapped', 'go back');
  await p.pressText('Start', SCREENS);
  await choose(p, 'The first time', 'New screen');

  const phone = await phoneAt(stage, await release(p), 'Welcome to the meadow');
  const seen = await phone.page.evaluate(() => {
    const slide = document.querySelector('.k-app .k-slides .k-box')!;
    const picture = slide.querySelector('.k-picture')!;
    const look = getComputedStyle(picture);
    const { width, height } = picture.getBoundingClientRect();
    const upper = picture.parentElement!;
    const room = upper.clientWidth - 2 * Number.parseFloat(getComputedStyle(upper).paddingLeft);
    return {
      halves: [...slide.children].map((e) => e.getBoundingClientRect().height),
      share: width / room,
      ratio: width / height,
      corner: look.borderRadius,
      raised: look.boxShadow !== 'none',
    };
  });
  const [a, b] = seen.halves as [number, number];
  if (Math.abs(a - b) > 1 || a < 100) throw new Error(`The halves are ${a} and ${b} high.`);
  if (
    Math.abs(seen.share - 0.7) > 0.01 ||
    Math.abs(seen.ratio - 4 / 3) > 0.02 ||
    seen.corner !== '24px' ||
    !seen.raised
  )
    throw new Error(`The picture is ${JSON.stringify(seen)}.`);
  for (const n of [2, 3]) await phone.press(`Slide ${n}`, 'button');
  const right = await phone.page.evaluate(() => {
    const button = [...document.querySelectorAll('.k-app .k-button')].find(
      (e) => (e as HTMLElement).innerText.trim() === 'Begin',
    )!;
    const range = document.createRange();
    range.selectNodeContents([...button.childNodes].find((n) => n.textContent!.includes('Begin'))!);
    return button.querySelector('svg')!.getBoundingClientRect().left > range.getBoundingClientRect().right;
  });
  if (!right) throw new Error('The sign does not stand at the right of the words.');
  await phone.pressText('Begin', '.k-app');
  await phone.seesNot('Welcome to the meadow', '.k-app');
}

/** A picture of a meadow, twice as wide as it is high. */
async function meadow(folder: string): Promise<string> {
  const png = new PNG({ width: 240, height: 120 });
  for (let y = 0; y < 120; y++)
    for (let x = 0; x < 240; x++)
      png.data.set(y < 50 + 12 * Math.sin(x / 30) ? [160, 200, 220, 255] : [110, 150, 70, 255], (y * 240 + x) * 4);
  const path = join(folder, 'meadow.png');
  await writeFile(path, PNG.sync.write(png));
  return path;
}

/** Chooses how wide or high the element at hand is. */
async function side(p: Person, which: 'width' | 'height', how: string): Promise<void> {
  await p.page.waitForSelector(`main [aria-label=${which}]`);
  await p.page.$$eval(
    `main [aria-label=${which}] button`,
    (all, h) => (all.find((b) => (b as HTMLElement).innerText.trim() === h) as HTMLElement).click(),
    how,
  );
}

/** Jobs at the hives: only mine that are not done, each by a part that is given the whole job; a new one by a sheet. */
async function jobs(stage: Stage): Promise<void> {
  const paths = await sheetFiles(stage.folder, {
    'Jobs.csv': [
      'Job;Hive;Who;Due;Done',
      'Feed Willow 1;Willow 1;Ada Fenn;2026-12-01;no',
      'Paint the stand;Clover 7;Tom Reed;2026-12-03;no',
      'Move a frame;Willow 1;Ada Fenn;2026-11-20;yes',
      'Close for winter;Foxglove 3;Tom Reed;2026-12-05;no',
    ],
    'People.csv': ['Person;Mail', 'Ada Fenn;ada@meadow.example', 'Tom Reed;tom@meadow.example'],
  });
  const p = await openStudio(stage);
  const { page } = p;
  await p.sees('From a spreadsheet');
  await dropFiles(page, paths);
  await p.press('Make the app', 'button');
  await p.sees('Ada Fenn', '.k-app', 15_000);
  // Who it is for is whoever uses the phone.
  await p.pressText('Data', 'header');
  await p.pressText('Jobs', 'nav');
  await p.sees('4 records', 'main');
  await openField(page, 'Who');
  await page.click('section [aria-label^="Type:"]');
  await page.type('[cmdk-root] input', 'person');
  await page.keyboard.press('Enter');

  await p.pressText('Screens', 'header');
  await inOutline(p, 'Jobs');
  await inOutline(p, 'List of Jobs');
  await p.press('any: add a condition', 'button');
  await choose(p, 'Condition 1', 'Who');
  await choose(p, 'Compared with 1', 'the person using the app');
  await p.press('Add a condition', 'button');
  await choose(p, 'Condition 2', 'Done');
  const [, second] = await page.$$('main [aria-label^="Comparison:"]');
  await second!.click();
  await p.pressText('is not', '[cmdk-root]');
  // What leaves how many out is told, since nobody known uses the phone yet.
  await p.sees('0 of 4 records', 'main');
  await inOutline(p, 'Row', 1);
  await p.press('Make a part of it', 'button');
  await p.sees('Its input is', 'main');
  await p.fill('Name of the part', 'Job card');
  await page.keyboard.press('Enter');
  await inOutline(p, 'Jobs');
  await addInside(p, 'Button');
  await p.fill('Words on the button', 'New job');
  await p.press('Floating', 'radio');
  await choose(p, 'When tapped', 'open');
  await choose(p, 'Screen', 'Job form');
  await choose(p, 'How it opens', 'as a sheet');
  await p.press('Who is using the phone', 'button');
  await p.pressText('Ada Fenn', '[cmdk-root]');
  await p.pressText('Use', 'aside');
  await p.sees('Feed Willow 1', '.k-app');
  await p.seesNot('Paint the stand', '.k-app');
  await p.seesNot('Move a frame', '.k-app');

  const phone = await phoneAt(stage, await release(p), 'Jobs');
  await phone.seesNot('Feed Willow 1', '.k-app');
  await phone.pressText('New job', '.k-app');
  await phone.page.waitForSelector('.k-sheet .k-form input');
  await phone.fill('Job', 'Scrape the floor');
  await phone.pressText('Choose', '.k-sheet');
  await phone.pressText('Tom Reed', '.k-sheet');
  await phone.pressText('Save', '.k-sheet');
  // It was written by Tom Reed, so the phone is his from now on.
  for (const job of ['Scrape the floor', 'Paint the stand', 'Close for winter']) await phone.sees(job, '.k-app');
  await phone.seesNot('Feed Willow 1', '.k-app');
}

/** News by date, a catalogue in three levels, and one search over all of it. */
async function catalogue(stage: Stage): Promise<void> {
  const paths = await sheetFiles(stage.folder, {
    'News.csv': [
      'News;On;Said',
      'Honey day;2026-11-20;Come and taste what the summer left.',
      'Candle evening;2026-11-24;Bring your own jars.',
      'Frost is near;2026-11-10;Close the lower doors.',
    ],
    'Halls.csv': ['Hall;Floor', 'Garden hall;Ground', 'Candle hall;First'],
    'Shelves.csv': ['Shelf;Hall', 'Seeds;Garden hall', 'Tools;Garden hall', 'Wax;Candle hall'],
    'Goods.csv': [
      'Good;Shelf;Price',
      'Clover seed;Seeds;2,50',
      'Borage seed;Seeds;3,10',
      'Hive tool;Tools;12,00',
      'Smoker;Tools;34,90',
      'Candle wax;Wax;8,40',
    ],
  });
  const p = await openStudio(stage);
  const { page } = p;
  await p.sees('From a spreadsheet');
  await dropFiles(page, paths);
  await p.press('Make the app', 'button');
  await p.sees('Candle evening', '.k-app', 15_000);
  await p.pressText('Screens', 'header');
  await p.press('Add a screen', 'button');
  await p.sees('It opens with', 'main');
  await p.fill('Name of the screen', 'Search');
  await page.keyboard.press('Enter');
  await addInside(p, 'Search of several lists');
  await inOutline(p, 'Search');
  await choose(p, 'In the tab bar', 'tab 6');

  const phone = await phoneAt(stage, await release(p), 'Candle evening');
  await phone.pressText('Halls', '.k-tabs');
  for (const step of ['Garden hall', 'Seeds', 'Clover seed']) await phone.pressText(step, '.k-app main');
  await phone.sees('2.5', '.k-app');
  await phone.seesNot('Hive tool', '.k-app');
  for (const back of ['Seeds', 'Garden hall']) {
    // The screen before may still be going when the next is seen.
    const screen = await phone.page.$eval('.k-app', (e) => (e as HTMLElement).dataset['screen']);
    await phone.page.$eval('.k-back', (e) => (e as HTMLElement).click());
    await phone.page.waitForFunction(
      (s) => document.querySelector<HTMLElement>('.k-app')?.dataset['screen'] !== s,
      {},
      screen,
    );
    await phone.sees(back, '.k-app');
  }
  await phone.pressText('News', '.k-tabs');
  await phone.sees('Candle evening', '.k-app');
  const feed = await phone.page.$$eval('.k-app .k-row', (all) =>
    all.map((e) => (e as HTMLElement).innerText.split('\n')[0]!.trim()),
  );
  if (feed.join('|') !== 'Candle evening|Honey day|Frost is near') throw new Error(`The feed reads ${feed.join('|')}.`);
  // There are more than five ways, so the last stand under More.
  await phone.pressText('More', '.k-tabs');
  await phone.pressText('Search', '.k-app');
  // The screen before may still be going, and has a search of its own.
  await (await phone.page.waitForSelector('.k-search input[aria-label="Search everything"]'))!.type('candle');
  for (const hit of ['Candle evening', 'Candle hall', 'Candle wax']) await phone.sees(hit, '.k-app');
  await phone.seesNot('Hive tool', '.k-app');
}

export const tests: Test[] = [
  { name: 'welcome slides are built from nothing', run: welcome },
  { name: 'a list of my jobs: a part a row, a button that floats, a sheet with a form', run: jobs },
  { name: 'a feed, a catalogue in three levels and a search across it', run: catalogue },
];
