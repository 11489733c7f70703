import type { ElementMaker } from '../core/app/make.ts';
import { walkElements } from '../core/document/walk.ts';
import type { App, Element, ListElement, Routine, Screen } from '../core/app/schema.ts';
import { makePart } from '../core/app/parts.ts';
import { allId, thisId } from '../core/document/ids.ts';
import { Model } from '../core/records/model.ts';
import type { Variable } from '../core/tables/schema.ts';
import type { Names } from './tables.ts';

/** Screens that no table gives: the welcome, the syrup calculator, and the guides with filters of their own. */
export function addOwnScreens(app: App, n: Names, make: ElementMaker): void {
  const welcome = welcomeScreen(make);
  const syrup = syrupScreen(app, n, make);
  app.screens.push(welcome, syrup);
  app.starts = { first: welcome.id };
  filterGuides(app, n, make);
  shareGuideRow(app, n, make);
  remindKeepers(app, n, make);
  const reports = allId(n.table('Swarm reports').id);
  const state = n.field('Swarm reports', 'State');
  const swarms = app.tabs.find((t) => t.name === 'Swarms')!;
  // How many swarms wait for somebody.
  swarms.badge = `count(${reports}[${state} = "waiting"])`;
  const more = app.screens.find((s) => s.name === 'More')!;
  more.root.children.push(
    make.box(
      'across',
      [make.make('icon', { icon: 'droplet', size: 20 }), make.text('Syrup calculator', 'strong', { width: 'fill' })],
      {
        surface: 'card',
        gap: 10,
        inside: 14,
        across: 'middle',
        tap: { do: 'open', screen: syrup.id, give: '' },
      },
    ),
  );
}

/** Three slides that say what the app is for; seen once on a phone. */
function welcomeScreen(make: ElementMaker): Screen {
  const slide = (icon: string, title: string, words: string): Element =>
    make.box(
      'down',
      [
        make.box('down', [make.make('icon', { icon, size: 56, colour: 'accent' })], {
          gap: 0,
          inside: 32,
          surface: 'tint',
          along: 'middle',
          across: 'middle',
          corners: [28, 28, 28, 28],
          height: 'fill',
        }),
        make.box('down', [make.text(title, 'title'), make.text(words)], { gap: 10, inside: 8, height: 'fill' }),
      ],
      { gap: 20, inside: 0 },
    );
  const slides = make.make('slides', {
    dots: true,
    look: 'whole',
    skip: 'Skip',
    next: 'Go on',
    last: 'To the hives',
    tap: { do: 'back' },
    height: 'fill',
    children: [
      slide(
        'hexagon',
        'All hives in one place',
        'See at a glance which hive has waited longest, and open it at the stand.',
      ),
      slide(
        'clipboard-list',
        'Write while you look',
        'A visit is noted in a minute, without a network too. It is sent when there is one.',
      ),
      slide('bell', 'Swarms first', 'What is urgent stands on top of the board, with a number on its tab.'),
    ],
  });
  return {
    id: make.id('s'),
    name: 'Welcome',
    given: null,
    icon: 'sparkles',
    root: make.box('down', [slides], { inside: 20, gap: 12 }),
  };
}

/** How much water goes with the sugar, and what was mixed on this phone so far. */
function syrupScreen(app: App, n: Names, make: ElementMaker): Screen {
  const screen = make.id('s');
  const own = (name: string, more: Partial<Variable>): Variable => ({
    id: make.id('v'),
    name,
    type: 'number',
    lasts: 'screen',
    screen,
    first: '',
    ...more,
  });
  const sugar = own('Sugar', { unit: 'kg', least: 0, most: 25, first: '10' });
  const sort = own('Mix', {
    type: 'choice',
    choices: ['spring, 1 to 1', 'winter, 3 to 2', 'thick, 2 to 1'].map((name, colour) => ({ name, colour })),
    first: '"winter, 3 to 2"',
  });
  const { screen: _screen, ...rest } = own('Mixed so far', { unit: 'kg', first: '0' });
  const mixed: Variable = { ...rest, lasts: 'device' };
  app.variables = [...(app.variables ?? []), sugar, sort, mixed];
  const parts = `(if ${sort.id} = "spring, 1 to 1" then 1 else if ${sort.id} = "thick, 2 to 1" then 2 else 1.5)`;
  const water = `${sugar.id} / ${parts}`;
  const routine: Routine = {
    id: make.id('q'),
    name: 'Note the mix',
    given: null,
    steps: [
      make.step('variable', { how: 'add', variable: mixed.id, value: sugar.id }),
      make.step('message', { words: `{${sugar.id}} of sugar noted: {${mixed.id}} so far on this phone.` }),
    ],
  };
  app.routines.push(routine);
  const facts = app.tables.find((t) => t.facts);
  const ratio = facts && `${allId(facts.id)}.${n.field('App facts', 'Syrup ratio')}`;
  return {
    id: screen,
    name: 'Syrup calculator',
    given: null,
    icon: 'droplet',
    root: make.box(
      'down',
      [
        make.text('Syrup calculator', 'title'),
        { ...make.input(sugar.id), size: 'huge', hint: 'how much sugar' },
        { ...make.input(sugar.id), label: 'or by hand', as: 'slider' },
        {
          ...make.input(sort.id),
          as: 'ticks',
          ...(ratio && { help: `The co-operative feeds {${ratio} | "as it needs"}.` }),
        },
        make.box(
          'across',
          [
            make.box(
              'down',
              [make.text(`{${water} | number 1}`, 'figure'), make.text('litres of water', 'small', { colour: 'soft' })],
              {
                gap: 0,
                width: 'fill',
              },
            ),
            make.box(
              'down',
              [
                // A kilogram of sugar takes up 0.62 litres once it is dissolved.
                make.text(`{${water} + ${sugar.id} * 0.62 | number 1}`, 'figure'),
                make.text('litres of syrup', 'small', { colour: 'soft' }),
              ],
              { gap: 0, width: 'fill' },
            ),
          ],
          { surface: 'card', gap: 12, inside: 16 },
        ),
        make.button('Note it', { do: 'routine', routine: routine.id }),
        make.make('fold', {
          words: 'Which mix is for when?',
          begins: 'shut',
          children: [
            make.text('Spring: thin, so that the queen lays. Winter: thick, so that little water is left to dry.'),
            make.text('Thick syrup is for late October, when nights are cold.'),
          ],
        }),
        make.text(`Mixed so far on this phone: {${mixed.id}}`, 'small', { colour: 'soft' }),
      ],
      { inside: 16, gap: 14 },
    ),
  };
}

