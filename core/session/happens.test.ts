import { describe, expect, it, vi } from 'vitest';
import { ElementMaker } from '../app/make.ts';
import type { App, Element, Screen } from '../app/schema.ts';
import { thisId } from '../document/ids.ts';
import type { Tap } from '../document/pieces.ts';
import { F, T, hiveApp } from '../records/fixture.ts';
import type { KeptRun } from '../routines/run.ts';
import { openSession } from './fixture.ts';
import type { SessionPorts } from './session.ts';

/** What a session does when something happens on a screen: what the phone is told, and what the trace says. */

const make = new ElementMaker();
const HOME = 's_home00000';
const HIVE = 's_hive00000';
const SAY = 'q_say000000';
const screenOf = (id: string, name: string, given: string | null, children: Element[]): Screen => ({
  id,
  name,
  given,
  icon: 'box',
  root: make.box('down', children),
});

function open(change: (app: App) => void = () => {}, ports: Partial<SessionPorts> = {}) {
  const app = hiveApp();
  app.screens = [
    screenOf(HOME, 'Home', null, []),
    screenOf(HIVE, 'One hive', T.hives, [make.text(`{${thisId(T.hives)}.${F.name}}`)]),
  ];
  app.routines = [
    {
      id: SAY,
      name: 'Say',
      given: T.hives,
      steps: [make.step('message', { words: `Hi {${thisId(T.hives)}.${F.name}}` })],
    },
  ];
  change(app);
  return { app, ...openSession(app, ports) };
}

/** What a tap on a button of a screen leads to. */
async function tap(doing: Tap, on = HOME, record: string | null = null, change: (app: App) => void = () => {}) {
  const button = make.button('Press', doing);
  const opened = open((app) => {
    app.screens.find((s) => s.id === on)!.root.children.push(button);
    change(app);
  });
  opened.show(on, record);
  await opened.session.tapped('phone', button.id);
  return opened;
}

describe('a tap that opens a screen', () => {
  it('opens one that is given nothing', async () =>
    expect((await tap({ do: 'open', screen: HOME, give: '' })).effects).toEqual([
      { do: 'open', screen: HOME, record: null },
    ]));
  it('hands the record on that its formula gives', async () =>
    expect((await tap({ do: 'open', screen: HIVE, give: `all_${T.hives}[2]` })).effects).toEqual([
      { do: 'open', screen: HIVE, record: 'clover' },
    ]));
  it('says what it would have needed: nothing given, a record of another table, no screen', async () => {
    const said = async (doing: Tap): Promise<unknown> => (await tap(doing)).effects;
    expect(await said({ do: 'open', screen: HIVE, give: '' })).toEqual([
      { do: 'message', words: 'There is no hive to open.', tone: 'bad' },
    ]);
    expect(await said({ do: 'open', screen: HIVE, give: `all_${T.keepers}[1]` })).toEqual([
      { do: 'message', words: 'One hive opens with a hive.', tone: 'bad' },
    ]);
    expect(await said({ do: 'open', screen: 's_gone00000', give: '' })).toEqual([
      { do: 'message', words: 'The screen to open is not chosen yet.', tone: 'bad' },
    ]);
  });
  it('opens without a record where the screen can do without one, and with it where it is given', async () => {
    const optional = (app: App): void => void (app.screens[1]!.optional = true);
    expect((await tap({ do: 'open', screen: HIVE, give: '' }, HOME, null, optional)).effects).toEqual([
      { do: 'open', screen: HIVE, record: null },
    ]);
    expect((await tap({ do: 'open', screen: HIVE, give: `all_${T.hives}[1]` }, HOME, null, optional)).effects).toEqual([
      { do: 'open', screen: HIVE, record: 'bramble' },
    ]);
  });
});

