import type { CDPSession } from 'puppeteer-core';
import { Person, until, watchConsole } from './browser.ts';
import { releaseApp } from './first-screen.ts';
import { KEY } from './people-may.ts';
import { PHONE } from './phone.ts';
import type { Test } from './stage.ts';
import { toDosApp } from './to-dos.ts';

const F = { name: 'f_name0000', mail: 'f_mail0000' };
const MAIL = 'ann@to-dos.example';

/** Gives a page a device that keeps passkeys, and knows whoever uses it. */
async function withAuthenticator(cdp: CDPSession): Promise<void> {
  await cdp.send('WebAuthn.enable');
  await cdp.send('WebAuthn.addVirtualAuthenticator', {
    options: {
      protocol: 'ctap2',
      transport: 'internal',
      hasResidentKey: true,
      hasUserVerification: true,
      isUserVerified: true,
      automaticPresenceSimulation: true,
    },
  });
}

const passkeys: Test = {
  name: 'somebody makes a passkey on her phone, signs in with it, and cannot once it is removed',
  async run(stage) {
    // Browsers know passkeys at addresses with a name alone.
    const url = stage.server.url.replace('127.0.0.1', 'localhost');
    const records = [{ table: 't_people000', id: 'ann', cells: { [F.name]: 'Ann Fennick', [F.mail]: MAIL } }];
    await releaseApp(url, 'to-dos', { app: toDosApp(), records });
    const invited = await fetch(`${url}/api/apps/to-dos/invitations`, {
      method: 'POST',
      headers: { 'content-type': 'application/json', 'x-owner-key': KEY },
      body: JSON.stringify({ mails: [MAIL] }),
    });
    const [{ token }] = ((await invited.json()) as { invited: [{ token: string }] }).invited;
    const page = await (await stage.browser.createBrowserContext()).newPage();
    await page.setViewport(PHONE);
    watchConsole(page, stage.errors, /ERR_\w+|Failed to fetch|status of 4(01|04|22)/);
    await withAuthenticator(await page.createCDPSession());
    const ann = new Person(page);
    await page.goto(`${url}/a/to-dos/#invited=${token}`);
    await ann.press('Come in', 'button');
    await ann.sees('Signed in as', '.k-app', 20_000);

    await ann.press('Sign out', 'button');
    await ann.sees('With a passkey this device signs you in');
    await ann.sees('Nowhere but here.');
    await ann.press('Make a passkey on this device', 'button');
    await ann.sees('Made on', '[aria-label=Passkeys]');
    // A second one on the same device is none.
    await ann.press('Make a passkey on this device', 'button');
    await ann.sees('This device has a passkey for you already.');
    await page.click('.k-who-list > .k-button');
    await ann.sees('Send me a code', 'body', 15_000);

    await ann.press('Use a passkey', 'button');
    await ann.sees(`Signed in as ${MAIL}`, '.k-app', 20_000);

    await ann.press('Sign out', 'button');
    await ann.sees('Nowhere but here.');
    await ann.press('Remove', 'button');
    await until('The passkey stays', async () => (await page.$('[aria-label=Passkeys] li')) === null);
    await page.click('.k-who-list > .k-button');
    await ann.sees('Send me a code', 'body', 15_000);
    await ann.press('Use a passkey', 'button');
    await ann.sees('This passkey does not fit', 'body');
  },
};

export const tests: Test[] = [passkeys];
