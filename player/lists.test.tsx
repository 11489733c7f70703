// @vitest-environment jsdom
import { openPhone } from './fixture.ts';
import '../kinds/elements/list/arranged.ts';
import { act, configure, render, screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { describe, expect, it, vi } from 'vitest';
import type { PhoneRules } from '../core/access/phone-rules.ts';
import { RulesHere } from '../core/access/rules-here.ts';
import { ElementMaker } from '../core/app/make.ts';
import { dressed } from '../core/app/themes.ts';
import { hostsOf } from '../core/app/elsewhere.ts';
import type { App, Element, Step } from '../core/app/schema.ts';
import { allOf } from '../core/document/queries.ts';
import { thisId } from '../core/document/ids.ts';
import { F, T, hiveApp } from '../core/records/fixture.ts';
import { frameOf, type StandIn } from './api.ts';
import { Player } from './Player.tsx';

// What comes in files of its own takes longer to come where other tests run beside.
configure({ asyncUtilTimeout: 8000 });

/** Lists, boards and questions as a person uses them, over a session in the same thread. */

const make = new ElementMaker();
const me = thisId(T.hives);
const row = (): Element => make.text(`{${me}.${F.name}}`);

function use(children: Element[], change: (app: App) => void = () => {}, standIn?: StandIn) {
  const app = hiveApp();
  app.screens = [{ id: 's_home00000', name: 'Home', given: null, icon: 'list', root: make.box('down', children) }];
  app.tabs = [];
  change(app);
  const phone = openPhone(app);
  const frame = frameOf(app, { look: dressed(app.look), hosts: [...hostsOf(app)] });
  render(<Player api={phone} walk={phone.walk} frame={frame} {...(standIn && { standIn })} />);
  return { app, records: phone.records };
}
const press = async (name: string | RegExp): Promise<void> =>
  userEvent.click(await screen.findByRole('button', { name }, { timeout: 4000 }));
const gone = (words: string): Promise<void> => waitFor(() => expect(screen.queryByText(words)).toBeNull());

describe('a list', () => {
  it('is filtered by chips, told in the chip, and cleared in one press', async () => {
    use([make.list(T.hives, [row()], { filters: [F.status, F.weight] })]);
    await screen.findByText('Clover');
    await press('Status');
    await press(/^Active/);
    await gone('Clover');
    expect(screen.getByRole('button', { name: /Status: Active/ })).toBeTruthy();
    expect(screen.getByText('1 fits')).toBeTruthy();
    await press('Weight');
    await userEvent.type(screen.getByLabelText('From'), '100');
    await screen.findByText('Nothing fits these filters.');
    await press('Clear all 2 filters');
    await screen.findByText('Clover');
  });
  it('shows what the maker put there when there are no records, and only then', async () => {
    const none = make.box('down', [
      make.text('All hives are away'),
      make.button('Add one', { do: 'open', screen: 's_home00000', give: '' }),
    ]);
    const kinds = ['list', 'table', 'board'] as const;
    const { records } = use(
      kinds.map((kind) =>
        make.make(
          kind,
          {
            query: allOf(T.hives),
            empty: 'Plain words',
            search: true,
            none: [none],
            ...(kind === 'table' ? { columns: [F.name] } : { children: [row()] }),
            ...(kind === 'board' && { by: F.status }),
          } as object,
          {},
        ),
      ),
    );
    await screen.findAllByText('Clover');
    expect(screen.queryByText('All hives are away')).toBeNull();
    // What is looked for and not there is another matter.
    for (const box of screen.getAllByRole('searchbox')) {
      await userEvent.type(box, 'zebra');
      await screen.findByText('Nothing is found by these words.');
      await userEvent.clear(box);
      await gone('Nothing is found by these words.');
    }
    act(() => {
      for (const r of records.rows(T.hives)) records.remove(T.hives, r.id);
    });
    await waitFor(() => expect(screen.getAllByText('All hives are away')).toHaveLength(3));
    expect(screen.queryByText('Plain words')).toBeNull();
    act(() => void records.set(T.hives, 'moss', { [F.name]: 'Moss' }));
    await gone('All hives are away');
  });
  it('shows it on a day without records and on a plan without marks, below its picture', async () => {
    const none = [make.text('No hive is out')];
    const ground = '"https://pictures.example/field.png"';
    use([
      make.make('calendar', { query: allOf(T.visits), by: F.when, empty: 'Plain words', none, children: [row()] }),
      make.make('plan', { query: allOf(T.hives), at: F.name, ground, empty: 'Plain words', none, children: [row()] }),
    ]);
    await waitFor(() => expect(screen.getAllByText('No hive is out')).toHaveLength(2));
    expect(document.querySelector('.k-plan-ground img')).toBeTruthy();
    expect(screen.queryByText('Plain words')).toBeNull();
  });
  it('says what of a range it cannot read', async () => {
    use([make.list(T.hives, [row()], { filters: [F.weight] })]);
    await press('Weight');
    await userEvent.type(screen.getByLabelText('Up to'), 'much');
    await screen.findByText('Type a number.');
    expect(screen.getByText('Clover')).toBeTruthy();
  });
  it('shows heads over what stands together', async () => {
    use([make.list(T.hives, [row()], { by: F.status, sum: F.weight })]);
    expect((await screen.findByRole('heading', { name: /Active/ })).textContent).toBe('Active1 · 14.2 kg');
    expect((await screen.findByRole('heading', { name: /Retired/ })).textContent).toBe('Retired1 · 21 kg');
  });
  it('does with every marked row what it says, and nothing when nothing is marked', async () => {
    const { records } = use([make.list(T.hives, [row()], { several: { do: 'remove' }, severalWords: 'Take away' })]);
    await press('Mark several');
    expect(screen.getByRole<HTMLButtonElement>('button', { name: 'Take away' }).disabled).toBe(true);
    await userEvent.click(screen.getAllByRole('checkbox')[0]!);
    await press('Take away (1)');
    await waitFor(() => expect(records.rows(T.hives).map((r) => r.id)).toEqual(['clover']));
  });
  it('swipes by a button too, and is put into an order by the arrow keys', async () => {
    const { records } = use(
      [
        make.list(T.hives, [row()], {
          swipe: { do: 'remove' },
          swipeWords: 'Away',
          ordered: 'f_order0000',
          query: { ...allOf(T.hives), order: [{ by: 'f_order0000', descending: false }] },
        }),
      ],
      (app) => app.tables[0]!.fields.push({ id: 'f_order0000', name: 'Order', type: 'number' }),
    );
    const handles = await screen.findAllByRole('button', { name: /Drag into order/ }, { timeout: 4000 });
    handles[0]!.focus();
    await userEvent.keyboard('{ArrowDown}');
    await waitFor(() => {
      const [bramble, clover] = ['bramble', 'clover'].map((id) => records.row(T.hives, id)!.get('f_order0000'));
      expect(Number(bramble)).toBeGreaterThan(Number(clover));
    });
    await userEvent.click(screen.getAllByRole('button', { name: 'Away' })[0]!);
    await waitFor(() => expect(records.rows(T.hives)).toHaveLength(1));
  });
});

describe('where rules say who may do what', () => {
  /** Only active hives may be removed, and changed in their order and status. */
  const active = { match: 'all' as const, conditions: [{ left: F.status, op: 'is' as const, right: '"Active"' }] };
  const rules: PhoneRules = {
    roles: [],
    rules: [{ may: ['change', 'remove'], table: T.hives, where: active }],
  };
  const ruled = (app: App): void => {
    app.access = { opens: 'anybody', roles: [], rules: [] };
    app.tables[0]!.fields.push({ id: 'f_order0000', name: 'Order', type: 'number' });
  };
  it('rows for which a swipe, a mark or an order would be refused do not offer it, as they are now', async () => {
    const { app, records } = use(
      [
        make.list(T.hives, [row()], {
          swipe: { do: 'remove' },
          swipeWords: 'Away',
          several: { do: 'remove' },
          severalWords: 'Take away',
          ordered: 'f_order0000',
          query: { ...allOf(T.hives), order: [{ by: 'f_order0000', descending: false }] },
        }),
      ],
      ruled,
    );
    await screen.findAllByRole('button', { name: 'Away' });
    await act(async () => void (records.may = new RulesHere(records, rules, () => app)));
    const offered = () => ['Away', /Drag into order/].map((name) => screen.queryAllByRole('button', { name }).length);
    await waitFor(() => expect(offered()).toEqual([1, 1]));
    await press('Mark several');
    const marks = screen.getAllByRole<HTMLInputElement>('checkbox');
    expect(marks.map((m) => m.disabled).sort()).toEqual([false, true]);
    await press('Give up');
    // What decides is not in the row: it is told anew all the same.
    await act(async () => {
      records.set(T.hives, 'clover', { [F.status]: 'Active' });
    });
    await waitFor(() => expect(offered()).toEqual([2, 2]));
  });
  it('cards that may not be moved have no handle', async () => {
    const { app, records } = use(
      [make.make('board', { query: allOf(T.hives), by: F.status, children: [row()] })],
      ruled,
    );
    const handles = () => screen.queryAllByRole('button', { name: /Drag to another column/ });
    await waitFor(() => expect(handles()).toHaveLength(2));
    await act(async () => void (records.may = new RulesHere(records, rules, () => app)));
    await waitFor(() => expect(handles()).toHaveLength(1));
  });
});

describe('the same records otherwise', () => {
  it('a card is moved to another column by the arrow keys', async () => {
    const { records } = use([make.make('board', { query: allOf(T.hives), by: F.status, children: [row()] })]);
    const column = await screen.findByRole('region', { name: 'Retired' });
    expect(within(column).getByText('Clover')).toBeTruthy();
    within(column)
      .getByRole('button', { name: /Drag to another column/ })
      .focus();
    await userEvent.keyboard('{ArrowLeft}');
    await waitFor(() => expect(records.row(T.hives, 'clover')!.get(F.status)).toBe('Active'));
    await screen.findByText('Moved to Active');
  });
  it('a calendar shows the day that is pressed', async () => {
    vi.setSystemTime(new Date('2026-11-26T10:00:00Z'));
    use([
      make.make('calendar', {
        query: allOf(T.visits),
        by: F.when,
        children: [make.text(`{this_${T.visits}.${F.label}}`)],
      }),
    ]);
    const day = await screen.findByRole('button', { name: /^8 /, hidden: true }, { timeout: 4000 });
    await userEvent.click(day);
    await screen.findByText('Bramble Odile');
    vi.useRealTimers();
  });
  it('one box looks through several lists, and says when nothing is found', async () => {
    use([
      make.make('search', {
        hint: 'Everything',
        none: 'Nothing at all',
        children: [
          make.list(T.hives, [row()]),
          make.list(T.keepers, [make.text(`{this_${T.keepers}.${F.keeperName}}`)]),
        ],
      }),
    ]);
    const box = await screen.findByRole('searchbox', { name: 'Everything' });
    expect(screen.queryByText('Bramble')).toBeNull();
    await userEvent.type(box, 'odi');
    await screen.findByText('Odile');
    expect(screen.getByRole('heading', { name: /Keepers/ })).toBeTruthy();
    await userEvent.clear(box);
    await userEvent.type(box, 'xyz');
    await screen.findByText('Nothing at all');
  });
});

it('a button or an input in a row is used by itself, and the row is not opened', async () => {
  const say = (words: string): Step => make.step('message', { words });
  const routines = [
    { id: 'q_button0000', name: 'Button', given: T.hives, steps: [say('Button')] },
    { id: 'q_row0000000', name: 'Row', given: T.hives, steps: [say('Row')] },
  ];
  const button = make.button('Count', { do: 'routine', routine: 'q_button0000' });
  const input = make.make('input', { field: F.name, label: 'Its name' });
  const { records } = use(
    [
      make.list(T.hives, [row(), button, input], {
        query: { ...allOf(T.hives), limit: 1 },
        tap: { do: 'routine', routine: 'q_row0000000' },
      }),
    ],
    (app) => void (app.routines = routines),
  );
  await press('Count');
  await screen.findByText('Button');
  expect(screen.queryByText('Row')).toBeNull();
  const box = await screen.findByRole('textbox', { name: 'Its name' });
  await userEvent.click(box);
  await userEvent.type(box, '!');
  await waitFor(() => expect(records.rows(T.hives)[0]!.cells[F.name]).toBe('Bramble!'), { timeout: 3000 });
  expect(screen.queryByText('Row')).toBeNull();
  await userEvent.click(screen.getByText('Bramble!'));
  await screen.findByText('Row');
});

it('tiles stand side by side as the maker says, or as there is room', async () => {
  const per = (): (string | undefined)[] =>
    [...document.querySelectorAll<HTMLElement>('.k-rows')].map((e) => e.dataset['per']);
  const tiles = (more: object): Element => make.list(T.hives, [row()], { runs: 'grid', ...more });
  use([tiles({}), tiles({ columns: 3 }), tiles({ wideColumns: 6 }), make.list(T.hives, [row()], { columns: 3 })]);
  await waitFor(() => expect(per()).toEqual(['2', '3', '2', '1']));
});

describe('tabs on a screen', () => {
  const leaf = (name: string, words: string, seenWhen?: string): Element => ({
    ...make.box('down', [make.text(words)], { name }),
    ...(seenWhen && { seenWhen }),
  });
  it('show one leaf at a time, chosen by a press or by keys; a leaf that is not seen has none', async () => {
    const children = [leaf('Hives', 'all hives'), leaf('Hidden', 'no one', 'false'), leaf('Stores', 'all stores')];
    use([make.make('tabs', { children })]);
    await screen.findByText('all hives');
    expect(screen.getAllByRole('tab').map((t) => t.textContent)).toEqual(['Hives', 'Stores']);
    expect(screen.queryByText('all stores')).toBeNull();
    await userEvent.click(screen.getByRole('tab', { name: 'Stores' }));
    await screen.findByText('all stores');
    expect(screen.queryByText('all hives')).toBeNull();
    expect(screen.getByRole('tabpanel', { name: 'Stores' })).toBeTruthy();
    await userEvent.keyboard('{ArrowRight}');
    await screen.findByText('all hives');
    expect(document.activeElement?.textContent).toBe('Hives');
    await userEvent.keyboard('{End}');
    await screen.findByText('all stores');
  });
});

describe('what a routine asks', () => {
  const asking = (...steps: Step[]): [Element[], (app: App) => void] => [
    [make.button('Go', { do: 'routine', routine: 'q_ask000000' })],
    (app) => {
      app.routines = [{ id: 'q_ask000000', name: 'Ask', given: null, steps }];
    },
  ];
  const say = (words: string): Step => make.step('message', { words });
  it('yes or no is answered by its buttons, and Escape is no', async () => {
    const ask = make.step('ask', { words: 'Feed it?', yes: 'Feed', then: [say('fed')], otherwise: [say('left')] });
    use(...asking(ask));
    await press('Go');
    await press('Feed');
    await screen.findByText('fed');
    await press('Go');
    await screen.findByRole('dialog', { name: 'Feed it?' });
    await userEvent.keyboard('{Escape}');
    await screen.findByText('left');
  });
  it('a menu leads on by what is chosen, a value by what is typed, and to Cancel there is an answer too', async () => {
    const menu = make.step('menu', {
      words: 'What?',
      choices: [
        make.step('choice', {
          words: 'Weigh',
          steps: [
            {
              ...make.step('question', { words: 'How much?', as: 'number', result: 'v_much00000' }),
              ifFails: [say('not weighed'), make.step('stop')],
            },
            say('{v_much00000 * 2}'),
          ],
        }),
      ],
    });
    use(...asking(menu));
    await press('Go');
    await press('Weigh');
    await userEvent.type(await screen.findByRole('textbox', { name: 'How much?' }), '2.5{Enter}');
    await screen.findByText('5');
    await press('Go');
    await press('Weigh');
    await press('Cancel');
    await screen.findByText('not weighed');
  });
  it('a device that has not what it takes lets the step fail', async () => {
    const share = { ...make.step('share', { words: 'Honey' }), ifFails: [say('{v_reason000}')], reason: 'v_reason000' };
    use(...asking(share));
    await press('Go');
    await screen.findByText('This device cannot share.');
  });
  it('a stand-in answers in the place of a device', async () => {
    const scan = make.step('scan', { result: 'v_code00000' });
    use(...asking(scan, say('{v_code00000}!')), ({ what, answer }) => (
      <button type="button" onClick={() => answer({ ok: true, value: `${what.do} 4711` })}>
        Stand-in
      </button>
    ));
    await press('Go');
    await press('Stand-in');
    await screen.findByText('scan 4711!');
  });
});
