import { emptyApp } from '../core/app/document.ts';
import type { App } from '../core/app/schema.ts';
import { addScreensFor } from '../core/app/screens-for.ts';
import { backId, thisId } from '../core/document/ids.ts';
import type { Where } from '../core/document/pieces.ts';
import { Person, until, watchConsole } from './browser.ts';
import { releaseApp } from './first-screen.ts';
import { PHONE, readyForOffline } from './phone.ts';
import type { Stage, Test } from './stage.ts';
import { waitForRows } from './supplier.ts';

export const KEY = 'b'.repeat(43);
const T = { members: 't_members0', plots: 't_plots000' };
const F = {
  name: 'f_name0000',
  mail: 'f_mail0000',
  looks: 'f_looks000',
  total: 'f_total000',
  title: 'f_title000',
  whose: 'f_whose000',
  size: 'f_size0000',
};
const ROLE = 'r_looks0000';
const where = (...conditions: Where['conditions']): Where => ({ match: 'all', conditions });
const MEMBERS = { ann: 'Ann Fennick', cem: 'Cem Arslan', odile: 'Odile Marchetti' };
const mailOf = (id: string): string => `${id}@plots.example`;

/** Members see the names of all, and how large what each has is; plots are seen by those whose they are, and by coordinators. */
function plotsApp(): App {
  const app = emptyApp('Allotment', 'a_plots0000');
  app.tables = [
    {
      id: T.members,
      name: 'Members',
      one: 'member',
      titleField: F.name,
      pictureField: null,
      fields: [
        { id: F.name, name: 'Name', type: 'text' },
        { id: F.mail, name: 'Mail', type: 'mail' },
        { id: F.looks, name: 'Looks after the app', type: 'yesno' },
        { id: F.total, name: 'Square metres', type: 'formula', formula: `sum(${backId(F.whose)}.${F.size})` },
      ],
    },
    {
      id: T.plots,
      name: 'Plots',
      one: 'plot',
      titleField: F.title,
      pictureField: null,
      fields: [
        { id: F.title, name: 'Plot', type: 'text' },
        { id: F.whose, name: 'Member', type: 'link', link: { kind: 'picked', table: T.members, backName: 'Plots' } },
        { id: F.size, name: 'Size', type: 'number' },
      ],
    },
  ];
  for (const t of app.tables) addScreensFor(app, t.id);
  const isTheirs = where({ left: F.whose, op: 'is', right: 'person()' });
  app.people = T.members;
  app.access = {
    opens: 'people',
    mail: F.mail,
    roles: [{ id: ROLE, name: 'Coordinators', where: where({ left: F.looks, op: 'holds', right: '' }) }],
    rules: [
      {
        id: 'u_names00000',
        who: 'signed in',
        may: ['see'],
        table: T.members,
        where: where(),
        fields: { are: 'only', of: [F.name, F.total] },
      },
      {
        id: 'u_own0000000',
        who: 'signed in',
        may: ['see', 'change'],
        table: T.members,
        where: where({ left: thisId(T.members), op: 'is', right: 'person()' }),
        fields: { are: 'only', of: [F.name, F.mail] },
      },
      {
        id: 'u_plots00000',
        who: 'signed in',
        may: ['see', 'change'],
        table: T.plots,
        where: isTheirs,
        fields: { are: 'all but', of: [F.whose] },
      },
      { id: 'u_seewhose00', who: 'signed in', may: ['see'], table: T.plots, where: isTheirs },
      { id: 'u_allplots00', who: ROLE, may: ['see', 'add', 'change', 'remove'], table: T.plots, where: where() },
      { id: 'u_allmembers', who: ROLE, may: ['see', 'change'], table: T.members, where: where(), meant: true },
    ],
  };
  // One more tab, for coordinators.
  const board = structuredClone(app.screens.find((s) => s.id === app.tabs[1]!.screen)!);
  board.id = 's_board0000';
  board.name = 'All plots';
  board.roles = [ROLE];
  app.screens.push(board);
  app.tabs.push({ screen: board.id, name: 'All plots', icon: board.icon });
  return app;
}

const records = [
  ...Object.entries(MEMBERS).map(([id, name]) => ({
    table: T.members,
    id,
    cells: { [F.name]: name, [F.mail]: mailOf(id), [F.looks]: id === 'odile' },
  })),
  ...(
    [
      ['p1', 'North 1', 'ann', 12],
      ['p2', 'North 2', 'cem', 30],
      ['p3', 'South 1', 'cem', 14.5],
    ] as const
  ).map(([id, title, whose, size]) => ({
    table: T.plots,
    id,
    cells: { [F.title]: title, [F.whose]: whose, [F.size]: size },
  })),
];

