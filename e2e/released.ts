import type { Page } from 'puppeteer-core';
import { Person, watchConsole } from './browser.ts';
import { PHONE, phoneAt, release } from './phone.ts';
import type { Stage, Test } from './stage.ts';
import { makeClub } from './whole-path.ts';

/** Makes the sail number one that differs, releases the club and gives the link. */
async function releaseClub(stage: Stage): Promise<{ maker: Person; link: string }> {
  const maker = await makeClub(stage);
  const { page } = maker;
  await maker.pressText('Data', 'header');
  await page.waitForSelector('#cell-0-0');
  await page.evaluate(() =>
    [...document.querySelectorAll<HTMLElement>('[role=columnheader] button')]
      .find((e) => e.innerText.includes('Sail no'))!
      .click(),
  );
  await maker.pressText('No two records have the same', 'main');
  return { maker, link: await release(maker) };
}

const openPhone = (stage: Stage, link: string): Promise<Person> => phoneAt(stage, link, 'Far Shore 5');

/** Writes a new boat in the form. */
async function addBoat(p: Person, name: string, sail: string): Promise<void> {
  await p.pressText('Add', '.k-app main');
  await p.sees('New boat', '.k-app');
  await p.fill('Boat', name);
  await p.fill('Sail no', sail);
  await p.pressText('Save', '.k-app form');
}

const texts = (page: Page): Promise<string> => page.$eval('.k-app', (e) => (e as HTMLElement).innerText);

const twoPhones: Test = {
  name: 'two phones stay in step; what the host refuses is taken back with its reason',
  async run(stage) {
    const { link } = await releaseClub(stage);
    const [ann, bo] = [await openPhone(stage, link), await openPhone(stage, link)];

    // A value that is taken is told in the form, and nothing is saved.
    await addBoat(ann, 'Twin', 'GBR 3');
    await ann.sees('Sail no “GBR 3” is taken by another boat.', '.k-field');
    await ann.fill('Sail no', 'GBR 50');
    await ann.pressText('Save', '.k-app form');
    await ann.sees('Saved', '.k-app');
    await bo.fill('Search this list', 'Twin');
    await bo.sees('GBR 50', '.k-app', 3000);

    // Both claim one number without a network: the second to come back is refused, and told.
    for (const p of [ann, bo]) await p.page.setOfflineMode(true);
    await bo.fill('Search this list', ' ');
    await addBoat(ann, 'Ann’s boat', 'GBR 60');
    await addBoat(bo, 'Bo’s boat', 'GBR 60');
    await bo.sees('Saved', '.k-app');
    await ann.page.setOfflineMode(false);
    await ann.page.waitForFunction(() => !document.querySelector('.r-offline'), { timeout: 10_000 });
    await bo.page.setOfflineMode(false);
    await bo.sees('Not saved: Sail no “GBR 60” is taken by another boat.', '.k-app', 10_000);
    await bo.fill('Search this list', 'boat');
    await bo.sees('Ann’s boat', '.k-app');
    if ((await texts(bo.page)).includes('Bo’s boat')) throw new Error('The refused boat is still there.');
  },
};

const links: Test = {
  name: 'a screen opens from its link alone, back leads on, and long lists scroll to their end',
  async run(stage) {
    const { link } = await releaseClub(stage);
    const ann = await openPhone(stage, link);
    await ann.pressText('Far Shore 11', '.k-app');
    await ann.sees('Change this boat', '.k-app');
    const deep = ann.page.url();
    if (!/#\/s_\w+\/r_\w+/.test(deep)) throw new Error(`The address does not name the record: ${deep}`);

    const context = await stage.browser.createBrowserContext();
    const other = await context.newPage();
    await other.setViewport(PHONE);
    watchConsole(other, stage.errors);
    await other.goto(deep);
    const bo = new Person(other);
    await bo.sees('Far Shore 11', '.k-app', 15_000);
    await bo.sees('GBR 11', '.k-app');
    await bo.press('Back to Boats', 'button');
    await bo.sees('Grey Seal 3', '.k-app');
    // Back in the app and back on the device lead the same way.
    await bo.pressText('Grey Seal 3', '.k-app');
    await bo.press('Back to Boats', 'button');
    await bo.sees('Far Shore 11', '.k-app');
    // The address follows in a moment; this fails where it never does.
    await other.waitForFunction(() => !location.hash.includes('r_'));
    await bo.pressText('Far Shore 11', '.k-app');
    await bo.sees('Change this boat', '.k-app');
    await other.goBack();
    await bo.sees('Grey Seal 3', '.k-app');

    // The last of 120 trips is reached by scrolling, and only rows near the view exist.
    await bo.pressText('Trips', '.k-tabs');
    await other.waitForSelector('[aria-label="120 records"] .k-row[data-record]');
    await other.evaluate(() => document.querySelector('.k-scroll')!.scrollTo(0, 1e6));
    await other.waitForFunction(() => document.querySelector('.k-line[data-index="119"] .k-row[data-record]'), {
      timeout: 8000,
    });
    const rows = await other.$$eval('.k-row', (all) => all.length);
    if (rows > 60) throw new Error(`${rows} rows are drawn at once.`);

    // On a tablet the tabs stand at the side, and what is read keeps to a measure.
    await other.setViewport({ width: 1100, height: 800 });
    const box = async (what: string) => (await (await other.waitForSelector(what))!.boundingBox())!;
    const [rail, main] = [await box('.k-tabs'), await box('.k-scroll > main')];
    if (rail.width > 120 || rail.height < 700) throw new Error(`The tabs are ${rail.width} by ${rail.height}.`);
    if (main.x < rail.width || main.width > 800) throw new Error(`The screen is at ${main.x}, ${main.width} wide.`);
    await other.setViewport(PHONE);
    const tabs = await box('.k-tabs');
    if (tabs.width < 380 || tabs.y < 700) throw new Error('The tabs are not at the bottom of a phone.');

    // A record that is gone says so.
    await other.goto(deep.replace(/r_\w+$/, 'r_nobody0000'));
    await other.reload();
    await bo.sees('This boat is not here any more.', '.k-app');
  },
};

export const tests: Test[] = [twoPhones, links];
