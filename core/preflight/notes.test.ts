import { describe, expect, it } from 'vitest';
import { ElementMaker } from '../app/make.ts';
import type { App, Element, Routine, Screen, Step } from '../app/schema.ts';
import { thisId } from '../document/ids.ts';
import type { Where } from '../document/pieces.ts';
import { F, T, hiveApp } from '../records/fixture.ts';
import type { Field } from '../tables/schema.ts';
import { preflight, stops, type Note } from './preflight.ts';

const make = new ElementMaker();
const FIRST = 's_first0000';
const ONE = 's_onehive00';
const GOES = 'q_goes00000';
const OPEN = { do: 'open', screen: FIRST, give: '' } as const;

/** The hive app with one screen on a tab, a screen for one hive, and a routine that a button starts: nothing to note. */
function sound(): App {
  const app = hiveApp();
  const screen = (id: string, name: string, given: string | null, children: Element[]): Screen => ({
    id,
    name,
    given,
    icon: 'box',
    root: make.box('down', children),
  });
  app.screens = [
    screen(FIRST, 'First', null, [
      make.button('Go', { do: 'routine', routine: GOES }),
      make.button('One', { do: 'open', screen: ONE, give: `all_${T.hives}[1]` }),
    ]),
    screen(ONE, 'One hive', T.hives, [make.text(`{${thisId(T.hives)}.${F.name}}`)]),
  ];
  app.tabs = [{ screen: FIRST, name: 'First', icon: 'box' }];
  app.routines = [{ id: GOES, name: 'Goes', given: null, steps: [make.step('message', { words: 'Hello' })] }];
  return app;
}
const noted = (change: (app: App) => void): string[] => {
  const app = sound();
  change(app);
  return preflight(app).map((n) => `${n.severity}: ${n.said}`);
};
const note = (change: (app: App) => void): Note => {
  const app = sound();
  change(app);
  const all = preflight(app);
  expect(all).toHaveLength(1);
  return all[0]!;
};
const where = (...conditions: Where['conditions']): Where => ({ match: 'all', conditions });
const field = (more: Partial<Field>) => (app: App) =>
  void app.tables[0]!.fields.push({ id: 'f_more00000', name: 'More', type: 'text', ...more } as Field);
const element =
  (e: Element, screen = 0) =>
  (app: App) =>
    void app.screens[screen]!.root.children.push(e);
const step = (s: Step) => (app: App) => void app.routines[0]!.steps.push(s);

it('names screens that people get to and that are empty', () => {
  const empty = { id: 's_empty0000', name: 'Home', given: null, icon: 'box', root: make.box('down', []) };
  expect(
    noted((app) => {
      app.screens.push(empty);
      app.tabs.push({ screen: empty.id, name: 'Home', icon: 'box' });
    }),
  ).toEqual(['look: Home is empty: whoever opens it sees nothing.']);
  // One that nobody gets to is named for that alone.
  expect(noted((app) => void app.screens.push(empty))).toEqual([
    'look: Home cannot be reached: no tab and no tap opens it.',
  ]);
});

it('finds nothing in an app that is finished', () => {
  expect(noted(() => undefined)).toEqual([]);
  expect(stops(preflight(sound()))).toBe(false);
});

