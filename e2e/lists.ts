import type { Person } from './browser.ts';
import { phoneAt, release } from './phone.ts';
import { addInside } from './screens.ts';
import { choose, makeClub } from './whole-path.ts';
import type { Stage, Test } from './stage.ts';

/** Drags the middle of one thing to the middle of another, in steps as a hand does. */
async function drag(p: Person, from: string, to: string): Promise<void> {
  const middle = async (selector: string): Promise<{ x: number; y: number }> => {
    const box = await (await p.page.waitForSelector(selector))!.boundingBox();
    // Of a column that reaches out of the phone its near part is seen.
    return { x: box!.x + Math.min(box!.width / 2, 30), y: box!.y + Math.min(box!.height / 2, 60) };
  };
  const [start, end] = [await middle(from), await middle(to)];
  await p.page.mouse.move(start.x, start.y);
  await p.page.mouse.down();
  await p.page.mouse.move((start.x + end.x) / 2, (start.y + end.y) / 2, { steps: 5 });
  await p.page.mouse.move(end.x, end.y, { steps: 5 });
  await p.page.mouse.up();
}
const use = (p: Person): Promise<void> => p.press('Use', 'radio');
const columnCount = (page: Person['page'], i: number): Promise<number> =>
  page.$eval(`[data-column="${i}"] .k-head span:last-child`, (e) => Number((e as HTMLElement).innerText.split(' ')[0]));

/** One table as a list under heads with filters, as a board, as a calendar, as a table; then all of it on a phone. */
async function waysToLook(stage: Stage): Promise<void> {
  const p = await makeClub(stage);
  const { page } = p;
  await p.pressText('Screens', 'header');
  await p.pressText('Trips', 'nav[aria-label=Screens]');
  await p.pressText('List of Trips', 'nav[aria-label=Screens]');
  await p.sees('Grouped by', 'main');
  await choose(p, 'Group by', 'Rough');
  await choose(p, 'Sum', 'Hours');
  await choose(p, 'Add to filters', 'Hours');
  await choose(p, 'Add to filters', 'Rough');
  await p.sees('yes 40 · 142', '.k-app');

  // What a condition leaves out is told, with the records.
  await p.press('any: add a condition', 'button');
  await choose(p, 'Condition 1', 'Hours');
  await choose(p, 'Comparison', 'is over');
  await page.click('main [aria-label^="Compared with 1:"]');
  await page.waitForSelector('[cmdk-root] input');
  await page.type('[cmdk-root] input', '1');
  await p.pressText('Use “1”', '[cmdk-root]');
  await p.press('What was left out', 'button');
  await p.sees('left out by “Hours is over 1”', 'main');
  await p.press('Remove condition 1', 'button');
  await p.sees('120 of 120 records', 'main');

  await use(p);
  await p.press('Hours', 'button');
  await page.type('.k-end input', '6');
  await p.sees('17 fit', '.k-app');
  await p.press('Rough', 'button');
  await p.pressText('yes', '.k-filter-open');
  await p.sees('Clear all 2 filters', '.k-app');
  await p.sees('Hours: from 6', '.k-app');
  const fits = await page.$eval('.k-filter-foot span', (e) => (e as HTMLElement).innerText);
  const rows = await page.$$eval('.k-list .k-row[data-record]', (all) => all.length);
  if (fits !== `${rows} fit`) throw new Error(`The filters say “${fits}”, and ${rows} are seen.`);
  await p.pressText('Clear all 2 filters', '.k-app');
  await p.sees('yes 40 · 142', '.k-app');

  // As a board: a card that is dragged takes the value of its new column.
  await p.pressText('List of Trips', 'nav[aria-label=Screens]');
  await p.press('Board', 'radio');
  await choose(p, 'Columns by', 'Rough');
  await use(p);
  await p.sees('Show more of 80', '.k-board');
  if ((await columnCount(page, 0)) !== 40) throw new Error('Forty trips were rough.');
  await drag(p, '[data-column="0"] .k-card .k-handle', '[data-column="1"]');
  await p.sees('Moved to no', 'body');
  await p.sees('no 81', '.k-board');
  await page.focus('[data-column="1"] .k-card .k-handle');
  await page.keyboard.press('ArrowLeft');
  await p.sees('yes 40', '.k-board');

  // A calendar and a table of the same records stand beside it.
  await p.press('Add a screen', 'button');
  await p.sees('It opens with', 'main');
  await addInside(p, 'Calendar');
  await choose(p, 'Records', 'Trips');
  await p.sees('120 of 120 records', 'main');
  await use(p);
  await p.sees('Nothing on this day.', '.k-app');
  const months = async (until: string): Promise<void> => {
    for (let i = 0; i < 40; i++) {
      const now = await page.$eval('.k-month h3', (e) => (e as HTMLElement).innerText);
      if (now === until) return;
      const isLater = new Date(`1 ${now}`) > new Date(`1 ${until}`);
      await p.press(isLater ? 'The month before' : 'The month after', 'button');
      await page.waitForFunction((was) => document.querySelector('.k-month h3')?.textContent !== was, {}, now);
    }
  };
  await months('February 2026');
  await page.click('.k-days button:nth-child(2)');
  await p.sees('Mon 2 Feb 2026', '.k-app');
  await page.keyboard.press('ArrowRight');
  await p.sees('Tue 3 Feb 2026', '.k-app');

  await p.press('Add a screen', 'button');
  await p.sees('It opens with', 'main');
  await addInside(p, 'Table');
  await choose(p, 'Records', 'Trips');
  await choose(p, 'Sum', 'Hours');
  await use(p);
  await p.sees('Hours 418', '.k-app');
  await p.press('Hours', 'button');
  await page.waitForFunction(() => document.querySelector('.k-table [aria-sort=ascending]'));
  await p.press('Hours', 'button');
  await page.waitForFunction(() =>
    (document.querySelector('.k-table [role=rowgroup] [role=row]') as HTMLElement | null)?.innerText.includes('6.5'),
  );

  const link = await release(p);
  const phone = await phoneAt(stage, link, 'Boats');
  await phone.pressText('Trips', '.k-tabs');
  await phone.sees('yes 40', '.k-board');
  await phone.page.reload();
  await phone.sees('no 80', '.k-app', 15_000);
}

