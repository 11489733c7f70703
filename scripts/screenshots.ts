/** Takes the pictures in docs/screenshots anew, from the demo. Run after npm run build. */
import '../kinds/given/all.ts';
import { mkdtemp, readFile, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { createTransport } from 'nodemailer';
import { away } from '../e2e/board.ts';
import { Person, launch } from '../e2e/browser.ts';
import { clubSheets } from '../e2e/sheets.ts';
import { choose } from '../e2e/whole-path.ts';
import { startServer } from '../server/server.ts';

const out = (name: string): `${string}.png` => `docs/screenshots/${name}.png`;
const pause = (ms: number): Promise<void> =>
  new Promise((r) => {
    setTimeout(r, ms);
  });
const folder = await mkdtemp(join(tmpdir(), 'kite-shots-'));
const server = await startServer({
  port: 0,
  standIns: 4190,
  mail: 4125,
  dist: 'dist',
  data: join(folder, 'data'),
  shared: ['*'],
});
const chrome = await launch();
try {
  const page = await chrome.browser.newPage();
  await page.setViewport({ width: 1280, height: 800 });
  const p = new Person(page);
  const shot = async (name: string): Promise<void> => {
    await pause(600);
    await page.screenshot({ path: out(name) });
  };
  await page.goto(server.url);
  await p.sees('What should the phone do');
  const [chooser] = await Promise.all([page.waitForFileChooser(), p.press('Choose files', 'button')]);
  await chooser.accept(await clubSheets(folder));
  await p.sees('These sheets hold the same values');
  await p.pressText('Trips', 'nav');
  await shot('bring');
  await p.press('Make the app', 'button');
  await p.sees('Far Shore', '.k-app', 15_000);
  await page.goto(server.url);
  await p.press('Heatherfield Bees', 'button');
  await p.sees('days', '.k-app', 20_000);
  await page.goto(server.url);
  await p.sees('Your apps');
  await shot('start');
  await p.press('Heatherfield Bees', 'button');
  await p.sees('days', '.k-app', 20_000);
  await p.pressText('List of hives', 'nav');
  await p.sees('records of', 'main');
  await shot('screens');
  await p.pressText('At a glance', 'nav');
  await p.sees('It opens with', 'main');
  await p.press('Add inside', 'button');
  await (await page.waitForSelector('[cmdk-root] input'))!.type('list w');
  await page.waitForSelector('[data-sample] .k-row');
  await pause(900);
  await shot('add');
  await page.keyboard.press('Escape');
  await p.pressText('All hives', 'nav[aria-label="Screens"]');
  await p.press('More for this screen', 'button');
  await p.pressText('See it under strain', '[role=menu]');
  await page.waitForSelector('[data-strain=longest] .k-row');
  await p.sees('hold', 'section[aria-label="What does not hold"]', 30_000);
  await shot('strain');
  await p.press('Close the strain view', 'button');
  await p.pressText('Theme', 'nav');
  await p.sees('Words on it', 'main');
  await shot('theme');
  await p.pressText('Data', 'header');
  await p.sees('Each record is called', 'main');
  await page.waitForSelector('#cell-2-3');
  await page.click('#cell-2-3');
  await p.press('Use');
  await shot('data');
  await page.$eval('[role=grid]', (e) => e.scrollTo(2000, 0));
  await page.waitForFunction(() =>
    [...document.querySelectorAll<HTMLElement>('[role=columnheader]')].some((e) =>
      e.innerText.includes('Days since visit'),
    ),
  );
  await page.evaluate(() => {
    [...document.querySelectorAll<HTMLElement>('[role=columnheader] button')]
      .find((e) => e.innerText.includes('Days since visit'))!
      .click();
  });
  await p.sees('a number', 'main');
  await p.press('Formula', 'radio');
  await p.sees('a number', 'main');
  await shot('formula');
  await page.click('[aria-label="Close this card"]');
  await p.pressText('Logic', 'header');
  await p.sees('Starts when', 'main');
  await page.click('nav[aria-label="Main"] [data-tab]');
  await (await page.waitForSelector('.k-row[role=button]'))!.click();
  await p.sees('Send first-visit pack', '.k-app');
  await (await page.waitForSelector('.k-app .k-button ::-p-text(Send first-visit pack)'))!.click();
  await p.sees('1 run', 'main');
  // The values that a place can take, each with what it is now.
  await (await page.waitForSelector('main [aria-label^="To:"], main [aria-label^="Value 1:"]'))!.click();
  await page.waitForSelector('[cmdk-root] [cmdk-item]');
  await shot('logic');
  await page.keyboard.press('Escape');
  // The room of a rehearsal: a mail from outside, and somebody without a network.
  await p.pressText('Rehearse', 'header');
  const room = (n: number): string => `[aria-label="Phones"] section:nth-of-type(${n})`;
  for (const n of [1, 2]) {
    await p.sees('days', `${room(n)} .k-app`);
    await p.pressText('Swarms', `${room(n)} .k-tabs`);
  }
  await p.sees('Report with a photo', `${room(2)} .k-app`);
  await page.click(`${room(2)} [aria-label^="Network of"]`);
  await p.pressText('No network', '[role=menu]');
  await p.pressText('Mail', '[aria-label="What happens"]');
  await p.press('Write as somebody outside', 'button');
  await p.fill('Subject', 'Under the ferry steps');
  await p.fill('Words of the mail', 'A large swarm hangs there. Children pass below it.');
  await p.press('Send to the app', 'button');
  await p.sees('Under the ferry steps', `${room(1)} .k-app`);
  await p.pressText('Trace', '[aria-label="What happens"]');
  await shot('room');
  // The same as a scene: somebody opens the report, and its priority is expected.
  await p.pressText('Under the ferry steps', `${room(1)} .k-app`);
  await p.sees('It is collected', `${room(1)} .k-app`);
  await p.pressText('Scene', '[aria-label="What happens"]');
  await p.press('Expect', 'button');
  const high = (await (await page.waitForSelector(`${room(1)} .k-app ::-p-text(high)`))!.boundingBox())!;
  await page.mouse.click(high.x + 8, high.y + high.height / 2);
  await p.sees('which reads high', '[aria-label="What happens"]');
  await p.press('Keep as a scene', 'button');
  await p.sees('passes, in', 'main', 60_000);
  await p.fill('Name of the scene', 'A swarm by mail');
  await page.keyboard.press('Enter');
  await page.click('[aria-label="Select step 5"]');
  await pause(3000);
  await shot('scene');
  await p.pressText('People', 'header');
  await p.press('Begin with this', 'button');
  await p.sees('Rules add up', 'main');
  await p.press('Add a role', 'button');
  await (await p.find('Name of the role', 'textbox')).click({ count: 3 });
  await page.keyboard.type('Coordinators');
  await page.keyboard.press('Enter');
  await p.press('add a condition: add a condition', 'button');
  await choose(p, 'Condition 1', 'Lives nearby');
  await p.pressText('Rules', 'nav');
  await p.sees('Coordinators', 'main table');
  await page.$$eval('main table tbody tr', (rows) => {
    const row = rows.find((r) => r.querySelector('th')?.textContent === 'Visits')!;
    Array.from(row.querySelectorAll('button'))[0]!.click();
  });
  await p.sees('Everybody signed in and Visits', 'main');
  await shot('people');
  await p.pressText('What can', 'nav');
  await p.sees('as the server would send them', 'main');
  await p.press('Beside somebody else', 'button');
  await p.sees('comes first', 'main');
  await page.$$eval('main details', (all) => all.forEach((d, i) => ((d as HTMLDetailsElement).open = i === 0)));
  await shot('sees');
  await p.pressText('Who may open it', 'nav');
  await p.press('Take all rules away', 'button');
  await p.sees('Where to begin', 'main').catch(() => undefined);
  await p.pressText('Release', 'header');
  await p.sees('free', 'main');
  await p.press('Release', 'button');
  await p.sees('Scan it, or send the link', 'main', 30_000);
  await pause(5500);
  await page.waitForFunction(() => !document.querySelector('main')!.innerText.includes('Releasing'));
  await shot('release');
  await p.pressText('Data', 'header');
  await p.pressText('Goods', 'nav');
  await p.sees('16 records', 'main');
  await p.press('More for this table', 'button');
  await p.pressText('Mirror a file');
  await choose(p, 'File', 'a new file');
  await p.press('Begin to mirror', 'button');
  await p.sees('Mirrors goods.csv in step', 'main');
  await page.click('[aria-label="Close this card"]');
  const goods = join(folder, 'sheets', 'goods.csv');
  await page.click('#cell-1-3');
  await page.keyboard.type('90');
  await Promise.all([
    page.keyboard.press('Enter'),
    readFile(goods, 'utf8').then((text) =>
      writeFile(
        goods,
        text
          .split('\r\n')
          .map((l, i) => (i === 2 ? l.replace(/,(\d+),/, ',120,') : l))
          .join('\r\n'),
      ),
    ),
  ]);
  await p.sees('edited on both sides', 'main', 10_000);
  await p.pressText('edited on both sides', 'main');
  await p.sees('the later edit stands');
  await shot('mirror');
  await page.keyboard.press('Escape');
  await p.pressText('Release', 'header');
  await p.sees('Scan it, or send the link', 'main');
  const link = await page.$eval('[data-testid=release-link]', (e) => e.textContent!);
  // What the server does: two mails, a report that waits, and a stock line that runs low.
  const mail = createTransport({ host: '127.0.0.1', port: 4125, ignoreTLS: true });
  const to = 'heatherfield-bees@mellow-kite.example';
  for (const [from, subject, text] of [
    [
      'Tomas Rill <tomas@post.example>',
      'Bees in the letter box',
      'Good morning,\n\nsome bees live in our letter box. They look calm. Is there somebody who takes them?',
    ],
    [
      'Ada Holm <ada@post.example>',
      'Chimney at the old school',
      'A swarm has settled in the chimney of the old school since yesterday, and the children pass below it. Could somebody come today?\n\nAda Holm',
    ],
  ] as const)
    await mail.sendMail({ from, to, subject, text });
  const reports = await away(link, 'Swarm reports');
  await reports.set('report-mill', {
    [reports.field('What')]: 'A cluster like a melon in the hedge',
    [reports.field('Where')]: 'Mill Lane',
  });
  await p.pressText('Logic', 'header');
  await p.pressText('Mailbox', 'nav');
  await p.sees('Chimney at the old school', 'main');
  await p.pressText('Chimney at the old school', 'main');
  await p.sees('Thank you for telling us', 'main');
  await p.press('Answer as Ada Holm', 'button');
  await page.type('textarea[aria-label="Words of the mail"]', 'It is still there, and hums.');
  await p.press('Send to the app', 'button');
  await p.sees('It is still there, and hums.', 'main article');
  await shot('mailbox');
  const stock = await away(link, 'Stock');
  for (const line of (await stock.rows()).slice(3, 6)) await stock.set(line.id, { [stock.field('Quantity')]: 1 });
  await p.pressText('Board', 'nav');
  await p.sees('until this swarm report', 'main');
  await p.sees('It became so for', 'main');
  await shot('board');
  const phone = await (await chrome.browser.createBrowserContext()).newPage();
  await phone.setViewport({ width: 390, height: 844, isMobile: true, hasTouch: true, deviceScaleFactor: 1 });
  await phone.goto(link);
  await new Person(phone).press('Skip', 'button');
  await new Person(phone).sees('days', '.k-app', 20_000);
  await pause(800);
  await phone.screenshot({ path: out('phone') });
  await p.pressText('Services', 'header');
  await p.press('Add a service', 'button');
  await p.press('Use the stand-in supplier', 'button');
  await p.press('Add it', 'button');
  const operations = 'main [aria-label="What it can be asked"]';
  await page.waitForSelector(operations);
  for (const name of [
    'Sign up',
    'Sign in',
    'Sign out',
    'Renew the tokens',
    'Who am I',
    'List my orders',
    'Add an order',
  ])
    await p.pressText(name, operations);
  await shot('services');
} finally {
  await chrome.close();
  await server.close();
  await rm(folder, { recursive: true, force: true });
}
