import { mkdtemp, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Page } from 'puppeteer-core';
import { writeBundle } from '../core/formats/bundle.ts';
import { addScreensFor } from '../core/app/screens-for.ts';
import { Records } from '../core/records/store.ts';
import { launch, Person } from '../e2e/browser.ts';
import { startServer } from '../server/server.ts';
import { fill, stockApp } from './records.ts';

/** The Data workspace with many records: how long it opens, and whether scrolling ever blocks the page. */
export async function gridBench(): Promise<void> {
  const data = await mkdtemp(join(tmpdir(), 'kite-bench-'));
  const server = await startServer({ port: 0, dist: 'dist', data: join(data, 'data') });
  const chrome = await launch();
  try {
    for (const n of [1000, 10_000, 100_000]) {
      const page = await chrome.browser.newPage();
      await page.setViewport({ width: 1280, height: 800 });
      const file = join(data, `stock-${n}.kite.json`);
      await writeFile(file, bundleOf(n));
      const p = new Person(page);
      await page.goto(server.url);
      await p.sees('What should the phone do');
      const kept = performance.now();
      const [chooser] = await Promise.all([page.waitForFileChooser(), p.press('Choose files', 'button')]);
      await chooser.accept([file]);
      await page.waitForFunction(() => location.pathname.includes('/app/'), { timeout: 120_000 });
      await p.sees('Items', 'header, nav, main', 120_000);
      const took = performance.now() - kept;
      const url = page.url().replace(/\/app\/([^/]+).*/, '/app/$1/data/t_moves000');
      await page.goto(url);
      await rowsAreThere(page);
      const opened = performance.now();
      await page.reload();
      await rowsAreThere(page);
      const ms = performance.now() - opened;
      const tasks = await scroll(page);
      console.log(
        `  ${n.toLocaleString('en-GB')} records: kept in ${Math.round(took)} ms, opened to the first rows in ${Math.round(ms)} ms (aim 1,500); scrolling through all of them: longest task ${Math.round(Math.max(0, ...tasks))} ms, ${tasks.length} over 50 ms (aim none)`,
      );
      await page.close();
    }
  } finally {
    await chrome.close();
    await server.close();
    await rm(data, { recursive: true, force: true });
  }
}

export function bundleOf(n: number): string {
  const app = stockApp();
  app.name = `Stock ${n}`;
  app.id = `a_bench${String(n).padStart(6, '0')}`;
  addScreensFor(app, 't_items000');
  const records = new Records(app);
  fill(records, n);
  return writeBundle({
    app,
    records: app.tables.flatMap((t) => records.rows(t.id).map((r) => ({ table: t.id, id: r.id, cells: r.cells }))),
    ownerKey: null,
    address: null,
    files: {},
  });
}

const rowsAreThere = (page: Page): Promise<unknown> =>
  page.waitForFunction(() => document.querySelector('#cell-3-1')?.textContent?.trim(), { timeout: 120_000 });

/** Scrolls from the first row to the last, in steps as a wheel makes them and in leaps; gives the tasks over 50 ms. */
async function scroll(page: Page): Promise<number[]> {
  // What the app still does after its first rows is not scrolling.
  await new Promise((r) => {
    setTimeout(r, 2500);
  });
  return page.evaluate(`(async () => {
    const tasks = [];
    const watch = new PerformanceObserver((list) => { for (const e of list.getEntries()) tasks.push(e.duration); });
    watch.observe({ entryTypes: ['longtask'] });
    const grid = document.querySelector('[role=grid]');
    const height = grid.scrollHeight;
    const frame = () => new Promise((r) => requestAnimationFrame(r));
    for (let i = 0; i < 200; i++) { grid.scrollBy(0, 120); await frame(); }
    for (let i = 1; i <= 60; i++) { grid.scrollTo(0, (height * i) / 60); await frame(); await frame(); }
    await new Promise((r) => setTimeout(r, 300));
    watch.disconnect();
    return tasks;
  })()`) as Promise<number[]>;
}
