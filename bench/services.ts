import { build } from 'esbuild';
import { mkdtemp, rm } from 'node:fs/promises';
import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Page } from 'puppeteer-core';
import { launch, Person } from '../e2e/browser.ts';
import { releaseDemo } from '../e2e/first-screen.ts';
import { startServer } from '../server/server.ts';
import { startStandIns } from '../server/stand-ins/index.ts';

const DELAY_MS = 50;
/** Each finds other goods than the one before. */
const WORDS = [
  'smoker',
  'veil',
  'frame',
  'syrup',
  'roof',
  'jar',
  'suit',
  'brush',
  'super',
  'fondant',
  'label',
  'boots',
];

/** A list over 5,000 goods of a service, from its answer to the rows; and the tree of an answer of 3 MB. */
export async function servicesBench(): Promise<void> {
  const folder = await mkdtemp(join(tmpdir(), 'kite-bench-'));
  const standIns = await startStandIns(join(folder, 'stand-ins'));
  const slow = await delayed(standIns.url);
  const server = await startServer({
    port: 0,
    dist: 'dist',
    data: join(folder, 'data'),
    outside: [new URL(slow.url).host],
  });
  const chrome = await launch();
  try {
    await typedSearch(await chrome.browser.newPage(), server.url, slow);
    await bigTree(await chrome.browser.newPage(), server.url, slow);
  } finally {
    await chrome.close();
    await server.close();
    await slow.close();
    await standIns.close();
    await rm(folder, { recursive: true, force: true });
  }
}

interface Slow {
  url: string;
  /** When the answer to each path was sent, by the clock of this machine. */
  sent: Map<string, number>;
  close(): Promise<void>;
}

const now = (): number => performance.timeOrigin + performance.now();
const pause = (ms: number): Promise<void> =>
  new Promise((r) => {
    setTimeout(r, ms);
  });
const at = (list: number[], share: number): number => list.toSorted((a, b) => a - b)[Math.floor(list.length * share)]!;

/** The stand-ins as a service that takes a while; at /big it answers 3 MB of JSON. */
async function delayed(to: string): Promise<Slow> {
  const sent = new Map<string, number>();
  const goods = (await (await fetch(`${to}/goods?per_page=200`)).json()) as { items: object[] };
  const big = JSON.stringify({
    items: Array.from({ length: 11_000 }, (_, i) => ({ ...goods.items[i % goods.items.length], number: i })),
  });
  const server: Server = createServer((req, res) => {
    void (async () => {
      if (req.url === '/by-hand') {
        const script = await byHand();
        res.setHeader('content-type', 'text/html; charset=utf-8');
        res.end(`<div id="root"></div><script>${script.replaceAll('</script', '<\\/script')}</script>`);
        return;
      }
      const answer = req.url === '/big' ? big : await (await fetch(to + req.url!)).text();
      await pause(DELAY_MS);
      sent.set(new URL(req.url!, to).searchParams.get('search') ?? req.url!, now());
      res.setHeader('content-type', 'application/json');
      res.setHeader('access-control-allow-origin', '*');
      res.end(answer);
    })();
  });
  await new Promise<void>((done) => server.listen(0, '127.0.0.1', done));
  return {
    url: `http://127.0.0.1:${(server.address() as AddressInfo).port}`,
    sent,
    close: () => new Promise<void>((done) => server.close(() => done())),
  };
}

/** Tells when what is in a box was painted after it had changed: `window.painted` has the moments. */
const WATCH = (box: string): string => `(() => {
  window.painted = [];
  const moment = () => performance.timeOrigin + performance.now();
  new MutationObserver(() => requestAnimationFrame(() => {
    const after = new MessageChannel();
    after.port1.onmessage = () => window.painted.push(moment());
    after.port2.postMessage(0);
  })).observe(document.querySelector('${box}'), { childList: true, characterData: true, subtree: true });
})()`;

async function typedSearch(page: Page, server: string, slow: Slow): Promise<void> {
  await releaseDemo(server, 'bees', (app) => {
    app.services![0]!.test = slow.url;
    const catalogue = app.screens.find((s) => s.name === 'Catalogue')!;
    delete app.starts;
    app.tabs = [{ screen: catalogue.id, name: 'Catalogue', icon: 'list' }];
  });
  const ours = await after(page, `${server}/a/bees/`, '[aria-label="Search this list"]', '.k-list', slow);
  const plain = await page.browser().newPage();
  const theirs = await after(plain, `${slow.url}/by-hand`, 'input', '#list', slow);
  await plain.close();
  console.log(
    `  a list over the 5,000 goods of a service, from its answer to the rows: ${at(ours, 0.95).toFixed(0)} ms (p95; median ${at(ours, 0.5).toFixed(0)}), by hand with React and fetch ${at(theirs, 0.95).toFixed(0)} ms (median ${at(theirs, 0.5).toFixed(0)}); aim: 40 ms`,
  );
  await page.close();
}

