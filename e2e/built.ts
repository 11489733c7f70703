import { writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { PNG } from 'pngjs';
import { openStudio, type Person } from './browser.ts';
import { phoneAt, release } from './phone.ts';
import { addInside } from './screens.ts';
import { choose } from './whole-path.ts';
import type { Stage, Test } from './stage.ts';

const SCREENS = 'nav[aria-label=Screens]';

/** Presses the element of the outline with this name, counted among those of the same name. */
async function inOutline(p: Person, name: string, nth = 0): Promise<void> {
  await p.page.waitForFunction(
    (s, n, i) =>
      [...document.querySelectorAll(`${s} a`)].filter((a) => (a as HTMLElement).innerText.trim() === n).length > i,
    {},
    SCREENS,
    name,
    nth,
  );
  await p.page.$$eval(
    `${SCREENS} a`,
    (all, n, i) => (all.filter((a) => (a as HTMLElement).innerText.trim() === n)[i] as HTMLElement).click(),
    name,
    nth,
  );
  await p.page.waitForFunction(
    (s, n) => (document.querySelector(`${s} a[aria-current]`) as HTMLElement | null)?.innerText.trim() === n,
    {},
    SCREENS,
    name,
  );
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
  await side(p, 'width', '%');
  await choose(p, 'Width to height', '4 to 3');
  await choose(p, 'Corners', '24');
  await p.press('Raised', 'radio');
  const [picker] = await Promise.all([page.waitForFileChooser(), choose(p, 'Own picture', 'From this computer')]);
  await picker.accept([await meadow(stage.folder)]);
  await page.waitForSelector('.k-app .k-picture img');
  for (const words of ['First', 'Say something here.']) {
    await inOutline(p, words, 0);
    await page.keyboard.press('Delete');
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

export const tests: Test[] = [{ name: 'welcome slides are built from nothing', run: welcome }];
