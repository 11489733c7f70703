import { titleWords, type ElementMaker } from '../core/app/make.ts';
import { generateScreens } from '../core/app/generate-screens.ts';
import { allId, thisId } from '../core/document/ids.ts';
import { allOf } from '../core/document/queries.ts';
import { walkElements } from '../core/document/walk.ts';
import type { App, BoxElement, Element, ListElement, Screen } from '../core/app/schema.ts';
import type { Names } from './tables.ts';

/** The demo's screens: made from its tables, then shaped by hand as a maker would. */
export function makeScreens(app: App, n: Names, make: ElementMaker): void {
  const { screens } = generateScreens(app, make);
  app.screens = screens;
  const screen = (name: string): Screen => screens.find((s) => s.name === name)!;
  const hives = screen('Hives');
  const hive = screen('Hive');
  hives.name = 'All hives';
  shapeHives(app, n, make, hives, hive.id);
  addRoutines(app, n, make, hive);

  const tab = (s: Screen, name: string, icon: string) => {
    s.icon = icon;
    return { screen: s.id, name, icon };
  };
  // The most used screens come first.
  const more = screens.find((s) => s.name === 'More')!;
  app.tabs = [
    tab(hives, 'Hives', 'hexagon'),
    tab(screen('Visits'), 'Visits', 'clipboard-list'),
    tab(screen('Stock'), 'Stores', 'package'),
    tab(screen('Swarm reports'), 'Swarms', 'bell'),
    { screen: more.id, name: 'More', icon: 'menu' },
  ];
  screens.push(glanceScreen(n, make, app.files.find((f) => f.type === 'audio/wav')!.id));
  giveCode(n, make, screen('Keeper'));
  fillMore(app, make, more, screens);
}

/** The co-operative in figures: tiles, what is in store and where, and how the year went. */
function glanceScreen(n: Names, make: ElementMaker, sound: string): Screen {
  const id = (table: string): string => n.table(table).id;
  const hives = allId(n.table('Hives').id);
  const overdue = n.field('Hives', 'Overdue');
  const kept = `${hives}[${n.field('Hives', 'Status')} != "Retired"]`;
  const heading = (words: string, icon: string) =>
    make.box('across', [make.make('icon', { icon, size: 20 }), make.text(words, 'heading')], {
      gap: 8,
      across: 'middle',
    });
  return {
    id: make.id('s'),
    name: 'At a glance',
    given: null,
    icon: 'chart',
    root: make.box(
      'down',
      [
        make.text('At a glance', 'title'),
        make.box(
          'across',
          [
            make.tile(id('Hives'), 'hives'),
            make.tile(id('Visits'), 'fed in all', { figure: 'sum', of: n.field('Visits', 'Fed') }),
          ],
          { gap: 10 },
        ),
        make.box(
          'across',
          [
            make.tile(id('Stock'), 'pieces in store', { figure: 'sum', of: n.field('Stock', 'Quantity') }),
            make.tile(id('Hives'), 'kg a hive', { figure: 'average', of: n.field('Hives', 'Weight') }),
          ],
          { gap: 10 },
        ),
        make.make('progress', {
          label: 'Hives visited in time',
          value: `count(${kept}[${overdue} = false])`,
          goal: `count(${kept})`,
        }),
        make.make('countdown', {
          label: 'The swarm season begins in',
          until: 'date(today().year + 1, 4, 15)',
          ended: 'The swarm season is here.',
        }),
        make.make('divider'),
        heading('In store', 'package'),
        make.make('chart', {
          title: 'Pieces by place',
          query: allOf(id('Stock')),
          look: 'ring',
          figure: 'sum',
          of: n.field('Stock', 'Quantity'),
          by: n.field('Stock', 'Place'),
        }),
        make.make('space', { room: 8 }),
        heading('The year', 'calendar'),
        make.make('chart', {
          title: 'Visits by month',
          query: allOf(id('Visits')),
          look: 'area',
          by: n.field('Visits', 'When'),
        }),
        make.make('chart', {
          title: 'Hives by apiary',
          query: allOf(id('Hives')),
          look: 'bars',
          by: n.field('Hives', 'Apiary'),
        }),
        heading('To listen to', 'music'),
        make.make('player', { source: `"file:${sound}"`, label: 'A young queen, piping', look: 'sound' }),
      ],
      { inside: 16, gap: 14 },
    ),
  };
}

/** A keeper’s own code, for the key of the honey room. */
function giveCode(n: Names, make: ElementMaker, keeper: Screen): void {
  const me = thisId(n.table('Keepers').id);
  const words = `HEATHERFIELD {${me}.${n.field('Keepers', 'Mail')}}`;
  keeper.root.children.push(
    make.text('Personal code', 'heading'),
    make.make('code', { words, label: 'Shown at the door of the honey room', size: 160 }),
  );
}

const listIn = (s: Screen): ListElement => {
  let list: ListElement | null = null;
  walkElements<Element>([s.root], (e) => {
    if (e.kind === 'list' && !list) list = e;
  });
  return list!;
};

