import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { phoneAt, release } from './phone.ts';
import type { Test } from './stage.ts';
import { blankApp, waitForRows } from './supplier.ts';
import { choose } from './whole-path.ts';

/** What services answer that nobody would have made up: long, empty, twice, too large, marked up, in two ways of writing. */
const ODD = [
  '{"ref":"A-1","title":"A title that goes on and on without an end","price":"12.50","note":"<b>bold</b><script>x</script>","big":12345678901234567890,"when":"2026-02-30","inner":{"deep":"x"}}',
  '{"ref":"A-2","title":"Second","price":"7,50","note":null,"big":3,"when":"2026-03-01","inner":null}',
  '{"ref":"A-3","title":"","price":"on request","note":"","big":9007199254740993,"when":"2026-03-02"}',
  '{"ref":"A-3","title":"The same key again","price":"1","note":"","big":1,"when":"2026-03-03"}',
  '{"ref":null,"title":"Without a key","price":"2","note":"","big":-1,"when":"2026-03-04"}',
];

/** A service that answers as it is told to. */
async function oddService(): Promise<{ url: string; answers: { body: string; type: string }; server: Server }> {
  const answers = { body: `{"data":[${ODD.join(',')}]}`, type: 'application/json' };
  const server = createServer((_, res) => res.writeHead(200, { 'content-type': answers.type }).end(answers.body));
  await new Promise<void>((done) => server.listen(0, '127.0.0.1', done));
  return { url: `http://127.0.0.1:${(server.address() as AddressInfo).port}/things.json`, answers, server };
}

const lookedOver: Test = {
  name: 'what a service lists is looked over before it becomes a table; it comes exact, or what does not come is said; an empty list takes nothing away',
  async run(stage) {
    const { url, answers, server } = await oddService();
    try {
      const p = await blankApp(stage);
      await p.pressText('Services', 'header');
      await p.sees('Ask other people', 'main');
      await (await p.page.waitForSelector('main textarea'))!.type(url);
      await p.press('Add it', 'button');
      await p.press('Try it', 'button');
      await p.sees('Status 200', 'main');
      await p.pressText('5 elements', '[role=tree]');
      await p.press('Use its 5 as records', 'button');
      const review = '[aria-label="Records to be made"]';
      await choose(p, 'Key', 'Ref');
      await p.sees('3 records, told apart by', review);
      await p.sees('1 record without a key is left out.', review);
      await p.sees('1 record has a key that another one has, too.', review);
      await choose(p, 'Type of When', 'date');
      await p.sees('1 value of When does not fit its type and is left empty.', review);
      await choose(p, 'Type of Price', 'number');
      await p.sees('2 values of Price do not fit its type and are left empty.', review);
      await choose(p, 'Type of Price', 'text');
      await p.sees('12345678901234567890', review);
      await choose(p, 'Type of Inner deep', 'leave this column out');
      await (await p.find('Name of column 5', 'textbox')).click({ count: 3 });
      await p.page.keyboard.type('Very large');
      await p.page.keyboard.press('Enter');
      await p.press('Make the table', 'button');
      await choose(p, 'How Things come', 'kept in the app, fetched every 5 minutes');
      await p.pressText('Things', 'main section[aria-label="What is taken out of the answer"]');
      await p.sees('Very large', '[role=grid]');
      await p.press('More for this table', 'button');
      await p.pressText('Make screens for it');
      const link = await release(p);

      const ann = await phoneAt(stage, link, 'Second');
      await waitForRows(ann, (rows) => rows.length === 3, 'The phone does not have the three things');
      await ann.pressText('A title that goes on', '.k-app');
      await ann.sees('<b>bold</b><script>x</script>', '.k-app');
      await ann.sees('12345678901234567890', '.k-app');

      // A page in place of data, and then nothing at all: what is here stays, and it is said.
      await p.pressText('Data', 'header');
      await p.sees('In step with', 'main');
      Object.assign(answers, { body: '<h1>Back soon</h1>', type: 'text/html' });
      await p.press('Fetch now', 'button');
      await p.sees('no JSON, so nothing can be taken out of it. The app keeps what it has.', 'main', 15_000);
      Object.assign(answers, { body: '{"data":[]}', type: 'application/json' });
      await p.press('Fetch now', 'button');
      await p.sees('3 of 3 records are gone', 'main', 15_000);
      await ann.page.goto(link);
      await waitForRows(ann, (rows) => rows.length === 3, 'The phone lost what the service did not list');
      await p.press('Remove them here too', 'button');
      await waitForRows(ann, (rows) => rows.length === 0, 'What was let go is still there');
    } finally {
      server.close();
    }
  },
};

export const tests: Test[] = [lookedOver];
