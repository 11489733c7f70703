/** Runs the end-to-end tests two at a time, each with a server and a browser of its own. */
import '../kinds/given/all.ts';
import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { startServer } from '../server/server.ts';
import { launch } from './browser.ts';
import type { Stage, Test } from './stage.ts';

const only = process.argv[2];
const modules = await Promise.all(
  [
    // The longest come first, so that the end is not one of them alone.
    './no-ids.ts',
    './people.ts',
    './whole-path.ts',
    './studio.ts',
    './data.ts',
    './tables.ts',
    './fields.ts',
    './formulas.ts',
    './mirrored.ts',
    './forms.ts',
    './kept-files.ts',
    './released.ts',
    './stores.ts',
    './person.ts',
    './first-screen.ts',
    './kinds.ts',
    './screens.ts',
    './lists.ts',
    './arrange.ts',
    './menus.ts',
    './logic.ts',
    './out.ts',
    './scenes.ts',
    './built.ts',
    './calculator.ts',
    './shopping.ts',
    './wide.ts',
    './bad-input.ts',
    './hostile.ts',
    './elsewhere.ts',
    './plain-http.ts',
    './accessibility.ts',
    './newcomer.ts',
    './fetched.ts',
    './services.ts',
    './services-odd.ts',
    './services-writes.ts',
    './sign-in.ts',
    './people-may.ts',
    './approval.ts',
    './to-dos.ts',
    './passkeys.ts',
    './persona.ts',
    './shared-phone.ts',
    './board.ts',
    './asked.ts',
    './closed.ts',
    './hooks.ts',
    './by-itself.ts',
    './help-desk.ts',
    './rehearse.ts',
    './rehearse-scenes.ts',
  ].map((m) => import(m) as Promise<{ tests: Test[] }>),
);
const tests = modules.flatMap((m) => m.tests).filter((t) => !only || t.name.includes(only));
/** Runs a test. Gives whether it held. */
async function run(test: Test): Promise<boolean> {
  const folder = await mkdtemp(join(tmpdir(), 'kite-e2e-'));
  const server = await startServer({
    standIns: 0,
    mail: 0,
    port: 0,
    dist: 'dist',
    data: join(folder, 'data'),
    shared: ['*'],
    // Services of tests are on this machine.
    outside: ['127.0.0.1'],
  });
  const chrome = await launch();
  const stage: Stage = { server, browser: chrome.browser, folder, errors: [] };
  const started = Date.now();
  try {
    await test.run(stage);
    if (stage.errors.length) throw new Error(`Errors in the console:\n${stage.errors.join('\n')}`);
    console.log(`  ok  ${test.name} (${((Date.now() - started) / 1000).toFixed(1)} s)`);
    return true;
  } catch (e) {
    console.error(`FAIL  ${test.name}\n${(e as Error).stack}\n${stage.errors.join('\n')}`);
    const page = (await chrome.browser.pages().catch(() => [])).at(-1);
    await page?.screenshot({ path: join(tmpdir(), 'kite-e2e-failed.png') as `${string}.png` }).catch(() => undefined);
    return false;
  } finally {
    await chrome.close();
    await server.close();
    await rm(folder, { recursive: true, force: true, maxRetries: 3 });
  }
}

// Two at a time: each mostly waits for its own browser. Drags and timers may suffer from that, so what failed is run
// once more, alone: then it is at fault.
const queue = [...tests];
const suspects: Test[] = [];
const lane = async (): Promise<void> => {
  for (let next = queue.shift(); next; next = queue.shift()) if (!(await run(next))) suspects.push(next);
};
await Promise.all([lane(), lane()]);
let failed = 0;
for (const test of suspects) {
  console.log(`Once more, alone: ${test.name}`);
  if (!(await run(test))) failed++;
}
console.log(`e2e: ${tests.length - failed} passed, ${failed} failed`);
process.exit(failed ? 1 : 0);
