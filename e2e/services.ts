import { phoneAt, readyForOffline, release } from './phone.ts';
import type { Test } from './stage.ts';
import { choose, writeFormula } from './whole-path.ts';
import { blankApp, describing, fillIn, forgive, ROW, standInsOf, waitForRows, withCatalogue } from './supplier.ts';

const catalogue: Test = {
  name: 'a service is described by its document, tried, and its records are on phones: searched, in pages, by link alone, offline',
  async run(stage) {
    const p = await describing(stage);
    // Searched by words, and by what it is for.
    await p.page.type('[aria-label="Search what it can be asked"]', 'goods');
    await p.pressText('List goods', 'main');
    await p.press('One', 'radio');
    await p.page.$eval('[aria-label="Search what it can be asked"]', (e) => (e as HTMLInputElement).select());
    await p.page.keyboard.press('Backspace');
    await p.pressText('Get one good', 'main');
    await p.press('Add 2 requests', 'button');
    await p.sees('Used for records of Goods', 'main');
    const { page } = p;

    // Tried at once: everything that came is there, and can be searched.
    await p.pressText('List goods', 'main');
    await p.press('Try it', 'button');
    await p.sees('Status 200', 'main');
    await page.type('[aria-label="Search the answer"]', 'G-0007');
    await p.sees('2 found', 'main');
    await page.type('[aria-label="Test value of Search"]', 'cedar veil');
    await p.press('Try it', 'button');
    await p.press('What was sent', 'radio');
    await p.sees('search=cedar+veil', 'main');

    // A fault is told in words.
    await page.$eval('[aria-label="Test value of Search"]', (e) => (e as HTMLInputElement).select());
    await page.keyboard.press('Backspace');

    // Its screens are made, and show it at once beside the work.
    await p.pressText('Goods', 'main section[aria-label="What is taken out of the answer"]');
    await p.sees('Fetched by', 'main');
    await p.sees('G-0001', '[role=grid]', 15_000);
    await p.press('Make screens for it', 'button');
    await waitForRows(p, (rows) => rows.length >= 8, 'The phone beside the work shows no goods');
    const link = await release(p);

    // On a phone: the first page, more by scrolling, what is typed asked of the service.
    const ann = await phoneAt(stage, link, 'Goods');
    const first = await waitForRows(ann, (rows) => rows.length >= 8, 'The phone shows no goods');
    const scroll = (to: number): Promise<void> => ann.page.$eval('.k-scroll', (e, y) => e.scrollTo(0, y), to);
    await scroll(100_000);
    // Each time the end comes near, the next page is asked for.
    for (let i = 0; i < 6; i++) {
      await new Promise((r) => setTimeout(r, 250));
      await scroll(100_000);
    }
    const later = await waitForRows(
      ann,
      (rows) => rows.length > 0 && rows[0] !== first[0],
      'Scrolling leads no further',
    );
    if (later.some((r) => first.includes(r))) throw new Error('After six pages the first one is still there.');
    await scroll(0);
    await ann.page.type('[aria-label="Search this list"]', 'winter veil');
    await waitForRows(
      ann,
      (rows) => rows.length > 0 && rows.every((r) => /winter veil/i.test(r)),
      'The search of the service is not shown',
    );

    const name = await ann.page.$eval(ROW, (e) => (e as HTMLElement).innerText.trim().split('\n')[0]!);
    // A detail, whose link alone leads there on another phone.
    await (await ann.page.waitForSelector(ROW))!.click();
    await ann.sees('Price', '.k-app');
    const alone = ann.page.url();
    const bo = await phoneAt(stage, alone, name);
    await bo.sees('In stock', '.k-app');

    // Without a network what came last is there, with its age said; what never came says why.
    await ann.page.goto(link);
    await waitForRows(ann, (rows) => rows.length >= 8, 'The phone shows no goods when it is opened again');
    await readyForOffline(ann);
    await ann.page.setOfflineMode(true);
    await ann.page.reload();
    await waitForRows(ann, (rows) => rows.length >= 8, 'Offline there are no goods');
    await ann.page.type('[aria-label="Search this list"]', 'smoker');
    await ann.sees('cannot be reached', '.k-app');
    // As soon as there is a way again it is asked for by itself.
    await ann.page.setOfflineMode(false);
    await waitForRows(
      ann,
      (rows) => rows.length > 0 && rows.every((r) => /smoker/i.test(r)),
      'Trying again brings nothing',
    );
    // What happened without a network is no error of the app.
    forgive(stage, /ERR_INTERNET_DISCONNECTED/);
  },
};

