import { Person, watchConsole } from './browser.ts';
import type { Stage } from './stage.ts';

export const PHONE = { width: 390, height: 844, isMobile: true, hasTouch: true, deviceScaleFactor: 1 };

/** Releases the app that is open in the studio for the first time, and gives its link. */
export async function release(maker: Person): Promise<string> {
  await maker.pressText('Release', 'header');
  await maker.sees('free', 'main');
  await maker.press('Release', 'button');
  await maker.sees('Scan it, or send the link', 'main', 20_000);
  return maker.page.$eval('[data-testid=release-link]', (e) => e.textContent!);
}

/** A phone of its own on which a released app has been opened and shows these words. */
export async function phoneAt(stage: Stage, link: string, shows: string): Promise<Person> {
  const context = await stage.browser.createBrowserContext();
  const page = await context.newPage();
  await page.setViewport(PHONE);
  watchConsole(
    page,
    stage.errors,
    /ERR_INTERNET_DISCONNECTED|ERR_EMPTY_RESPONSE|ERR_CONNECTION_\w+|ERR_INCOMPLETE|Failed to fetch/,
  );
  await page.goto(link);
  const person = new Person(page);
  await person.sees(shows, '.k-app', 15_000);
  return person;
}

/** Opens a tab and presses the last button of its screen, once it is the screen that shows. */
export async function pressLastOn(person: Person, tab: string): Promise<void> {
  await person.pressText(tab, '.k-tabs');
  await person.page.waitForFunction(
    (name) => {
      const current = document.querySelector<HTMLElement>('.k-tabs [aria-current=page]');
      const button = [...document.querySelectorAll<HTMLElement>('.k-app .k-button')].at(-1);
      if (!current?.innerText.includes(name) || !button) return false;
      button.click();
      return true;
    },
    {},
    tab,
  );
}

/** Waits until a phone has all that it needs to open the app without a network. */
export async function readyForOffline(person: Person): Promise<void> {
  await person.page.evaluate(() => navigator.serviceWorker.ready.then(() => undefined));
  // What was fetched last is being kept.
  await new Promise((done) => setTimeout(done, 1200));
}
