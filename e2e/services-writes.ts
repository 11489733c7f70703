import { join } from 'node:path';
import type { ElementHandle } from 'puppeteer-core';
import { photo } from './kept-files.ts';
import { until } from './browser.ts';
import { phoneAt, release } from './phone.ts';
import type { Test } from './stage.ts';
import { choose } from './whole-path.ts';
import { fillIn, forgive, ROW, waitForRows, withOData, withSupplier } from './supplier.ts';

const odata: Test = {
  name: 'an OData service is described by its metadata: listed, added to also without a network, changed by its marks, and its sample stands for it',
  async run(stage) {
    const { p, odata } = await withOData(stage);
    await p.pressText('List orders', 'main');
    await p.press('Try it', 'button');
    await p.sees('Status 200', 'main');
    await p.press('Keep it as a sample', 'button');
    await p.sees('Samples that are kept with the app', 'main');
    await choose(p, 'Orders without a network', 'waits on the phone until it can be sent');
    await p.pressText('Orders', 'main section[aria-label="What is taken out of the answer"]');
    await p.press('Make screens for it', 'button');
    await p.sees('No orders', '.k-app', 15_000);
    const link = await release(p);

    const ann = await phoneAt(stage, link, 'No orders');
    await ann.press('Add', 'button');
    await fillIn(ann, { Good: 'G-0042', Quantity: '3', Note: 'by post' });
    await ann.press('Save', 'button');
    await ann.sees('Saved as', 'body');
    await waitForRows(ann, (rows) => rows.length === 1, 'The order is not in the list');

    // Changed by somebody else while the form is open: it is said, not overwritten.
    await (await ann.page.waitForSelector(ROW))!.click();
    await ann.press('Change this order', 'button');
    await ann.find('Note', 'textbox');
    const [order] = (await (await fetch(`${odata}/Orders`)).json()).value as {
      id: string;
      quantity: number;
      note: string;
    }[];
    await fetch(`${odata}/Orders('${order!.id}')`, {
      method: 'PATCH',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ quantity: 5 }),
    });
    await fillIn(ann, { Note: 'by boat' });
    await ann.press('Save', 'button');
    await ann.sees('Somebody else has changed it meanwhile', '.k-app');
    const [after] = (await (await fetch(`${odata}/Orders`)).json()).value as { quantity: number; note: string }[];
    if (after!.note !== 'by post' || after!.quantity !== 5) throw new Error(`Overwritten: ${JSON.stringify(after)}`);
    // The word about the order before lies over the button for a moment.
    await ann.page.waitForFunction(() => !document.body.innerText.includes('Saved as'), { timeout: 15_000 });
    await ann.press('Save', 'button');
    await ann.sees('Changes saved', 'body');
    const [mine] = (await (await fetch(`${odata}/Orders`)).json()).value as { quantity: number; note: string }[];
    if (mine!.note !== 'by boat' || mine!.quantity !== 5) throw new Error(`Bent: ${JSON.stringify(mine)}`);

    // Without a network it waits, is seen meanwhile, and goes out once.
    await ann.page.goto(link);
    await waitForRows(ann, (rows) => rows.length === 1, 'Opened again the order is not there');
    await new Promise((r) => setTimeout(r, 1200));
    await ann.press('Add', 'button');
    await ann.find('Good', 'textbox');
    await ann.page.setOfflineMode(true);
    await fillIn(ann, { Good: 'G-0007', Quantity: '2' });
    await ann.press('Save', 'button');
    await ann.sees('waits to be sent', '.k-app');
    await waitForRows(ann, (rows) => rows.length === 2, 'What waits is not seen');
    await ann.page.reload();
    await ann.sees('waits to be sent', '.k-app', 15_000);
    await ann.page.setOfflineMode(false);
    await waitForRows(ann, (rows) => rows.length === 2, 'The second order is gone');
    await ann.page.waitForFunction(() => !document.querySelector('.k-waits'), { timeout: 40_000 });
    const all = (await (await fetch(`${odata}/Orders`)).json()).value as { good: string }[];
    if (all.filter((o) => o.good === 'G-0007').length !== 1) throw new Error(`Not sent once: ${JSON.stringify(all)}`);
    forgive(stage, /ERR_INTERNET_DISCONNECTED/);
  },
};