/** One search through two tables, swipes and marks on a phone. */
async function searchAndSwipe(stage: Stage): Promise<void> {
  const p = await makeClub(stage);
  const { page } = p;
  await p.pressText('Screens', 'header');
  await p.pressText('Boats', 'nav[aria-label=Screens]');
  await p.pressText('List of Boats', 'nav[aria-label=Screens]');
  await choose(p, 'Swipe a row', 'on');
  await p.fill('Words: Swipe a row', 'Sold');
  await choose(p, 'When tapped', 'remove the record', 1);
  await choose(p, 'Select several', 'on');
  await choose(p, 'When tapped', 'remove the record', 2);

  await p.press('Add a screen', 'button');
  await p.sees('It opens with', 'main');
  await addInside(p, 'Search of several lists');
  await use(p);
  await page.type('.k-search input', 'old otter 1');
  await p.sees('Boats', '.k-found:not([hidden])');
  await p.seesNot('Nothing was found.', '.k-app');
  await page.type('.k-search input', ' zzz');
  await p.sees('Nothing was found.', '.k-app');

  const link = await release(p);
  const phone = await phoneAt(stage, link, 'Boats');
  await phone.pressText('Boats', '.k-tabs');
  await phone.sees('Mark several', '.k-app');
  const first = '.k-swipe .k-row';
  const name = await (await phone.page.waitForSelector(first))!.evaluate((e) =>
    (e as HTMLElement).innerText.split('\n')[0]!.trim(),
  );
  const box = (await (await phone.page.$(first))!.boundingBox())!;
  await phone.page.mouse.move(box.x + box.width - 30, box.y + 20);
  await phone.page.mouse.down();
  await phone.page.mouse.move(box.x + box.width - 160, box.y + 22, { steps: 8 });
  await phone.page.mouse.up();
  await phone.sees('Removed', 'body');
  await phone.page.waitForFunction(
    (gone) =>
      ![...document.querySelectorAll('.k-row')].some((r) => (r as HTMLElement).innerText.startsWith(`${gone}\n`)),
    {},
    name,
  );
  await phone.pressText('Mark several', '.k-app');
  await phone.page.$$eval('.k-mark', (all) => {
    for (const box of all.slice(0, 2)) (box as HTMLElement).click();
  });
  await phone.press('Remove (2)', 'button');
  await phone.page.waitForFunction(
    () => document.querySelector('.k-list')?.getAttribute('aria-label') === '21 records',
  );
}

export const tests: Test[] = [
  { name: 'the same records as a list under heads, a board, a calendar and a table', run: waysToLook },
  { name: 'one search through several lists; rows are swiped and marked', run: searchAndSwipe },
];
