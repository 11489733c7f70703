import { openStudio, until, type Person } from './browser.ts';
import { keepers } from './people.ts';
import type { Test } from './stage.ts';

const rowsOf = (p: Person): Promise<string[]> =>
  p.page.$$eval('.k-app .k-row, .k-app [data-row]', (all) => all.map((e) => e.textContent!));

/** Has the phone beside the work be used by somebody. */
async function usedBy(p: Person, name: string): Promise<void> {
  await p.page.click('[aria-label="Phone"] [aria-label^="Who is using"], [aria-label="Phone"] [aria-label^="Used by"]');
  const box = await p.page.waitForSelector('input[placeholder="Search people"]');
  await box!.type(name);
  await p.page.waitForSelector(`[role=option] ::-p-text(${name})`).then((e) => e!.click());
}

const asOneOfThem: Test = {
  name: 'the phone beside the work is one of the people: it has what a host would send them, says why something is not there, and follows what changes',
  async run(stage) {
    const { far, count } = keepers();
    const p = await openStudio(stage);
    await p.press('Heatherfield Bees', 'button');
    await p.sees('days', '.k-app', 20_000);
    await p.pressText('People', 'header');
    await p.pressText('Each only their own', 'main');
    await p.press('Begin with this', 'button');
    await p.sees('Rules add up', 'main');
    const active = (await rowsOf(p)).length;
    await usedBy(p, far.name);
    await until('The phone has more than their hives', async () => {
      const rows = await rowsOf(p);
      return rows.length > 0 && rows.length < active && rows.every((r) => far.hives.some((h) => r.startsWith(h)));
    });
    // What is not there, and why.
    await p.press(`Used by ${far.name}`, 'button');
    await p.sees(`${count - far.hives.length} of ${count} Hives: no rule holds for those`);
    await p.pressText('Record by record', '[aria-label="Why something is not here"]');
    await p.sees(`${far.name} has no role`, 'main');

    // They write on the phone: it is written to the records.
    const [first] = await rowsOf(p);
    const hive = far.hives.find((h) => first!.startsWith(h))!;
    await p.pressText(hive, '.k-app');
    await p.press('Change this hive', 'button');
    await p.fill('Name', 'Named on the phone');
    await p.press('Save', 'button');
    await p.sees('Named on the phone', '.k-app');
    await p.pressText('Data', 'header');
    await p.pressText('Hives', 'nav');
    await p.sees('Named on the phone', '[role=grid]');
    // With all records again, and nobody known.
    await usedBy(p, 'nobody');
    await until('The phone does not have all hives again', async () => (await rowsOf(p)).length >= active);
  },
};

export const tests: Test[] = [asOneOfThem];
