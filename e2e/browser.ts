import { existsSync } from 'node:fs';
import { mkdtemp, readFile, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import puppeteer, {
  type Browser,
  type BrowserContext,
  type ElementHandle,
  type Page,
  type Viewport,
} from 'puppeteer-core';
import type { Stage } from './stage.ts';

const PATHS = [process.env['CHROME_PATH'], '/usr/bin/chromium', '/usr/bin/chromium-browser', '/usr/bin/google-chrome'];

/** A headless Chromium with a profile of its own, which is thrown away at the end. */
export async function launch(more: readonly string[] = []): Promise<{ browser: Browser; close(): Promise<void> }> {
  const executablePath = PATHS.find((p) => p && existsSync(p));
  if (!executablePath) throw new Error('No Chromium found. Set CHROME_PATH, or install Debian’s chromium.');
  const profile = await mkdtemp(join(tmpdir(), 'kite-chrome-'));
  const browser = await puppeteer.launch({
    executablePath,
    userDataDir: profile,
    headless: true,
    args: [
      '--headless',
      '--no-sandbox',
      '--disable-gpu',
      '--disable-quic',
      '--no-first-run',
      '--disable-background-networking',
      '--disable-component-update',
      '--disable-sync',
      '--lang=en-GB',
      ...more,
    ],
  });
  return {
    browser,
    close: async () => {
      await browser.close();
      await rm(profile, { recursive: true, force: true, maxRetries: 3 });
    },
  };
}

/** Collects what must not happen: errors in the console and uncaught exceptions. */
export function watchConsole(page: Page, errors: string[], ignore: RegExp = /^$/): void {
  page.on('console', (m) => {
    if (m.type() === 'error' && !ignore.test(m.text())) errors.push(`${m.text()} (${m.location().url ?? ''})`);
  });
  page.on('pageerror', (e) => errors.push(String(e)));
}

/** How long a thing may take to appear, in milliseconds: two tests share a slow machine. */
const PATIENCE = 20_000;

/** The words of a page are read so often, in milliseconds: with every frame, the reading would be most of its work. */
const POLLING = 50;

/** Drives a page the way a person does: by what is written on it. */
export class Person {
  constructor(readonly page: Page) {}

  /** The element with this accessible name, by role where one is given. */
  async find(name: string, role?: string, timeout = PATIENCE): Promise<ElementHandle> {
    const selector = role ? `::-p-aria([name="${name}"][role="${role}"])` : `::-p-aria(${name})`;
    const end = Date.now() + timeout;
    for (let left = timeout; left > 0; left = end - Date.now()) {
      const found = await this.page.waitForSelector(selector, { timeout: left }).catch(() => null);
      if (found) return found as ElementHandle;
      // It may have been drawn anew just when it was found: then it is looked for again.
      await new Promise((r) => setTimeout(r, POLLING));
    }
    throw new Error(`“${name}”${role ? ` (${role})` : ''} is not on the page.`);
  }
  async press(name: string, role?: string): Promise<void> {
    await this.pressed(() => this.find(name, role));
  }

  /** Presses what is found; React may draw it anew between finding and pressing, and then it is found again. */
  private async pressed(find: () => Promise<ElementHandle>, count = 1): Promise<void> {
    for (let attempt = 0; ; attempt++) {
      try {
        const e = await find();
        await e.scrollIntoView();
        await e.click({ count });
        return;
      } catch (error) {
        if (attempt > 2 || !/detached|not clickable/.test((error as Error).message)) throw error;
      }
    }
  }
  /** Presses the first visible element whose own text is this. */
  async pressText(text: string, within = 'body'): Promise<void> {
    await this.pressed(
      async () => (await this.page.waitForSelector(`${within} ::-p-text(${text})`, { timeout: PATIENCE }))!,
    );
  }
  async fill(name: string, text: string): Promise<void> {
    await this.pressed(() => this.find(name), 3);
    await this.page.keyboard.press('Backspace');
    await this.page.keyboard.type(text);
  }
  async sees(text: string, within = 'body', timeout = PATIENCE): Promise<void> {
    await this.page
      .waitForFunction(
        (t, w) =>
          [...document.querySelectorAll(w)].some((e) => (e as HTMLElement).innerText.replace(/\s+/g, ' ').includes(t)),
        { timeout, polling: POLLING },
        text,
        within,
      )
      .catch(async () => {
        const there = await this.page
          .$eval(within, (e) => (e as HTMLElement).innerText.slice(0, 1500))
          .catch(() => '(nothing)');
        throw new Error(`“${text}” is not seen in ${within}. There is:\n${there}`);
      });
  }
  async seesNot(text: string, within = 'body'): Promise<void> {
    await this.page.waitForFunction(
      (t, w) => !(document.querySelector(w) as HTMLElement | null)?.innerText.includes(t),
      { timeout: PATIENCE, polling: POLLING },
      text,
      within,
    );
  }
}

/** A new page of the studio in a browser, or in a context with a storage of its own, watched for errors. */
export async function openStudio(
  stage: Stage,
  viewport: Viewport = { width: 1280, height: 800 },
  where: Browser | BrowserContext = stage.browser,
): Promise<Person> {
  const page = await where.newPage();
  await page.setViewport(viewport);
  watchConsole(page, stage.errors);
  await page.goto(stage.server.url);
  return new Person(page);
}

/** Saves a file of the record on the screen as a person does, and reads what was saved. */
export async function savedFile(page: Page, folder: string, name: string): Promise<Buffer> {
  const session = await page.createCDPSession();
  await session.send('Page.setDownloadBehavior', { behavior: 'allow', downloadPath: folder });
  await (await page.waitForSelector(`.k-app a[download="${name}"]`))!.click();
  for (let i = 0; i < 50; i++) {
    await new Promise((resolve) => {
      setTimeout(resolve, 100);
    });
    const saved = await readFile(join(folder, name)).catch(() => null);
    if (saved) return saved;
  }
  throw new Error(`${name} was not saved.`);
}

/** Waits until something holds, for 20 seconds at most. */
export async function until(what: string, test: () => Promise<boolean>, patience = PATIENCE): Promise<void> {
  const end = Date.now() + patience;
  while (!(await test())) {
    if (Date.now() > end) throw new Error(what);
    await new Promise((r) => setTimeout(r, 60));
  }
}
