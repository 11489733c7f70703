// @vitest-environment jsdom
import { openPhone } from './fixture.ts';
import { act, configure, render, screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { describe, expect, it } from 'vitest';
import { ElementMaker } from '../core/app/make.ts';
import { dressed } from '../core/app/themes.ts';
import { hostsOf } from '../core/app/elsewhere.ts';
import type { App, Element, Screen } from '../core/app/schema.ts';
import { thisId } from '../core/document/ids.ts';
import { F, T, hiveApp } from '../core/records/fixture.ts';
import { Records } from '../core/records/store.ts';
import type { Field } from '../core/tables/schema.ts';
import { frameOf } from './api.ts';
import { Player } from './Player.tsx';

// What comes in files of its own takes longer to come where other tests run beside.
configure({ asyncUtilTimeout: 8000 });

/** The player over a session in the same thread: what a person sees and does, without a browser around it. */

const make = new ElementMaker();
const HOME = 's_home00000';
const ONE = 's_one000000';
const screenOf = (id: string, name: string, given: string | null, list: Element[]): Screen => ({
  id,
  name,
  given,
  icon: 'box',
  root: make.box('down', list),
});
const home = (app: App, children: Element[], more: Screen[] = []): App => {
  app.screens = [
    screenOf(HOME, 'Home', null, children),
    screenOf(ONE, 'One hive', T.hives, [make.text(`It is {${thisId(T.hives)}.${F.name}}`, 'title')]),
    ...more,
  ];
  app.tabs = [];
  return app;
};

function use(app: App, session: Parameters<typeof openPhone>[1] = {}) {
  const phone = openPhone(app, session);
  const frame = frameOf(app, { look: dressed(app.look), hosts: [...hostsOf(app)] });
  const draw = () => render(<Player api={phone} walk={phone.walk} frame={frame} />);
  const shown = draw();
  return {
    draw,
    records: phone.records,
    session: phone.session,
    text: () => shown.container.querySelector('main')?.textContent ?? '',
    ...shown,
  };
}
const sees = (words: string | RegExp): Promise<HTMLElement> => screen.findByText(words);

describe('screens', () => {
  it('show words with values, and what changes changes', async () => {
    const { records } = use(home(hiveApp(), [make.text(`{count(all_${T.hives})} hives`)]));
    await sees('2 hives');
    act(() => void records.set(T.hives, 'moss', { [F.name]: 'Moss' }));
    await sees('3 hives');
  });
  it('a tap opens another, and back leads back', async () => {
    use(home(hiveApp(), [make.button('Look', { do: 'open', screen: ONE, give: `all_${T.hives}[1]` })]));
    await userEvent.click(await sees('Look'));
    await sees('It is Bramble');
    await userEvent.click(screen.getByRole('button', { name: 'Back to Home' }));
    await sees('Look');
  });
  it('an icon is pressed by its name, in a row without opening the row; one without a tap is no button', async () => {
    const open = { do: 'open' as const, screen: ONE, give: `all_${T.hives}[2]` };
    const star = make.make('icon', { icon: 'star', tap: open, label: 'Look at the second' });
    const row = make.box('across', [
      make.text(`{${thisId(T.hives)}.${F.name}}`),
      star,
      make.make('icon', { icon: 'bell' }),
    ]);
    const list = make.list(T.hives, [row], { tap: { ...open, give: thisId(T.hives) } });
    use(home(hiveApp(), [list]));
    const [first] = await screen.findAllByRole('button', { name: 'Look at the second' });
    expect(screen.queryByRole('button', { name: 'bell' })).toBeNull();
    await userEvent.click(first!);
    await sees('It is Clover');
    await userEvent.click(screen.getByRole('button', { name: 'Back to Home' }));
    await sees('Bramble');
  });
  it('hostile words stay words', async () => {
    const words = '<img src=x onerror="alert(1)"> & <b>';
    const { container, records } = use(home(hiveApp(), [make.text(`{all_${T.hives}[1].${F.name}}`)]));
    await sees('Bramble');
    act(() => void records.set(T.hives, 'bramble', { [F.name]: words }));
    await sees(words);
    expect(container.querySelector('img, b')).toBeNull();
  });
  it('nothing is asked of addresses elsewhere that only a record names, and that is said', async () => {
    const source = `${thisId(T.hives)}.${F.tag}`;
    const app = home(hiveApp(), [
      make.list(T.hives, [
        make.make('picture', { source }),
        make.make('player', { source }),
        make.make('page', { address: source }),
        make.make('rich', { words: `![a]({${source}})` }),
      ]),
      make.make('picture', { source: '"https://named.example/1.png"' }),
    ]);
    const { records, container } = use(app);
    act(() => void records.set(T.hives, 'bramble', { [F.tag]: 'https://spy.example/1.png' }));
    await waitFor(() => expect(screen.getAllByText('This app takes nothing from spy.example.')).toHaveLength(3));
    const asked = Array.from(container.querySelectorAll('[src]'), (e) => e.getAttribute('src'));
    expect(asked).toEqual(['https://named.example/1.png']);
    expect(screen.getByRole('img', { name: 'This app takes nothing from spy.example.' })).toBeTruthy();
  });
  it('a message is said, and the routine goes on', async () => {
    const app = home(hiveApp(), [make.button('Go', { do: 'routine', routine: 'q_say000000' })]);
    app.routines = [
      {
        id: 'q_say000000',
        name: 'Say',
        given: null,
        steps: [
          make.step('message', { words: 'Well done' }),
          make.step('add', { table: T.keepers, values: [{ field: F.keeperName, value: '"New"' }], resultName: 'k' }),
        ],
      },
    ];
    const { records } = use(app);
    await userEvent.click(await sees('Go'));
    expect((await screen.findByRole('status')).textContent).toBe('Well done');
    await waitFor(() => expect(records.rows(T.keepers)).toHaveLength(2));
  });
  it('a message does not take the place of one that is still being read, nor of its button', async () => {
    const app = home(hiveApp(), [make.button('Go', { do: 'routine', routine: 'q_say000000' })]);
    const steps = ['Heather', 'Bramble', 'Bramble'].map((words) => make.step('message', { words }));
    app.routines = [
      {
        id: 'q_say000000',
        name: 'Say',
        given: null,
        steps: [
          make.step('message', { words: 'Removed', has: 'run', button: 'Bring back', routine: 'q_back00000' }),
          ...steps,
        ],
      },
      {
        id: 'q_back00000',
        name: 'Back',
        given: null,
        steps: [
          make.step('add', { table: T.keepers, values: [{ field: F.keeperName, value: '"New"' }], resultName: 'k' }),
        ],
      },
    ];
    const { records } = use(app);
    const before = records.rows(T.keepers).length;
    await userEvent.click(await sees('Go'));
    await sees('Bramble');
    const read = (): string[] => screen.getAllByRole('status').map((m) => m.textContent ?? '');
    expect(read()).toEqual(['RemovedBring back', 'Heather', 'Bramble']);
    await userEvent.click(screen.getByRole('button', { name: 'Bring back' }));
    await waitFor(() => expect(records.rows(T.keepers)).toHaveLength(before + 1));
    expect(read()).toEqual(['Heather', 'Bramble']);
  });
  it('a question waits for the next page when the one that asked it has gone', async () => {
    const app = home(hiveApp(), [make.button('Go', { do: 'routine', routine: 'q_ask000000' })]);
    const steps = [
      make.step('question', { words: 'How heavy?', as: 'number', result: 'v_heavy0000', resultName: 'h' }),
    ];
    app.routines = [{ id: 'q_ask000000', name: 'Ask', given: null, steps }];
    const runs: (string | undefined)[] = [];
    const { unmount, draw } = use(app, { happened: (h) => void (h.run && runs.push(h.run.error)) });
    await userEvent.click(await sees('Go'));
    await sees('How heavy?');
    unmount();
    expect(screen.queryByText('How heavy?')).toBeNull();
    draw();
    await userEvent.type(await screen.findByRole('textbox', { name: 'How heavy?' }), '12');
    expect(runs).toEqual([]);
    await userEvent.click(screen.getByRole('button', { name: 'OK' }));
    await waitFor(() => expect(runs).toEqual([undefined]));
    expect(screen.queryByText('How heavy?')).toBeNull();
  });
});

describe('forms', () => {
  /** A form for a new hive with one input, whose label the tests go by. */
  const formFor = (field: Partial<Field> & Pick<Field, 'type'>): App => {
    const app = hiveApp({ hives: [{ id: 'f_try000000', name: 'Try', ...field } as Field] });
    return home(app, [
      make.form(T.hives, '', [make.input(F.name), make.input('f_try000000'), make.button('Save', { do: 'save' })]),
    ]);
  };
  const made = (records: Records): unknown =>
    records.rows(T.hives).find((r) => r.cells[F.name] === 'Moss')?.cells['f_try000000'];
  const CHOICES = ['Wood', 'Straw', 'Foam'].map((name, colour) => ({ name, colour }));

  it.each<[string, Partial<Field> & Pick<Field, 'type'>, () => Promise<void>, unknown]>([
    [
      'a number with a decimal comma',
      { type: 'number' },
      () => userEvent.type(screen.getByLabelText(/^Try/), '3,5'),
      3.5,
    ],
    [
      'one of a few choices',
      { type: 'choice', choices: CHOICES },
      () => userEvent.click(screen.getByText('Straw')),
      'Straw',
    ],
    [
      'a choice taken back',
      { type: 'choice', choices: CHOICES },
      async () => {
        await userEvent.click(screen.getByText('Straw'));
        await userEvent.click(screen.getByText('Straw'));
      },
      null,
    ],
    [
      'several choices',
      { type: 'choice', several: true, choices: CHOICES },
      async () => {
        await userEvent.click(screen.getByText('Foam'));
        await userEvent.click(screen.getByText('Wood'));
      },
      '["Foam","Wood"]',
    ],
    [
      'one of many choices',
      { type: 'choice', choices: [...'abcdefg'].map((name) => ({ name, colour: 0 })) },
      () => userEvent.selectOptions(screen.getByLabelText(/^Try/), 'f'),
      'f',
    ],
    ['stars', { type: 'rating' }, () => userEvent.click(screen.getByLabelText('4 of 5')), 4],
    [
      'stars taken off',
      { type: 'rating' },
      async () => {
        await userEvent.click(screen.getByLabelText('4 of 5'));
        await userEvent.click(screen.getByLabelText('4 of 5'));
      },
      null,
    ],
    ['a place', { type: 'place' }, () => userEvent.type(screen.getByLabelText(/^Try/), '52.5, 13.4'), '52.5,13.4'],
    [
      'a code typed by hand keeps its noughts',
      { type: 'code' },
      () => userEvent.type(screen.getByLabelText(/^Try/), '00712'),
      '00712',
    ],
    ['nothing typed is nothing', { type: 'number' }, async () => undefined, null],
  ])('%s', async (_what, field, fill, cell) => {
    const { records } = use(formFor(field));
    await userEvent.type(await screen.findByLabelText('Name'), 'Moss');
    // The input of a type of field is loaded when a form first has one.
    await waitFor(() => expect(screen.queryByText('One moment')).toBeNull());
    await fill();
    await userEvent.click(screen.getByText('Save'));
    await waitFor(() => expect(records.rows(T.hives)).toHaveLength(3));
    expect(made(records) ?? null).toEqual(cell);
  });
  it('begins with what the tap says that opened it, also in fields without an input', async () => {
    const app = home(
      hiveApp(),
      [
        make.button('Add', {
          do: 'open',
          screen: 's_new0000000',
          give: '',
          values: [
            { field: F.keeper, value: `all_${T.keepers}[1]` },
            { field: F.weight, value: '12.5' },
          ],
        }),
      ],
      [
        {
          ...screenOf('s_new0000000', 'New hive', T.hives, [
            make.form(T.hives, thisId(T.hives), [
              make.input(F.name),
              make.input(F.weight),
              make.button('Save', { do: 'save' }),
            ]),
          ]),
          optional: true,
        },
      ],
    );
    const { records } = use(app);
    await userEvent.click(await sees('Add'));
    await userEvent.type(await screen.findByLabelText('Name'), 'Moss');
    expect((screen.getByLabelText(/^Weight/) as HTMLInputElement).value).toBe('12.5');
    await userEvent.click(screen.getByText('Save'));
    await waitFor(() => expect(records.rows(T.hives)).toHaveLength(3));
    expect(records.rows(T.hives).at(-1)!.cells).toMatchObject({
      [F.name]: 'Moss',
      [F.keeper]: 'odile',
      [F.weight]: 12.5,
    });
  });
  it('what does not fit is said at its place, kept as typed, and saved once it is mended', async () => {
    const { records } = use(formFor({ type: 'number' }));
    await userEvent.type(await screen.findByLabelText('Name'), 'Moss');
    const input = (): HTMLInputElement => screen.getByLabelText(/^Try/);
    await userEvent.type(input(), 'heavy');
    await userEvent.click(screen.getByText('Save'));
    expect((await screen.findByRole('alert')).textContent).toContain('number');
    expect([input().value, records.rows(T.hives).length]).toEqual(['heavy', 2]);
    await userEvent.clear(input());
    expect(screen.queryByRole('alert')).toBeNull();
    await userEvent.type(input(), '7');
    await userEvent.click(screen.getByText('Save'));
    await waitFor(() => expect(made(records)).toBe(7));
  });
  it.each<[string, Partial<Field> & Pick<Field, 'type'>, string, string]>([
    ['a date', { type: 'date' }, '2026-11-23', 'Mon 23 Nov 2026'],
    ['yes', { type: 'yesno' }, 'true', 'yes'],
    ['a duration', { type: 'duration' }, 'PT90M', '1 hour 30 minutes'],
    ['several choices', { type: 'choice', several: true, choices: CHOICES }, '["Foam","Wood"]', 'Foam, Wood'],
    ['a number with its decimals', { type: 'number', decimals: 2 }, '2.5', '2.50'],
  ])('what cannot be typed into is told as people read it: %s', async (_what, field, cell, words) => {
    const app = hiveApp({ hives: [{ id: 'f_try000000', name: 'Try', ...field } as Field] });
    app.screens = home(app, []).screens;
    app.screens[1]!.root.children.push(make.make('input', { field: 'f_try000000', locked: 'true' }));
    app.screens[0]!.root.children.push(make.button('Go', { do: 'open', screen: ONE, give: `all_${T.hives}[1]` }));
    const { records } = use(app);
    act(
      () =>
        void records.set(T.hives, 'bramble', {
          f_try000000: /^[\d.]+$/.test(cell) ? Number(cell) : cell === 'true' || cell,
        }),
    );
    await userEvent.click(await sees('Go'));
    await sees(words);
  });
  it('a text is chosen from what a formula offers; what is kept already is seen with it', async () => {
    const app = hiveApp();
    home(app, [
      make.form(T.hives, `all_${T.hives}[1]`, [
        make.make('input', { field: F.name, offers: '["Moss", "Fern"]', as: 'chips' }),
        make.button('Save', { do: 'save' }),
      ]),
    ]);
    const { records } = use(app);
    expect((await screen.findByRole('radio', { name: 'Bramble' })).getAttribute('aria-checked')).toBe('true');
    await userEvent.click(screen.getByRole('radio', { name: 'Fern' }));
    await userEvent.click(screen.getByText('Save'));
    await waitFor(() => expect(records.row(T.hives, 'bramble')!.cells[F.name]).toBe('Fern'));
  });
  it('in a form, what cannot be typed into keeps the input that tells it, and takes nothing', async () => {
    const app = hiveApp({ hives: [{ id: 'f_try000000', name: 'Try', type: 'yesno' }] });
    home(app, [
      make.form(T.hives, `all_${T.hives}[1]`, [
        make.make('input', { field: 'f_try000000', locked: 'true' }),
        make.make('input', { field: F.name, locked: 'true' }),
        make.button('Save', { do: 'save' }),
      ]),
    ]);
    const { records, container } = use(app);
    act(() => void records.set(T.hives, 'bramble', { f_try000000: true }));
    await sees('Bramble');
    await waitFor(() => expect(container.querySelector('.k-still input')).toHaveProperty('checked', true));
    expect(container.querySelector('.k-still')!.hasAttribute('inert')).toBe(true);
    expect(screen.queryByText('true')).toBeNull();
  });
  it('what is typed stays when other records change meanwhile', async () => {
    const { records } = use(formFor({ type: 'text' }));
    await userEvent.type(await screen.findByLabelText('Name'), 'Mo');
    act(() => void records.set(T.hives, 'bramble', { [F.name]: 'Thorn' }));
    await userEvent.type(screen.getByLabelText('Name'), 'ss');
    expect(screen.getByLabelText<HTMLInputElement>('Name').value).toBe('Moss');
  });
  it('a linked record shows its title, however many there are before it, and is picked by typing', async () => {
    const app = home(hiveApp(), [
      make.form(T.hives, `all_${T.hives}[1]`, [make.input(F.keeper), make.button('Save', { do: 'save' })]),
    ]);
    const { records } = use(app);
    act(() => {
      for (let i = 0; i < 80; i++) records.set(T.keepers, `k${i}`, { [F.keeperName]: `Keeper ${i}` });
      records.set(T.keepers, 'zoe', { [F.keeperName]: 'Zoe' });
      records.set(T.hives, 'bramble', { [F.keeper]: 'zoe' });
    });
    await userEvent.click(await sees('Zoe'));
    await sees('Type a few letters to find others.');
    await userEvent.keyboard('keeper 71');
    await waitFor(() => expect(screen.getAllByRole('option').map((o) => o.textContent)).toEqual(['None', 'Keeper 71']));
    await userEvent.click(screen.getByText('Keeper 71'));
    await userEvent.click(screen.getByText('Save'));
    await waitFor(() => expect(records.row(T.hives, 'bramble')!.cells[F.keeper]).toBe('k71'));
  });
  it('a record that is not there yet is added by its name, where the maker allows it', async () => {
    const input = make.input(F.keeper);
    const record = `all_${T.hives}[1]`;
    const form = make.form(T.hives, record, [{ ...input, adds: true }, make.button('Save', { do: 'save' })]);
    const { records } = use(home(hiveApp(), [form]));
    await userEvent.click(await screen.findByRole('button', { name: /Keeper/ }));
    await userEvent.keyboard(' Zoe');
    await userEvent.click(await screen.findByText('New keeper “Zoe”'));
    await sees('Zoe');
    const zoe = records.rows(T.keepers).find((r) => r.title() === 'Zoe')!;
    await userEvent.click(screen.getByText('Save'));
    await waitFor(() => expect(records.rows(T.hives)[0]!.cells[F.keeper]).toBe(zoe.id));
  });
  it('and otherwise not', async () => {
    const form = make.form(T.hives, `all_${T.hives}[1]`, [make.input(F.keeper)]);
    use(home(hiveApp(), [form]));
    await userEvent.click(await screen.findByRole('button', { name: /Keeper/ }));
    await userEvent.keyboard('Zoe');
    await sees('Nothing found. Try other letters.');
    expect(screen.queryByText(/^New keeper/)).toBeNull();
  });
});