const inStep: Test = {
  name: 'a table is kept in step with a service: fetched into the app, changed without a network, told to the service, and back',
  async run(stage) {
    const { p, odata } = await withOData(stage);
    const orders = async (): Promise<{ id: string; good: string; quantity: number }[]> =>
      (await (await fetch(`${odata}/Orders`)).json()).value;
    const order = (good: string, quantity: number): Promise<unknown> =>
      fetch(`${odata}/Orders`, {
        method: 'POST',
        headers: { 'content-type': 'application/json' },
        body: JSON.stringify({ good, quantity }),
      });
    await order('G-0003', 4);
    await p.pressText('List orders', 'main');
    await choose(p, 'How Orders come', 'kept in the app, fetched every 5 minutes');
    await p.sees('What is added, changed and removed in the app is told to the service', 'main');
    await p.pressText('Orders', 'main section[aria-label="What is taken out of the answer"]');
    await p.sees('Kept in step with', 'main');
    await p.press('More for this table', 'button');
    await p.pressText('Make screens for it');
    const link = await release(p);

    const ann = await phoneAt(stage, link, 'Orders');
    await waitForRows(ann, (rows) => rows.length === 1, 'The phone does not have the order');
    await ann.press('Add', 'button');
    await ann.find('Good', 'textbox');
    await ann.page.setOfflineMode(true);
    await fillIn(ann, { Good: 'G-0007', Quantity: '2' });
    await ann.press('Save', 'button');
    await waitForRows(ann, (rows) => rows.length === 2, 'What was added without a network is not seen');
    await ann.page.setOfflineMode(false);
    await until('The service does not have the order', async () => (await orders()).some((o) => o.good === 'G-0007'));

    // Changed there: it comes when the maker says so, and to the phone by itself.
    const [first] = (await orders()).filter((o) => o.good === 'G-0003');
    await fetch(`${odata}/Orders('${first!.id}')`, {
      method: 'PATCH',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ quantity: 77 }),
    });
    await p.pressText('Data', 'header');
    await p.sees('In step with List orders', 'main');
    await p.press('Fetch now', 'button');
    await ann.sees('77', '.k-app', 15_000);
    await p.sees('77', '[role=grid]', 15_000);
    forgive(stage, /ERR_INTERNET_DISCONNECTED/);
  },
};

const files: Test = {
  name: 'a form sends a photo to a service as it was taken, and an answer that is a photo is one',
  async run(stage) {
    const p = await withSupplier(stage, ['List claims', 'Claim a broken good', 'Get the photo of a claim'], 'Claims');
    await p.pressText('List claims', 'main');
    await p.pressText('Claims', 'main section[aria-label="What is taken out of the answer"]');
    await p.press('Make screens for it', 'button');
    const link = await release(p);

    const ann = await phoneAt(stage, link, 'No claims');
    await ann.press('Add', 'button');
    await ann.find('Good', 'textbox');
    const picture = join(stage.folder, 'veil with a hole.png');
    await photo(picture, 320);
    await fillIn(ann, { Good: 'G-0042', Words: 'It has a hole' });
    await ann.press('Save', 'button');
    await ann.page.waitForFunction(() =>
      [...document.querySelectorAll('.k-app .k-field')].some((e) => e.textContent?.includes('Photo is missing')),
    );
    const box = (await ann.page.waitForSelector('.k-app input[type=file]')) as ElementHandle<HTMLInputElement>;
    await box.uploadFile(picture);
    await ann.page.waitForSelector('.k-app .k-photo img');
    await ann.press('Save', 'button');
    await ann.sees('Saved as 1', 'body');
    await waitForRows(ann, (rows) => rows.length === 1, 'The claim is not in the list');

    // What came back is seen, and used: the photo as it was sent.
    await p.pressText('Services', 'header');
    await p.pressText('Get the photo of a claim', 'nav');
    await p.page.waitForSelector('[aria-label="Test value of Id"]');
    await p.page.type('[aria-label="Test value of Id"]', '1');
    await p.press('Try it', 'button');
    await p.sees('Status 200', 'main');
    await p.page.waitForSelector('img[alt="What came"]');
    const width = await p.page.$eval('img[alt="What came"]', (e) => (e as HTMLImageElement).naturalWidth);
    if (width !== 320) throw new Error(`The photo is ${width} pixels wide.`);
    await p.sees('Picked as Picture', 'main');
  },
};

export const tests: Test[] = [odata, inStep, files];