describe('fields', () => {
  it.each<[string, Partial<Field>, string[]]>([
    ['a formula that is not written', { type: 'formula', formula: ' ' }, ['look: More of Hives has no formula yet.']],
    ['a formula that works', { type: 'formula', formula: '1 + 1' }, []],
    [
      'a default that does not work out',
      { default: 'Nothere' },
      ['stops: More of Hives, what it begins with: There is nothing called “Nothere” here.'],
    ],
    ['a default that does', { default: '"x"' }, []],
    [
      'a check that does not work out',
      { check: { formula: 'Wieght > 0', words: '' } },
      ['stops: More of Hives, its check: There is nothing called “Wieght” here. Did you mean “Weight”?'],
    ],
    ['a place without a plan', { type: 'plan' }, ['look: More of Hives has no plan to put places on yet.']],
    [
      'a link to a table that is gone',
      { type: 'link', link: { kind: 'picked', table: 't_gone0000', backName: 'B' } },
      ['stops: More of Hives leads to a table that is gone.'],
    ],
    [
      'a link to a table that is there',
      { type: 'link', link: { kind: 'picked', table: T.keepers, backName: 'B' } },
      [],
    ],
    [
      'a match by fields that are there',
      { type: 'link', link: { kind: 'matched', table: T.keepers, from: F.name, to: F.keeperName, backName: 'B' } },
      [],
    ],
    [
      'a match from a field that is gone',
      {
        type: 'link',
        link: { kind: 'matched', table: T.keepers, from: 'f_gone0000', to: F.keeperName, backName: 'B' },
      },
      ['stops: More of Hives matches by a field that is not chosen.'],
    ],
    [
      'a match to a field that is gone',
      { type: 'link', link: { kind: 'matched', table: T.keepers, from: F.name, to: F.name, backName: 'B' } },
      ['stops: More of Hives matches by a field that is not chosen.'],
    ],
  ])('%s', (_what, more, said) => expect(noted(field(more))).toEqual(said));
  it('a formula gives one note, even with several problems, and leads to its field', () => {
    expect(note(field({ type: 'formula', formula: 'Aaaa + Bbbb' }))).toMatchObject({
      severity: 'stops',
      workspace: 'data',
      table: T.hives,
      field: 'f_more00000',
    });
  });
  it('what it begins with and its check are both told', () => {
    expect(noted(field({ default: 'Aaaa', check: { formula: 'Bbbb', words: '' } }))).toHaveLength(2);
  });
});

describe('screens', () => {
  it('an app without a screen', () => {
    expect(
      noted((app) => {
        app.screens = [];
        app.tabs = [];
        app.routines = [];
      }),
    ).toEqual(['stops: The app has no screen.']);
  });
  it('a tab whose screen is gone', () => {
    expect(note((app) => app.tabs.push({ screen: 's_gone0000', name: 'Lost', icon: 'box' }))).toEqual({
      severity: 'stops',
      said: 'The tab Lost opens a screen that is gone.',
      workspace: 'screens',
    });
  });
  it('a screen nobody reaches; by a tab, a tap or a step it is reached', () => {
    const lonely = (app: App): void => void app.screens.push({ ...app.screens[0]!, id: 's_lonely000', name: 'Lonely' });
    expect(note(lonely)).toEqual({
      severity: 'look',
      said: 'Lonely cannot be reached: no tab and no tap opens it.',
      workspace: 'screens',
      screen: 's_lonely000',
    });
    expect(
      noted((app) => {
        lonely(app);
        app.tabs.push({ screen: 's_lonely000', name: 'L', icon: 'box' });
      }),
    ).toEqual([]);
    expect(
      noted((app) => {
        lonely(app);
        step(make.step('open', { screen: 's_lonely000' }))(app);
      }),
    ).toEqual([]);
    expect(
      noted((app) => {
        lonely(app);
        element(make.box('down', [make.button('L', { do: 'open', screen: 's_lonely000', give: '' })]))(app);
      }),
    ).toEqual([]);
  });
  it('without tabs the first screen is where the app begins', () => {
    expect(
      noted((app) => {
        app.tabs = [];
      }),
    ).toEqual([]);
  });
});

