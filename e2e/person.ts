import { openStudio } from './browser.ts';
import { phoneAt, release } from './phone.ts';
import { sheetFiles } from './sheets.ts';
import { choose, dropFiles } from './whole-path.ts';
import type { Test } from './stage.ts';

const SCREENS = 'nav[aria-label=Screens]';

const whoItIs: Test = {
  name: 'a screen that depends on the person asks who it is; a half-filled form asks before anybody leaves it',
  async run(stage) {
    const p = await openStudio(stage);
    await p.sees('From a spreadsheet');
    await dropFiles(
      p.page,
      await sheetFiles(stage.folder, {
        'Kasser.csv': [
          'Kasse;Hylde;Ejer',
          'Blå;Øst;Søren Ålborg',
          'Grøn;Vest;Ida',
          'Hvid;Vest;',
          'Rød;Øst;Søren Ålborg',
        ],
        // No word of it says in English that it is of people.
        'Folk.csv': ['Navn;Telefon', 'Søren Ålborg;+45 12 34 56 78', 'Ida;', 'Åse;'],
      }),
    );
    await p.press('Make the app', 'button');
    await p.sees('Søren Ålborg', '.k-app', 15_000);
    await p.pressText('Kasser', SCREENS);
    await p.pressText('List of Kasser', SCREENS);
    await p.press('any: add a condition', 'button');
    await choose(p, 'Condition 1', 'Folk');
    await choose(p, 'Compared with 1', 'the person using the app');
    await p.sees('0 of 4 records', 'main');

    const phone = await phoneAt(stage, await release(p), 'Folk');
    const { page } = phone;
    await phone.pressText('Kasser', '.k-tabs');
    // Nobody is known yet: what belongs to nobody is not theirs.
    await phone.press('Say who you are, to see what is yours', 'button');
    await phone.fill('Search by name', 'ålb');
    await phone.seesNot('Ida', '.k-who-names');
    await phone.pressText('Søren Ålborg', '.k-who-names');
    await phone.sees('Shown for Søren Ålborg', '.k-app');
    for (const box of ['Blå', 'Rød']) await phone.sees(box, '.k-app main');
    for (const box of ['Grøn', 'Hvid']) await phone.seesNot(box, '.k-app main');
    await page.reload();
    await phone.sees('Shown for Søren Ålborg', '.k-app', 15_000);
    await phone.press('Not you?', 'button');
    await phone.pressText('Ida', '.k-who-names');
    await phone.sees('Grøn', '.k-app main');
    await phone.seesNot('Blå', '.k-app main');

    // The device's own back asks, and leaves what was typed when somebody stays; a reload has it again.
    await phone.pressText('Add', '.k-app main');
    await phone.fill('Kasse', 'Halv');
    const typed = (): Promise<string> => page.$eval('.k-form input', (e) => (e as HTMLInputElement).value);
    await page.evaluate(() => history.back());
    await phone.press('Stay here', 'button');
    if ((await typed()) !== 'Halv') throw new Error(`The form has “${await typed()}” after staying.`);
    await page.reload();
    await phone.sees('What you had typed is back', '.k-app', 15_000);
    if ((await typed()) !== 'Halv') throw new Error(`The form has “${await typed()}” after a reload.`);
    await page.evaluate(() => history.back());
    await phone.press('Throw it away', 'button');
    await phone.sees('Grøn', '.k-app main');

    // A notice for Ida reaches her phone. Whoever says on another that they are Ida hears nothing of before, and she sees
    // that there is another.
    const tell = async (id: string, subject: string): Promise<void> => {
      const answer = await fetch(
        `${new URL(page.url()).origin}/api/apps/${/\/a\/([\w-]+)/.exec(page.url())![1]}/mail`,
        {
          method: 'POST',
          headers: { 'content-type': 'application/json' },
          body: JSON.stringify({ id, kind: 'notice', to: ['Ida'], subject, body: 'Kom forbi' }),
        },
      );
      if (!answer.ok) throw new Error(`The notice was answered ${answer.status}.`);
    };
    await tell('notice-one', 'Den første');
    await phone.sees('Den første');
    const second = await phoneAt(stage, page.url(), 'Say who you are');
    await second.press('Say who you are, to see what is yours', 'button');
    await second.pressText('Ida', '.k-who-names');
    await second.sees('Shown for Ida', '.k-app');
    await second.sees('2 devices say that they are used by Ida.', '.k-app');
    await tell('notice-two', 'Den anden');
    await second.sees('Den anden');
    await second.seesNot('Den første');
    await page.bringToFront();
    await page.reload();
    await phone.sees('2 devices say that they are used by Ida.', '.k-app', 15_000);
  },
};

export const tests: Test[] = [whoItIs];