describe('a tap', () => {
  it('goes back', async () => expect((await tap({ do: 'back' })).effects).toEqual([{ do: 'back' }]));
  it('that does nothing, or saves a form, tells the phone nothing', async () => {
    for (const doing of [{ do: 'nothing' }, { do: 'save' }] as Tap[]) {
      const { effects, happened } = await tap(doing);
      expect([effects, happened]).toEqual([[], []]);
    }
  });
  it('removes the record at hand, goes back and says so', async () => {
    const { records, effects, happened } = await tap({ do: 'remove' }, HIVE, 'clover');
    expect(records.rows(T.hives).map((r) => r.id)).toEqual(['bramble']);
    expect(effects).toEqual([{ do: 'back' }, { do: 'message', words: 'Removed', tone: 'plain' }]);
    expect(happened).toEqual([{ said: 'Removed a hive', tone: 'good', about: { table: T.hives, record: 'clover' } }]);
  });
  it('says that there is nothing to remove where no record is at hand', async () => {
    const { records, effects } = await tap({ do: 'remove' });
    expect(records.rows(T.hives)).toHaveLength(2);
    expect(effects).toEqual([{ do: 'message', words: 'There is no record here to remove.', tone: 'bad' }]);
  });
  it('runs its routine with the nearest record of the table that it is for', async () => {
    const { effects, happened } = await tap({ do: 'routine', routine: SAY }, HIVE, 'clover');
    expect(effects).toEqual([{ do: 'message', words: 'Hi Clover', tone: 'plain' }]);
    expect(happened).toMatchObject([
      {
        said: 'Ran Say for Clover',
        tone: 'good',
        about: { routine: SAY, table: T.hives, record: 'clover' },
        run: { routine: SAY, name: 'Say', given: 'Clover', steps: [{}] },
      },
    ]);
    expect(happened[0]!.ms).toBe(happened[0]!.run!.ms);
  });
  it('on the row of a list takes the record of the row, and not that of the screen', async () => {
    const button = make.button('Press', { do: 'routine', routine: SAY });
    const list = make.make('list', {
      query: { table: T.hives, where: { match: 'all', conditions: [] }, order: [], limit: null },
      children: [button],
    });
    const { session, show, effects } = open((app) => app.screens[1]!.root.children.push(list));
    const page = show(HIVE, 'bramble');
    const keys = [...page.nodes.keys()].filter((k) => k.endsWith(button.id));
    expect(keys).toHaveLength(2);
    for (const key of keys) await session.tapped('phone', key);
    expect(effects.map((e) => e.do === 'message' && e.words)).toEqual(['Hi Bramble', 'Hi Clover']);
  });
  it('whose routine is gone says so', async () =>
    expect((await tap({ do: 'routine', routine: 'q_gone00000' })).effects).toEqual([
      { do: 'message', words: 'This button has no routine yet.', tone: 'bad' },
    ]));
  it('on what is not there, or on what cannot be tapped, does nothing', async () => {
    const { session, show, effects, app } = open((a) => a.screens[0]!.root.children.push(make.text('Words')));
    show(HOME);
    await session.tapped('phone', 'e_gone00000');
    await session.tapped('elsewhere', 'e_gone00000');
    await session.tapped('phone', app.screens[0]!.root.children[0]!.id);
    expect(effects).toEqual([]);
  });
});

