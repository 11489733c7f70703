import type { ElementMaker } from '../core/app/make.ts';
import type { App, BoxElement, Element, Routine, Screen, Step } from '../core/app/schema.ts';
import { thisId } from '../core/document/ids.ts';
import { allOf } from '../core/document/queries.ts';
import { makingOf } from './making.ts';
import type { Names } from './tables.ts';

/** Routines that ask the keeper or the phone: weighing, retiring, calling, and a swarm reported with a photo. */
export function addWaysToAsk(app: App, n: Names, make: ElementMaker): void {
  const { say, screen, routine, wayTo } = makingOf(app, make);
  const hives = n.table('Hives');
  const me = thisId(hives.id);
  const f = (name: string): string => n.field('Hives', name);
  const name = `{${me}.${f('Name')}}`;
  const set = (field: string, value: string): Step =>
    make.step('set', { record: me, values: [{ field: f(field), value }] });

  const weighed = make.id('v');
  const weigh = routine('Weigh the hive', hives.id, [
    {
      ...make.step('question', {
        words: `What does ${name} weigh, in kg?`,
        as: 'number',
        hint: '18.4',
        first: `${me}.${f('Weight')}`,
        result: weighed,
        resultName: 'weight read off',
      }),
      again: 1,
      ifFails: [say('The weight stays as it was.'), make.step('stop')],
      reason: make.id('v'),
    },
    make.step('if', {
      when: {
        match: 'any',
        conditions: [
          { left: weighed, op: 'over', right: '80' },
          { left: weighed, op: 'under', right: '2' },
        ],
      },
      then: [
        make.step('ask', {
          words: `{${weighed}} kg is unusual for a hive. Keep it all the same?`,
          yes: 'Keep it',
          no: 'Leave it',
          then: [set('Weight', weighed)],
          otherwise: [say('Not kept. Weigh it again when the wind has dropped.')],
        }),
      ],
      otherwise: [set('Weight', weighed), make.step('buzz', { how: 'short' })],
    }),
  ]);

  const retire = routine('Retire the hive', hives.id, [
    make.step('ask', {
      words: `Retire ${name}? It leaves the lists of everybody.`,
      yes: 'Retire it',
      no: 'Keep it',
      then: [set('Status', '"Retired"'), make.step('start'), say(`${name} is retired.`)],
      otherwise: [],
    }),
  ]);

  const k = (field: string): string => `${me}.${f('Keeper')}.${n.field('Keepers', field)}`;
  const reach = routine('Reach the keeper', hives.id, [
    make.step('menu', {
      words: `How do you want to reach {${k('Name')}}?`,
      choices: [
        make.step('choice', {
          words: 'Call',
          steps: [
            {
              ...make.step('address', { how: 'call', to: k('Phone') }),
              ifFails: [say(`{${k('Name')}} has no number here.`)],
              reason: make.id('v'),
            },
          ],
        }),
        make.step('choice', { words: 'Write a mail', steps: [make.step('address', { how: 'mail', to: k('Mail') })] }),
        make.step('choice', {
          words: 'Copy the number',
          steps: [make.step('copy', { words: `{${k('Phone')}}` }), say('Copied.')],
        }),
      ],
    }),
  ]);

  const reports = n.table('Swarm reports');
  const r = (field: string): string => n.field('Swarm reports', field);
  const [words, where, photo, taker, report] = ['v', 'v', 'v', 'v', 'v'].map((l) => make.id(l));
  const swarm = routine('Report a swarm with a photo', null, [
    make.step('photo', { from: 'any', result: photo!, resultName: 'photo of the swarm' }),
    make.step('question', {
      words: 'What do you see?',
      as: 'text',
      hint: 'a cluster in the hedge',
      result: words!,
      resultName: 'what is seen',
    }),
    make.step('question', {
      words: 'Where is it?',
      as: 'text',
      hint: 'behind the chapel',
      result: where!,
      resultName: 'where it is',
    }),
    make.step('menu', {
      words: 'Who shall be asked first?',
      from: 'records',
      query: {
        ...allOf(n.table('Keepers').id),
        where: {
          match: 'all',
          conditions: [{ left: n.field('Keepers', 'Skills'), op: 'contains', right: '"swarms"' }],
        },
        order: [{ by: n.field('Keepers', 'Name'), descending: false }],
      },
      result: taker!,
      resultName: 'keeper who takes swarms',
    }),
    make.step('add', {
      table: reports.id,
      values: [
        { field: r('What'), value: words! },
        { field: r('Where'), value: where! },
        { field: r('Photo'), value: photo! },
        { field: r('Keeper'), value: taker! },
        { field: r('State'), value: '"waiting"' },
        { field: r('Priority'), value: '"high"' },
        { field: r('Reported by'), value: '"app"' },
      ],
      result: report!,
      resultName: 'new report',
    }),
    make.step('mail', {
      to: `${taker}.${n.field('Keepers', 'Mail')}`,
      subject: `A swarm: {${words}}`,
      body: `{${words}}\n{${where}}\n\nCan you go? Write back, and it is yours.`,
    }),
    make.step('speak', { words: 'Thank you. Somebody is asked to come.' }),
  ]);

  const sketch = sketchScreen(app, make);
  const notice = thisId(n.table('Notices').id);
  const opens = routine('Open the page of a notice', n.table('Notices').id, [
    {
      ...make.step('address', { how: 'open', to: `${notice}.${n.field('Notices', 'Button address')}` }),
      ifFails: [say('This page cannot be opened here.')],
      reason: make.id('v'),
    },
  ]);
  const feed = feedScreen(app, n, make, opens);
  app.screens.push(sketch, feed);

  const button = (title: string, icon: string, doing: Routine, more: object = {}): Element =>
    make.button(title, { do: 'routine', routine: doing.id }, { look: 'quiet', icon, ...more });
  const hive: BoxElement = screen('Hive').root;
  const at = hive.children.findIndex((e) => e.kind === 'button');
  hive.children.splice(
    at,
    0,
    make.box(
      'across',
      [
        button('Weigh it', 'gauge', weigh, { width: 'fill' }),
        button('Reach the keeper', 'phone', reach, { width: 'fill', seenWhen: `${me}.${f('Keeper')} != null` }),
      ],
      { gap: 10 },
    ),
  );
  hive.children.push(button('Retire the hive', 'archive', retire, { look: 'plain' }));
  screen('More').root.children.splice(1, 0, wayTo(feed), wayTo(sketch));
  const swarms = screen('Swarm reports').root;
  swarms.children.splice(1, 0, button('Report with a photo', 'camera', swarm));
}

