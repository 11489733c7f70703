import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { startServer } from '../server/server.ts';
import { launch } from '../e2e/browser.ts';
import { firstDrawn, gzipBytes, loadedScripts, releaseDemo } from '../e2e/first-screen.ts';

/** The first screen of the released demo: script on the wire, and time to the first record at a quarter of the CPU's speed. */
export async function firstScreenBench(): Promise<void> {
  const data = await mkdtemp(join(tmpdir(), 'kite-bench-'));
  const server = await startServer({ port: 0, dist: 'dist', data });
  const chrome = await launch();
  try {
    // The list is the first screen, without the welcome before it.
    const count = await releaseDemo(server.url, 'bees', (app) => delete app.starts);
    const page = await chrome.browser.newPage();
    await page.setViewport({ width: 390, height: 844, isMobile: true });
    const client = await page.createCDPSession();
    await client.send('Emulation.setCPUThrottlingRate', { rate: 4 });
    // A slow mobile network: 1.6 Mbit a second with 150 ms there and back.
    const slow = { offline: false, latency: 150, downloadThroughput: 200_000, uploadThroughput: 90_000 };
    await client.send('Network.enable');
    for (const [what, fresh] of [
      ['first visit (everything fetched)', true],
      ['second visit (kept on the device)', false],
    ] as const) {
      await client.send('Network.emulateNetworkConditions', slow);
      const started = performance.now();
      await page.goto(`${server.url}/a/bees/`, { waitUntil: 'domcontentloaded' });
      await page.waitForSelector('.k-row .k-text', { timeout: 60_000 });
      console.log(
        `  ${what}: first record drawn after ${Math.round(performance.now() - started)} ms at 4x CPU slowdown over 1.6 Mbit/s with 150 ms, ${count.toLocaleString('en-GB')} records in the app`,
      );
      if (fresh) {
        const files = await loadedScripts(page, await firstDrawn(page));
        const kB = (n: number): string => `${(n / 1000).toFixed(0)} kB`;
        console.log(
          `  script loaded until then, worker included: ${kB(await gzipBytes(files))} with gzip in ${files.length} files, without the package that keeps records; aim: 150 kB or less`,
        );
        await new Promise((r) => {
          setTimeout(r, 3000);
        });
      }
    }
  } finally {
    await chrome.close();
    await server.close();
    await rm(data, { recursive: true, force: true });
  }
}