describe('a run', () => {
  it('that stops tells the phone and the trace why', async () => {
    const { session, app, effects, happened } = open((a) => {
      a.routines[0]!.steps = [make.step('set', { record: '', values: [] })];
    });
    const trace = await session.runNow(app.routines[0]!, null);
    expect(trace.error).toBeTruthy();
    expect(effects).toEqual([{ do: 'message', words: trace.error, tone: 'bad' }]);
    expect(happened).toMatchObject([{ said: `Say stopped: ${trace.error}`, tone: 'bad', about: { routine: SAY } }]);
    expect(Object.keys(happened[0]!.about!)).toEqual(['routine']);
  });
  it('reaches screens, mail and the clock by the ports', async () => {
    const mails: unknown[] = [];
    const waited: number[] = [];
    let ids = 0;
    const { session, app, effects } = open(
      (a) => {
        a.routines[0]!.steps = [
          make.step('open', { screen: HIVE, give: `all_${T.hives}[1]` }),
          make.step('back'),
          make.step('mail', { to: '"odile@heatherfield.example"', subject: 'Hello', body: 'Come' }),
          make.step('wait', { time: '@"PT2H"' }),
        ];
      },
      {
        send: async (m) => void mails.push(m),
        world: { now: () => 1000, newId: () => `id${ids++}`, until: async (time) => void waited.push(time) },
      },
    );
    expect((await session.runNow(app.routines[0]!, 'clover')).error).toBeUndefined();
    expect(effects).toEqual([{ do: 'open', screen: HIVE, record: 'bramble' }, { do: 'back' }]);
    expect(mails).toEqual([
      { id: expect.stringMatching(/^id/), to: ['odile@heatherfield.example'], subject: 'Hello', body: 'Come' },
    ]);
    expect(waited).toEqual([1000 + 7_200_000]);
  });
  it('writes what belongs together as one group, and leaves the telling to its steps', async () => {
    const { session, app, device, happened } = open((a) => {
      a.routines[0]!.steps = [
        make.step('together', {
          steps: ['A', 'B'].map((name) =>
            make.step('add', {
              table: T.keepers,
              values: [{ field: F.keeperName, value: `"${name}"` }],
              resultName: 'k',
            }),
          ),
        }),
      ];
    });
    const write = vi.spyOn(device, 'write');
    await session.runNow(app.routines[0]!, 'clover');
    expect(write.mock.calls.map(([drafts, together]) => [drafts.length, together])).toEqual([[2, true]]);
    expect(happened.map((h) => h.said)).toEqual(['Ran Say for Clover']);
  });
  it('that was put away goes on with its record, and is told like any other', async () => {
    const kept = new Map<string, KeptRun>();
    const steps = [make.step('wait', { time: '@"PT2H"' }), make.step('message', { words: 'Done' })];
    let pass: () => void = () => {};
    const first = open((a) => void (a.routines[0]!.steps = steps), {
      keepRun: async (id, run) => void (run ? kept.set(id, structuredClone(run)) : kept.delete(id)),
      world: { now: () => 1000, newId: () => 'run', until: () => new Promise<void>((r) => (pass = r)) },
    });
    void first.session.runNow(first.app.routines[0]!, 'clover');
    await vi.waitFor(() => expect(kept.size).toBe(1));
    void pass;
    const waited: number[] = [];
    const again = open((a) => void (a.routines[0]!.steps = structuredClone(steps)), {
      keepRun: async (id, run) => void (run ? kept.set(id, run) : kept.delete(id)),
      world: { now: () => 5000, newId: () => 'other', until: async (time) => void waited.push(time) },
    });
    again.app.routines[0]!.steps = steps;
    const traces = await (await again.session.actions()).resume([...kept.values()]);
    expect(waited).toEqual([1000 + 7_200_000]);
    expect(traces).toHaveLength(1);
    expect(again.effects).toEqual([{ do: 'message', words: 'Done', tone: 'plain' }]);
    expect(again.happened).toMatchObject([
      { said: 'Ran Say for Clover', about: { routine: SAY, table: T.hives, record: 'clover' } },
    ]);
    expect(kept.size).toBe(0);
    expect(await (await again.session.actions()).resume([])).toEqual([]);
  });
  it('starts when the screen that starts it opens, with the record of that screen', async () => {
    const { show, effects } = open((a) => {
      a.routines[0]!.starts = [{ on: 'screen opened', screen: HIVE }];
    });
    show(HOME);
    // A picture of it starts nothing.
    show(HIVE, 'clover', null);
    show(HIVE, 'bramble');
    await vi.waitFor(() => expect(effects).toEqual([{ do: 'message', words: 'Hi Bramble', tone: 'plain' }]));
  });
});

