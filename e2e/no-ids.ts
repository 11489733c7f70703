import type { Page } from 'puppeteer-core';
import { openStudio, type Person } from './browser.ts';
import type { Stage, Test } from './stage.ts';

/** Ids of the document, and formulas that are made of nothing else: nobody may ever read one. */
export const INSIDE =
  /(?<![\w/.-])(?:(?:all|this)_)?[a-z]_[a-z0-9]{6,24}(?:_back)?(?!\w)|\bperson\(\)|\bundefined\b|\[object |\bNaN\b/;

/** Everything of a page that people can read or hear: its words, names and hints. */
async function readable(page: Page): Promise<string[]> {
  return page.evaluate(() => {
    const found = (document.body as HTMLElement).innerText.split('\n');
    for (const e of document.querySelectorAll('[aria-label], [title], [placeholder], input, textarea')) {
      if (e.closest('[hidden]')) continue;
      for (const name of ['aria-label', 'title', 'placeholder']) found.push(e.getAttribute(name) ?? '');
      if (e instanceof HTMLInputElement || e instanceof HTMLTextAreaElement) found.push(e.value);
    }
    return [...new Set(found.map((t) => t.trim()).filter(Boolean))];
  });
}

/** Looks at what is shown now. */
export async function look(p: Person, where: string, seen: Map<string, string>): Promise<void> {
  for (const text of await readable(p.page)) if (!seen.has(text)) seen.set(text, where);
}

const addresses = (page: Page, within: string): Promise<string[]> =>
  // Not by $$eval, which fetches a handle of every link: of hundreds of them that takes most of this test's time.
  page.evaluate(
    (selector) => [...new Set([...document.querySelectorAll<HTMLAnchorElement>(selector)].map((a) => a.pathname))],
    `:is(${within}) a[href]`,
  );
async function go(p: Person, path: string): Promise<void> {
  await p.page.evaluate((to) => {
    history.pushState({}, '', to);
    dispatchEvent(new PopStateEvent('popstate'));
  }, path);
  await p.page.waitForFunction(() => document.querySelector('main') !== null);
  await new Promise((r) => setTimeout(r, 30));
}

/** Opens each of the chips and menus that are shown, and closes it again. */
async function openChips(p: Person, where: string, seen: Map<string, string>, most: number): Promise<void> {
  for (let i = 0; i < most; i++) {
    const found = await p.page.evaluateHandle(
      (at) => document.querySelectorAll<HTMLElement>('main button[aria-haspopup]')[at] ?? null,
      i,
    );
    const chip = found.asElement();
    if (!chip) break;
    if (!(await chip.isVisible())) continue;
    // By the keyboard: a press waits for two frames and for the place to stand still, six times for each desk.
    await chip.focus();
    await p.page.keyboard.press('Enter');
    await new Promise((r) => setTimeout(r, 40));
    await look(p, `${where}, chip ${i + 1}`, seen);
    await p.page.keyboard.press('Escape');
    await new Promise((r) => setTimeout(r, 20));
  }
}

/** So many desks of each workspace are looked at: all of the demo's tables and routines, its screens with some elements. */
const MOST = 70;

/** No id of the inside is shown anywhere in the studio with the demo open: every text of every desk, and its menus. */
async function noIds(stage: Stage): Promise<void> {
  const p = await openStudio(stage);
  const { page } = p;
  await p.press('Heatherfield Bees', 'button');
  await p.sees('days', '.k-app', 20_000);
  const home = /^\/app\/[^/]+/.exec(new URL(page.url()).pathname)![0];
  const seen = new Map<string, string>();
  for (const workspace of ['data', 'screens', 'logic', 'release']) {
    await go(p, `${home}/${workspace}`);
    // What draws a workspace is fetched with its first view, and its index leads to all of it; a release has none.
    if (workspace !== 'release') await page.waitForSelector(`a[href*="${home}/${workspace}/"]`, { timeout: 15_000 });
    await look(p, workspace, seen);
    const done = new Set<string>();
    const todo = await addresses(page, 'nav[aria-label], main');
    for (let next = todo.shift(); next !== undefined && done.size < MOST; next = todo.shift()) {
      if (done.has(next) || !next.startsWith(`${home}/${workspace}/`)) continue;
      done.add(next);
      await go(p, next);
      await look(p, next, seen);
      if (done.size % 12 === 0) await openChips(p, next, seen, 6);
      // Of the elements of each screen some; their kinds come again on other screens.
      const more = (await addresses(page, 'nav[aria-label]')).filter((a) => !done.has(a) && !todo.includes(a));
      todo.push(...more.filter((a) => !a.includes('/e_')));
      if (!next.includes('/e_'))
        todo.unshift(
          ...more
            .filter((a) => a.includes('/e_'))
            .filter((_, i) => i % 6 === 1)
            .slice(0, 2),
        );
    }
  }
  if (process.env['TEXTS']) for (const [text, where] of seen) console.log(`${text}\t${where.replace(home, '')}`);
  const inside = [...seen].filter(([text, where]) => INSIDE.test(text) && !/formula/i.test(where));
  if (inside.length)
    throw new Error(
      `Ids of the inside are shown:\n${inside.map(([t, w]) => `${t.slice(0, 120)}   (${w})`).join('\n')}`,
    );
  if (seen.size < 800) throw new Error(`Only ${seen.size} texts were looked at.`);
}

export const tests: Test[] = [{ name: 'no id of the inside is shown in any desk or menu', run: noIds }];
