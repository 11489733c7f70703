import { titleWords, type ElementMaker } from '../core/app/make.ts';
import { rowFor } from '../core/app/generate-screens.ts';
import { showAs } from '../core/app/shown-as.ts';
import { walkElements } from '../core/document/walk.ts';
import type { App, Element, ListElement, Screen } from '../core/app/schema.ts';
import { thisId } from '../core/document/ids.ts';
import { allOf } from '../core/document/queries.ts';
import type { Names } from './tables.ts';
import { meadowGround } from './ground.ts';

/** The same records looked at as suits them: swarms as a board, visits by day, stock put together, one search for all. */
export function addWaysToLook(app: App, n: Names, make: ElementMaker): void {
  const screen = (name: string): Screen => app.screens.find((s) => s.name === name)!;
  const swarms = listOf(screen('Swarm reports'));
  swarms.query.order = [{ by: n.field('Swarm reports', 'Due by'), descending: false }];
  const report = thisId(n.table('Swarm reports').id);
  const of = (name: string): string => `${report}.${n.field('Swarm reports', name)}`;
  swarms.children = [
    make.box(
      'down',
      [
        make.text(titleWords(n.table('Swarm reports')), 'strong'),
        make.text(`{${of('Where')}}`, 'small', { colour: 'soft', seenWhen: `${of('Where')} != null` }),
        make.box(
          'across',
          [
            make.make('badge', { words: 'urgent', tone: 'bad', seenWhen: `${of('Priority')} = "high"` }),
            make.make('badge', { words: 'late', tone: 'look', seenWhen: of('Late') }),
            make.text(`{${of('Keeper')}}`, 'small', { width: 'fill' }),
          ],
          { gap: 8, across: 'middle' },
        ),
      ],
      { gap: 4, inside: 12 },
    ),
  ];
  showAs(app, swarms.id, 'board', make);

  const stock = listOf(screen('Stock'));
  stock.by = n.field('Stock', 'Place');
  stock.sum = n.field('Stock', 'Quantity');
  stock.filters = [n.field('Stock', 'Place'), n.field('Stock', 'Quantity')];

  const favourites = listOf(screen('Favourites'));
  favourites.swipe = { do: 'remove' };
  favourites.swipeWords = 'Forget';
  favourites.several = { do: 'remove' };
  favourites.severalWords = 'Forget';

  const notices = listOf(screen('Notices'));
  const order = n.field('Notices', 'Order');
  notices.ordered = order;
  notices.query.order = [{ by: order, descending: false }];

  const visits = listOf(screen('Visits'));
  const byDay: Screen = {
    id: make.id('s'),
    name: 'Visits by day',
    given: null,
    icon: 'calendar',
    root: make.box(
      'down',
      [
        make.text('Visits by day', 'title'),
        make.make('calendar', {
          query: allOf(n.table('Visits').id),
          by: n.field('Visits', 'When'),
          filters: [n.field('Visits', 'Keeper'), n.field('Visits', 'Queen seen')],
          empty: 'Nobody looked at a hive on this day.',
          tap: visits.tap,
          children: [rowFor(n.table('Visits'), make)],
        }),
      ],
      { inside: 16, gap: 12 },
    ),
  };
  const moves: Screen = {
    id: make.id('s'),
    name: 'Book of moves',
    given: null,
    icon: 'book',
    root: make.box(
      'down',
      [
        make.text('Book of moves', 'title'),
        make.make('table', {
          query: { ...allOf(n.table('Moves').id), order: [{ by: n.field('Moves', 'When'), descending: true }] },
          columns: ['Goods', 'Quantity', 'Direction', 'When'].map((f) => n.field('Moves', f)),
          filters: ['Direction', 'Place', 'When', 'Quantity'].map((f) => n.field('Moves', f)),
          search: true,
          empty: 'Nothing went in or out yet.',
          tap: listOf(screen('Moves')).tap,
        }),
      ],
      { inside: 16, gap: 12 },
    ),
  };
  const search = searchScreen(app, n, make);
  const plans = planScreen(app, n, make);
  const about: Screen = {
    id: make.id('s'),
    name: 'About the co-operative',
    given: null,
    icon: 'info',
    root: make.box(
      'down',
      [
        make.text('Heatherfield Bees', 'title'),
        make.make('tabs', {
          children: Object.entries(ABOUT).map(([name, words]) =>
            make.box('down', [make.make('rich', { words })], { name }),
          ),
        }),
      ],
      { inside: 16, gap: 12 },
    ),
  };
  app.screens.push(byDay, moves, search, plans, about);
  const more = screen('More');
  const [title, ...rows] = more.root.children;
  const way = (s: Screen, icon: string): Element =>
    make.box('across', [make.make('icon', { icon, size: 20 }), make.text(s.name, 'strong', { width: 'fill' })], {
      surface: 'card',
      gap: 10,
      inside: 14,
      across: 'middle',
      tap: { do: 'open', screen: s.id, give: '' },
    });
  more.root.children = [
    title!,
    way(search, 'search'),
    way(byDay, 'calendar'),
    way(moves, 'book'),
    way(plans, 'map-pin'),
    ...rows,
    way(about, 'info'),
  ];
}

