import type { Person } from './browser.ts';
import { makeClub } from './whole-path.ts';
import type { Stage, Test } from './stage.ts';

const NAV = 'nav[aria-label="Screens"]';

/** Presses a key with Control, with what a browser does for it. */
async function command(p: Person, key: 'c' | 'x' | 'v'): Promise<void> {
  await p.page.keyboard.down('Control');
  await p.page.keyboard.press(key, { commands: [{ c: 'Copy', x: 'Cut', v: 'Paste' }[key]] });
  await p.page.keyboard.up('Control');
}
const trace = (p: Person, words: string): Promise<void> => p.sees(words, 'section[aria-label="Trace"]');
async function middle(p: Person, selector: string): Promise<{ x: number; y: number }> {
  const box = (await (await p.page.waitForSelector(selector))!.boundingBox())!;
  return { x: box.x + box.width / 2, y: box.y + box.height / 2 };
}

/** Pressed, pressed again, with Shift, twice; dragged by a handle; put into a box; copied to another screen and app. */
async function selecting(stage: Stage): Promise<void> {
  const p = await makeClub(stage);
  const { page } = p;
  await p.pressText('Screens', 'header');
  await p.press('Arrange', 'radio');
  const title = await middle(p, '.k-app .k-text[data-style="title"]');
  const at = (name: string): Promise<unknown> =>
    page.waitForFunction(
      (n) => {
        const head = document.querySelector('main h1');
        return (head?.querySelector('input')?.value ?? (head as HTMLElement | null)?.innerText)?.trim() === n;
      },
      { timeout: 8000 },
      name,
    );

  // First what stands on the screen, then inside it; Escape goes back out.
  await page.mouse.click(title.x, title.y);
  await at('Row');
  await page.mouse.click(title.x, title.y);
  await at('Boats');
  await page.keyboard.press('Escape');
  await at('Row');
  await page.keyboard.press('Enter');
  await at('Boats');

  // Words are written where they stand.
  await page.mouse.click(title.x, title.y, { count: 2 });
  // It can be written in at once, behind the words that are there.
  await page.waitForSelector('[role=textbox][aria-label="Words, in place"]:focus');
  await page.keyboard.type(' of the club');
  await page.keyboard.press('Escape');
  await p.sees('Boats of the club', '.k-app');

  // Its right handle makes it narrower, pressed twice it fills again.
  const handle = await middle(p, '[data-handle="right"]');
  await page.mouse.move(handle.x, handle.y);
  await page.mouse.down();
  await page.mouse.move(handle.x - 30, handle.y, { steps: 6 });
  await page.mouse.up();
  await page.waitForSelector('main input[aria-label="width in pixels"]');
  const to = handle.x - 30;
  const isThere = (x: number): boolean => {
    const at = document.querySelector('[data-handle="right"]')?.getBoundingClientRect();
    return at !== undefined && Math.abs(at.x + at.width / 2 - x) <= 6;
  };
  await page.waitForFunction(isThere, { timeout: 10_000 }, to).catch(async () => {
    throw new Error(`The handle is at ${(await middle(p, '[data-handle="right"]')).x}, dragged to ${to}.`);
  });
  const after = await middle(p, '[data-handle="right"]');
  await page.mouse.click(after.x, after.y, { count: 2 });
  await page.waitForFunction(() => !document.querySelector('main input[aria-label="width in pixels"]'));

  // Several, by Shift: changed together, put into a box, and taken out of it.
  await page.keyboard.down('Shift');
  const add = await middle(p, '.k-app .k-button');
  await page.mouse.click(add.x, add.y);
  await page.keyboard.up('Shift');
  await at('2 elements');
  await page.keyboard.press('b');
  await trace(p, 'Put 2 elements into a box');
  await at('Row');
  await p.sees('Boats of the club Add', '.k-app');
  await page.keyboard.press('t');
  await trace(p, 'Took everything out of Row');
  await at('2 elements');
  await page.keyboard.down('Control');
  await page.keyboard.press('z');
  await page.keyboard.press('z');
  await page.keyboard.up('Control');
  await trace(p, 'Undid: Put 2 elements into a box');

  // Copied to another screen; the button still does there what it did.
  await page.click(`${NAV} a[aria-current]`).catch(() => undefined);
  await p.pressText('Add', NAV);
  await at('Add');
  await command(p, 'c');
  await p.sees('Copied it.', 'body');
  await p.pressText('Overview', NAV);
  await at('Overview');
  await p.sees('hours in all', '.k-app');
  await command(p, 'v');
  await trace(p, 'Pasted an element on Overview');
  await at('Add');
  await p.sees('Boat form', 'main');

  // And to another app, which says what it has not.
  await page.goto(stage.server.url);
  await p.sees('What should the phone do');
  await p.press('Begin blank', 'button');
  await p.sees('A table holds what the app is about', 'main');
  await p.pressText('Screens', 'header');
  await p.sees('It opens with', 'main');
  await command(p, 'v');
  await trace(p, 'Pasted an element');
  await p.sees('This app has not the screen Boat form', 'body');
  await p.sees('Add', '.k-app');

  await page.keyboard.press('Escape');
  await page.keyboard.press('?');
  await p.sees('Take everything out of the box', '[role=dialog]');
}

export const tests: Test[] = [
  { name: 'elements are selected, several too, and copied between screens and apps', run: selecting },
];
