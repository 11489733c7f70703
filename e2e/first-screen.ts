import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import { gzipSync } from 'node:zlib';
import type { Page } from 'puppeteer-core';
import type { App, Element } from '../core/app/schema.ts';
import { walkElements } from '../core/document/walk.ts';
import { stampText } from '../core/host/clock.ts';
import { makeDemo } from '../demo/heatherfield.ts';
import { watchConsole } from './browser.ts';
import type { Stage, Test } from './stage.ts';

export const KEY = 'b'.repeat(43);
/** What a first screen may load, in bytes with gzip, whatever number of kinds there is. */
const MOST = 151_000;

/** Releases the demo with its records, changed or as it is. */
export async function releaseDemo(url: string, name: string, change: (app: App) => void = () => {}): Promise<number> {
  const { app, records } = makeDemo();
  change(app);
  return releaseApp(url, name, { app, records });
}

/** Releases an app with records at an address. Gives how many they are. */
export async function releaseApp(
  url: string,
  name: string,
  { app, records }: { app: App; records: { table: string; id: string; cells: object }[] },
): Promise<number> {
  const put = (path: string, method: string, json: unknown): Promise<Response> =>
    fetch(`${url}/api/apps/${name}${path}`, {
      method,
      headers: { 'content-type': 'application/json', 'x-owner-key': KEY },
      body: JSON.stringify(json),
    });
  await put('', 'PUT', { app, icons: null });
  for (let i = 0; i < records.length; i += 500)
    await put('/changes', 'POST', {
      changes: records.slice(i, i + 500).map((r, k) => ({
        id: `b${i + k}`,
        stamp: stampText(Date.now(), (i + k) % 1000, 'bench'),
        table: r.table,
        record: r.id,
        do: 'set',
        cells: r.cells,
      })),
    });
  return records.length;
}

/** The scripts that a page and its worker have asked for until some moment, by file name. */
export async function loadedScripts(page: Page, until = Number.MAX_SAFE_INTEGER): Promise<string[]> {
  const names = `performance.getEntriesByType('resource')
    .filter((e) => performance.timeOrigin + e.startTime <= ${until}).map((e) => e.name)`;
  const lists = await Promise.all([page, ...page.workers()].map((p) => p.evaluate(names) as Promise<string[]>));
  const workers = page.workers().map((w) => w.url());
  const files = [...lists.flat(), ...workers].filter((n) => /\/assets\/[^/]*\.js$/.test(n));
  return [...new Set(files.map((n) => n.slice(n.lastIndexOf('/') + 1)))];
}

/** When the first screen could be seen: what is asked for later keeps nobody waiting. */
export const firstDrawn = (page: Page): Promise<number> =>
  page.evaluate(`performance.timeOrigin + performance.getEntriesByName('first drawn')[0].startTime`) as Promise<number>;

/** Bytes of scripts with gzip. The package that keeps records is left out: nothing that is drawn waits for it. */
export async function gzipBytes(files: readonly string[]): Promise<number> {
  const sizes = await Promise.all(
    files
      .filter((f) => !f.startsWith('storage-'))
      .map(async (f) => gzipSync(await readFile(join('dist/assets', f)), { level: 9 }).length),
  );
  return sizes.reduce((a, b) => a + b, 0);
}

async function firstScreen({ server, browser, errors }: Stage): Promise<void> {
  // An app that uses no divider.
  await releaseDemo(server.url, 'bees', (app) => {
    // The list is the first screen, without the welcome before it.
    delete app.starts;
    for (const screen of app.screens) {
      walkElements<Element>([screen.root], (e) => {
        if (e.kind === 'box') e.children = e.children.filter((c) => c.kind !== 'divider');
      });
    }
  });
  const page = await browser.newPage();
  watchConsole(page, errors);
  await page.setViewport({ width: 390, height: 844, isMobile: true });
  await page.goto(`${server.url}/a/bees/`);
  await page.waitForSelector('.k-row .k-text', { timeout: 60_000 });
  const files = await loadedScripts(page, await firstDrawn(page));
  const bytes = await gzipBytes(files);
  console.log(
    `      the first screen loads ${(bytes / 1000).toFixed(1)} kB of script with gzip, in ${files.length} files`,
  );
  if (bytes > MOST)
    throw new Error(`The first screen loads ${bytes} bytes of script, at most ${MOST} are wanted: ${files.join(', ')}`);
  // Kinds that are not on this screen are not fetched for it; those the app does not use never are.
  if (files.some((f) => /^kind\.elements\.(form|input|divider|chart)\.view|^view-drawing/.test(f)))
    throw new Error(`The first screen loaded views that it does not use: ${files.join(', ')}`);
  await new Promise((resolve) => {
    setTimeout(resolve, 2500);
  });
  const later = await loadedScripts(page);
  if (!later.some((f) => f.startsWith('kind.elements.form.definition')))
    throw new Error('The kinds of the other screens were not fetched afterwards.');
  if (later.some((f) => f.startsWith('kind.elements.divider')))
    throw new Error('A kind that the app does not use was fetched.');
}

export const tests: Test[] = [
  { name: 'the first screen of a released app is light, and loads only what it uses', run: firstScreen },
];
