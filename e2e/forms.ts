import { mkdir, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import type { ElementHandle } from 'puppeteer-core';
import QRCode from 'qrcode';
import { openStudio, savedFile } from './browser.ts';
import type { Test } from './stage.ts';
import { choose } from './whole-path.ts';

/** A second of silence, as a WAV file (RIFF, 8 bit, 8000 samples a second). */
function silence(): Buffer {
  const samples = 8000;
  const b = Buffer.alloc(44 + samples, 128);
  b.write('RIFF', 0);
  b.writeUInt32LE(36 + samples, 4);
  b.write('WAVEfmt ', 8);
  b.writeUInt32LE(16, 16);
  b.writeUInt16LE(1, 20);
  b.writeUInt16LE(1, 22);
  b.writeUInt32LE(8000, 24);
  b.writeUInt32LE(8000, 28);
  b.writeUInt16LE(1, 32);
  b.writeUInt16LE(8, 34);
  b.write('data', 36);
  b.writeUInt32LE(samples, 40);
  return b;
}

const kinds: Test = {
  name: 'a form takes a duration, a scanned code, a file, a sound, a place and a person, and the record shows them',
  async run(stage) {
    const p = await openStudio(stage);
    const { page } = p;
    await p.press('Begin blank', 'button');
    await p.press('Add table', 'button');
    await p.fill('Name of the table', 'Jobs');
    await page.keyboard.press('Enter');
    for (const [name, type] of [
      ['Took', 'duration'],
      ['Code', 'scanned code'],
      ['Paper', 'file'],
      ['Note', 'sound'],
      ['Site', 'place'],
      ['Who', 'person'],
      ['Number', 'unique id'],
      ['Made', 'time of making'],
    ] as const) {
      await p.press('Field', 'button');
      await p.pressText('A field to fill in', '[role=menu]');
      await page.waitForSelector('section[aria-label="Field New field"]');
      await p.fill('Name of the field', name);
      await page.keyboard.press('Enter');
      await page.waitForSelector(`section[aria-label="Field ${name}"]`);
      await choose(p, 'Type', type);
      await page.waitForFunction(
        (t) => document.querySelector('section [aria-label^="Type:"]')?.getAttribute('aria-label') === `Type: ${t}`,
        {},
        type,
      );
      await p.press('Close this card');
    }
    await p.press('More for this table', 'button');
    await p.pressText('Make screens for it', '[role=menu]');
    await p.sees('Jobs', '.k-app');
    await p.press('Use', 'radio');
    await p.pressText('Add', '.k-app');
    await p.sees('New job', '.k-app');

    const input = async (label: string): Promise<ElementHandle<HTMLInputElement>> =>
      (await page.waitForSelector(`.k-app ::-p-aria(${label})`)) as unknown as ElementHandle<HTMLInputElement>;
    await (await input('Name')).type('Mend the roof');
    await (await input('Took')).type('a while');
    await p.pressText('Save', '.k-app');
    await p.sees('“a while” is not a duration.', '.k-app');
    await (await input('Took')).click({ count: 3 });
    await page.keyboard.type('1 h 30 min');

    const qr = join(stage.folder, 'code.png');
    await QRCode.toFile(qr, 'JOB-0042', { width: 300 });
    const file = (selector: string) => page.$(selector) as Promise<ElementHandle<HTMLInputElement>>;
    await (await file('.k-app input[type=file][id$="-scan"]')).uploadFile(qr);
    await page.waitForFunction(() =>
      [...document.querySelectorAll<HTMLInputElement>('.k-app input[type=text]')].some((i) => i.value === 'JOB-0042'),
    );
    await mkdir(join(stage.folder, 'from'));
    const paper = join(stage.folder, 'from', 'offer.txt');
    await writeFile(paper, 'Twelve tiles, two days.');
    const sound = join(stage.folder, 'note.wav');
    await writeFile(sound, silence());
    const [paperInput, soundInput] = (await page.$$(
      '.k-app input[type=file]:not([id$="-scan"])',
    )) as ElementHandle<HTMLInputElement>[];
    await paperInput!.uploadFile(paper);
    await p.sees('offer.txt', '.k-app');
    await soundInput!.uploadFile(sound);
    await page.waitForSelector('.k-app .k-field audio');
    await (await page.waitForSelector('.k-app input[placeholder="52.5200, 13.4050"]'))!.type('54.1, -2.25');
    await (await input('Who')).type('Odile');
    await p.pressText('Save', '.k-app');
    await p.sees('Mend the roof', '.k-app');

    // In the grid, with what the app filled in itself.
    await p.pressText('Data', 'header');
    await p.sees('1 record', 'main');
    await page.keyboard.press('p');
    await p.sees('1 hour 30 minutes', '[role=grid]');
    for (const text of ['JOB-0042', 'offer.txt', '54.1000° N, 2.2500° W', 'Odile']) await p.sees(text, '[role=grid]');
    await page.$eval('[role=grid]', (e) => e.scrollTo(3000, 0));
    await page.waitForFunction(() =>
      /[A-HJ-NP-Z2-9]{8}/.test((document.querySelector('[role=grid]') as HTMLElement).innerText),
    );

    // And on the phone: a sound that plays, a file to save, a place to open.
    await page.keyboard.press('p');
    await p.pressText('Mend the roof', '.k-app');
    await page.waitForSelector('.k-app audio.k-sound');
    const saved = await savedFile(page, stage.folder, 'offer.txt');
    if (saved.toString() !== 'Twelve tiles, two days.') throw new Error(saved.toString());
    await page.waitForSelector('.k-app a[href^="geo:54.1"]');
  },
};

const demoForms: Test = {
  name: 'several choices and a place on a plan are taken on the phone of the demo',
  async run(stage) {
    const p = await openStudio(stage);
    const { page } = p;
    await p.press('Heatherfield Bees', 'button');
    await p.sees('days', '.k-app', 20_000);
    // The figure of a row stands at its right edge.
    const gap = await page.$eval('.k-app .k-row', (row) => {
      const texts = [...row.querySelectorAll('.k-text')].map((t) => t.getBoundingClientRect().right);
      return (row.getBoundingClientRect().right - Math.max(...texts)) / row.getBoundingClientRect().width;
    });
    if (gap > 0.08) throw new Error(`The figures of a list end ${Math.round(gap * 100)} % before its edge.`);
    await p.press('Use', 'radio');
    await p.pressText('More', '.k-app');
    await p.pressText('Keepers', '.k-app');
    await p.sees('Ansel Jessop', '.k-app');
    await p.pressText('Add', '.k-app');
    await p.sees('New keeper', '.k-app');
    await (await page.waitForSelector('.k-app ::-p-aria(Name)'))!.type('Aaron Test');
    await p.pressText('swarms', '.k-app');
    await p.pressText('wax', '.k-app');
    await page.waitForFunction(() => document.querySelectorAll('.k-app [aria-pressed=true]').length === 2);
    await p.pressText('Save', '.k-app');
    await p.pressText('Data', 'header');
    await p.sees('Each record is called', 'main');
    await p.pressText('Keepers', 'nav');
    await p.sees('61 records', 'main');
    await page.type('[aria-label="Find in this table"]', 'Aaron Test');
    await p.sees('1 of 61 records', 'main');
    await page.keyboard.press('Tab');
    await page.evaluate(() => (document.activeElement as HTMLElement).blur());
    await page.keyboard.press('p');
    await p.sees('swarms', '[role=grid]');
    await p.sees('wax', '[role=grid]');

    // The plan of the meadow: an apiary is moved by the arrow keys in the grid.
    await p.pressText('Apiaries', 'nav');
    await p.sees('9 records', 'main');
    const before = await page.$eval('#cell-0-1', (e) => (e as HTMLElement).innerText);
    await page.click('#cell-0-1');
    await page.keyboard.press('Enter');
    await page.waitForSelector('[role=dialog] img');
    for (let i = 0; i < 5; i++) await page.keyboard.press('ArrowRight');
    await p.press('Keep it', 'button');
    const share = Number(/\d+/.exec(before)![0]);
    await page.waitForFunction(
      (n) => (document.querySelector('#cell-0-1') as HTMLElement).innerText.startsWith(`${n} %`),
      {},
      Math.min(100, share + 5),
    );
  },
};

export const tests: Test[] = [kinds, demoForms];
