import { access, readFile, rm, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import type { Page } from 'puppeteer-core';
import type { Person } from './browser.ts';
import type { Stage, Test } from './run.ts';
import { addFormulaField, choose, makeClub } from './whole-path.ts';

const pause = (ms: number): Promise<void> =>
  new Promise((r) => {
    setTimeout(r, ms);
  });

/** The club’s boats in the Data workspace, with the phone folded away. */
async function boats(stage: Stage): Promise<Person> {
  const p = await makeClub(stage);
  await p.pressText('Data', 'header');
  await p.page.waitForFunction(() =>
    (document.querySelector('#cell-0-0') as HTMLElement | null)?.innerText.includes('Old Otter 1'),
  );
  return p;
}

/** Waits until the first column reads like this from the top; group lines are read by their names. */
async function firstColumn(page: Page, expected: string[]): Promise<void> {
  const read = (): Promise<string[]> =>
    page.evaluate(
      (n) =>
        Array.from({ length: n }, (_, i) =>
          (
            (document.querySelector(`#cell-${i}-0, [role=row][aria-rowindex="${i + 1}"]`) as HTMLElement | null)
              ?.innerText ?? ''
          )
            .split('\n')[0]!
            .trim(),
        ),
      expected.length,
    );
  let last: string[] = [];
  for (let i = 0; i < 80; i++) {
    last = await read();
    if (last.join('|') === expected.join('|')) return;
    await pause(100);
  }
  throw new Error(`The first column reads ${last.join(', ')}, not ${expected.join(', ')}.`);
}

async function openField(page: Page, name: string): Promise<void> {
  await page.evaluate(
    (n) =>
      [...document.querySelectorAll<HTMLElement>('[role=columnheader] button')]
        .find((e) => e.innerText.trim().startsWith(n))!
        .click(),
    name,
  );
  await page.waitForSelector(`section[aria-label="Field ${name}"]`);
}

/** Writes into the cell at a place and keeps it. */
async function write(page: Page, row: number, column: number, text: string): Promise<void> {
  await page.click(`#cell-${row}-${column}`);
  await page.keyboard.type(text);
  await page.keyboard.press('Enter');
}
const undo = async (p: Person): Promise<void> => {
  await p.page.evaluate(() => (document.activeElement as HTMLElement | null)?.blur());
  await p.page.keyboard.down('Control');
  await p.page.keyboard.press('z');
  await p.page.keyboard.up('Control');
};

const looking: Test = {
  name: 'a table is filtered, ordered by several, put together, its columns moved, hidden and widened; a reload keeps it',
  async run(stage) {
    const p = await boats(stage);
    const { page } = p;
    await choose(p, 'Order', 'Length');
    await choose(p, 'Direction', 'downwards');
    await choose(p, 'Order 2', 'Boat');
    await firstColumn(page, ['Old Otter 7', 'Grey Seal 15', 'Far Shore 23', 'Grey Seal 3']);
    await p.press('all of them: add a condition', 'button');
    await choose(p, 'Condition 1', 'Boat');
    await choose(p, 'Comparison', 'contains');
    await page.click('main [aria-label^="Compared with 1:"]');
    await page.waitForSelector('[cmdk-root] input');
    await page.type('[cmdk-root] input', 'otter');
    await p.pressText('“otter” as it stands', '[cmdk-root]');
    await p.sees('4 of 24 records', 'main');
    await firstColumn(page, ['Old Otter 7', 'Old Otter 19', 'Old Otter 13', 'Old Otter 1']);

    // Figures below the columns, and below every group.
    await page.click('[aria-label^="Figure below Length"]');
    await p.pressText('sum', '[role=menu]');
    await page.waitForSelector('[aria-label="Figure below Length: sum 29.3"]');
    await p.press('Remove condition 1', 'button');
    await choose(p, 'Put together by', 'Length');
    await page.waitForFunction(() => document.querySelectorAll('[aria-expanded]').length > 1);
    await p.sees('Length sum', '[role=grid]');
    await page.click('[aria-label^="Fold 5"]');
    await page.waitForSelector('[aria-label^="Unfold 5"]');
    await choose(p, 'Put together by', 'nothing');

    // Columns: moved by dragging, widened by their edge, hidden, kept in view.
    const header = async (name: string) =>
      (await page.evaluateHandle(
        (n) =>
          [...document.querySelectorAll<HTMLElement>('[role=columnheader]')].find((e) =>
            e.innerText.trim().startsWith(n),
          )!,
        name,
      ))!;
    const berth = (await (await header('Berth')).asElement()!.boundingBox())!;
    const edge = { x: berth.x + berth.width, y: berth.y + berth.height / 2 };
    await page.mouse.move(edge.x, edge.y);
    await page.mouse.down();
    await page.mouse.move(edge.x + 80, edge.y, { steps: 4 });
    await page.mouse.up();
    await page.waitForFunction(
      (w) =>
        [...document.querySelectorAll<HTMLElement>('[role=columnheader]')]
          .find((e) => e.innerText.trim().startsWith('Berth'))!
          .getBoundingClientRect().width >
        w + 60,
      {},
      berth.width,
    );
    await page.evaluate(() => {
      const data = new DataTransfer();
      const button = [...document.querySelectorAll<HTMLElement>('[role=columnheader] button')].find((e) =>
        e.innerText.trim().startsWith('Berth'),
      )!;
      button.dispatchEvent(new DragEvent('dragstart', { dataTransfer: data, bubbles: true }));
      (window as unknown as { dragged: DataTransfer }).dragged = data;
    });
    await pause(100);
    await page.evaluate(() => {
      const target = [...document.querySelectorAll<HTMLElement>('[role=columnheader]')].find((e) =>
        e.innerText.trim().startsWith('Boat'),
      )!;
      const dataTransfer = (window as unknown as { dragged: DataTransfer }).dragged;
      for (const type of ['dragover', 'drop'])
        target.dispatchEvent(new DragEvent(type, { dataTransfer, bubbles: true, cancelable: true }));
    });
    await page.waitForFunction(() =>
      (document.querySelector('[role=columnheader]') as HTMLElement).innerText.includes('Berth'),
    );
    await openField(page, 'Skipper mail');
    await p.press('Hide this column');
    await p.seesNot('Skipper mail', '[role=grid]');
    await p.sees('1 of 5 columns hidden', 'main');

    await page.reload();
    await p.sees('1 of 5 columns hidden', 'main', 15_000);
    await page.waitForFunction(() =>
      (document.querySelector('[role=columnheader]') as HTMLElement | null)?.innerText.includes('Berth'),
    );
    await page.waitForSelector('[aria-label^="Figure below Length: sum"]');
    await page.waitForSelector('main [aria-label="Order 2: Boat"]');

    // Own order: made by a choice, changed by keys, taken back.
    await choose(p, 'Order', 'own order');
    await page.waitForFunction(() =>
      (document.querySelector('#cell-0-1') as HTMLElement)?.innerText.includes('Old Otter 1'),
    );
    await page.click('#cell-0-1');
    await page.keyboard.down('Alt');
    await page.keyboard.press('ArrowDown');
    await page.keyboard.up('Alt');
    await page.waitForFunction(
      () =>
        (document.querySelector('#cell-0-1') as HTMLElement).innerText.includes('Sandpiper 2') &&
        (document.querySelector('#cell-1-1') as HTMLElement).innerText.includes('Old Otter 1'),
    );
    await undo(p);
    await page.waitForFunction(() =>
      (document.querySelector('#cell-0-1') as HTMLElement).innerText.includes('Old Otter 1'),
    );
  },
};

const fields: Test = {
  name: 'fields have defaults, checks with own words, patterns and keys; removed records come back; app facts reach formulas',
  async run(stage) {
    const p = await boats(stage);
    const { page } = p;

    // A check in the maker’s own words, refused in the grid and in the form on the phone.
    await openField(page, 'Length');
    await page.click('section [aria-label^="Check:"]');
    await page.waitForSelector('[aria-label="Formula for the check of Length"]');
    await page.type('[aria-label="Formula for the check of Length"]', 'Length <= 20');
    await p.sees('A yes/no');
    await p.press('Keep it', 'button');
    await page.waitForSelector('[aria-label="Words of the check"]');
    await page.type('[aria-label="Words of the check"]', 'No boat of the club is longer than twenty metres.');
    await page.keyboard.press('Enter');
    await write(page, 0, 2, '40');
    await p.sees('No boat of the club is longer than twenty metres.');
    await page.waitForFunction(() => (document.querySelector('#cell-0-2') as HTMLElement).innerText.includes('6.1'));

    // What a field looks like, and what it begins with.
    await openField(page, 'Sail no');
    await page.type('[aria-label="Pattern"]', 'GBR #*');
    await openField(page, 'Berth');
    await page.click('section [aria-label^="Default:"]');
    await page.waitForSelector('[cmdk-root] input');
    await page.type('[cmdk-root] input', 'Visitors');
    await p.pressText('“Visitors” as it stands', '[cmdk-root]');
    await p.press('Record', 'button');
    await page.waitForFunction(() =>
      (document.querySelector('#cell-24-3') as HTMLElement)?.innerText.includes('Visitors'),
    );
    await write(page, 24, 1, 'NED 5');
    await p.sees('Sail no looks like GBR #*');
    await write(page, 24, 1, 'GBR 99');
    await write(page, 24, 0, 'Little Auk 4');

    // A key of two fields: the same boat with the same sail number is refused.
    await p.press('Close this card');
    await page.click('main [aria-label^="Key:"]');
    await page.evaluate(() => {
      for (const name of ['Boat', 'Sail no'])
        [...document.querySelectorAll<HTMLElement>('[data-radix-popper-content-wrapper] label')]
          .find((l) => l.innerText.trim() === name)!
          .click();
    });
    await page.keyboard.press('Escape');
    await p.sees('told apart by Boat and Sail no', 'main');
    await write(page, 24, 1, 'GBR 4');
    await p.sees('There is a boat with Boat “Little Auk 4” and Sail no “GBR 4” already.');
    await page.waitForFunction(() =>
      (document.querySelector('#cell-24-1') as HTMLElement).innerText.includes('GBR 99'),
    );

    // Several choices in one cell.
    await p.press('Field', 'button');
    await p.pressText('A field to fill in', '[role=menu]');
    await p.fill('Name of the field', 'Colours');
    await page.keyboard.press('Enter');
    await choose(p, 'Type', 'choice');
    await choose(p, 'One or several', 'several');
    await page.type('section textarea', 'red\nblue');
    await p.press('Close this card');
    const last = await page.$$eval('[role=columnheader]', (all) => all.length - 1);
    await page.$eval('[role=grid]', (e) => e.scrollTo(400, 0));
    await page.waitForSelector(`#cell-0-${last}`);
    await page.click(`#cell-0-${last}`);
    await page.keyboard.press('Enter');
    await p.pressText('red', '[role=dialog]');
    await p.pressText('blue', '[role=dialog]');
    await page.keyboard.press('Escape');
    await page.waitForFunction(
      (c) => /red\s*blue/.test((document.querySelector(`#cell-0-${c}`) as HTMLElement).innerText),
      {},
      last,
    );

    // Removed, and brought back after a reload has forgotten the undo.
    await page.hover('#cell-0-0');
    await (await page.waitForSelector('[aria-label="Remove this record"]'))!.click();
    await p.sees('24 records', 'main');
    await page.reload();
    await p.sees('24 records', 'main', 15_000);
    await p.press('More for this table', 'button');
    await p.pressText('Bring back removed records');
    await p.sees('Old Otter 1', 'section[aria-label="Removed records"]');
    await p.press('Bring back', 'button');
    await p.sees('25 records', 'main');
    await p.press('Close this card');

    // App facts: words used in a formula change it everywhere.
    await p.pressText('App facts', 'nav');
    await p.press('Add app facts', 'button');
    await p.sees('Change one here, and it changes', 'main');
    await p.press('Fact', 'button');
    await p.pressText('A number', '[role=menu]');
    await (await page.waitForSelector('[aria-label="Value of A number: empty"]'))!.click();
    await page.keyboard.type('7');
    await page.keyboard.press('Enter');
    await page.waitForSelector('[aria-label="Value of A number: 7"]');
    await p.pressText('Boats', 'nav');
    await addFormulaField(p);
    await p.press('Formula', 'radio');
    await page.type('[aria-label="Formula of New formula"]', 'Length > app facts.A number');
    await p.sees('Sandpiper 2 yes', 'main');
    await p.pressText('App facts', 'nav');
    await (await page.waitForSelector('[aria-label="Value of A number: 7"]'))!.click();
    await page.keyboard.type('8');
    await page.keyboard.press('Enter');
    await p.sees('used by the field New formula of Boats', 'main');
    await p.pressText('Boats', 'nav');
    await page.waitForSelector('#cell-1-0');
    await page.$eval('[role=grid]', (e) => e.scrollTo(2000, 0));
    await page.waitForFunction(() =>
      [...document.querySelectorAll('[role=row]')].some((r) =>
        /Sandpiper 2[\s\S]*no/.test((r as HTMLElement).innerText),
      ),
    );
  },
};

const completing: Test = {
  name: 'the formula editor completes names, paths and functions, underlines what is wrong, and lays long formulas out',
  async run(stage) {
    const p = await boats(stage);
    const { page } = p;
    await addFormulaField(p);
    await p.press('Formula', 'radio');
    const editor = '[aria-label="Formula of New formula"]';
    await page.type(editor, 'su');
    await p.sees('All values added up', '.cm-tooltip.cm-completionInfo');
    await p.sees('sum([4, 2, 6]) = 12', '.cm-tooltip.cm-completionInfo');
    await page.keyboard.press('Enter');
    await page.keyboard.type('Tri');
    await p.sees('Trips', '.cm-tooltip-autocomplete');
    await page.keyboard.press('Tab');
    await page.keyboard.type('.Ho');
    await p.sees('of each: number', '.cm-tooltip-autocomplete');
    await page.keyboard.press('Enter');
    await page.keyboard.type(')');
    await p.sees('sum(Trips.Hours)', editor);
    await p.sees('Old Otter 1 17', '[aria-label="Results for the first records"]');
    await page.keyboard.type(' + Boat');
    await page.waitForSelector(`${editor} .cm-lintRange-warning`);
    await p.sees('Turn the other value into text with string(', 'main');
    await page.keyboard.down('Control');
    await page.keyboard.press('a');
    await page.keyboard.up('Control');
    await page.keyboard.type(
      'if sum(Trips.Hours)>10 and Length>6 and Berth!="A1" then "a boat that is out a great deal" else if Length>7 then "large" else "small"',
    );
    await page.keyboard.press('Escape');
    await p.press('Lay it out', 'button');
    await page.waitForFunction((e) => document.querySelectorAll(`${e} .cm-line`).length === 3, {}, editor);
    await undo(p);
  },
};

const everySentence: Test = {
  name: 'every guided sentence is made by its chips, works out and reads as a formula',
  async run(stage) {
    const p = await boats(stage);
    const { page } = p;
    const sentence = async (
      begin: string,
      fill: () => Promise<void>,
      formula: string,
      result: string,
    ): Promise<void> => {
      await p.press('Field', 'button');
      await p.pressText('A formula field', '[role=menu]');
      await p.press(begin, 'button');
      await fill();
      await p.sees(formula, 'main');
      await p.sees(result, 'main');
      await p.press('Close this card');
    };
    await sentence(
      'Join values',
      async () => {
        await choose(p, 'Records', 'Trips');
        await choose(p, 'Field', 'Notes');
      },
      'string join(Trips.Notes, ", ")',
      'Sandpiper 2 Fresh from the west',
    );
    await sentence(
      'One value or another',
      async () => {
        await choose(p, 'Condition 1', 'Length');
        await choose(p, 'Comparison', 'is over');
        for (const [chip, value] of [
          ['Compared with 1', '7'],
          ['Then', 'large'],
          ['Otherwise', 'small'],
        ] as const) {
          await page.click(`main [aria-label^="${chip}:"]`);
          await page.waitForSelector('[cmdk-root] input');
          await page.type('[cmdk-root] input', value);
          await p.pressText(`“${value}” as it stands`, '[cmdk-root]');
          await page.waitForFunction(() => !document.querySelector('[cmdk-root]'));
        }
      },
      'if Length > 7 then "large" else "small"',
      'Sandpiper 2 large',
    );
    await sentence(
      'A share in percent',
      async () => {
        await choose(p, 'Part', 'Length');
        await page.click('main [aria-label^="Whole:"]');
        await page.waitForSelector('[cmdk-root] input');
        await page.type('[cmdk-root] input', '20');
        await p.pressText('“20” as it stands', '[cmdk-root]');
      },
      'round half up(Length / 20 * 100, 1)',
      'Old Otter 1 30.5',
    );
    await sentence(
      'The lowest or highest record',
      async () => {
        await choose(p, 'Records', 'Trips');
        await choose(p, 'Field', 'Hours');
      },
      'Trips[Hours = max(Trips.Hours)][1]',
      'Old Otter 1',
    );
    await sentence(
      'A rank',
      async () => {
        await choose(p, 'Records', 'all Boats');
        await choose(p, 'Field', 'Length');
      },
      'count(all Boats[Length > this boat.Length]) + 1',
      'Old Otter 1 17',
    );
    await sentence(
      'Words with values',
      async () => {
        await page.type('main textarea[aria-label="Words"]', 'Berth {Berth} is free');
      },
      'string join(["Berth ", string(Berth), " is free"], "")',
      'Old Otter 1 Berth A1 is free',
    );
    await sentence(
      'A text made even',
      async () => {
        await choose(p, 'Text', 'Boat');
        await choose(p, 'Made even', 'capital letters');
      },
      'upper case(Boat)',
      'OLD OTTER 1',
    );
    // From the other table: a value over its link, a total with a condition, and the time since.
    await p.pressText('Trips', 'nav');
    await p.sees('120 records', 'main');
    await sentence(
      'Bring a value over',
      async () => {
        await choose(p, 'Value', 'Boat › Length');
      },
      'Boat.Length',
      'Mon 2 Feb 2026 7.2',
    );
    await sentence(
      'The time between two dates',
      async () => {
        await choose(p, 'From', 'When');
        await choose(p, 'Unit', 'whole months');
      },
      'floor(years and months duration(When, today()) / duration("P1M"))',
      'a number',
    );
    await p.sees('All clear', 'header');
  },
};

const undone: Test = {
  name: 'pasted rows, a check, a key of two fields, a matched link and a formula are all undone, step by step, and done again',
  async run(stage) {
    const p = await boats(stage);
    const { page } = p;
    const state = (): Promise<string> =>
      page.evaluate(() =>
        JSON.stringify({
          heads: [...document.querySelectorAll('[role=columnheader]')].map((e) => (e as HTMLElement).innerText.trim()),
          first: [0, 1, 2].map((r) => (document.querySelector(`#cell-${r}-0`) as HTMLElement | null)?.innerText),
          key: document.querySelector('main [aria-label^="Key:"]')?.getAttribute('aria-label'),
          foot: [...document.querySelectorAll('main span')]
            .map((e) => (e as HTMLElement).innerText)
            .find((t) => /^[\d,]+ records$/.test(t)),
        }),
      );
    const before = await state();
    await page.click('#cell-0-0');
    await page.evaluate(() => {
      const data = new DataTransfer();
      data.setData('text/plain', Array.from({ length: 500 }, (_, i) => `Row ${i}\tGBR ${500 + i}`).join('\r\n'));
      document.activeElement!.dispatchEvent(
        new ClipboardEvent('paste', { clipboardData: data, bubbles: true, cancelable: true }),
      );
    });
    await p.sees('500 records', 'main');
    await page.$eval('[role=grid]', (e) => e.scrollTo(0, 0));
    await openField(page, 'Length');
    await page.click('section [aria-label^="Check:"]');
    await page.waitForSelector('[aria-label="Formula for the check of Length"]');
    await page.type('[aria-label="Formula for the check of Length"]', 'Length < 30');
    await p.sees('A yes/no');
    await p.press('Keep it', 'button');
    await page.waitForSelector('main [aria-label="Check: Length < 30"]');
    await p.press('Close this card');
    await page.click('main [aria-label^="Key:"]');
    await page.evaluate(() => {
      for (const name of ['Boat', 'Berth'])
        [...document.querySelectorAll<HTMLElement>('[data-radix-popper-content-wrapper] label')]
          .find((l) => l.innerText.trim() === name)!
          .click();
    });
    await page.keyboard.press('Escape');
    await page.waitForSelector('main [aria-label="Key: Boat and Berth"]');
    await p.press('Field', 'button');
    await p.pressText('A link to another table', '[role=menu]');
    await choose(p, 'Kind of link', 'that matches');
    await choose(p, 'Field here', 'Sail no');
    await choose(p, 'Field there', 'Sail no');
    await p.press('Close this card');
    await addFormulaField(p);
    await p.press('Count or add up', 'button');
    await choose(p, 'Records', 'Trips');
    await p.sees('count(Trips', 'main');
    await p.press('Close this card');
    const after = await state();
    const until = async (wanted: string): Promise<void> => {
      let now = '';
      for (let i = 0; i < 50; i++) {
        now = await state();
        if (now === wanted) return;
        await pause(100);
      }
      throw new Error(`It is ${now}, not ${wanted}.`);
    };
    const all = async (button: string): Promise<void> => {
      for (let i = 0; i < 30; i++) {
        const enabled = await page.$(`button[aria-label^="${button}"]:not([disabled])`);
        if (!enabled) return;
        await enabled.click();
        await pause(150);
      }
    };
    await all('Undo');
    await page.$eval('[role=grid]', (e) => e.scrollTo(0, 0));
    await until(before);
    await all('Do again');
    await page.$eval('[role=grid]', (e) => e.scrollTo(0, 0));
    await until(after);
  },
};

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
    await Promise.all([writeFile(path, (await onDisk()).replace('6.1,B12', '6.4,B12')), write(page, 0, 2, '6.9')]);
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

export const tests: Test[] = [looking, fields, completing, everySentence, undone, mirrored];