function shapeHives(_app: App, n: Names, make: ElementMaker, hives: Screen, detail: string): void {
  const me = thisId(n.table('Hives').id);
  const f = (name: string): string => n.field('Hives', name);
  const list = listIn(hives);
  const days = `${me}.${f('Days since visit')}`;
  list.name = 'List of hives';
  list.query.where = { match: 'all', conditions: [{ left: f('Status'), op: 'is not', right: '"Retired"' }] };
  list.query.order = [{ by: f('Days since visit'), descending: true }];
  list.empty = 'No hive to show. Press Add to write down the first one.';
  list.tap = { do: 'open', screen: detail, give: me };
  list.children = [
    make.box(
      'across',
      [
        make.picture(`${me}.${f('Photo')}`, 'square', { width: 46, height: 46 }),
        make.box(
          'down',
          [
            make.text(titleWords(n.table('Hives')), 'strong'),
            make.text(`{${me}.${f('Apiary')}.${n.field('Apiaries', 'Name')}}`, 'small', { colour: 'soft' }),
          ],
          { gap: 2, width: 'fill' },
        ),
        make.box(
          'down',
          [
            make.text(`{${days}}`, 'strong', { colour: 'bad', align: 'end', seenWhen: `${me}.${f('Overdue')}` }),
            make.text(`{${days}}`, 'strong', { colour: 'good', align: 'end', seenWhen: `not(${me}.${f('Overdue')})` }),
            make.text(`{${me}.${f('Weight')}}`, 'small', { colour: 'soft', align: 'end' }),
          ],
          { gap: 2 },
        ),
      ],
      { gap: 12, inside: 10, across: 'middle' },
    ),
  ];
}

function addRoutines(app: App, n: Names, make: ElementMaker, hive: Screen): void {
  const hives = n.table('Hives').id;
  const me = thisId(hives);
  const f = (name: string): string => n.field('Hives', name);
  const keeper = `${me}.${f('Keeper')}`;
  const k = (name: string): string => `${keeper}.${n.field('Keepers', name)}`;
  const pack = make.id('q');
  const visit = make.id('q');
  const step = <T extends object>(s: T): T & { id: string } => ({ id: make.id('p'), ...s });
  app.routines.push({
    id: pack,
    name: 'Send first-visit pack',
    given: hives,
    steps: [
      step({
        do: 'if' as const,
        when: { match: 'all' as const, conditions: [{ left: k('Lives nearby'), op: 'is' as const, right: 'true' }] },
        then: [
          step({
            do: 'mail' as const,
            to: k('Mail'),
            subject: 'Tea and a first look?',
            body: `Hello {${k('Name')}},\n\n{${me}.${f('Name')}} at {${me}.${f('Apiary')}} is yours to visit now. You live close by: come to the honey room for tea on Saturday, and we look at it together.\n\nHeatherfield Bees`,
          }),
        ],
        otherwise: [
          step({
            do: 'mail' as const,
            to: k('Mail'),
            subject: `Your first visit to {${me}.${f('Name')}}`,
            body: `Hello {${k('Name')}},\n\n{${me}.${f('Name')}} stands at {${me}.${f('Apiary')}}. {${me}.${f('Apiary')}.${n.field('Apiaries', 'Access')}}\n\nThe pack is in the cupboard by the gate: veil, smoker, and the visit sheet.\n\nHeatherfield Bees`,
          }),
        ],
      }),
      step({ do: 'set' as const, record: me, values: [{ field: f('Welcomed on'), value: 'today()' }] }),
      step({ do: 'message' as const, words: `The pack is on its way to {${k('Name')}}.` }),
    ],
  });
  const v = (name: string): string => n.field('Visits', name);
  app.routines.push({
    id: visit,
    name: 'Note a quick look',
    given: hives,
    steps: [
      step({
        do: 'add' as const,
        table: n.table('Visits').id,
        values: [
          { field: v('Hive'), value: me },
          { field: v('When'), value: 'now()' },
          { field: v('Keeper'), value: keeper },
          { field: v('Notes'), value: '"A quick look from outside."' },
        ],
        result: make.id('v'),
        resultName: 'new visit',
      }),
      step({
        do: 'message' as const,
        words: `Noted: {${me}.${f('Visits made')}} visits to {${me}.${f('Name')}} so far.`,
      }),
    ],
  });
  const root: BoxElement = hive.root;
  const at = root.children.findIndex((e) => e.kind === 'button');
  root.children.splice(
    at,
    0,
    make.button(
      'Send first-visit pack',
      { do: 'routine', routine: pack },
      { icon: 'send', seenWhen: `${keeper} != null` },
    ),
    make.button('Note a quick look', { do: 'routine', routine: visit }, { look: 'quiet', icon: 'check' }),
  );
}

/** One row for every list that is not a tab. */
function fillMore(app: App, make: ElementMaker, more: Screen, screens: Screen[]): void {
  const tabs = new Set(app.tabs.map((t) => t.screen));
  const lists = screens.filter((s) => !s.given && s.id !== more.id && !tabs.has(s.id));
  more.root.children = [
    make.text('More', 'title'),
    ...lists.map((s) =>
      make.box('across', [make.text(s.name, 'strong', { width: 'fill' })], {
        surface: 'card',
        inside: 14,
        tap: { do: 'open', screen: s.id, give: '' },
      }),
    ),
  ];
}
