import { thisId } from '../core/document/ids.ts';
import { allOf } from '../core/document/queries.ts';
import type { ElementMaker } from '../core/app/make.ts';
import type { App, Screen } from '../core/app/schema.ts';
import { USUAL_LIMITS, type ServiceRequest } from '../core/services/schema.ts';
import type { Field, Table } from '../core/tables/schema.ts';
import { makingOf } from './making.ts';
import type { Names } from './tables.ts';

/** Where the stand-ins are that are started with the server. */
const STAND_INS = 'http://127.0.0.1:4190';

/** Other people's systems: a supplier's catalogue that is looked through like a list of one's own, and an outlook of the weather. */
export function addOutside(app: App, n: Names, make: ElementMaker): void {
  const { say, screen, routine, caught, wayTo } = makingOf(app, make);
  const input = (name: string, type: Field['type'], more: object = {}): ServiceRequest['inputs'][number] => ({
    id: make.id('v'),
    name,
    type,
    ...more,
  });
  const search = input('Search', 'text', { optional: true });
  const page = input('Page', 'number', { optional: true });
  const number = input('Number', 'text', { test: 'G-0042' });
  const place = input('Place', 'text', { test: 'Mill Lane' });
  const request = (name: string, path: string, more: Partial<ServiceRequest>): ServiceRequest => ({
    id: make.id('n'),
    name,
    method: 'GET',
    path,
    query: [],
    headers: [],
    inputs: [],
    picks: [],
    ...more,
  });
  const list = request('List goods', '/goods', {
    inputs: [search, page],
    query: [
      { name: 'search', value: `{${search.id}}` },
      { name: 'page', value: `{${page.id}}` },
    ],
    paging: { by: 'page', input: page.id, first: 1 },
  });
  const one = request('Get one good', `/goods/{${number.id}}`, { inputs: [number] });
  const pick = (name: string, type: Field['type'], path: string): ServiceRequest['picks'][number] => ({
    id: make.id('k'),
    name,
    type,
    path,
  });
  const warmest = pick('Warmest', 'number', "$['days'][1]['warmest']");
  const rain = pick('Rain', 'number', "$['days'][1]['rain']");
  const outlook = request('Get the outlook', '/outlook', {
    inputs: [place],
    query: [{ name: 'place', value: `{${place.id}}` }],
    picks: [warmest, rain],
  });
  const service = { test: STAND_INS, headers: [], limits: USUAL_LIMITS };
  app.services = [
    { ...service, id: make.id('w'), name: 'Supplier', sign: { how: 'none' }, requests: [list, one] },
    { ...service, id: make.id('w'), name: 'Weather', sign: { how: 'header', name: 'X-Api-Key' }, requests: [outlook] },
  ];

  const field = (name: string, type: Field['type'], at: string, more: Partial<Field> = {}): Field => ({
    id: make.id('f'),
    name,
    type,
    pick: `$['${at}']`,
    ...more,
  });
  const fields = [
    field('Number', 'text', 'id'),
    field('Name', 'text', 'name'),
    field('Category', 'text', 'category'),
    field('Price', 'money', 'price', { unit: '€' }),
    field('In stock', 'number', 'inStock'),
    field('Words', 'longtext', 'words'),
    field('Picture', 'picture', 'picture'),
  ];
  const [key, name, category, price, inStock, words, picture] = fields.map((f) => f.id) as [string, ...string[]];
  const catalogue: Table = {
    id: make.id('t'),
    name: 'Catalogue',
    one: 'article',
    fields,
    titleField: name!,
    pictureField: picture!,
    fetched: {
      request: list.id,
      rows: "$['items'][*]",
      key,
      fresh: 60,
      one: { request: one.id, input: number.id, at: '$' },
    },
  };
  app.tables.push(catalogue);
  const me = thisId(catalogue.id);
  const article: Screen = {
    id: make.id('s'),
    name: 'Article',
    given: catalogue.id,
    icon: 'package',
    root: make.box(
      'down',
      [
        make.picture(`${me}.${picture!}`, 'wide'),
        make.text(`{${me}.${name!}}`, 'title'),
        make.text(`{${me}.${words!}}`, 'body', { colour: 'soft' }),
        make.box(
          'down',
          [
            make.reading('Price', `${me}.${price!}`),
            make.reading('In stock', `${me}.${inStock!}`),
            make.reading('Number', `${me}.${key}`),
          ],
          { surface: 'card', inside: 14, gap: 10 },
        ),
      ],
      { inside: 16, gap: 14 },
    ),
  };
  const row = make.box(
    'across',
    [
      make.picture(`${me}.${picture!}`, 'square', { width: 44, height: 44 }),
      make.box(
        'down',
        [
          make.text(`{${me}.${name!}}`, 'strong'),
          make.text(`{${me}.${category!}} · {${me}.${key}}`, 'small', { colour: 'soft' }),
        ],
        { gap: 2, width: 'fill' },
      ),
      make.text(`{${me}.${price!}}`, 'strong', { colour: 'accent', align: 'end' }),
    ],
    { gap: 12, inside: 12, across: 'middle' },
  );
  const shop: Screen = {
    id: make.id('s'),
    name: 'Catalogue',
    given: null,
    icon: 'package',
    root: make.box(
      'down',
      [
        make.text('Catalogue', 'title'),
        make.list(catalogue.id, [row], {
          name: 'List of articles',
          query: { ...allOf(catalogue.id), asks: { values: [], search: search.id } },
          search: true,
          empty: 'The supplier has nothing like it.',
          tap: { do: 'open', screen: article.id, give: me },
        }),
      ],
      { inside: 16, gap: 12 },
    ),
  };
  app.screens.push(shop, article);
  screen('More').root.children.splice(1, 0, wayTo(shop));

  const apiaries = n.table('Apiaries');
  const apiary = thisId(apiaries.id);
  const answer = make.id('v');
  const look = routine('Look at the weather', apiaries.id, [
    caught(
      make.step('request', {
        request: outlook.id,
        values: [{ field: place.id, value: `${apiary}.${n.field('Apiaries', 'Name')}` }],
        result: answer,
        resultName: 'the outlook',
      }),
      'The outlook cannot be had now.',
    ),
    say(`Tomorrow up to {${answer}.${warmest.id}} °C, {${answer}.${rain.id}} mm of rain.`),
  ]);
  const page1 = app.screens.find((s) => s.given === apiaries.id && !s.optional);
  page1?.root.children.push(
    make.button(
      'Tomorrow’s weather',
      { do: 'routine', routine: look.id },
      { look: 'quiet', icon: 'cloud', width: 'fit' },
    ),
  );
}