describe('a changed document', () => {
  it('is drawn at once, and its routines are those that run', async () => {
    const { session, app, show, effects } = open();
    const page = show(HIVE, 'bramble');
    await session.runNow(app.routines[0]!, 'bramble');
    const next = structuredClone(app);
    next.screens[1]!.root.children = [make.text('Anew')];
    next.routines[0]!.steps = [make.step('message', { words: 'Other' })];
    session.setApp(next);
    await vi.waitFor(() => expect(page.texts()).toEqual(['Anew']));
    await session.runNow(next.routines[0]!, 'bramble');
    expect(effects.map((e) => e.do === 'message' && e.words)).toEqual(['Hi Bramble', 'Other']);
  });
  it('that has new fields draws what reads them', async () => {
    const { session, app, show } = open();
    const page = show(HIVE, 'bramble');
    const next = structuredClone(app);
    next.tables[0]!.fields.push({ id: 'f_twice0000', name: 'Twice', type: 'formula', formula: `${F.weight} * 2` });
    next.screens[1]!.root.children = [make.text(`{${thisId(T.hives)}.f_twice0000}`)];
    session.setApp(next);
    await vi.waitFor(() => expect(page.texts()).toEqual(['28.4']));
  });
  it('that has the screen in view no more shows nothing of it', async () => {
    const { session, app, records, show } = open();
    const page = show(HIVE, 'bramble');
    const before = page.patches;
    session.setApp({ ...app, screens: app.screens.slice(0, 1) });
    records.set(T.hives, 'bramble', { [F.name]: 'Ash' });
    await new Promise((r) => {
      setTimeout(r, 5);
    });
    expect(page.patches).toBe(before);
    expect(session.show('phone', HIVE, 'bramble', () => {})).toBeNull();
  });
  it('keeps runs to the release that they began in', async () => {
    const kept: KeptRun[] = [];
    const { session, app } = open((a) => void (a.routines[0]!.steps = [make.step('wait', { time: '@"PT1S"' })]), {
      keepRun: async (_, run) => void (run && kept.push(structuredClone(run))),
      world: { now: () => 0, newId: () => 'run', until: async () => undefined },
    });
    session.setApp(app, 7);
    await session.runNow(app.routines[0]!, 'bramble');
    expect(kept[0]!.state.release).toBe(7);
  });
});

describe('a view', () => {
  it('is scrolled and searched, and forgets its screen when it is left', async () => {
    const list = make.make('list', {
      query: { table: T.hives, where: { match: 'all', conditions: [] }, order: [], limit: null },
      search: true,
      children: [make.text(`{${thisId(T.hives)}.${F.name}}`)],
    });
    const { session, show, records } = open((app) => app.screens[0]!.root.children.push(list));
    const page = show(HOME);
    expect(page.texts()).toEqual(['Bramble', 'Clover']);
    session.look('phone', list.id, { search: 'clo' });
    await vi.waitFor(() => expect(page.texts()).toEqual(['Clover']));
    session.look('elsewhere', list.id, { search: '' });
    session.leave('elsewhere');
    session.leave('phone');
    records.set(T.hives, 'clover', { [F.name]: 'Clove' });
    session.look('phone', list.id, { search: '' });
    await new Promise((r) => {
      setTimeout(r, 5);
    });
    expect(page.texts()).toEqual(['Clover']);
  });
  it('tells what is wrong with the formulas of its screen', () => {
    const { session } = open((app) => app.screens[0]!.root.children.push(make.text('{1 +}')));
    expect(session.show('phone', HOME, null, () => {})).toHaveLength(1);
    expect(session.show('other', HIVE, 'bramble', () => {})).toEqual([]);
  });
});

describe('records to pick from', () => {
  it('are in the order of their titles, numbers by their size, and found by any part of them', async () => {
    const { session, records } = open();
    for (const [id, name] of [
      ['h10', 'Hive 10'],
      ['h9', 'hive 9'],
    ] as const)
      records.set(T.hives, id, { [F.name]: name });
    expect((await (await session.actions()).choices(T.hives, '')).map((c) => c.title)).toEqual([
      'Bramble',
      'Clover',
      'hive 9',
      'Hive 10',
    ]);
    expect(await (await session.actions()).choices(T.hives, '  HIVE ')).toEqual([
      { id: 'h9', title: 'hive 9' },
      { id: 'h10', title: 'Hive 10' },
    ]);
    expect(await (await session.actions()).choices(T.hives, 'nobody')).toEqual([]);
    expect(await (await session.actions()).choices(T.hives, '', 1)).toHaveLength(1);
  });
  it('are no more than can be shown at once', async () => {
    const { session, records } = open();
    for (let i = 0; i < 60; i++) records.set(T.keepers, `k${i}`, { [F.keeperName]: `K ${i}` });
    expect(await (await session.actions()).choices(T.keepers, '')).toHaveLength(50);
  });
});

