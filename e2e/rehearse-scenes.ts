import { writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { beginWithApproval } from '../core/app/approval.ts';
import { peopleTable } from '../core/app/people.ts';
import type { App } from '../core/app/schema.ts';
import { backId } from '../core/document/ids.ts';
import { writeBundle } from '../core/formats/bundle.ts';
import { makeDemo } from '../demo/heatherfield.ts';
import { openStudio, until, type Person } from './browser.ts';
import type { Test } from './stage.ts';
import { writeFormula } from './whole-path.ts';

/** The swarm help desk of the demo, in which a report of a keeper needs approval: Odile Marsh approves. */
export async function helpDeskFile(folder: string): Promise<{ file: string; app: App }> {
  const { app, records } = makeDemo();
  app.name = 'Swarm desk';
  const reports = app.tables.find((t) => t.name === 'Swarm reports')!;
  const messages = app.tables.find((t) => t.name === 'Messages')!;
  const of = messages.fields.find((f) => f.link?.table === reports.id)!;
  reports.fields.push({
    id: 'f_sofar00000',
    name: 'Messages so far',
    type: 'formula',
    formula: `count(${backId(of.id)})`,
  });
  if (!beginWithApproval(app, reports.id)) throw new Error('Reports cannot need approval.');
  const people = peopleTable(app)!;
  const approves = people.fields.find((f) => f.name === 'Approves')!.id;
  const named = people.titleField!;
  for (const r of records) if (r.table === people.id) r.cells[approves] = r.cells[named] === 'Odile Marsh';
  const file = join(folder, 'swarm-desk.kite.json');
  await writeFile(file, writeBundle({ app, records, ownerKey: null, address: null, files: {} } as never));
  return { file, app };
}

/** The phones of the room, by their place. */
export const phone = (n: number): string => `[aria-label="Phones"] section:nth-of-type(${n}) .k-app`;
const beside = '[aria-label="What happens"]';
export const tab = async (p: Person, name: string): Promise<void> => p.pressText(name, beside);

/** Puts somebody of the people into the room. */
export async function addPhone(p: Person, name: string): Promise<void> {
  await p.press('Add a phone', 'button');
  const box = (await p.page.waitForSelector('input[placeholder="Search people"]'))!;
  await box.type(name);
  await p.page.waitForSelector(`[role=option] ::-p-text(${name})`).then((e) => e!.click());
}

/** Lets time pass to the next thing that will happen, one after the other up to this one: which are before it hangs on the hour. */
async function toTheNext(p: Person, wanted: string): Promise<void> {
  const button = '[aria-label="Clock"] button[title]:not([aria-label])';
  for (let i = 0; i < 12; i++) {
    const found = (await p.page.waitForSelector(button))!;
    const said = await found.evaluate((e) => (e as HTMLElement).title);
    await found.click();
    if (said.includes(wanted)) return;
    await until(
      `${said} did not happen`,
      async () => !(await p.page.$(`[aria-label="Clock"] button[title="${said}"]`)),
    );
  }
  throw new Error(`${wanted} does not come`);
}

const steps = 'main ol';
const seenAt = (p: Person, words: string): Promise<void> => p.sees(words, steps, 30_000);

const scene: Test = {
  name: 'a scene: four people, a mail from outside, an approval, a phone without a network and four o’clock are kept, played again, and fail where a rule or a total is another',
  async run(stage) {
    const p = await openStudio(stage);
    const { page } = p;
    const desk = await helpDeskFile(stage.folder);
    const [chooser] = await Promise.all([page.waitForFileChooser(), p.press('Open an app file', 'button')]);
    await chooser.accept([desk.file]);
    await p.sees('records', 'main', 20_000);
    await p.pressText('Rehearse', 'header');
    await p.sees('days', phone(1), 20_000);
    await addPhone(p, 'Odile Marsh');
    await addPhone(p, 'Nobody signed in');
    await p.sees('Sign in to use this app', '[aria-label="Phones"]');
    const name = (n: number): Promise<string> =>
      page.$eval(`[aria-label="Phones"] section:nth-of-type(${n})`, (e) => e.getAttribute('aria-label')!.slice(13));
    const [first, second] = [await name(1), await name(2)];

    await p.press(`Network of ${second}: Network on`, 'button');
    await p.pressText('No network', '[role=menu]');
    await tab(p, 'Mail');
    await p.press('Write as somebody outside', 'button');
    await p.fill('Subject', 'Under the ferry steps');
    await p.fill('Words of the mail', 'A large swarm hangs there. Children pass below it.');
    await p.press('Send to the app', 'button');
    // A keeper reports one as well; it waits for approval.
    await p.pressText('Swarms', `${phone(1)} .k-tabs`);
    await p.sees('Report with a photo', phone(1));
    await p.pressText('Add', phone(1));
    await p.sees('Where', phone(1));
    await (await page.waitForSelector(`${phone(1)} textarea`))!.type('By the school gate');
    await p.pressText('Save', phone(1));
    await p.pressText('Swarms', `${phone(3)} .k-tabs`);
    await p.sees('Report with a photo', phone(3));
    await p.pressText('To approve', phone(3));
    await p.pressText('By the school gate', phone(3));
    await p.pressText('Accept', phone(3));
    // Whoever was away has it when the network is back.
    await p.press(`Network of ${second}: No network`, 'button');
    await p.pressText('Network on', '[role=menu]');
    await p.pressText('Swarms', `${phone(2)} .k-tabs`);
    await p.sees('By the school gate', phone(2));
    await tab(p, 'Scene');
    await p.press('Expect', 'button');
    const row = (await page.waitForSelector(`${phone(2)} ::-p-text(By the school gate)`))!;
    await row.scrollIntoView();
    const box = (await row.boundingBox())!;
    await page.mouse.move(box.x + 8, box.y + box.height / 2);
    await page.mouse.click(box.x + 8, box.y + box.height / 2);
    await p.sees('By the school gate', `${beside} ol`);
    await tab(p, 'Records');
    await p.press('Expect Messages so far: 1', 'button');
    // The clock goes from one thing that will happen to the next.
    await toTheNext(p, 'What runs low');
    await p.sees('16:00', '[aria-label="Clock"] time', 60_000);
    await tab(p, 'Mail');
    await p.sees('What runs low in the honey room', beside);
    await page.$$eval(`${beside} [aria-label="Expect this mail"]`, (all) => (all[0] as HTMLElement).click());
    await tab(p, 'Scene');
    await p.press('Keep as a scene', 'button');
    await p.sees('passes, in', 'main', 60_000);
    for (const said of [
      `${second}’s phone goes offline`,
      'Ada Holm writes a mail to the app: Under the ferry steps',
      `${first} adds a swarm report: What`,
      'Odile Marsh taps Accept',
      'Messages so far of A large swarm hangs there. is 1',
      'Time passes until 16:00',
    ])
      await seenAt(p, said);

    // Nothing of it is in the app.
    const here = page.url();
    const { app } = desk;
    const reports = app.tables.find((t) => t.name === 'Swarm reports')!;
    const at = async (place: string): Promise<void> => {
      await page.goto(here.replace(/\/rehearse\/.*/, `/${place}`));
    };
    const plays = async (ends: string): Promise<void> => {
      await page.goto(here);
      await p.sees(ends, 'main [role=status]', 60_000);
    };
    const then = '[aria-label="Then"]';

    // What it came to is counted, and what no scene does is named.
    await p.pressText('Covered', 'nav');
    const notCovered = async (sort: string, name: string): Promise<void> => {
      await p.pressText('in no scene', `[aria-label="${sort}"]`);
      await p.sees(name, `[aria-label="${sort}"]`);
    };
    await notCovered('Routines', 'Retire the hive');
    await notCovered('Forms that are saved', 'Form for hive');
    await page.reload();
    await p.sees('1 scene is not played yet', 'main');
    await p.press('Play all', 'button');
    await until(
      'The scene was not played for what is covered',
      async () => !(await page.$('main [role=status] ::-p-text(played)')),
      60_000,
    );
    await notCovered('Routines', 'Retire the hive');

    // A field of another name changes nothing; the page was loaded anew meanwhile.
    const where = reports.fields.find((f) => f.name === 'What')!;
    await at(`data/${reports.id}/${where.id}`);
    await p.fill('Name of the field', 'What it is');
    await page.keyboard.press('Enter');
    await p.sees('What it is', '[role=grid]');
    if (await page.$('[role=grid] ::-p-text(By the school gate)')) throw new Error('What was rehearsed is in the app.');
    await plays('passes, in');
    await seenAt(p, `${first} adds a swarm report: What it is`);

    // Another total: the scene fails there, with both sides.
    await at(`data/${reports.id}/f_sofar00000`);
    await p.press('Formula', 'radio');
    await writeFormula(page, 'Formula of Messages so far', 'count(Messages) + 1');
    await p.sees('children nearby 2', 'main');
    await p.press('Close this card');
    await plays('fails');
    await p.sees('Messages so far of A large swarm hangs there. of Swarm reports is otherwise', then);
    await p.sees('Expected 1 Actual 2', then);
    await at(`data/${reports.id}/f_sofar00000`);
    await writeFormula(page, 'Formula of Messages so far', 'count(Messages)');
    await p.sees('children nearby 1', 'main');
    await p.press('Close this card');
    await plays('passes, in');

    // Without the rule of those who approve it fails where they would, and says why; so nothing is released.
    await at(`people/${app.access!.rules.find((r) => r.table === reports.id && r.may.includes('look back'))!.id}`);
    await p.press('Remove this rule', 'button');
    await plays('fails');
    await p.sees('By the school gate is not on To approve of Odile Marsh', then);
    await p.sees('No rule lets Odile Marsh see By the school gate', then);
    await p.pressText('Release', 'header');
    await p.press('Release', 'button');
    await p.sees('A scene fails, so nothing was released', 'main', 60_000);
    await p.press('Release anyway', 'button');
    await p.sees('Release 1 is out', 'body', 60_000);
  },
};

const suggested: Test = {
  name: 'scenes are suggested for what none covers, in an app without records; one is kept, passes, and stays after a reload',
  async run(stage) {
    const p = await openStudio(stage);
    const { page } = p;
    const { app } = makeDemo();
    app.name = 'Nothing in it';
    const file = join(stage.folder, 'nothing-in-it.kite.json');
    await writeFile(file, writeBundle({ app, records: [], ownerKey: null, address: null, files: {} } as never));
    const [chooser] = await Promise.all([page.waitForFileChooser(), p.press('Open an app file', 'button')]);
    await chooser.accept([file]);
    await p.sees('Hives', 'main', 20_000);
    await p.pressText('Rehearse', 'header');
    await tab(p, 'Scene');
    await p.pressText('Chance', beside);
    await p.pressText('Covered', 'nav');
    await p.sees('There is no scene yet', 'main');
    await p.press('Suggest scenes', 'button');
    await p.sees('Keep as a scene', 'main', 60_000);
    await p.press('Stop', 'button');
    const name = await page.$eval('[aria-label="Suggested scenes"] li b', (e) => e.textContent!);
    await p.press('Keep as a scene', 'button');
    await p.sees(name, 'nav');
    await p.sees('1 scene is not played yet', 'main');
    await p.press('Play all', 'button');
    await p.sees('passes', 'nav', 60_000);
    await p.sees('of 62', '[aria-label=Routines]');
    await page.reload();
    await p.sees(name, 'nav', 20_000);
  },
};

export const tests: Test[] = [scene, suggested];
