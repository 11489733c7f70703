import { ElementMaker } from '../core/app/make.ts';
import { F, T, hiveApp } from '../core/records/fixture.ts';
import { Person, watchConsole } from './browser.ts';
import { releaseApp } from './first-screen.ts';
import type { Stage, Test } from './stage.ts';

/** Rich words that take minutes to read, beside a button: it answers, and the words stand as they were typed. */
async function endlessWords({ server, browser, errors }: Stage): Promise<void> {
  const make = new ElementMaker();
  const app = hiveApp();
  app.routines = [
    { id: 'q_say000000', name: 'Say', given: null, steps: [make.step('message', { words: 'It answers' })] },
  ];
  const name = `all_${T.hives}[1].${F.name}`;
  app.screens[0]!.root = make.box('down', [
    make.button('Press me', { do: 'routine', routine: 'q_say000000' }),
    make.make('rich', { words: `{${name}}` }),
  ]);
  app.screens[0]!.given = null;
  const words = `Begin\n\n${'a\n=\n'.repeat(9000)}`;
  await releaseApp(server.url, 'endless', { app, records: [{ table: T.hives, id: 'h1', cells: { [F.name]: words } }] });
  const page = await browser.newPage();
  watchConsole(page, errors);
  await page.goto(`${server.url}/a/endless/`);
  const p = new Person(page);
  await p.sees('Begin', '.k-app');
  for (let i = 0; i < 3; i++) {
    await p.press('Press me', 'button');
    await p.sees('It answers', '.k-app');
    await new Promise((resolve) => {
      setTimeout(resolve, 1000);
    });
  }
  // After its time nothing of them was read as headings.
  const heads = await page.$$eval('.k-rich h2, .k-rich h3', (all) => all.length);
  if (heads) throw new Error(`${heads} headings are shown; the words stand as they were typed.`);
  await p.sees('a = a =', '.k-rich');
}

export const tests: Test[] = [{ name: 'rich words that take minutes to read hold no page up', run: endlessWords }];
