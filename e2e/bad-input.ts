import { writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { openStudio, Person } from './browser.ts';
import type { Test } from './stage.ts';
import { addFormulaField, makeClub, writeFormula } from './whole-path.ts';

const files: Test = {
  name: 'files that cannot be read get a message that names them',
  async run(stage) {
    const p = await openStudio(stage);
    const paths: string[] = [];
    for (const [name, content] of [
      ['empty.csv', ''],
      ['photo.csv', '\x89PNG\r\n\x1a\n'],
      ['broken.xlsx', 'PK\x03\x04 not a workbook'],
      ['huge.csv', Buffer.alloc(60 * 1024 * 1024, 'a,b\n')],
      ['good.csv', 'Name,Seen\nTern,03/04/2026\nOtter,05/06/2026\n'],
    ] as const) {
      const path = join(stage.folder, name);
      await writeFile(path, content, typeof content === 'string' ? 'latin1' : undefined);
      paths.push(path);
    }
    const [chooser] = await Promise.all([p.page.waitForFileChooser(), p.press('Choose files', 'button')]);
    await chooser.accept(paths);
    await p.sees('“empty.csv” is empty');
    await p.sees('“photo.csv” is a picture, not a table');
    await p.sees('“broken.xlsx” is not a workbook that can be read');
    await p.sees('“huge.csv” has 60 MB; the largest file read here has 50 MB');
    // The good one is there all the same, and its dates are asked about.
    await p.sees('is 03/04/2026 written day first or month first?', 'main', 15_000);
    await p.press('Month first', 'button');
    await p.seesNot('written day first or month first', 'main');
    await p.press('Make the app', 'button');
    await p.sees('Tern', '.k-app', 15_000);
    await p.sees('Wed 4 Mar 2026', '.k-app');
  },
};

const appFiles: Test = {
  name: 'app files that are cut off or newer are refused in words',
  async run(stage) {
    const p = await openStudio(stage);
    for (const [name, text, words] of [
      ['half.kite.json', '{"format":"mellow-kite-bundle","version":1,"app":{"na', 'is cut off or damaged'],
      ['new.kite.json', '{"format":"mellow-kite-bundle","version":7}', 'was made with a newer Mellow Kite'],
      ['other.json', '[1]', 'is not a Mellow Kite app'],
    ] as const) {
      const path = join(stage.folder, name);
      await writeFile(path, text);
      const [chooser] = await Promise.all([p.page.waitForFileChooser(), p.press('Open an app file', 'button')]);
      await chooser.accept([path]);
      await p.sees(`“${name}” ${words}`);
    }
  },
};

const formulas: Test = {
  name: 'formulas that go wrong say so at their place; addresses that cannot be had too',
  async run(stage) {
    const p = await makeClub(stage);
    const { page } = p;
    await addFormulaField(p);
    await p.press('Formula', 'radio');
    const write = (text: string): Promise<void> => writeFormula(page, 'Formula of New formula', text);
    await write('New formula + 1');
    await p.sees('New formula uses itself');
    await write('Lenght * 2');
    await p.sees('Did you mean “Length”?');
    await write('Boat + Length');
    await p.sees('Turn the other value into text with string(');
    await write('sum(Trips.Hours');
    await p.sees('“)” is missing');
    // What would fail for everybody is told before release, with the way to it.
    await p.sees('1 to look at', 'header');
    await p.pressText('Release', 'header');
    await p.sees('One thing keeps the app from being released');
    for (const [address, words] of [
      ['api', 'is kept for Mellow Kite itself'],
      ['-x', 'An address has 1 to 40 small letters'],
    ] as const) {
      await p.fill('Short address', address);
      await p.sees(words);
    }
    // A link that leads nowhere, and an app that is not kept here.
    const other = await stage.browser.newPage();
    await other.goto(`${stage.server.url}/a/nobody/`);
    await new Person(other).sees('There is no app at “nobody”');
    await other.goto(`${stage.server.url}/app/a_unknown000/data`);
    await new Person(other).sees('This app cannot be opened');
    await other.close();
  },
};

const storage: Test = {
  name: 'a full store is told, and nothing typed is lost from view',
  async run(stage) {
    const p = await makeClub(stage);
    // Chromium does not enforce a small quota here, so the page's store is made to answer as a full one does.
    await p.page.evaluate(`{
      const { put } = IDBObjectStore.prototype;
      IDBObjectStore.prototype.put = function (...args) {
        if (window.roomAgain) return put.apply(this, args);
        throw new DOMException('The quota has been exceeded.', 'QuotaExceededError');
      };
    }`);
    await p.pressText('List of Boats', 'nav');
    const field = await p.find('Words for an empty list');
    await field.click({ count: 3 });
    await p.page.keyboard.type('No boat is out');
    await p.sees('storage is full', 'body', 15_000);
    // With room again the next change keeps all of it.
    await p.page.evaluate(() => {
      (window as { roomAgain?: boolean }).roomAgain = true;
    });
    await field.type(', ask at the hut');
    await p.page.waitForFunction(() =>
      document.querySelector('section[aria-label="Trace"]')!.textContent!.includes('Kept'),
    );
    await p.page.reload();
    await p.sees('24 of 24 records');
    const words = await p.page.$$eval('main [role=textbox]', (all) => all.map((t) => t.textContent ?? ''));
    if (!words.includes('No boat is out, ask at the hut'))
      throw new Error(`What was typed is lost; there is ${words.join(' | ')}`);
  },
};

/** The opening view is left at once, while it still opens its database; what is made next is kept all the same. */
const leftAtOnce: Test = {
  name: 'leaving the opening view at once does not keep the next view from its database',
  async run(stage) {
    const p = await openStudio(stage);
    await p.page.goto(`${stage.server.url.replace(/\/$/, '')}/bring`);
    const path = join(stage.folder, 'boats.csv');
    await writeFile(path, 'Boat,Length\nOld Otter,7.2\nTern,5.1\n');
    const [chooser] = await Promise.all([p.page.waitForFileChooser(), p.press('Choose files', 'button')]);
    await chooser.accept([path]);
    await p.sees('2 records from boats.csv');
    await p.pressText('Make the app', 'header');
    await p.sees('Old Otter', '.k-app');
  },
};

export const tests: Test[] = [files, appFiles, formulas, storage, leftAtOnce];