/** Types words one after the other, and takes the milliseconds from each answer of the service until its rows are painted. */
async function after(page: Page, url: string, input: string, list: string, slow: Slow): Promise<number[]> {
  await page.setViewport({ width: 390, height: 844, isMobile: true });
  await page.goto(url);
  await page.waitForSelector(`${list} *`, { timeout: 60_000 });
  await pause(6000);
  await page.evaluate(WATCH(list));
  const took: number[] = [];
  for (const word of WORDS) {
    slow.sent.delete(word);
    await page.$eval(input, (e) => (e as HTMLInputElement).select());
    await page.keyboard.type(word);
    while (!slow.sent.has(word)) await pause(10);
    await pause(350);
    const painted = (await page.evaluate('window.painted.splice(0)')) as number[];
    const first = painted.find((p) => p > slow.sent.get(word)!);
    if (first) took.push(first - slow.sent.get(word)!);
  }
  if (took.length < WORDS.length / 2) throw new Error(`Only ${took.length} searches were seen.`);
  return took;
}

/** The same search as somebody writes it for this service alone. */
async function byHand(): Promise<string> {
  const source = `
    import { useEffect, useState } from 'react';
    import { createRoot } from 'react-dom/client';
    function Search() {
      const [words, setWords] = useState('');
      const [rows, setRows] = useState([]);
      useEffect(() => {
        const end = new AbortController();
        const wait = setTimeout(() => {
          fetch('/goods?search=' + encodeURIComponent(words), { signal: end.signal })
            .then((r) => r.json()).then((r) => setRows(r.items), () => {});
        }, 250);
        return () => { clearTimeout(wait); end.abort(); };
      }, [words]);
      return (<><input value={words} onChange={(e) => setWords(e.target.value)} />
        <div id="list">{rows.map((r) => <div key={r.id}><p>{r.name}</p><p>{r.category}</p><p>{r.price}</p></div>)}</div></>);
    }
    createRoot(document.getElementById('root')).render(<Search />);`;
  const made = await build({
    stdin: { contents: source, loader: 'tsx', resolveDir: import.meta.dirname },
    bundle: true,
    write: false,
    minify: true,
    jsx: 'automatic',
    define: { 'process.env.NODE_ENV': '"production"' },
  });
  return made.outputFiles[0]!.text;
}

/** From the answer of a service to its tree, and scrolling through that, in the studio. */
async function bigTree(page: Page, server: string, slow: Slow): Promise<void> {
  await page.setViewport({ width: 1280, height: 800 });
  await page.goto(server);
  const p = new Person(page);
  await p.press('Begin blank', 'button');
  await p.sees('Tables', 'body', 15_000);
  await p.pressText('Services', 'header');
  await p.sees('Ask other people', 'main');
  await (await page.waitForSelector('main textarea'))!.type(`${slow.url}/big`);
  await p.press('Add it', 'button');
  const took: number[] = [];
  for (let i = 0; i < 6; i++) {
    await p.find('Try it', 'button');
    await page.evaluate(WATCH('[aria-label="Try it"]'));
    slow.sent.delete('/big');
    await p.press('Try it', 'button');
    while (!slow.sent.has('/big')) await pause(10);
    await pause(1500);
    const painted = (await page.evaluate('window.painted.splice(0)')) as number[];
    const shown = painted.find((m) => m > slow.sent.get('/big')!);
    // The first loads what the workspace needs for it.
    if (shown && i > 0) took.push(shown - slow.sent.get('/big')!);
  }
  const plain = await page.browser().newPage();
  await plain.goto(`${slow.url}/by-hand`);
  const reading = (await plain.evaluate(`(async () => {
    const all = [];
    for (let i = 0; i < 5; i++) {
      const began = performance.now();
      JSON.parse(await (await fetch('/big')).text());
      all.push(performance.now() - began - ${DELAY_MS});
    }
    return all;
  })()`)) as number[];
  await plain.close();
  await page.bringToFront();
  await page.$eval('[role=treeitem] button[aria-label$=" items"]', (b) => (b as HTMLElement).click());
  await pause(600);
  const [frames, longest] = (await page.evaluate(`new Promise((done) => {
    const box = document.querySelector('[role=tree]');
    const began = performance.now();
    let n = 0, last = began, longest = 0;
    const step = () => {
      const now = performance.now();
      longest = Math.max(longest, now - last);
      last = now;
      n++;
      box.scrollTop += 40;
      if (now - began < 3000) requestAnimationFrame(step);
      else done([n / 3, longest]);
    };
    requestAnimationFrame(step);
  })`)) as [number, number];
  console.log(
    `  an answer of 3 MB, from the service to its tree: ${at(took, 0.5).toFixed(0)} ms (longest ${Math.max(...took).toFixed(0)}), ${(at(took, 0.5) / at(reading, 0.5)).toFixed(1)} times as long as a page needs to fetch and parse it (${at(reading, 0.5).toFixed(0)} ms); aim: 200 ms`,
  );
  console.log(
    `  scrolling through its tree: ${frames.toFixed(0)} frames a second, the longest ${longest.toFixed(0)} ms; aim: 60`,
  );
  await page.close();
}