describe('saving a form', () => {
  it('tells what was saved, by its title', async () => {
    const { session, happened } = open();
    const answer = await (await session.actions()).saveForm(T.hives, null, { [F.name]: 'Fern' });
    expect(answer).toMatchObject({ created: true });
    expect(happened).toEqual([
      {
        said: 'Saved Fern in Hives',
        tone: 'good',
        about: { table: T.hives, record: (answer as { saved: string }).saved },
      },
    ]);
  });
  it('says when its table is gone, when nothing is filled in, and what is needed', async () => {
    const { session } = open((app) => {
      app.tables[0]!.fields[0]!.required = true;
      app.tables[1]!.fields.find((f) => f.id === F.hive)!.required = true;
    });
    expect(await (await session.actions()).saveForm('t_gone0000', null, {})).toEqual({
      problems: { '': 'The table of this form is not there any more.' },
    });
    expect(await (await session.actions()).saveForm(T.keepers, null, { [F.keeperName]: null })).toEqual({
      problems: { '': 'Fill in at least one field before saving.' },
    });
    expect(await (await session.actions()).saveForm(T.hives, null, { [F.name]: '', [F.weight]: 3 })).toEqual({
      problems: { [F.name]: 'Name is needed.' },
    });
    // What the form does not have an input for is not asked for.
    expect(await (await session.actions()).saveForm(T.hives, 'clover', { [F.weight]: 3 })).toEqual({
      saved: 'clover',
      created: false,
    });
    expect(await (await session.actions()).saveForm(T.visits, null, { [F.hive]: null, [F.fed]: 1 })).toEqual({
      problems: { [F.hive]: 'Hive is needed.' },
    });
  });
  it('asks for what is needed where a link that is matched by it is filled in', async () => {
    const { session } = open((app) => {
      app.tables[1]!.fields.find((f) => f.id === F.hiveTag)!.required = true;
    });
    const save = async (hive: string | null) =>
      (await session.actions()).saveForm(T.visits, null, { [F.hive]: hive, [F.fed]: 1 });
    expect(await save(null)).toEqual({ problems: { [F.hive]: 'Hive is needed.' } });
    expect(await save('clover')).toMatchObject({ created: true });
  });
  it('empties what is emptied, and takes a matched link by its record', async () => {
    const { session, records } = open();
    await (await session.actions()).saveForm(T.visits, 'v1', { [F.hive]: 'clover', [F.fed]: null });
    expect(records.row(T.visits, 'v1')!.cells).toMatchObject({ [F.hiveTag]: 'HB-2' });
    expect(records.row(T.visits, 'v1')!.cells[F.fed] ?? null).toBeNull();
    await (await session.actions()).saveForm(T.visits, 'v1', { [F.hive]: 'nobody' });
    expect(records.row(T.visits, 'v1')!.cells[F.hiveTag] ?? null).toBeNull();
    await (await session.actions()).saveForm(T.visits, 'v2', { [F.hive]: null });
    expect(records.row(T.visits, 'v2')!.cells[F.hiveTag] ?? null).toBeNull();
  });
  it('takes no notice of fields that are not the table’s, or are worked out', async () => {
    const { session, records } = open();
    await (
      await session.actions()
    ).saveForm(T.hives, 'clover', { [F.total]: 99, f_gone00000: 'x', [F.weight]: '21,5' });
    expect(records.row(T.hives, 'clover')!.cells).toEqual({
      [F.name]: 'Clover',
      [F.tag]: 'HB-2',
      [F.weight]: 21.5,
      [F.status]: 'Retired',
    });
  });
  it('says what a long text is not, in its first letters', async () => {
    const { session } = open();
    expect(await (await session.actions()).saveForm(T.hives, 'clover', { [F.weight]: 'x'.repeat(60) })).toEqual({
      problems: { [F.weight]: `“${'x'.repeat(40)}” is not a number.` },
    });
  });
});
