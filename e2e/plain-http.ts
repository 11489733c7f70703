import { join } from 'node:path';
import { startServer } from '../server/server.ts';
import { launch, Person, watchConsole } from './browser.ts';
import { releaseDemo } from './first-screen.ts';
import type { Stage, Test } from './stage.ts';

const NAME = 'phone.test';

/** By plain http browsers give pages less: no service worker, no locks, no random UUIDs. A phone is used all the same. */
async function plain({ folder, errors }: Stage): Promise<void> {
  const server = await startServer({ port: 0, dist: 'dist', data: join(folder, 'plain'), names: [NAME] });
  const chrome = await launch([`--host-resolver-rules=MAP ${NAME} 127.0.0.1`]);
  try {
    await releaseDemo(server.url, 'bees', (app) => {
      delete app.starts;
    });
    const page = await chrome.browser.newPage();
    watchConsole(page, errors, /Cross-Origin-Opener-Policy/);
    await page.setViewport({ width: 390, height: 844, isMobile: true });
    const p = new Person(page);
    await page.goto(`http://${NAME}:${new URL(server.url).port}/a/bees/`);
    await p.sees('Campion 4', '.k-app');
    if (await page.evaluate(() => isSecureContext)) throw new Error('The page has all that a secure one has.');
    const changes = (since: number): Promise<Response> => fetch(`${server.url}/api/apps/bees/changes?since=${since}`);
    const { at } = (await (await changes(0)).json()) as { at: number };
    await p.press('Add', 'button');
    await p.fill('Name', 'Plain 1');
    await p.press('Save', 'button');
    await p.sees('Saved', '.k-app');
    await p.sees('Campion 4', '.k-app');
    for (let tries = 0; ; tries++) {
      if ((await (await changes(at)).text()).includes('Plain 1')) break;
      if (tries > 50) throw new Error('What was written did not come to the host.');
      await new Promise((resolve) => {
        setTimeout(resolve, 100);
      });
    }
    await page.reload();
    await p.sees('Campion 4', '.k-app');
  } finally {
    await chrome.close();
    await server.close();
  }
}

export const tests: Test[] = [{ name: 'a phone by plain http opens, writes and opens again', run: plain }];