/** What was seen on a frame, drawn over its picture; it stays on the phone until it is wiped. */
function sketchScreen(app: App, make: ElementMaker): Screen {
  const drawn = make.id('v');
  const signed = make.id('v');
  app.variables = [
    ...(app.variables ?? []),
    { id: drawn, name: 'Sketch of a frame', type: 'picture', lasts: 'device', first: '' },
    { id: signed, name: 'Signed', type: 'picture', lasts: 'device', first: '' },
  ];
  const swarm = app.files.find((x) => x.name === 'Swarm')!;
  return {
    id: make.id('s'),
    name: 'Sketch a frame',
    given: null,
    icon: 'pencil',
    root: make.box(
      'down',
      [
        make.text('Sketch a frame', 'title'),
        make.text('Mark what you saw: brood, stores, queen cells. The sketch stays on this phone.'),
        { ...make.input(drawn), label: '', as: 'drawing', behind: `"file:${swarm.id}"` },
        { ...make.input(signed), label: 'Seen by', as: 'signing' },
      ],
      { inside: 16, gap: 12 },
    ),
  };
}

/** What is new: a card for every notice. Its second button is there only where it leads somewhere. */
function feedScreen(app: App, n: Names, make: ElementMaker, opens: Routine): Screen {
  const notices = n.table('Notices');
  const me = thisId(notices.id);
  const of = (name: string): string => `${me}.${n.field('Notices', name)}`;
  const reads = app.screens.find((s) => s.name === 'Notice')!;
  return {
    id: make.id('s'),
    name: 'What is new',
    given: null,
    icon: 'bell',
    root: make.box(
      'down',
      [
        make.text('What is new', 'title'),
        make.list(
          notices.id,
          [
            make.box(
              'down',
              [
                make.picture(of('Picture'), 'wide', { seenWhen: `${of('Picture')} != null` }),
                make.text(`{${of('Title')}}`, 'heading'),
                make.text(`{${of('Words')}}`, 'body', { colour: 'soft' }),
                make.box(
                  'across',
                  [
                    make.button(
                      'Read it',
                      { do: 'open', screen: reads.id, give: me },
                      { look: 'quiet', width: 'fill' },
                    ),
                    make.button(
                      `{${of('Button words')}}`,
                      { do: 'routine', routine: opens.id },
                      { width: 'fill', seenWhen: `${of('Button address')} != null` },
                    ),
                  ],
                  { gap: 10 },
                ),
              ],
              { gap: 10, inside: 14 },
            ),
          ],
          {
            query: {
              ...allOf(notices.id),
              order: [{ by: n.field('Notices', 'Order'), descending: false }],
            },
            empty: 'Nothing is new.',
            gap: 14,
          },
        ),
      ],
      { inside: 16, gap: 12 },
    ),
  };
}
