import { mkdtemp, readdir, readFile, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { brotliCompressSync, gzipSync } from 'node:zlib';
import { makeDemo } from '../demo/heatherfield.ts';
import { stampText } from '../core/host/clock.ts';
import { startServer } from '../server/server.ts';
import { launch } from '../e2e/browser.ts';

const KEY = 'b'.repeat(43);

/** The first screen of the released demo: script on the wire, and time to the first record at a quarter of the CPU's speed. */
export async function firstScreenBench(): Promise<void> {
  const data = await mkdtemp(join(tmpdir(), 'kite-bench-'));
  const server = await startServer({ port: 0, dist: 'dist', data });
  const chrome = await launch();
  try {
    const { app, records } = makeDemo();
    await fetch(`${server.url}/api/apps/bees`, {
      method: 'PUT',
      headers: { 'content-type': 'application/json', 'x-owner-key': KEY },
      body: JSON.stringify({ app, icons: null }),
    });
    for (let i = 0; i < records.length; i += 500) {
      const changes = records.slice(i, i + 500).map((r, k) => ({
        id: `b${i + k}`,
        stamp: stampText(Date.now(), (i + k) % 1000, 'bench'),
        table: r.table,
        record: r.id,
        do: 'set',
        cells: r.cells,
      }));
      await fetch(`${server.url}/api/apps/bees/changes`, {
        method: 'POST',
        headers: { 'content-type': 'application/json' },
        body: JSON.stringify({ changes }),
      });
    }
    const page = await chrome.browser.newPage();
    await page.setViewport({ width: 390, height: 844, isMobile: true });
    const client = await page.createCDPSession();
    await client.send('Emulation.setCPUThrottlingRate', { rate: 4 });
    for (const [what, fresh] of [
      ['first visit (everything fetched)', true],
      ['second visit (kept on the device)', false],
    ] as const) {
      const started = performance.now();
      await page.goto(`${server.url}/a/bees/`, { waitUntil: 'domcontentloaded' });
      await page.waitForSelector('.k-row .k-text', { timeout: 60_000 });
      console.log(
        `  ${what}: first record drawn after ${Math.round(performance.now() - started)} ms at 4x CPU slowdown, ${records.length.toLocaleString('en-GB')} records in the app`,
      );
      if (fresh)
        await new Promise((r) => {
          setTimeout(r, 3000);
        });
    }
    await scriptSize();
  } finally {
    await chrome.close();
    await server.close();
    await rm(data, { recursive: true, force: true });
  }
}

/** Script that a released app loads, compressed: what the page names, and its worker. */
async function scriptSize(): Promise<void> {
  const manifest = JSON.parse(await readFile('dist/.vite/manifest.json', 'utf8')) as Record<
    string,
    { file: string; imports?: string[] }
  >;
  const files = new Set<string>();
  const walk = (key: string): void => {
    const chunk = manifest[key]!;
    files.add(chunk.file);
    chunk.imports?.forEach(walk);
  };
  walk('player.html');
  const scripts = await Promise.all([...files].map((f) => readFile(join('dist', f), 'utf8')));
  const worker = (await readdir('dist/assets')).find(
    (f) => scripts.some((s) => s.includes(f)) && /^worker-.*\.js$/.test(f),
  );
  if (worker) files.add(`assets/${worker}`);
  let gzip = 0;
  let brotli = 0;
  for (const f of files) {
    const content = await readFile(join('dist', f));
    gzip += gzipSync(content, { level: 9 }).length;
    brotli += brotliCompressSync(content).length;
  }
  console.log(
    `  script of a released app, worker included: ${(brotli / 1000).toFixed(0)} kB as sent (brotli), ${(gzip / 1000).toFixed(0)} kB with gzip; aim: 150 kB or less`,
  );
}