describe('elements', () => {
  const thisHive = thisId(T.hives);
  it.each<[string, Element, string[]]>([
    [
      'words with a place that does not work out',
      make.text('Now {Aaaa}'),
      ['stops: Text on First: There is nothing called “Aaaa” here.'],
    ],
    ['a record that is not in reach', make.text(`{${thisHive}.${F.name}}`), ['stops: Text on First: ']],
    [
      'a condition for being seen that is not written',
      make.text('Hi', 'body', { seenWhen: '' }),
      ['look: Text on First: the formula for when it is seen is not written yet, so it is never seen.'],
    ],
    [
      'a condition for being seen that does not work out',
      make.text('Hi', 'body', { seenWhen: 'Aaaa' }),
      ['stops: Text on First: There is nothing called “Aaaa” here.'],
    ],
    ['a condition for being seen that does', make.text('Hi', 'body', { seenWhen: '1 < 2' }), []],
    ['a reading without a value', make.reading('Weight', ''), ['look: Reading on First: its value is not chosen.']],
    ['a picture that is not chosen', make.picture('', 'wide'), ['look: Picture on First: no picture is chosen.']],
    [
      'a tap that does nothing',
      make.button('Go', { do: 'nothing' }),
      ['look: Button on First: a tap does nothing yet.'],
    ],
    ['a box need not do anything', make.box('down', [], { tap: { do: 'nothing' } }), []],
    [
      'a tap on a screen that is gone',
      make.button('Go', { ...OPEN, screen: 's_gone0000' }),
      ['stops: Button on First: a tap opens a screen that is not chosen.'],
    ],
    [
      'a tap that gives no record',
      make.button('Go', { ...OPEN, screen: ONE }),
      ['stops: Button on First: a tap opens One hive, which needs a record, and gives none.'],
    ],
    [
      'a tap whose record does not work out',
      make.button('Go', { ...OPEN, screen: ONE, give: 'Aaaa' }),
      ['stops: Button on First: There is nothing called “Aaaa” here.'],
    ],
    [
      'a tap on a routine that is gone',
      make.button('Go', { do: 'routine', routine: 'q_gone0000' }),
      ['stops: Button on First: a tap runs a routine that is not chosen.'],
    ],
    [
      'a tap that saves no form',
      make.button('Save', { do: 'save' }),
      ['stops: Button on First: it saves a form, and stands in none.'],
    ],
    [
      'a tap that saves its form',
      make.form(T.hives, '', [make.input(F.name), make.button('Save', { do: 'save' })]),
      [],
    ],
    ['a form without a table', make.form('', '', []), ['stops: Form on First: its table is not chosen.']],
    [
      'an input outside a form',
      make.input(F.name),
      ['stops: Input on First: its field belongs to no form or record that is at hand here.'],
    ],
    [
      'an input for a field of another table',
      make.form(T.hives, '', [make.input(F.fed)]),
      ['stops: Input on First: what it fills in is not chosen.'],
    ],
    [
      'an input in a list writes to its row, and to no other record',
      make.form(T.hives, '', [make.list(T.hives, [make.input(F.name)]), make.list(T.hives, [make.input(F.fed)])]),
      ['stops: Input on First: its field belongs to no form or record that is at hand here.'],
    ],
    ['a list without a table', make.list('', [make.text('Hi')]), ['stops: List on First: its table is not chosen.']],
    [
      'a list without rows or words for none',
      make.list(T.hives, [], { empty: ' ' }),
      [
        'look: List on First: its rows show nothing yet.',
        'look: List on First: the words for an empty list are missing.',
      ],
    ],
    [
      'a row knows its record',
      make.list(T.hives, [make.text(`{${thisHive}.${F.name}}`)], { tap: { do: 'open', screen: ONE, give: thisHive } }),
      [],
    ],
    [
      'a name of its own is told',
      { ...make.picture('', 'wide'), name: 'The flag' },
      ['look: The flag on First: no picture is chosen.'],
    ],
  ])('%s', (_what, e, said) => {
    const found = noted(element(e));
    expect(found).toHaveLength(said.length);
    said.forEach((s, i) => expect(found[i]).toContain(s));
  });
  it('a note leads to its element', () => {
    const e = make.picture('', 'wide');
    expect(note(element(e, 1))).toMatchObject({ workspace: 'screens', screen: ONE, element: e.id });
  });
  it('a list looks at its conditions, its order and where its records come from', () => {
    const list = (query: Partial<ReturnType<typeof make.list>['query']>): string[] =>
      noted(
        element(
          make.list(T.visits, [make.text('Hi')], {
            query: { table: T.visits, where: where(), order: [], limit: null, ...query },
          }),
        ),
      );
    expect(list({})).toEqual([]);
    expect(list({ where: where({ left: F.fed, op: 'over', right: '' }) })).toEqual([
      'look: List on First: a condition is not filled in yet, so it is left out.',
    ]);
    expect(list({ where: where({ left: '', op: 'is empty', right: '' }) })).toHaveLength(1);
    expect(list({ where: where({ left: F.fed, op: 'is empty', right: '' }) })).toEqual([]);
    expect(list({ where: where({ left: F.fed, op: 'over', right: 'Aaaa' }) })[0]).toContain(
      'stops: List on First: There is nothing called “Aaaa”',
    );
    expect(list({ order: [{ by: F.fed, descending: true }] })).toEqual([]);
    expect(list({ order: [{ by: F.name, descending: true }] })[0]).toContain('stops: ');
    expect(list({ via: 'Aaaa' })[0]).toContain('stops: List on First: There is nothing called “Aaaa”');
  });
});

