import { randomBytes } from 'node:crypto';
import { writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { PNG } from 'pngjs';
import type { ElementHandle, Page } from 'puppeteer-core';
import { openStudio, savedFile, type Person } from './browser.ts';
import { phoneAt, release } from './phone.ts';
import type { Stage, Test } from './stage.ts';
import { choose } from './whole-path.ts';

/** A photo as a camera makes them: large, and not to be packed. */
export async function photo(path: string, width = 2400): Promise<void> {
  const png = new PNG({ width, height: (width / 4) * 3 });
  randomBytes(png.data.length).copy(png.data);
  for (let i = 3; i < png.data.length; i += 4) png.data[i] = 255;
  await writeFile(path, PNG.sync.write(png, { deflateLevel: 1 }));
}

/** An app with a table of frames, each with a photo and a paper, released; gives its link. */
async function releaseFrames(stage: Stage): Promise<{ maker: Person; link: string }> {
  const maker = await openStudio(stage);
  const { page } = maker;
  await maker.press('Begin blank', 'button');
  await maker.press('Add table', 'button');
  await maker.fill('Name of the table', 'Frames');
  await page.keyboard.press('Enter');
  for (const [name, type] of [
    ['Photo', 'picture'],
    ['Paper', 'file'],
  ] as const) {
    await maker.press('Field', 'button');
    await maker.pressText('A field to fill in', '[role=menu]');
    await page.waitForSelector('section[aria-label="Field New field"]');
    await maker.fill('Name of the field', name);
    await page.keyboard.press('Enter');
    await page.waitForSelector(`section[aria-label="Field ${name}"]`);
    await choose(maker, 'Type', type);
    await maker.press('Close this card');
  }
  await maker.press('More for this table', 'button');
  await maker.pressText('Make screens for it', '[role=menu]');
  await maker.sees('Frames', '.k-app');
  return { maker, link: await release(maker) };
}

/** Waits until the photo of the record on the screen is seen, and gives its width. */
const seenPhoto = async (page: Page): Promise<number> => {
  await page.waitForFunction(
    () => (document.querySelector<HTMLImageElement>('.k-app main img')?.naturalWidth ?? 0) > 0,
    { timeout: 15_000 },
  );
  return page.$eval('.k-app main img', (e) => (e as HTMLImageElement).naturalWidth);
};

const overTheAir: Test = {
  name: 'a photo and a large file go out in pieces, go on after the network was gone, and are there on another phone',
  async run(stage) {
    const { maker, link } = await releaseFrames(stage);
    const ann = await phoneAt(stage, link, 'Frames');
    const { page } = ann;
    await page.evaluate(() => navigator.serviceWorker.ready.then(() => undefined));
    const picture = join(stage.folder, 'frame 7.png');
    await photo(picture);
    const paper = join(stage.folder, 'survey.bin');
    const bytes = randomBytes(3_000_000);
    await writeFile(paper, bytes);
    const large = join(stage.folder, 'film.bin');
    await writeFile(large, Buffer.alloc(21 * 1024 * 1024));

    await ann.pressText('Add', '.k-app main');
    await ann.sees('New frame', '.k-app');
    await ann.fill('Name', 'Frame 7');
    const [photoInput, paperInput] = (await page.$$('.k-app input[type=file]')) as ElementHandle<HTMLInputElement>[];
    await photoInput!.uploadFile(picture);
    await page.waitForSelector('.k-app .k-photo img');
    await paperInput!.uploadFile(large);
    await ann.sees('“film.bin” has 21.0 MB; up to 20 MB are kept in a record.', '.k-app');
    await paperInput!.uploadFile(paper);
    await ann.sees('survey.bin', '.k-app');

    // On a slow line a person sees how far it is; without one it waits, also over a reload.
    const pieces: string[] = [];
    for (const { client } of page.workers()) {
      await client.send('Network.enable');
      client.on('Network.requestWillBeSent', ({ request }) => {
        if (request.method === 'PATCH') pieces.push(request.url);
      });
    }
    await page.emulateNetworkConditions({ upload: 500_000, download: 1_000_000, latency: 20 });
    await ann.pressText('Save', '.k-app form');
    await ann.sees('Sending survey.bin', '.r-sending', 30_000);
    await page.waitForFunction(
      () => Number(/survey\.bin, (\d+) %/.exec(document.querySelector('.r-sending')?.textContent ?? '')?.[1] ?? 0) > 20,
      { timeout: 20_000 },
    );
    if (process.env['SHOTS']) await page.screenshot({ path: `${process.env['SHOTS']}/sending.png` });
    await page.emulateNetworkConditions(null);
    await page.setOfflineMode(true);
    await ann.sees('Offline, 1 change waits to be sent', '.r-offline', 10_000);
    const sent = pieces.length;
    await page.setOfflineMode(false);
    await page.waitForFunction(() => !document.querySelector('.r-offline, .r-sending'), { timeout: 20_000 });
    const offsets = pieces.slice(sent).map((url) => Number(/offset=(\d+)/.exec(url)?.[1]));
    if (!offsets.length || offsets.includes(0)) throw new Error(`It began anew: ${offsets.join(', ')}.`);

    // Another phone has both, whole.
    const bo = await phoneAt(stage, link, 'Frames');
    await bo.pressText('Frame 7', '.k-app');
    const width = await seenPhoto(bo.page);
    if (width !== 1600) throw new Error(`The photo is ${width} pixels wide.`);
    const got = await savedFile(bo.page, join(stage.folder, 'saved'), 'survey.bin');
    if (!got.equals(bytes)) throw new Error('The paper is not what was sent.');
    if (process.env['SHOTS']) await bo.page.screenshot({ path: `${process.env['SHOTS']}/photo.png` });

    // What was seen is there without a network, too.
    const deep = bo.page.url();
    await bo.page.evaluate(() => navigator.serviceWorker.ready.then(() => undefined));
    await bo.page.setOfflineMode(true);
    await bo.page.goto(deep);
    await bo.sees('Frame 7', '.k-app', 15_000);
    await seenPhoto(bo.page);

    // And the maker sees it in the studio, exports it, and has it again in the copy.
    await maker.pressText('Data', 'header');
    await maker.sees('Frame 7', '[role=grid]', 15_000);
    await maker.press('App menu', 'button');
    await maker.pressText('Make a copy', '[role=menu]');
    await maker.page.waitForFunction(() =>
      document.querySelector<HTMLInputElement>('header [aria-label="Name of the app"]')?.value.endsWith('copy'),
    );
    await maker.page.waitForFunction(() => document.querySelector('[role=grid]')?.textContent.includes('survey.bin'));
    await maker.pressText('Frame 7', '.k-app');
    if ((await seenPhoto(maker.page)) !== 1600) throw new Error('The copy has another photo.');
  },
};

export const tests: Test[] = [overTheAir];