const joined: Test = {
  name: 'own records lead to fetched ones: a good is chosen by what is typed, its price stands beside my stock, offline too',
  async run(stage) {
    const p = await withCatalogue(stage);
    const { page } = p;
    await p.pressText('Data', 'header');
    await p.press('Add a table', 'button');
    await page.waitForFunction(() => document.activeElement?.tagName === 'TEXTAREA');
    await page.keyboard.type('Stock: shelf, good, pieces (number)');
    await p.sees('Good link to Goods', 'main');
    await page.keyboard.down('Control');
    await page.keyboard.press('Enter');
    await page.keyboard.up('Control');
    await p.sees('Each record is called', 'main');
    // Worked out of both: what my stock is worth.
    await p.press('Field', 'button');
    await p.pressText('A formula field');
    await p.press('Formula', 'radio');
    await writeFormula(page, 'Formula of New formula', 'Good.Price * Pieces');
    await p.press('Close this card');
    await p.press('More for this table', 'button');
    await p.pressText('Make screens for it');
    const link = await release(p);

    const ann = await phoneAt(stage, link, 'No stock');
    await ann.press('Add', 'button');
    await (await ann.page.waitForSelector('.k-pick'))!.click();
    await ann.page.waitForSelector('.k-picker input');
    await ann.page.keyboard.type('winter veil, wide');
    await ann.page.waitForFunction(
      () =>
        [...document.querySelectorAll('.k-picker [role=option]')].length > 0 &&
        [...document.querySelectorAll('.k-picker [role=option]')].every((e) =>
          /winter veil, wide/i.test(e.textContent!),
        ),
    );
    await ann.page.click('.k-picker [role=option]');
    await ann.page.waitForFunction(() =>
      /winter veil, wide/i.test(document.querySelector('.k-pick')?.textContent ?? ''),
    );
    await fillIn(ann, { Shelf: 'In the shed', Pieces: '3' });
    await ann.press('Save', 'button');
    await waitForRows(ann, (rows) => rows.length === 1, 'The stock is not in the list');
    await (await ann.page.waitForSelector(ROW))!.click();
    await ann.sees('Winter veil, wide', '.k-app');
    await ann.sees('208.02', '.k-app');

    // A phone that never saw the good asks for it by its link, and has it without a network from then on.
    const bo = await phoneAt(stage, ann.page.url(), 'Winter veil, wide');
    await bo.sees('208.02', '.k-app');
    await readyForOffline(bo);
    await bo.page.setOfflineMode(true);
    await bo.page.reload();
    await bo.sees('208.02', '.k-app', 15_000);
    await bo.page.setOfflineMode(false);
    forgive(stage, /ERR_INTERNET_DISCONNECTED/);
  },
};

const words: Test = {
  name: 'a service does the work with words in place of counting, and the desk says which is in use',
  async run(stage) {
    const p = await blankApp(stage);
    await p.pressText('Services', 'header');
    await p.pressText('Words and pictures', 'nav');
    await p.sees('Texts are summed up by the app itself, which counts words', 'main');
    await p.press('Use the stand-in', 'button');
    await p.press('Use this service', 'button');
    await p.sees('Texts are summed up by Sum up of Words and pictures', 'main');
    await p.pressText('Sum up of Words and pictures', 'main');
    await (await p.page.waitForSelector('[aria-label="Test value of Text"]'))!.type(
      'The veil is torn. Send a new one.',
    );
    await (await p.page.waitForSelector('[aria-label="Test value of Most"]'))!.type('1');
    await p.press('Try it', 'button');
    await p.sees('Status 200', 'main');
    await p.sees('counting (stand-in)', 'main');
    await p.pressText('Words and pictures', 'nav');
    await p.page.goBack();
    await p.page.goBack();
    await p.press('Texts are summed up by the app itself again', 'button');
    await p.sees('Texts are summed up by the app itself, which counts words', 'main');
  },
};

const straight: Test = {
  name: 'a phone asks a service itself where it may, and the server where it may not',
  async run(stage) {
    const p = await withCatalogue(stage);
    await p.pressText('List goods', 'main');
    await choose(p, 'Who asks it', 'by each phone itself');
    await p.pressText('Goods', 'main section[aria-label="What is taken out of the answer"]');
    await p.press('Make screens for it', 'button');
    const link = await release(p);
    const standIns = await standInsOf(p);
    const ann = await phoneAt(stage, link, 'Goods');
    const { page } = ann;
    const asked: string[] = [];
    page.on('request', (r) => void asked.push(r.url()));
    page.on('workercreated', ({ client }) => {
      client.on('Network.requestWillBeSent', ({ request }) => void asked.push(request.url));
      void client.send('Network.enable').catch(() => undefined);
    });
    await page.reload();
    await page.waitForSelector(ROW);
    const service = asked.filter((url) => url.startsWith(`${standIns}/goods?`));
    if (service.length === 0) throw new Error(`The phone did not ask the service: ${asked.join(', ')}`);
    if (asked.some((url) => url.endsWith('/asked'))) throw new Error('The server was asked although the phone may.');
    // The page may ask this service and no other address.
    const other = await page.evaluate(
      (at) =>
        fetch(at).then(
          () => 'asked',
          () => 'refused',
        ),
      p.page.url().replace(/^(https?:\/\/)127\.0\.0\.1/, '$1localhost'),
    );
    if (other !== 'refused') throw new Error('The page of the app may ask any address.');

    // A single one is asked by the server, as its request is not one of those.
    await page.$eval(ROW, (e) => (e as HTMLElement).click());
    await ann.sees('In stock', '.k-app');
    const alone = page.url();
    const bo = await phoneAt(stage, alone, 'In stock');

    // Where no page can ask the service, the server does after all.
    await bo.page.evaluateOnNewDocument((at) => {
      const ask = globalThis.fetch;
      globalThis.fetch = (to, how) => {
        if (!String(to).startsWith(at)) return ask(to, how);
        sessionStorage.setItem('tried', 'yes');
        return Promise.reject(new TypeError('Failed to fetch'));
      };
    }, standIns);
    await bo.page.goto(link);
    await waitForRows(bo, (rows) => rows.length >= 8, 'The server does not ask in place of the phone');
    if ((await bo.page.evaluate(() => sessionStorage.getItem('tried'))) !== 'yes')
      throw new Error('The phone did not try.');
    forgive(stage, /Content Security/);
  },
};

export const tests: Test[] = [catalogue, joined, words, straight];
