import { beginWithApproval } from '../core/app/approval.ts';
import { emptyApp } from '../core/app/document.ts';
import type { App } from '../core/app/schema.ts';
import { addScreensFor } from '../core/app/screens-for.ts';
import { openStudio, until, type Person } from './browser.ts';
import { releaseApp } from './first-screen.ts';
import { buttonsOn, phoneOf, tabsOf } from './people-may.ts';
import type { Test } from './stage.ts';
import { waitForRows } from './supplier.ts';

const T = { members: 't_members0', stories: 't_stories0' };
const F = { name: 'f_name0000', mail: 'f_mail0000', title: 'f_title000', whose: 'f_whose000', words: 'f_words000' };
const MEMBERS = { ann: 'Ann Fennick', tom: 'Tom Varga', odile: 'Odile Marchetti' };

/** Stories of members, which somebody accepts; those who accept say in the list of members who does so too. */
export function storiesApp(): { app: App; approves: string } {
  const app = emptyApp('Stories', 'a_stories00');
  const plain = { titleField: F.title, pictureField: null };
  const link = { kind: 'picked' as const, table: T.members, backName: 'Stories' };
  app.tables = [
    {
      ...plain,
      id: T.stories,
      name: 'Stories',
      one: 'story',
      fields: [
        { id: F.title, name: 'Title', type: 'text' },
        { id: F.whose, name: 'Member', type: 'link', link },
      ],
    },
    {
      ...plain,
      id: T.members,
      name: 'Members',
      one: 'member',
      titleField: F.name,
      fields: [
        { id: F.name, name: 'Name', type: 'text' },
        { id: F.mail, name: 'Mail', type: 'mail' },
      ],
    },
  ];
  app.people = T.members;
  addScreensFor(app, T.stories);
  beginWithApproval(app, T.stories);
  const approves = app.tables[1]!.fields.at(-1)!.id;
  addScreensFor(app, T.members);
  const [role] = app.access!.roles;
  const all = { match: 'all' as const, conditions: [] };
  app.access!.rules.push({
    id: 'u_appoint000',
    who: role!.id,
    may: ['see', 'change'],
    table: T.members,
    where: all,
    meant: true,
  });
  return { app, approves };
}

const mailOf = (id: string): string => `${id}@stories.example`;

/** Adds a story of one's own. */
async function adds(p: Person, title: string): Promise<void> {
  await p.pressText('Stories', '.k-tabs');
  await p.press('Add', 'button');
  await p.fill('Title', title);
  await p.press('Save', 'button');
  await p.sees(title, '.k-app');
}

export const submissions: Test = {
  name: 'what members submit waits until it is accepted or sent back with words; a switch makes one of them an approver while her phone is open',
  async run(stage) {
    const { app, approves } = storiesApp();
    const records = Object.entries(MEMBERS).map(([id, name]) => ({
      table: T.members,
      id,
      cells: { [F.name]: name, [F.mail]: mailOf(id), [approves]: id === 'odile' },
    }));
    await releaseApp(stage.server.url, 'stories', { app, records });
    const [ann, tom, odile] = [
      await phoneOf(stage, mailOf('ann'), 'stories'),
      await phoneOf(stage, mailOf('tom'), 'stories'),
      await phoneOf(stage, mailOf('odile'), 'stories'),
    ];
    const tabs = (p: Person, wanted: string): Promise<void> =>
      until(`The tabs are not ${wanted}`, async () => (await tabsOf(p)).join(', ') === wanted);
    await tabs(ann, 'Stories, Members');
    await tabs(odile, 'Stories, To approve, Members');
    await odile.pressText('To approve', '.k-tabs');
    await odile.sees('No stories wait for approval.', '.k-app');

    // Her own waits, is seen by her and by who approves, and has no button for her to accept it.
    await adds(ann, 'Frost in May');
    await ann.sees('Waiting', '.k-app');
    await waitForRows(odile, (all) => all.some((r) => r.includes('Frost in May')), 'Nothing waits for Odile');
    await ann.pressText('Frost in May', '.k-app');
    await ann.sees('Approval', '.k-app');
    if ((await buttonsOn(ann)).some((b) => /Accept|Send back/.test(b))) throw new Error('Ann could accept her own.');
    await tom.pressText('Stories', '.k-tabs');
    await tom.seesNot('Frost in May');

    // Sent back with words, which she reads on the screen that is open; she submits it again.
    await odile.pressText('Frost in May', '.k-app');
    await odile.press('Send back', 'button');
    await odile.sees('What should be changed?');
    await odile.page.waitForFunction(() => document.activeElement?.matches('input, textarea'));
    await odile.page.keyboard.type('Which year?');
    await odile.page.keyboard.press('Enter');
    await ann.sees('Which year?', '.k-app');
    await ann.sees('Sent back', '.k-app');
    await ann.press('Submit again', 'button');
    await odile.pressText('To approve', '.k-tabs');
    await waitForRows(odile, (all) => all.some((r) => r.includes('Frost in May')), 'It does not wait again');
    await odile.pressText('Frost in May', '.k-app');
    await odile.press('Accept', 'button');
    await waitForRows(tom, (all) => all.some((r) => r.includes('Frost in May')), 'Tom does not see what was accepted');
    await until(
      'It can be submitted after it was accepted',
      async () => !(await buttonsOn(ann)).includes('Submit again'),
    );

    // A switch in the list of members makes Ann one who approves: her phone has the list, and her own counts at once.
    await odile.pressText('Members', '.k-tabs');
    await odile.pressText('Ann Fennick', '.k-app');
    await odile.press('Change this member', 'button');
    await odile.press('Approves', 'switch').catch(() => odile.press('Approves', 'checkbox'));
    await odile.press('Save', 'button');
    await tabs(ann, 'Stories, To approve, Members');
    await adds(ann, 'First swarm');
    await waitForRows(tom, (all) => all.some((r) => r.includes('First swarm')), 'Hers is not accepted at once');
    await adds(tom, 'A quiet winter');
    await ann.pressText('To approve', '.k-tabs');
    await waitForRows(ann, (all) => all.some((r) => r.includes('A quiet winter')), 'Nothing waits for Ann');
  },
};

const begins: Test = {
  name: 'a maker begins with approval, and lets a second table need it',
  async run(stage) {
    const p = await openStudio(stage);
    await p.pressText('Heatherfield');
    await p.sees('days', '.k-app', 20_000);
    await p.pressText('People', 'header');
    await p.pressText('Needs approval', 'main');
    await p.sees('a yes or no that is added to Keepers', 'main');
    await p.press('Begin with this', 'button');
    await p.sees('Rules add up', 'main');
    await p.sees('Approvers', 'main');
    await p.sees('Words of approval', 'main');
    await p.press('Add approval', 'button');
    // The second is approved by another role, until the first is chosen.
    await until('There are no two roles', async () =>
      p.page.$$eval('main th[scope=col]', (all) => all.some((e) => e.textContent!.includes('Approvers 2'))),
    );
    await p.pressText('Screens', 'header');
    await p.sees('To approve 2', 'nav, aside, main');
    // Undone as a whole, twice.
    await p.press('Undo: Visits need approval', 'button');
    await p.press('Undo: People sign in, by rules', 'button');
    await p.pressText('People', 'header');
    await p.sees('Needs approval', 'main');
  },
};

export const tests: Test[] = [submissions, begins];
