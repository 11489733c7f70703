import { beginAccess } from '../core/app/access-edits.ts';
import { emptyApp } from '../core/app/document.ts';
import { ElementMaker } from '../core/app/make.ts';
import { ROW_SECTIONS } from '../core/app/row-sections.ts';
import type { App } from '../core/app/schema.ts';
import { addScreensFor } from '../core/app/screens-for.ts';
import { thisId } from '../core/document/ids.ts';
import { openStudio, until, type Person } from './browser.ts';
import { releaseApp } from './first-screen.ts';
import { KEY, phoneOf } from './people-may.ts';
import { release } from './phone.ts';
import type { Test } from './stage.ts';
import { waitForRows } from './supplier.ts';
import { choose } from './whole-path.ts';

const T = { people: 't_people000', todos: 't_todos0000' };
const F = { name: 'f_name0000', mail: 'f_mail0000', title: 'f_title000', whose: 'f_whose000', done: 'f_done0000' };
const PEOPLE = { ann: 'Ann Fennick', tom: 'Tom Varga' };
const mailOf = (id: string): string => `${id}@to-dos.example`;

/** What people have to do, each only their own; they may look back at it. */
export function toDosApp(): App {
  const app = emptyApp('To-dos', 'a_todos0000');
  app.tables = [
    {
      id: T.todos,
      name: 'To-dos',
      one: 'to-do',
      titleField: F.title,
      pictureField: null,
      fields: [
        { id: F.title, name: 'What', type: 'text' },
        { id: F.whose, name: 'Whose', type: 'link', link: { kind: 'picked', table: T.people, backName: 'To-dos' } },
        { id: F.done, name: 'Done', type: 'yesno' },
      ],
    },
    {
      id: T.people,
      name: 'People',
      one: 'person',
      titleField: F.name,
      pictureField: null,
      fields: [
        { id: F.name, name: 'Name', type: 'text' },
        { id: F.mail, name: 'Mail', type: 'mail' },
      ],
    },
  ];
  app.people = T.people;
  addScreensFor(app, T.todos);
  const access = beginAccess(app, 'only own')!;
  for (const r of access.rules) if (r.table === T.todos) r.may.push('look back');
  const own = { match: 'all' as const, conditions: [{ left: thisId(T.people), op: 'is' as const, right: 'person()' }] };
  access.rules.push({ id: 'u_eraseme00', who: 'signed in', may: ['remove'], table: T.people, where: own });
  const { element, routines } = ROW_SECTIONS.find((s) => s.id === 'history')!.make(
    new ElementMaker(),
    app,
    app.tables[0]!,
  );
  app.screens.find((s) => s.given === T.todos && !s.optional)!.root.children.push(element);
  app.routines.push(...routines);
  return app;
}

export async function adds(p: Person, title: string): Promise<void> {
  await p.press('Add', 'button');
  await p.fill('What', title);
  await p.press('Save', 'button');
  await p.sees(title, '.k-app');
}

/** Opens the page of the first hive in Data. */
async function opensFirstHive(p: Person): Promise<void> {
  await p.pressText('Data', 'header');
  await p.pressText('Hives', 'nav');
  await p.page.waitForSelector('[role=gridcell][aria-colindex="1"]');
  await p.page.hover('[role=gridcell][aria-colindex="1"]');
  await p.page.click('[role=grid] [aria-label="Open this record"]');
  await p.page.waitForSelector('aside[aria-label^="Record"]');
}

/** Presses a button of the sheet of whoever has signed in; what was said of a record that was saved lies over it for a moment. */
export const pressBelow = (p: Person, name: string): Promise<void> =>
  p.page.$$eval(
    '.k-who-list button',
    (all, wanted) => (all.find((b) => b.textContent === wanted) as unknown as { click(): void }).click(),
    name,
  );

const sheetSays = (p: Person): Promise<string> =>
  p.page.$eval('.k-past', (e) => (e as unknown as { innerText: string }).innerText).catch(() => '');

const theirs: Test = {
  name: 'a to-do app where each sees only theirs; they look back at what was changed, and put a value back',
  async run(stage) {
    const records = Object.entries(PEOPLE).map(([id, name]) => ({
      table: T.people,
      id,
      cells: { [F.name]: name, [F.mail]: mailOf(id) },
    }));
    await releaseApp(stage.server.url, 'to-dos', { app: toDosApp(), records });
    const [ann, tom] = [await phoneOf(stage, mailOf('ann'), 'to-dos'), await phoneOf(stage, mailOf('tom'), 'to-dos')];
    await adds(ann, 'Order frames');
    await adds(tom, 'Mow the lawn');
    for (const [p, own, other] of [
      [ann, 'Order frames', 'Mow the lawn'],
      [tom, 'Mow the lawn', 'Order frames'],
    ] as const) {
      await p.page.reload();
      const rows = await waitForRows(p, (all) => all.length > 0, 'Somebody does not see their own');
      if (!rows[0]!.includes(own) || rows.length !== 1) throw new Error(`${own}: ${rows.join(' | ')}`);
      await p.seesNot(other);
    }

    // She writes it over, looks back, and has what it was.
    await ann.pressText('Order frames', '.k-app');
    await ann.press('Change this to-do', 'button');
    await ann.fill('What', 'Order wax');
    await ann.press('Save', 'button');
    await ann.sees('Order wax', '.k-app');
    await ann.press('History', 'button');
    await ann.sees('Changed by Ann Fennick', '.k-past');
    await ann.sees('Made by Ann Fennick', '.k-past');
    const said = await sheetSays(ann);
    if (!/What\s+Order frames\s*→\s*Order wax/.test(said)) throw new Error(`The history says ${said}`);
    await ann.press('Put back What: Order frames', 'button');
    await ann.sees('Put back', 'body');
    await ann.sees('Order frames', '.k-app');
    await until('The sheet stays', async () => (await ann.page.$('.k-past')) === null);
    // It is one more change, and is kept by the server.
    await ann.press('History', 'button');
    await until('The history does not say that it was put back', async () =>
      /Order wax\s*→\s*Order frames/.test(await sheetSays(ann)),
    );
    await ann.page.keyboard.press('Escape');
    await until('Escape does not close it', async () => (await ann.page.$('.k-past')) === null);

    // Without a network it says why there is none.
    await ann.page.setOfflineMode(true);
    await ann.press('History', 'button');
    await ann.sees('What was before is known to the server, which cannot be reached now', 'body');
    await ann.page.setOfflineMode(false);
  },
};