/** What is told of the co-operative, leaf by leaf. */
const ABOUT = {
  'Who we are': `We are neighbours who keep bees together: **one honey room**, one cupboard of tools, and hives at eight places.

> Bees do not hurry, and neither should we.`,
  'How it works': `1. Every hive has a keeper. Who has none to spare, shares one.
2. Every visit is noted, also when nothing was to be seen.
3. What is taken from the stores is written into the book of moves.`,
  'A swarm': `Keep away from it, keep children away from it, and write to us. *A swarm is calm while it hangs.*

- In the app: Swarms, then “Report with a photo”
- By mail: [swarms@heatherfield.example](mailto:swarms@heatherfield.example)`,
};

/** Where things are: apiaries on the plan of the meadow and on a map, store places on the plan of the honey room. */
function planScreen(app: App, n: Names, make: ElementMaker): Screen {
  const ground = make.id('x');
  app.files.push({ id: ground, name: 'Meadow.geojson', type: 'application/geo+json', data: btoa(meadowGround()) });
  const on = (table: string, field: string, opens: string, land = ''): Element => {
    const t = n.table(table);
    return make.make('plan', {
      query: allOf(t.id),
      at: n.field(table, field),
      ...(land && { land }),
      empty: 'Nothing is marked here yet.',
      tap: { do: 'open', screen: app.screens.find((s) => s.name === opens)!.id, give: thisId(t.id) },
      children: [rowFor(t, make)],
    });
  };
  return {
    id: make.id('s'),
    name: 'Where things are',
    given: null,
    icon: 'map-pin',
    root: make.box(
      'down',
      [
        make.text('Where things are', 'title'),
        make.text('The honey room', 'heading'),
        on('Store places', 'On the plan', 'Store place'),
        make.text('The apiaries', 'heading'),
        on('Apiaries', 'Place', 'Apiary', `"file:${ground}"`),
      ],
      { inside: 16, gap: 12 },
    ),
  };
}

/** One box that looks through hives, guides and goods together. */
function searchScreen(app: App, n: Names, make: ElementMaker): Screen {
  const hits = (table: string, opens: string): ListElement => {
    const me = n.table(table);
    const target = app.screens.find((s) => s.name === opens)!;
    return make.list(me.id, [rowFor(me, make)], {
      name: table,
      query: { ...allOf(me.id), limit: 20 },
      tap: { do: 'open', screen: target.id, give: thisId(me.id) },
    });
  };
  return {
    id: make.id('s'),
    name: 'Search',
    given: null,
    icon: 'search',
    root: make.box(
      'down',
      [
        make.text('Search', 'title'),
        make.make('search', {
          hint: 'A hive, a guide, an article …',
          before: 'Hives, guides and goods are searched together.',
          none: 'Nothing is called that. Try fewer letters.',
          children: [hits('Hives', 'Hive'), hits('Guides', 'Guide'), hits('Goods', 'Article')],
        }),
      ],
      { inside: 16, gap: 12 },
    ),
  };
}

function listOf(screen: Screen): ListElement {
  let list: ListElement | null = null;
  walkElements<Element>([screen.root], (e) => {
    if (e.kind === 'list') list ??= e;
  });
  return list as unknown as ListElement;
}
