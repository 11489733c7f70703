import { describe, expect, it } from 'vitest';
import { addScreensFor } from '../app/screens-for.ts';
import { ElementMaker } from '../app/make.ts';
import { thisId } from '../document/ids.ts';
import { F, T, hiveApp } from '../records/fixture.ts';
import { Records } from '../records/store.ts';
import type { Patch } from '../screens/live-screen.ts';
import { openSession } from './fixture.ts';

const make = new ElementMaker();
const me = thisId(T.hives);

function open() {
  const app = hiveApp();
  const [list, detail] = addScreensFor(app, T.hives);
  return { app, list: list!, detail: detail!, ...openSession(app) };
}
const rename = (records: Records, name: string): void => records.set(T.hives, 'bramble', { [F.name]: name });

describe('a screen in view', () => {
  it('has one patch on its way at most; what happens meanwhile comes in the next', async () => {
    const { session, records, list } = open();
    const patches: Patch[] = [];
    let land: () => void = () => {};
    session.show('phone', list.id, null, (patch) => {
      patches.push(patch);
      return new Promise<void>((resolve) => {
        land = resolve;
      });
    });
    expect(patches).toHaveLength(1);
    for (const name of ['Ash', 'Birch', 'Hazel']) rename(records, name);
    expect(patches).toHaveLength(1);
    land();
    await new Promise((r) => {
      setTimeout(r, 0);
    });
    expect(patches).toHaveLength(2);
    expect(patches[1]!.set.map((n) => n['words'])).toContain('Hazel');
    expect(JSON.stringify(patches[1])).not.toContain('Birch');
  });
  it('goes on after a patch that could not be shown', async () => {
    const { session, records, list } = open();
    const patches: Patch[] = [];
    session.show('phone', list.id, null, async (patch) => {
      patches.push(patch);
      throw new Error('the page is gone for a moment');
    });
    await Promise.resolve();
    rename(records, 'Ash');
    await new Promise((r) => {
      setTimeout(r, 0);
    });
    expect(patches).toHaveLength(2);
  });
  it('hears nothing any more when it is left or another takes its place', () => {
    const { session, records, list, detail } = open();
    const [first, second]: Patch[][] = [[], []];
    session.show('phone', list.id, null, (p) => void first!.push(p));
    session.show('phone', detail.id, 'bramble', (p) => void second!.push(p));
    rename(records, 'Ash');
    expect(first).toHaveLength(1);
    session.leave('phone');
    const before = second!.length;
    rename(records, 'Birch');
    expect(second).toHaveLength(before);
    expect(session.show('phone', 's_nothing00', null, () => undefined)).toBeNull();
  });
  it('takes an edit of the document without drawing the rest again', async () => {
    const { session, app, page, show, list } = open();
    show(list.id);
    const before = page.patches;
    const root = { ...list.root, children: [...list.root.children, make.text('new words')] };
    session.setApp({ ...app, screens: app.screens.map((s) => (s === list ? { ...list, root } : s)) });
    await new Promise((r) => {
      setTimeout(r, 0);
    });
    expect(page.patches).toBe(before + 1);
    expect(page.texts()).toContain('new words');
    session.setApp({ ...app, screens: app.screens.filter((s) => s.id !== list.id) });
    expect(page.texts()).toContain('new words');
  });
});

describe('what happens on a screen', () => {
  it('reaches the phone when it happens, not at the end of the routine', async () => {
    const { session, app, effects, list, show, records } = open();
    const steps = [
      make.step('message', { words: 'before' }),
      make.step('set', { record: me, values: [{ field: F.weight, value: '9' }] }),
      make.step('wait', { time: 'duration("PT0S")' }),
      make.step('message', { words: 'after' }),
    ];
    app.routines.push({ id: 'q_weigh0000', name: 'Weigh', given: T.hives, steps });
    const button = make.button('Weigh', { do: 'routine', routine: 'q_weigh0000' });
    const rows = list.root.children.find((c) => c.kind === 'list')!;
    if (rows.kind === 'list') rows.children.push(button);
    const said: unknown[] = [];
    const page = show(list.id);
    const key = page.find('button').find((b) => b.words === 'Weigh')!.key;
    const stop = records.subscribe(() => said.push(effects.length));
    await session.tapped('phone', key);
    stop();
    expect(said).toEqual([1]);
    expect(effects.map((e) => e.do === 'message' && e.words)).toEqual(['before', 'after']);
    expect(records.row(T.hives, 'bramble')!.cells[F.weight]).toBe(9);
  });
  it('a screen that opens starts its routine, given its record', async () => {
    const { app, effects, happened, detail, show } = open();
    app.routines.push({
      id: 'q_greet0000',
      name: 'Greet',
      given: T.hives,
      starts: [{ on: 'screen opened', screen: detail.id }],
      steps: [make.step('message', { words: `This is {${me}.${F.name}}` })],
    });
    show(detail.id, 'clover');
    await expect.poll(() => effects.length).toBe(1);
    expect(effects).toEqual([{ do: 'message', words: 'This is Clover', tone: 'plain' }]);
    await expect.poll(() => happened.at(-1)?.said).toBe('Ran Greet for Clover');
  });
  it('removing goes back, and says so; without a record it says why not', async () => {
    const { session, app, effects, detail, list, show, records } = open();
    const button = make.button('Remove', { do: 'remove' });
    detail.root.children.push(button);
    list.root.children.push({ ...button, id: 'e_remove0000' });
    app.screens = [...app.screens];
    show(detail.id, 'clover');
    await session.tapped('phone', button.id);
    expect(effects).toEqual([{ do: 'back' }, { do: 'message', words: 'Removed', tone: 'plain' }]);
    expect(records.row(T.hives, 'clover')).toBeUndefined();
    show(list.id);
    await session.tapped('phone', 'e_remove0000');
    expect(effects.at(-1)).toMatchObject({ words: 'There is no record here to remove.', tone: 'bad' });
  });
  it('opening says what is missing: the screen, or the record it needs', async () => {
    const { session, effects, detail, list, show } = open();
    const taps = [
      make.button('a', { do: 'open', screen: 's_nothing00', give: '' }),
      make.button('b', { do: 'open', screen: detail.id, give: '' }),
      make.button('c', { do: 'open', screen: detail.id, give: `all_${T.keepers}[1]` }),
      make.button('d', { do: 'open', screen: detail.id, give: `all_${T.hives}[2]` }),
      make.button('e', { do: 'back' }),
      make.button('f', { do: 'nothing' }),
    ];
    list.root.children.push(...taps);
    show(list.id);
    for (const t of taps) await session.tapped('phone', t.id);
    await session.tapped('phone', 'e_nowhere000');
    expect(effects).toEqual([
      { do: 'message', words: 'The screen to open is not chosen yet.', tone: 'bad' },
      { do: 'message', words: 'There is no hive to open.', tone: 'bad' },
      { do: 'message', words: 'Hive opens with a hive.', tone: 'bad' },
      { do: 'open', screen: detail.id, record: 'clover' },
      { do: 'back' },
    ]);
  });
});
