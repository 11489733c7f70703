import type { ElementMaker } from '../core/app/make.ts';
import type { App, BoxElement, Element, Routine, Screen, Step } from '../core/app/schema.ts';
import { thisId } from '../core/document/ids.ts';
import type { Condition, Query } from '../core/document/pieces.ts';
import { allOf } from '../core/document/queries.ts';
import { addAnswer } from './answering.ts';
import { makingOf } from './making.ts';
import type { Names } from './tables.ts';

/** The desk of the co-operative on a phone: papers that are printed and sent, reports that are answered. */
export function addOffice(app: App, n: Names, make: ElementMaker): void {
  const { say, screen, routine, caught, wayTo } = makingOf(app, make);
  const fields = (table: string, ...names: string[]): string[] => names.map((f) => n.field(table, f));
  const where = (table: string, ...conditions: Condition[]): Query => ({
    ...allOf(n.table(table).id),
    where: { match: 'all', conditions },
  });
  const goods = n.table('Goods').id;
  const low = where('Stock', { left: n.field('Stock', 'Low'), op: 'is', right: 'true' });

  // Papers

  const [book, list, cards, days, code] = ['book', 'list', 'cards', 'days', 'code'].map(() => make.id('v')) as [
    string,
    string,
    string,
    string,
    string,
  ];
  const logo = app.files.find((f) => f.name === 'Hive 1')!;
  const print = routine('Print the price list', null, [
    make.step('pdf', {
      name: 'Price list',
      picture: `"file:${logo.id}"`,
      before: '# Price list\n\nOf Heatherfield Bees, on {today()}.',
      query: allOf(goods),
      columns: fields('Goods', 'Name', 'Unit', 'Price', 'In all'),
      after: 'Prices hold until the next meeting. *The honey room is open on Saturdays.*',
      result: book,
      resultName: 'price list',
    }),
    make.step('save file', { name: '', content: '', file: book }),
    say('The price list is saved on this phone.'),
  ]);
  const taker = make.id('v');
  const row = make.id('v');
  const mailLow = routine('Mail what runs low', null, [
    caught(
      make.step('get', {
        query: where(
          'Keepers',
          { left: n.field('Keepers', 'Role'), op: 'is', right: '"Honey room"' },
          { left: n.field('Keepers', 'Mail'), op: 'is filled', right: '' },
        ),
        result: taker,
        resultName: 'who keeps the stores',
      }),
      'Nobody keeps the stores just now.',
    ),
    caught(
      make.step('csv', {
        name: 'Runs low',
        query: low,
        columns: fields('Stock', 'Goods', 'Place', 'Quantity'),
        result: list,
        resultName: 'list of what runs low',
      }),
      'Nothing runs low.',
    ),
    make.step('mail', {
      to: `${taker}.${n.field('Keepers', 'Mail')}`,
      subject: 'What runs low in the honey room',
      body: `Dear {${taker}.${n.field('Keepers', 'Name')}}, this runs low:`,
      query: low,
      line: `- {${row}.${n.field('Stock', 'Goods')}}: {${row}.${n.field('Stock', 'Quantity')}} left in {${row}.${n.field('Stock', 'Place')}}`,
      result: row,
      resultName: 'stock line',
      after: 'The same as a table is with this mail.',
      files: list,
    }),
    say('The mail is on its way.'),
  ]);
  const address = routine('Keepers for the address book', null, [
    make.step('contacts', {
      name: 'Keepers of Heatherfield',
      query: allOf(n.table('Keepers').id),
      mail: n.field('Keepers', 'Mail'),
      phone: n.field('Keepers', 'Phone'),
      remark: n.field('Keepers', 'Role'),
      result: cards,
      resultName: 'contact cards',
    }),
    caught(make.step('share', { words: 'The keepers of Heatherfield', file: cards }), 'It was not shared.'),
  ]);
  const calendar = routine('Reports due, for the calendar', null, [
    caught(
      make.step('calendar file', {
        name: 'Swarm reports',
        query: where('Swarm reports', { left: n.field('Swarm reports', 'Due by'), op: 'is filled', right: '' }),
        starts: n.field('Swarm reports', 'Due by'),
        place: n.field('Swarm reports', 'Where'),
        words: n.field('Swarm reports', 'What'),
        result: days,
        resultName: 'calendar file',
      }),
      'No report has a day by which it is due.',
    ),
    make.step('save file', { name: '', content: '', file: days }),
  ]);
  const poster = routine('Poster with our code', null, [
    make.step('qr', { words: 'https://heatherfield.example/join', result: code, resultName: 'code of the page' }),
    caught(make.step('share', { words: 'Join Heatherfield Bees', file: code }), 'It was not shared.'),
  ]);

  // Answering a report

  const reports = n.table('Swarm reports').id;
  const report = thisId(reports);
  const of = (f: string): string => `${report}.${n.field('Swarm reports', f)}`;
  const setPriority = (value: string): Step =>
    make.step('set', { record: report, values: [{ field: n.field('Swarm reports', 'Priority'), value }] });
  const judged = make.id('v');
  const judge = routine('Judge how urgent it is', reports, [
    caught(
      make.step('judge', {
        text: of('What'),
        choices:
          'high: school, children, sting, house, chimney, road, low, hanging, window\nlow: tree, quiet, wall, gone, old, looks, calm',
        result: judged,
        resultName: 'judgement',
      }),
      'These words do not say how urgent it is. Read it yourself.',
    ),
    make.step('choose', {
      value: `${judged}.choice`,
      cases: [
        make.step('case', { value: '"high"', steps: [setPriority('"high"'), make.step('buzz', { how: 'twice' })] }),
      ],
      otherwise: [setPriority(`${judged}.choice`)],
    }),
    say(`Priority {${judged}.choice}, for: {${judged}.why}`, { has: 'undo' }),
  ]);
  const answer = addAnswer(app, n, make);
  const seen = make.id('v');
  const look = routine('What is on the photo?', reports, [
    caught(
      make.step('describe', { picture: of('Photo'), result: seen, resultName: 'what is seen' }),
      'There is no photo of it.',
    ),
    say(`{${seen}.words}`),
  ]);
  const keeper = (f: string): string => `${of('Keeper')}.${n.field('Keepers', f)}`;
  const tell = routine('Tell the keeper', reports, [
    make.step('if', {
      when: { match: 'all', conditions: [{ left: of('Keeper'), op: 'is empty', right: '' }] },
      then: [say('Nobody has taken it yet.'), make.step('stop')],
      others: [
        make.step('otherwise if', {
          when: { match: 'all', conditions: [{ left: keeper('Phone'), op: 'is filled', right: '' }] },
          steps: [
            make.step('text message', { to: keeper('Phone'), words: `A swarm: {${of('What')}} {${of('Where')}}` }),
          ],
        }),
      ],
      otherwise: [],
    }),
    make.step('notify', { to: keeper('Name'), title: 'A swarm for you', words: `{${of('Where')}}` }),
    say(`{${keeper('Name')}} knows of it.`),
  ]);
  const summary = make.id('v');
  const dates = make.id('v');
  const gist = routine('In short', reports, [
    caught(
      make.step('sum up', { text: of('What'), most: 1, result: summary, resultName: 'gist' }),
      'Nothing is written about it yet.',
    ),
    make.step('pull out', { kind: 'times', text: of('What'), result: dates, resultName: 'times in it' }),
    say(`{${summary}} {if count(${dates}) > 0 then "It names a time." else ""}`),
  ]);
  const collected = routine('It is collected', reports, [
    make.step('set', { record: report, values: [{ field: n.field('Swarm reports', 'State'), value: '"collected"' }] }),
    make.step('back'),
    say('Collected. Thank you!', { has: 'undo' }),
  ]);
  routine('A notice is opened', null, [make.step('open', { screen: screen('Swarm reports').id, give: '' })], {
    starts: [{ on: 'notice opened' }],
  });

  const office: Screen = {
    id: make.id('s'),
    name: 'Office',
    given: null,
    icon: 'folder',
    root: make.box(
      'down',
      [
        make.text('Office', 'title'),
        make.text('Papers of the co-operative, made on this phone.', 'body', { colour: 'soft' }),
        ...(
          [
            ['Price list as PDF', 'printer', print],
            ['Mail what runs low', 'mail', mailLow],
            ['Keepers for the address book', 'users', address],
            ['Reports due, for the calendar', 'calendar', calendar],
            ['Poster with our code', 'qr-code', poster],
          ] as const
        ).map(([title, icon, does]) =>
          make.button(title, { do: 'routine', routine: does.id }, { look: 'quiet', icon }),
        ),
      ],
      { inside: 16, gap: 12 },
    ),
  };
  app.screens.push(office);
  screen('More').root.children.splice(1, 0, wayTo(office));
  screen('Article').root.children.push(
    make.make('code', {
      words: `{${thisId(goods)}.${n.field('Goods', 'Code')}}`,
      form: 'bars',
      label: 'For the shelf',
      size: 220,
    }),
  );
  screen('About the co-operative').root.children.push(
    make.make('fold', {
      words: 'The weather at the hives',
      children: [make.make('page', { address: '"https://weather.example/heatherfield"', title: 'Weather', tall: 300 })],
    }),
  );
  const button = (title: string, icon: string, does: Routine): Element =>
    make.button(title, { do: 'routine', routine: does.id }, { look: 'quiet', icon, width: 'fill' });
  const across = (...children: Element[]): BoxElement => make.box('across', children, { gap: 10 });
  screen('Swarm report').root.children.push(
    across(button('How urgent?', 'gauge', judge), button('In short', 'list', gist)),
    across(button('The photo', 'camera', look), button('Answer', 'pencil', answer)),
    button('Tell the keeper', 'send', tell),
    make.button('It is collected', { do: 'routine', routine: collected.id }, { icon: 'check' }),
  );
}