/** A phone of its own of somebody who comes by an invitation. */
export async function phoneOf(stage: Stage, mail: string, app = 'plots'): Promise<Person> {
  const answer = await fetch(`${stage.server.url}/api/apps/${app}/invitations`, {
    method: 'POST',
    headers: { 'content-type': 'application/json', 'x-owner-key': KEY },
    body: JSON.stringify({ mails: [mail] }),
  });
  const { invited } = (await answer.json()) as { invited: { token: string }[] };
  const page = await (await stage.browser.createBrowserContext()).newPage();
  await page.setViewport(PHONE);
  watchConsole(page, stage.errors, /ERR_\w+|Failed to fetch|status of 404/);
  await page.goto(`${stage.server.url}/a/${app}/#invited=${invited[0]!.token}`);
  const person = new Person(page);
  await person.sees('You are invited.', 'body', 15_000);
  await person.press('Come in', 'button');
  await person.sees('Signed in as', '.k-app', 20_000);
  return person;
}

export const tabsOf = (p: Person): Promise<string[]> =>
  p.page.$$eval('.k-tabs button, .k-tabs a', (all) => all.map((e) => e.textContent!.trim()));
export const buttonsOn = (p: Person): Promise<string[]> =>
  p.page.$$eval('.k-app .k-button', (all) =>
    all.map((e) => `${e.textContent!.trim()} ${e.getAttribute('aria-label') ?? ''}`.trim()),
  );

const may: Test = {
  name: 'members see only names, with a figure over what they do not see; what would be refused is not shown, online and offline, until a switch makes a coordinator',
  async run(stage) {
    await releaseApp(stage.server.url, 'plots', { app: plotsApp(), records });
    const ann = await phoneOf(stage, mailOf('ann'));
    // The figure of Cem counts plots that she does not see.
    const rows = await waitForRows(ann, (all) => all.length === 3, 'She does not see all members');
    if (!rows.some((r) => r.includes('Cem') && r.includes('44.5'))) throw new Error(`No figure: ${rows.join(' | ')}`);
    if (rows.some((r) => r.includes('@') && !r.includes('Ann'))) throw new Error(`Mails are seen: ${rows.join(' | ')}`);
    const tabs = async (p: Person, wanted: string): Promise<void> => {
      let now: string[] = [];
      await until(`The tabs are not ${wanted}`, async () => (now = await tabsOf(p)).join(', ') === wanted).catch(() => {
        throw new Error(`The tabs are ${now.join(', ')}, and not ${wanted}`);
      });
    };
    await tabs(ann, 'Members, Plots');
    // Of others nothing can be changed, so there is no way to do it; of herself her name and mail.
    await ann.pressText('Cem Arslan', '.k-app');
    await ann.sees('44.5', '.k-app');
    // What is hidden is not told as empty, or as no.
    await ann.sees('not shown to you', '.k-app');
    if ((await buttonsOn(ann)).includes('Change this member'))
      throw new Error('She could begin to change somebody else.');
    await ann.page.goBack();
    await ann.pressText('Ann Fennick', '.k-app');
    await until('She cannot change herself', async () => (await buttonsOn(ann)).includes('Change this member'));
    await ann.press('Change this member', 'button');
    await ann.sees('Mail', 'form');
    const locked = await ann.page.$$eval('form .k-field[data-locked] label', (all) => all.map((e) => e.textContent));
    if (!locked.includes('Looks after the app'))
      throw new Error(`What she may not change can be typed: ${locked.join()}`);
    await ann.page.goBack();
    await ann.page.goBack();
    await ann.pressText('Plots', '.k-tabs');
    await waitForRows(ann, (all) => all.length === 1 && all[0]!.includes('North 1'), 'She does not see her plot alone');
    if ((await buttonsOn(ann)).some((b) => b.startsWith('Add'))) throw new Error('She could begin to add a plot.');

    // The same without a network, from the beginning.
    await readyForOffline(ann);
    await ann.page.setOfflineMode(true);
    await ann.page.reload();
    await ann.sees('Some figures are of when you were last online', 'body', 20_000);
    await tabs(ann, 'Members, Plots');
    await ann.pressText('Members', '.k-tabs');
    await waitForRows(ann, (all) => all.some((r) => r.includes('44.5')), 'The figure is gone offline');
    await ann.page.setOfflineMode(false);
    await ann.page.evaluate(() => void dispatchEvent(new Event('online')));

    // A coordinator sees all of it, and a switch on her phone makes another while the other's is open.
    const odile = await phoneOf(stage, mailOf('odile'));
    await tabs(odile, 'Members, Plots, All plots');
    await odile.pressText('Ann Fennick', '.k-app');
    await odile.press('Change this member', 'button');
    await odile.press('Looks after the app', 'switch').catch(() => odile.press('Looks after the app', 'checkbox'));
    await odile.press('Save', 'button');
    await tabs(ann, 'Members, Plots, All plots');
    await ann.pressText('All plots', '.k-tabs');
    await waitForRows(ann, (all) => all.length === 3, 'The plots of all do not come to her');
    let last: string[] = [];
    await until('She cannot add a plot', async () =>
      (last = await buttonsOn(ann)).some((b) => b.startsWith('Add')),
    ).catch(() => {
      throw new Error(`She cannot add a plot: ${last.join(', ')}`);
    });
  },
};

export const tests: Test[] = [may];
