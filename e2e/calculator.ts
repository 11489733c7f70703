import type { Person } from './browser.ts';
import { lines, main, newRoutine, typeStep } from './logic.ts';
import { phoneAt, release } from './phone.ts';
import { addInside } from './screens.ts';
import { choose, makeClub } from './whole-path.ts';
import type { Stage, Test } from './stage.ts';

const SCREENS = 'nav[aria-label=Screens]';

async function numberVariable(p: Person, name: string): Promise<void> {
  await p.press('Add a variable', 'button');
  await p.sees('It keeps', 'main');
  await p.fill('Name of the variable', name);
  await p.page.keyboard.press('Enter');
  await choose(p, 'What it keeps', 'a number');
  await choose(p, 'How long', 'until the app is closed');
  await p.sees(name, SCREENS);
}
async function routine(p: Person, name: string, steps: readonly (readonly [string, string])[]): Promise<void> {
  await newRoutine(p, name);
  for (const [typed, said] of steps) await typeStep(p, typed, said);
}
async function button(p: Person, words: string, runs: string): Promise<void> {
  await p.pressText('Calculator', SCREENS);
  await p.sees('It opens with', 'main');
  await addInside(p, 'Button');
  await p.fill('Words on the button', words);
  await choose(p, 'When tapped', 'run');
  await choose(p, 'Routine', runs);
}
async function box(p: Person, fills: string, size?: string): Promise<void> {
  await p.pressText('Calculator', SCREENS);
  await p.sees('It opens with', 'main');
  await addInside(p, 'Input');
  await choose(p, 'Field', fills);
  if (size) await p.pressText(size, 'main');
  else await p.pressText('always', 'main [role=group][aria-label="Read-only when"]');
}
const typeInto = async (p: Person, at: number, words: string): Promise<void> => {
  const boxes = await p.page.$$('.k-app .k-field input');
  await boxes[at]!.click({ count: 3 });
  await p.page.keyboard.type(words);
};
/** What the two boxes hold, and the result, which is no box. */
const values = (p: Person): Promise<string[]> =>
  p.page.$$eval('.k-app .k-field', (all) =>
    all.map((e) => e.querySelector('input')?.value ?? (e.querySelector('output') as HTMLElement).innerText.trim()),
  );
async function has(p: Person, wanted: readonly string[]): Promise<void> {
  for (let i = 0; i < 80; i++) {
    if ((await values(p)).join('|') === wanted.join('|')) return;
    await new Promise((r) => {
      setTimeout(r, 100);
    });
  }
  throw new Error(`There is ${JSON.stringify(await values(p))}, not ${JSON.stringify(wanted)}.`);
}

/** Syrup for the bees: two large boxes, four operators, clear, and going on with the result. */
async function calculator(stage: Stage): Promise<void> {
  const p = await makeClub(stage);
  const { page } = p;
  await p.pressText('Screens', 'header');
  await p.press('Add a screen', 'button');
  await p.sees('It opens with', 'main');
  await p.fill('Name of the screen', 'Calculator');
  await page.keyboard.press('Enter');
  for (const name of ['Sugar', 'Water', 'Result']) {
    await p.pressText('Calculator', SCREENS);
    await p.sees('It opens with', 'main');
    await numberVariable(p, name);
  }

  await p.pressText('Logic', 'header');
  for (const sign of ['+', '-', '*', '/'])
    await routine(p, `Work out ${sign}`, [[`set Result to Sugar ${sign} Water`, `Set Result to Sugar ${sign} Water`]]);
  await routine(p, 'Clear', [
    ['clear Sugar', 'Clear Sugar'],
    ['clear Water', 'Clear Water'],
    ['clear Result', 'Clear Result'],
  ]);
  // The result is cleared before it is copied: that is said where it stands, and mended by its button.
  await routine(p, 'Go on with it', [
    ['clear Water', 'Clear Water'],
    ['clear Result', 'Clear Result'],
    ['set Sugar to Result', 'Set Sugar to Result'],
  ]);
  await main(p, 'Result is cleared before it is read here.');
  await p.press('Move the clearing below it', 'button');
  await p.seesNot('is cleared before it is read here', 'main');
  const order = await lines(p);
  if (!/Sugar/.test(order[1]!) || !/Result/.test(order[2]!)) throw new Error(`The steps stand as ${order.join(' | ')}`);

  await p.pressText('Screens', 'header');
  await box(p, 'Sugar', 'Huge');
  await (await p.find('Hint', 'textbox')).click();
  await page.keyboard.type('kg of sugar');
  await box(p, 'Water', 'Huge');
  for (const sign of ['+', '-', '*', '/']) await button(p, sign, `Work out ${sign}`);
  await button(p, 'Go on', 'Go on with it');
  await button(p, 'Wipe', 'Clear');
  await box(p, 'Result');
  await p.pressText('Use', 'aside');
  await works(p);
  await p.pressText('Calculator', SCREENS);
  await choose(p, 'In the tab bar', 'tab 4');
  const phone = await phoneAt(stage, await release(p), 'Boats');
  await phone.page.click('[data-tab]:last-child');
  await phone.sees('Calculator', '.k-app');
  await works(phone);
}

/** Works on the calculator as a person does. */
async function works(p: Person): Promise<void> {
  const { page } = p;
  await page.waitForFunction(() => document.querySelectorAll('.k-app .k-field').length === 3);
  const sizes = await page.$$eval('.k-app .k-field input, .k-app .k-field output', (all) =>
    all.map((e) => Number.parseFloat(getComputedStyle(e).fontSize)),
  );
  if (sizes[0]! < 2 * sizes[2]! || sizes[1] !== sizes[0]) throw new Error(`The letters are ${sizes.join(', ')} px.`);
  const hint = await page.$eval('.k-app .k-field input', (e) => {
    const input = e as HTMLInputElement;
    const pen = document.createElement('canvas').getContext('2d')!;
    const { font, paddingLeft, paddingRight } = getComputedStyle(input);
    pen.font = font;
    const room = input.clientWidth - Number.parseFloat(paddingLeft) - Number.parseFloat(paddingRight);
    return { room, needs: pen.measureText(input.placeholder).width, words: input.placeholder };
  });
  if (hint.words !== 'kg of sugar' || hint.needs > hint.room)
    throw new Error(`The hint “${hint.words}” takes ${hint.needs} px of ${hint.room}.`);
  await typeInto(p, 0, '12,5');
  await typeInto(p, 1, '4');
  for (const [sign, result] of [
    ['+', '16.5'],
    ['-', '8.5'],
    ['*', '50'],
    ['/', '3.125'],
  ] as const) {
    await p.press(sign, 'button');
    await has(p, ['12,5', '4', result]);
  }
  // The result cannot be typed into, and goes on into the first box.
  await p.press('Go on', 'button');
  await has(p, ['3.125', '', '–']);
  await typeInto(p, 1, '0');
  await p.press('/', 'button');
  await has(p, ['3.125', '0', '–']);
  await p.press('Wipe', 'button');
  await has(p, ['', '', '–']);
}

export const tests: Test[] = [
  { name: 'a calculator on two boxes; what is cleared before it is copied is said and mended', run: calculator },
];
