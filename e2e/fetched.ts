import { createServer } from 'node:http';
import type { AddressInfo } from 'node:net';
import { Person } from './browser.ts';
import type { Test } from './stage.ts';

/** A supplier's goods, as services give them: wrapped, with a key asked for. */
const someGoods = () =>
  Array.from({ length: 40 }, (_, i) => ({
    sku: `G-${100 + i}`,
    name: `Frame feeder ${i + 1}`,
    unit_price: 4.5 + i / 4,
    listed: '2026-03-01',
    sizes: { height: 20 + i },
  }));

const fetchedData: Test = {
  name: 'data is fetched from an address or by a curl line, reviewed, and becomes an app; what goes wrong is said',
  async run(stage) {
    const goods = someGoods();
    let slow: (() => void) | null = null;
    const service = createServer((req, res) => {
      if (req.url === '/slow') slow = () => res.end('[]');
      else if (req.headers['x-api-key'] !== 'k-1') res.writeHead(401).end('{}');
      else
        res
          .writeHead(200, { 'content-type': 'application/json' })
          .end(JSON.stringify({ status: 'ok', data: { total: goods.length, goods } }));
    });
    await new Promise<void>((r) => service.listen(0, '127.0.0.1', r));
    const at = `http://127.0.0.1:${(service.address() as AddressInfo).port}`;
    try {
      const page = await stage.browser.newPage();
      page.on('pageerror', (e) => stage.errors.push(String(e)));
      await page.setViewport({ width: 1280, height: 800 });
      const p = new Person(page);
      await page.goto(stage.server.url);
      const box = 'textarea[aria-label="Address of data, or a curl line"]';
      const type = async (text: string): Promise<void> => {
        await page.waitForSelector(box);
        await page.$eval(box, (e) => (e as HTMLTextAreaElement).select());
        await page.keyboard.press('Backspace');
        await page.type(box, text);
      };

      // Errors are said beside the box, and what was typed stays.
      await type('not an address at all');
      await page.keyboard.press('Enter');
      await p.sees('is no address', '[role=alert]');
      await type('http://10.0.0.1/goods');
      await p.press('Fetch', 'button');
      await p.sees('private network', '[role=alert]');
      await type(`${at}/goods`);
      await p.press('Fetch', 'button');
      await p.sees('wants to know who asks', '[role=alert]');
      const typed = await page.$eval(box, (e) => (e as HTMLTextAreaElement).value);
      if (typed !== `${at}/goods`) throw new Error(`The box has “${typed}” after a failure.`);

      // Whoever does not want to wait stops it.
      await type(`${at}/slow`);
      await p.press('Fetch', 'button');
      await p.sees('Fetching', '[role=status]');
      await p.press('Stop', 'button');
      await page.waitForFunction(() => !document.body.textContent!.includes('Fetching'));
      if (await page.$('[role=alert]')) throw new Error('Stopping was told as a failure.');
      (slow as (() => void) | null)?.();

      // A curl line over several lines, as documentation shows it, pasted with its key.
      const line = `curl -s '${at}/v1/goods?page=1' \\\n  -H 'X-Api-Key: k-1' \\\n  -H 'Accept: application/json'`;
      await page.$eval(box, (e) => (e as HTMLTextAreaElement).select());
      await page.evaluate((text) => {
        document.execCommand('insertText', false, text);
      }, line);
      await page.keyboard.press('Enter');
      await p.sees('G-105', 'main', 15_000);
      await p.sees('Beside its lists the file says status, total', 'main');
      await p.press('Make the app', 'button');
      await p.sees('Frame feeder 1', '.k-app', 15_000);
      await page.reload();
      await p.sees('Frame feeder 1', '.k-app', 15_000);

      // Later the same data comes into the table that is there: found again by its key, and looked over first.
      goods[0]!.unit_price = 99.5;
      goods.push({ sku: 'G-900', name: 'Smoker', unit_price: 31, listed: '2026-11-30', sizes: { height: 25 } });
      await page.goto(page.url().replace(/screens.*/, 'data'));
      await p.press('More for this table', 'button');
      await p.pressText('Fetch data from an address', '[role=menu]');
      await type(line.replace(/\\\n/g, ''));
      await page.keyboard.press('Enter');
      await p.sees('goods.json into Goods', 'section');
      await p.sees('1 new', 'section[aria-label^=Bring]');
      await p.press('Bring it in', 'button');
      await p.sees('41 records', 'main');
      await p.sees('99.5', 'main');

      // Nothing of the key is kept with the app.
      const kept = await page.evaluate(
        () =>
          new Promise<string>((resolve) => {
            indexedDB.open('mellow-kite').onsuccess = (opened) => {
              const db = (opened.target as IDBOpenDBRequest).result;
              db.transaction('apps').objectStore('apps').getAll().onsuccess = (got) => {
                db.close();
                resolve(JSON.stringify((got.target as IDBRequest).result));
              };
            };
          }),
      );
      if (!kept.includes('Frame feeder') && !kept.includes('sku')) throw new Error('No app was kept.');
      if (kept.includes('k-1')) throw new Error('The key was kept with the app.');
    } finally {
      service.closeAllConnections();
      service.close();
    }
  },
};

export const tests: Test[] = [fetchedData];