describe('routines', () => {
  const values = (value: string) => [{ field: F.weight, value }];
  it.each<[string, Step, string | null]>([
    ['a message without words', make.step('message'), 'a message has no words yet.'],
    ['words that do not work out', make.step('message', { words: '{Aaaa}' }), 'There is nothing called “Aaaa” here.'],
    [
      'a record that is not filled in',
      make.step('set', { values: values('1') }),
      'the record to set is not filled in yet.',
    ],
    ['no field to set', make.step('set', { record: `all_${T.hives}[1]` }), 'a step sets no field yet.'],
    [
      'a value that is not filled in',
      make.step('set', { record: `all_${T.hives}[1]`, values: values('') }),
      'a value is not filled in yet.',
    ],
    [
      'a value that does not work out',
      make.step('set', { record: `all_${T.hives}[1]`, values: values('Aaaa') }),
      'There is nothing called “Aaaa” here.',
    ],
    ['a table that is not chosen', make.step('add', { values: values('1') }), 'the table to add to is not chosen.'],
    ['a screen that is not chosen', make.step('open'), 'the screen to open is not chosen.'],
    [
      'a screen that is given nothing',
      make.step('open', { screen: ONE }),
      'what One hive is given is not filled in yet.',
    ],
    ['a screen that is given its record', make.step('open', { screen: ONE, give: `all_${T.hives}[1]` }), null],
    ['a condition without conditions', make.step('if', { when: where() }), 'a condition is not filled in yet.'],
    ['a condition with an open side', make.step('if'), 'a condition is not filled in yet.'],
    [
      'a step inside another',
      make.step('if', { when: where({ left: '1', op: 'is', right: '1' }), otherwise: [make.step('wait')] }),
      'how long to wait is not filled in yet.',
    ],
    ['a step that is whole', make.step('wait', { time: 'duration("PT1M")' }), null],
    ['a mail that goes nowhere', make.step('mail'), 'the address of a mail is not filled in yet.'],
    ['nothing to remove', make.step('remove'), 'the record to remove is not filled in yet.'],
  ])('%s', (_what, s, said) => {
    expect(noted(step(s))).toEqual(said === null ? [] : [`stops: Goes: ${said}`]);
    // What nothing starts cannot fail for anybody.
    const idle = noted((app) => {
      step(s)(app);
      app.screens[0]!.root.children.shift();
    });
    expect(idle).toEqual(['look: Goes is not started by anything.', ...(said === null ? [] : [`look: Goes: ${said}`])]);
  });
  it('the first place is told, with its routine', () => {
    const two = note((app) => {
      step(make.step('wait'))(app);
      step(make.step('message'))(app);
    });
    expect(two).toEqual({
      severity: 'stops',
      said: 'Goes: how long to wait is not filled in yet.',
      workspace: 'logic',
      routine: GOES,
    });
  });
  it('later steps may name what earlier ones gave', () => {
    const added = make.step('add', { table: T.hives, values: values('1'), resultName: 'new hive' });
    expect(
      noted((app) => {
        step(added)(app);
        step(make.step('message', { words: `{${added.result}.${F.weight}}` }))(app);
      }),
    ).toEqual([]);
  });
  it('without steps', () => {
    expect(
      noted((app) => {
        app.routines[0]!.steps = [];
      }),
    ).toEqual(['look: Goes has no steps yet.']);
  });
  it('a routine that a screen starts is started; one whose screen is gone is not', () => {
    const by =
      (screen: string) =>
      (app: App): void => {
        const routine: Routine = {
          ...app.routines[0]!,
          id: 'q_opens0000',
          name: 'Opens',
          starts: [{ on: 'screen opened', screen }],
        };
        app.routines.push(routine);
      };
    expect(noted(by(FIRST))).toEqual([]);
    expect(noted(by('s_gone0000'))).toEqual([
      'look: Opens is not started by anything.',
      'look: Opens: its screen is not chosen.',
    ]);
  });
});
