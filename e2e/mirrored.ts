import { access, readFile, rm, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { boats, pause, undo, write } from './data-steps.ts';
import type { Test } from './stage.ts';
import { choose } from './whole-path.ts';

const mirrored: Test = {
  name: 'a mirrored file and its table follow each other, both sides at once, through trouble, and undone',
  async run(stage) {
    const p = await boats(stage);
    const { page } = p;
    const path = join(stage.folder, 'sheets', 'boats.csv');
    const onDisk = (): Promise<string> => readFile(path, 'utf8');
    const until = async (what: string, holds: () => Promise<boolean>): Promise<void> => {
      for (let i = 0; i < 60; i++) {
        if (await holds().catch(() => false)) return;
        await pause(100);
      }
      throw new Error(`Not so after six seconds: ${what}. The file:\n${await onDisk().catch(() => 'gone')}`);
    };
    const cellSays = (row: number, column: number, text: string): Promise<unknown> =>
      page.waitForFunction(
        (id, t) => (document.querySelector(id) as HTMLElement | null)?.innerText.includes(t),
        {},
        `#cell-${row}-${column}`,
        text,
      );

    // The host keeps files in step, so it is asked for first.
    await p.press('More for this table', 'button');
    await p.pressText('Mirror a file');
    await p.sees('Release it, then mirror a file.');
    await p.press('Go to Release', 'button');
    await p.sees('free', 'main');
    await p.press('Release', 'button');
    await p.sees('Scan it, or send the link', 'main', 20_000);
    await p.pressText('Data', 'header');
    await page.waitForSelector('#cell-0-0');
    await p.press('More for this table', 'button');
    await p.pressText('Mirror a file');
    await choose(p, 'File', 'a new file');
    await p.press('Begin to mirror', 'button');
    await p.sees('Mirrors boats.csv in step', 'main');
    await p.press('Close this card');
    await access(path);
    const lines = (await onDisk()).split('\r\n');
    if (!lines[1]!.startsWith('Old Otter 1,GBR 1,6.1,A1')) throw new Error(`The file begins with ${lines[1]}`);

    // An edit of the file is here, an edit here is in the file; a strange column stays.
    const strange = lines.map((l, i) => (l ? `${l},${i === 0 ? 'Insurance' : `policy ${i}`}` : l)).join('\r\n');
    await writeFile(path, strange.replace('Sandpiper 2,', 'Sandpiper the Second,'));
    await cellSays(1, 0, 'Sandpiper the Second');
    await write(page, 0, 3, 'B12');
    await until('the berth is in the file', async () => (await onDisk()).includes('Old Otter 1,GBR 1,6.1,B12'));
    if (!(await onDisk()).includes('policy 1')) throw new Error('The strange column is gone.');

    // One cell on both sides at once: one stands, both are shown, the other can be taken.
    await page.click('#cell-0-2');
    await page.keyboard.type('6.9');
    const theirs = (await onDisk()).replace('6.1,B12', '6.4,B12');
    await Promise.all([page.keyboard.press('Enter'), writeFile(path, theirs)]);
    await p.sees('edited on both sides', 'main', 10_000);
    await p.pressText('edited on both sides', 'main');
    await p.sees('the later edit stands');
    const standing = await page.$eval('[aria-label="Edits on both sides"] li', (e) => (e as HTMLElement).innerText);
    if (!/“6\.4” from the file|“6\.9” from the app/.test(standing)) throw new Error(standing);
    const other = /stands, not “([\d.]+)”/.exec(standing)![1]!;
    await p.pressText(`Take “${other}”`);
    await cellSays(0, 2, other);
    await until('the other value is in the file', async () => (await onDisk()).includes(`GBR 1,${other},B12`));
    await page.keyboard.press('Escape');

    // A broken file, then none at all: nothing is lost here, and it goes on when the file is back.
    const good = await onDisk();
    await writeFile(path, 'Boat,Sa');
    await p.sees('cannot be read', '[aria-label="Mirrored file"]');
    await p.sees('24 records', 'main');
    await rm(path);
    await p.sees('is not in the sheets folder', '[aria-label="Mirrored file"]');
    await write(page, 2, 3, 'C3');
    await writeFile(path, good);
    await p.sees('in step', '[aria-label="Mirrored file"]');
    await until('what was written meanwhile is in the file', async () => (await onDisk()).includes(',C3,'));

    // Undone here, it is undone there.
    await undo(p);
    await until(
      'the undone berth is in the file again',
      async () => (await onDisk()).includes(',A3,') && !(await onDisk()).includes(',C3,'),
    );
  },
};

export const tests: Test[] = [mirrored];