/** A mail to the keeper of each hive that has waited too long, the longest first. */
function remindKeepers(app: App, n: Names, make: ElementMaker): void {
  const f = (name: string): string => n.field('Hives', name);
  const hive = make.id('v');
  const keeper = `${hive}.${f('Keeper')}`;
  const mail = `${keeper}.${n.field('Keepers', 'Mail')}`;
  const routine: Routine = {
    id: make.id('q'),
    name: 'Remind keepers',
    given: null,
    steps: [
      make.step('each', {
        query: {
          table: n.table('Hives').id,
          where: {
            match: 'all',
            conditions: [
              { left: f('Overdue'), op: 'is', right: 'true' },
              { left: f('Status'), op: 'is not', right: '"Retired"' },
            ],
          },
          order: [{ by: f('Days since visit'), descending: true }],
          limit: 5,
        },
        result: hive,
        resultName: 'waiting hive',
        atOnce: 3,
        steps: [
          make.step('if', {
            when: { match: 'all', conditions: [{ left: mail, op: 'is filled', right: '' }] },
            then: [
              make.step('mail', {
                to: mail,
                subject: `{${hive}.${f('Name')}} waits for a look`,
                body: `Hello {${keeper}.${n.field('Keepers', 'Name')}},\n\nthe last visit to {${hive}.${f('Name')}} was {${hive}.${f('Last visit')} | how long ago}.\n\nHeatherfield Bees`,
              }),
            ],
          }),
        ],
      }),
      make.step('message', { words: 'The keepers of the hives that waited longest are written to.' }),
    ],
  };
  app.routines.push(routine);
  const glance = app.screens.find((s) => s.name === 'At a glance')!;
  glance.root.children.push(
    make.button('Remind the keepers', { do: 'routine', routine: routine.id }, { look: 'quiet', icon: 'send' }),
  );
}

/** A guide looks the same in its list and among somebody’s favourites: one part, given a guide by each. */
function shareGuideRow(app: App, n: Names, make: ElementMaker): void {
  const listOf = (screen: string): ListElement => {
    let list: ListElement | null = null;
    walkElements<Element>([app.screens.find((s) => s.name === screen)!.root], (e) => {
      if (e.kind === 'list') list ??= e;
    });
    return list as unknown as ListElement;
  };
  const part = makePart(app, new Model(app), listOf('Guides').children[0]!.id, make.id);
  if (typeof part === 'string') throw new Error(part);
  part.name = 'Guide row';
  const [guide] = part.inputs;
  const favourite = thisId(n.table('Favourites').id);
  listOf('Favourites').children = [
    make.make('part', {
      part: part.id,
      values: [{ field: guide!.id, value: `${favourite}.${n.field('Favourites', 'Guide')}` }],
    }),
  ];
}

/** Guides are found by words, kind and topic together; what is left empty keeps nothing back. */
function filterGuides(app: App, n: Names, make: ElementMaker): void {
  const guides = app.screens.find((s) => s.name === 'Guides')!;
  const field = (name: string) => n.table('Guides').fields.find((f) => f.id === n.field('Guides', name))!;
  const own = (name: string, like: string): Variable => {
    const { type, choices } = field(like);
    return { id: make.id('v'), name, type, ...(choices && { choices }), lasts: 'screen', screen: guides.id, first: '' };
  };
  const words = own('Looked for', 'Title');
  const kind = own('Sort of guide', 'Kind');
  const topic = own('About', 'Topic');
  app.variables = [...(app.variables ?? []), words, kind, topic];
  let list: ListElement | null = null;
  walkElements<Element>([guides.root], (e) => {
    if (e.kind === 'list') list ??= e;
  });
  const shown = list as unknown as ListElement;
  shown.search = false;
  shown.query.where = {
    match: 'all',
    conditions: [
      { left: field('Title').id, op: 'contains', right: words.id, whileFilled: true },
      { left: field('Kind').id, op: 'is', right: kind.id, whileFilled: true },
      { left: field('Topic').id, op: 'is', right: topic.id, whileFilled: true },
    ],
  };
  shown.empty = 'No guide fits all of this. Take something back.';
  const at = guides.root.children.indexOf(shown);
  const clear: Routine = {
    id: make.id('q'),
    name: 'Show all guides',
    given: null,
    steps: [words, kind, topic].map((v) => make.step('variable', { how: 'clear', variable: v.id })),
  };
  app.routines.push(clear);
  const filled = [words, kind, topic].map((v) => `${v.id} != null`).join(' or ');
  guides.root.children.splice(
    at,
    0,
    { ...make.input(words.id), label: '', hint: 'Search guides', as: 'search' },
    { ...make.input(kind.id), label: '', as: 'chips' },
    { ...make.input(topic.id), label: '', hint: 'any topic', as: 'menu' },
    make.button('Show all again', { do: 'routine', routine: clear.id }, { look: 'plain', seenWhen: filled }),
  );
}