const erased: Test = {
  name: 'somebody erases herself on her phone; a maker erases another, and links read “a former keeper” on open phones',
  async run(stage) {
    const { url } = stage.server;
    const records = Object.entries(PEOPLE).map(([id, name]) => ({
      table: T.people,
      id,
      cells: { [F.name]: name, [F.mail]: mailOf(id) },
    }));
    await releaseApp(url, 'to-dos', { app: toDosApp(), records });
    const [ann, tom] = [await phoneOf(stage, mailOf('ann'), 'to-dos'), await phoneOf(stage, mailOf('tom'), 'to-dos')];
    await adds(ann, 'Order frames');
    await adds(tom, 'Mow the lawn');
    await ann.press('Sign out', 'button');
    await ann.sees('Nowhere but here.');
    await pressBelow(ann, 'Erase me from this app');
    await ann.sees('with 1 of To-dos of yours');
    await ann.press('Erase me for good', 'button');
    await ann.sees('Send me a code', 'body', 15_000);
    await until('Her phone still keeps something of the app', async () =>
      ann.page.evaluate(async () => {
        const all = await indexedDB.databases();
        return !all.some((d) => d.name?.startsWith('app-to-dos'));
      }),
    );
    await tom.sees('Mow the lawn', '.k-app');
    const left = await fetch(`${url}/api/apps/to-dos/compared`, {
      method: 'POST',
      headers: { 'content-type': 'application/json', 'x-owner-key': KEY, 'x-protocol': '2' },
      body: JSON.stringify({ after: null, upTo: null, records: [] }),
    });
    const text = await left.text();
    if (!text.includes('Mow the lawn') || /Order frames|Ann Fennick|ann@/.test(text))
      throw new Error(`Something of her is left, or too much is gone: ${text.slice(0, 500)}`);

    // A maker erases a keeper: her hives stay, and say so on the phone of another.
    const p = await openStudio(stage);
    await p.press('Heatherfield Bees', 'button');
    await p.sees('days', '.k-app', 20_000);
    await p.pressText('People', 'header');
    await p.pressText('Everyone sees', 'main');
    await p.press('Begin with this', 'button');
    await p.sees('Rules add up', 'main');
    await release(p);
    await p.pressText('People', 'header');
    await p.pressText('Who may open it', 'nav');
    await p.sees('In step with the released app', 'body', 20_000);
    await choose(p, 'Whom you erase', 'Odile Marsh');
    await p.sees('of Hives lead to them', 'main');
    await choose(p, 'What becomes of Visits', 'they are erased too').catch(() => undefined);
    await p.press('Erase Odile Marsh', 'button');
    await p.sees('This cannot be undone', 'body');
    await p.press('Erase for good', 'button');
    await p.sees('Odile Marsh is erased.', 'main', 20_000);
    await opensFirstHive(p);
    await p.sees('a former keeper', 'aside[aria-label^="Record"]');
    await p.pressText('Keepers', 'nav');
    await p.seesNot('Odile Marsh', '[role=grid]');
  },
};

const makers: Test = {
  name: 'a maker looks back at a record of the released app, and puts a value back, which can be undone',
  async run(stage) {
    const p = await openStudio(stage);
    const { page } = p;
    await p.press('Heatherfield Bees', 'button');
    await p.sees('days', '.k-app', 20_000);
    await opensFirstHive(p);
    await p.press('History', 'button');
    await p.sees('Once the app is released', 'aside');
    await release(p);
    await opensFirstHive(p);
    const field = 'Change Name';
    const before = await page.$eval(`aside [aria-label="${field}"]`, (e) => e.textContent!);
    await p.press(field, 'button');
    await page.keyboard.down('Control');
    await page.keyboard.press('a');
    await page.keyboard.up('Control');
    await page.keyboard.type('Another name');
    await page.keyboard.press('Enter');
    await p.sees('Another name', 'aside h2');
    await p.press('History', 'button');
    await p.sees('Changed by the maker of the app', 'aside');
    await p.sees('Made by the maker of the app', 'aside');
    await p.press(`Put back Name: ${before}`, 'button');
    await p.sees(before, 'aside h2');
    await until('The history does not go on', async () =>
      page.$eval('aside ol', (e, was) => e.textContent!.includes(`Another name → ${was}`), before),
    );
    await p.press(`Undo: Put back Name of Another name`, 'button');
    await p.sees('Another name', 'aside h2');
  },
};

export const tests: Test[] = [theirs, makers, erased];
