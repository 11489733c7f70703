import './kinds/given/all.ts';
import { mkdtemp } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { launch } from './e2e/browser.ts';
import { startServer } from './server/server.ts';
import { tests } from './e2e/rehearse-scenes.ts';
const folder = await mkdtemp(join(tmpdir(), 'kite-look-'));
const server = await startServer({ port: 0, standIns: 4191, mail: 4126, dist: 'dist', data: join(folder, 'data'), shared: ['*'] });
const chrome = await launch();
const errors: string[] = [];
try {
  await tests[0]!.run({ server, browser: chrome.browser, folder, errors });
} catch (e) { console.log(String((e as Error).stack).slice(-600)); } finally { 
  const pages = await chrome.browser.pages();
  await pages.at(-1)!.screenshot({ path: '/tmp/l1.png' });
  console.log(errors.slice(0, 5)); await chrome.close(); await server.close(); process.exit(0); }
