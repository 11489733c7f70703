import { writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import type { ElementHandle } from 'puppeteer-core';
import { PNG } from 'pngjs';
import type { Person } from './browser.ts';
import { main, newRoutine, selectStep, typeStep } from './logic.ts';
import { phoneAt, pressLastOn, release } from './phone.ts';
import { addInside } from './screens.ts';
import { choose, makeClub } from './whole-path.ts';
import type { Stage, Test } from './stage.ts';

/** A red disc on white, as a picture file. */
async function discPicture(folder: string): Promise<string> {
  const png = new PNG({ width: 120, height: 120 });
  for (let y = 0; y < 120; y++)
    for (let x = 0; x < 120; x++) {
      const red = (x - 60) ** 2 + (y - 60) ** 2 < 38 ** 2;
      png.data.set(red ? [210, 30, 30, 255] : [255, 255, 255, 255], (y * 120 + x) * 4);
    }
  const path = join(folder, 'disc.png');
  await writeFile(path, PNG.sync.write(png));
  return path;
}

/** Puts a button at the end of Overview that runs a routine. */
async function buttonFor(p: Person, routine: string): Promise<void> {
  await p.pressText('Screens', 'header');
  await p.pressText('Overview', 'nav[aria-label=Screens]');
  await addInside(p, 'Button');
  await choose(p, 'When tapped', 'run');
  await choose(p, 'Routine', routine);
}
const upload = async (p: Person, path: string): Promise<void> => {
  const input = (await p.page.waitForSelector('.k-ask input[type=file]')) as ElementHandle<HTMLInputElement>;
  await input.uploadFile(path);
};

/** A menu offers two ways to a picture; it is described and said aloud, words are laid over it and it is shared. */
async function pictures(stage: Stage): Promise<void> {
  const disc = await discPicture(stage.folder);
  const p = await makeClub(stage);
  await p.pressText('Logic', 'header');
  await newRoutine(p, 'Show and tell');
  await typeStep(p, 'menu camera or gallery', 'Menu: Camera, Gallery');
  await typeStep(p, 'take a photo', 'Take a photo or pick a picture');
  await typeStep(p, 'describe the picture', 'Describe a picture');
  await main(p, 'A stand-in: it counts colours and shapes on the device');
  await typeStep(p, 'show Seen', 'Show “Seen”');
  await p.page.$$eval('main [role=textbox][aria-label="Message"]', (all) => (all.at(-1) as HTMLElement).focus());
  await p.page.keyboard.press('End');
  await p.page.keyboard.type(': {the description.words}');
  await typeStep(p, 'say aloud There it is', 'Say aloud “There it is”');
  await typeStep(p, 'lay words over', 'Lay words over a picture');
  const chips = await p.page.$$('main [aria-label^="Picture:"]');
  await chips.at(-1)!.click();
  await p.page.waitForSelector('[cmdk-root]');
  await p.pressText('the picture', '[cmdk-root]');
  await p.page.click('main [role=textbox][aria-label="Words at its top"]');
  await p.page.keyboard.type('Best wishes');
  await typeStep(p, 'share Look', 'Share');

  await p.press('Try with sample', 'button');
  await p.press('Camera', 'button');
  await p.sees('A stand-in for the phone: choose what it gives.', '.k-app');
  await upload(p, disc);
  await p.sees('Seen: A square, bright picture', '.k-app');
  await p.sees('One disc stands before a plain ground.', '.k-app');
  await p.sees('Stand-in for the phone: says “There it is”');
  await main(p, 'shared');
  await p.press('Do it for real', 'button');
  await main(p, 'Done for real.');
  // What was made is shown as itself beside its step, and lies in the outbox.
  for (const name of ['disc.png', 'picture.png']) await p.page.waitForSelector(`main [data-step] img[alt="${name}"]`);
  await p.press('Open the trace', 'button');
  await p.press('Outbox');
  await p.sees('image/png', 'section[aria-label=Trace]');

  await buttonFor(p, 'Show and tell');
  const phone = await phoneAt(stage, await release(p), 'Boats');
  await pressLastOn(phone, 'Overview');
  await phone.press('Gallery', 'button');
  await upload(phone, disc);
  await phone.sees('One disc stands before a plain ground.', '.k-app');
}

/** A sound by its address cannot be had: why is said where the maker wanted it, beside the step and on a phone. */
async function sound(stage: Stage): Promise<void> {
  const p = await makeClub(stage);
  await p.pressText('Logic', 'header');
  await newRoutine(p, 'Ring the bell');
  await typeStep(p, 'play', 'Play a sound');
  await p.page.click('main [aria-label^="Sound:"]');
  await p.page.waitForSelector('[cmdk-root] input');
  await p.page.type('[cmdk-root] input', `${stage.server.url}nothing/bell.mp3`);
  await p.pressText('Use “', '[cmdk-root]');
  await p.page.$$eval('main [aria-label="More for this step"]', (all) => (all.at(-1) as HTMLElement).focus());
  await p.page.keyboard.press('Enter');
  await p.pressText('If it fails', '[role=menu]');
  await typeStep(p, 'show No bell', 'Show “No bell”', 2);
  await p.page.$$eval('main [role=textbox][aria-label="Message"]', (all) => (all.at(-1) as HTMLElement).focus());
  await p.page.keyboard.press('End');
  await p.page.keyboard.type(': {the reason}');
  await p.press('Try with sample', 'button');
  await p.sees('No bell: This sound cannot be played.', '.k-app');
  await main(p, 'This sound cannot be played.');
  await buttonFor(p, 'Ring the bell');
  const phone = await phoneAt(stage, await release(p), 'Boats');
  await pressLastOn(phone, 'Overview');
  await phone.sees('No bell: This sound cannot be played.', '.k-app');
  stage.errors.splice(0, stage.errors.length, ...stage.errors.filter((e) => !e.includes('bell.mp3')));
}

/** A run goes step by step and stops before a marked step; what it wrote is undone; steps are lifted out and put back. */
async function stepping(stage: Stage): Promise<void> {
  const p = await makeClub(stage);
  const { page } = p;
  await p.pressText('Logic', 'header');
  await newRoutine(p, 'Rename', 'this boat');
  await typeStep(p, 'set Berth to Z9', 'Berth to Z9');
  await typeStep(p, 'show Moved', 'Show “Moved”');
  await choose(p, 'Its button', 'Undo');
  await typeStep(p, 'show The end', 'Show “The end”');

  await p.press('Try step by step', 'button');
  await main(p, 'A run stands before the marked step.');
  await p.press('Next step', 'button');
  await main(p, 'Z9');
  await p.press('Next step', 'button');
  await p.sees('Moved', '.k-app');
  await p.press('Undo', 'button');
  await p.sees('Undone', '.k-app');
  await p.press('End it', 'button');
  await p.seesNot('A run stands before', 'main');
  await main(p, '1 run, 1 failed');

  // A stop before the last step holds a run that goes by itself; a second press of the same button goes on.
  const menus = await page.$$('main [aria-label="More for this step"]');
  await menus.at(-1)!.focus();
  await page.keyboard.press('Enter');
  await p.pressText('Stop before it', '[role=menu]');
  await p.press('Try with sample', 'button');
  await main(p, 'A run stands before the marked step.');
  await p.press('Go on', 'button');
  await p.sees('The end', '.k-app');

  // The two messages become a routine of their own, and come back.
  await selectStep(p, 1);
  await page.keyboard.down('Shift');
  await selectStep(p, 2);
  await page.keyboard.up('Shift');
  await (await page.$$('main [aria-label="More for this step"]')).at(-1)!.focus();
  await page.keyboard.press('Enter');
  await p.pressText('Make a routine of these 2', '[role=menu]');
  await main(p, 'Part of Rename');
  await page.waitForFunction(() => document.querySelectorAll('main [data-step]').length === 2);
  await (await page.$$('main [aria-label="More for this step"]')).at(-1)!.focus();
  await page.keyboard.press('Enter');
  await p.pressText('Put its steps here', '[role=menu]');
  await page.waitForFunction(() => document.querySelectorAll('main [data-step]').length === 3);
  await main(p, 'The end');
}

export const tests: Test[] = [
  { name: 'a picture is chosen, described, said aloud, written on and shared', run: pictures },
  { name: 'a sound that cannot be had is told where the maker says', run: sound },
  { name: 'a run goes step by step, and is undone; steps are lifted out and put back', run: stepping },
];
