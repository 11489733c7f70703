import { expect, it } from 'vitest';
import { ElementMaker } from '../app/make.ts';
import type { App } from '../app/schema.ts';
import { F, hiveApp, T } from '../records/fixture.ts';
import { openSession } from './fixture.ts';

/** What is given on: by a tap to the screen that it opens, by a form to its record, by a device to whoever keeps files. */

const make = new ElementMaker();
const open = openSession;

it('a tap gives each variable of the screen that it opens its own value, as its type is kept', async () => {
  const app = hiveApp();
  const [from, to] = ['s_from00000', 's_to0000000'];
  const button = make.button('Go', {
    do: 'open',
    screen: to,
    give: '',
    values: [
      { field: 'v_count0000', value: '1 + 1' },
      { field: 'v_words0000', value: '"two"' },
    ],
  });
  const screen = (id: string) => ({ id, name: id, given: null, icon: 'box', root: make.box('down', [button]) });
  app.screens = [screen(from), screen(to)];
  app.variables = [
    { id: 'v_words0000', name: 'Words', type: 'text', screen: to },
    { id: 'v_count0000', name: 'Count', type: 'number', screen: to },
  ] as App['variables'];
  const { session, show, effects } = open(app);
  const page = show(from);
  await session.tapped('phone', page.find('button')[0]!.key);
  expect(effects).toEqual([{ do: 'open', screen: to, record: null, values: { v_count0000: 2, v_words0000: 'two' } }]);
});

it('a tap and a step give the form of the screen that they open what a new record begins with', async () => {
  const app = hiveApp({ hives: [{ id: 'f_took00000', name: 'Took', type: 'duration' }] });
  const values = [
    { field: F.keeper, value: `all_${T.keepers}[1]` },
    { field: F.name, value: '"New"' },
    { field: F.weight, value: '2 * 4' },
    { field: 'f_took00000', value: 'duration("PT1H30M")' },
    { field: 'f_gone00000', value: '1' },
    { field: F.status, value: 'null' },
  ];
  const to = 's_to0000000';
  const root = make.box('down', [
    make.button('Go', { do: 'open', screen: to, give: '', values }),
    make.button('Run', { do: 'routine', routine: 'q_open00000' }),
  ]);
  app.screens = [
    { id: 's_from00000', name: 'From', given: null, icon: 'box', root },
    { id: to, name: 'Form', given: T.hives, optional: true, icon: 'box', root: make.box('down', []) },
  ];
  app.routines = [
    {
      id: 'q_open00000',
      name: 'Open',
      given: null,
      steps: [make.step('open', { screen: to, values: values.filter((v) => v.field !== 'f_gone00000') })],
    },
  ];
  const { session, show, effects } = open(app);
  const page = show('s_from00000');
  for (const button of page.find('button')) await session.tapped('phone', button.key);
  const begun = { [F.keeper]: 'odile', [F.name]: 'New', [F.weight]: 8, f_took00000: '1 h 30 min', [F.status]: null };
  expect(effects).toEqual([1, 2].map(() => ({ do: 'open', screen: to, record: null, values: begun })));
});

it('a form keeps the switch that was put on, and one that nobody touched says no', async () => {
  const app = hiveApp({
    hives: [
      { id: 'f_alive0000', name: 'Alive', type: 'yesno' },
      { id: 'f_sold00000', name: 'Sold', type: 'yesno' },
    ],
  });
  const { session, records } = open(app);
  const saved = await (
    await session.actions()
  ).saveForm(T.hives, null, { [F.name]: 'Ash', f_alive0000: true, f_sold00000: null });
  expect('saved' in saved && records.row(T.hives, saved.saved)!.cells).toMatchObject({
    f_alive0000: true,
    f_sold00000: false,
  });
});

it('a file that the device made is told to whoever keeps files, and nothing else that it gives', async () => {
  const app = hiveApp();
  const steps = [
    make.step('csv', {
      name: 'Hives',
      query: { ...make.list(T.hives, []).query },
      columns: [F.name],
      resultName: 'file',
    }),
    make.step('scan', { resultName: 'code' }),
  ];
  app.routines = [{ id: 'q_make00000', name: 'Make', given: null, steps }];
  const made: string[] = [];
  const gives = ['ni:///sha-256;AAAA', 'ni:///sha-256;BBBB'];
  const { session } = open(app, {
    made: async (address) => void made.push(address),
    effect: (e) => {
      if (e.do === 'device') queueMicrotask(() => session.answered(e.id, { ok: true, value: gives.shift()! }));
    },
  });
  const trace = await session.runNow(app.routines[0]!, null);
  expect([trace.error, made]).toEqual([undefined, ['ni:///sha-256;AAAA']]);
});
