import { describe, expect, it } from 'vitest';
import { ElementMaker } from '../app/make.ts';
import type { App, Element, Screen } from '../app/schema.ts';
import { thisId } from '../document/ids.ts';
import { F, hiveApp, T } from '../records/fixture.ts';
import { allKinds, Page } from '../session/fixture.ts';
import { World, type WorldPhone } from '../world/world.ts';
import type { Asked } from '../session/effects.ts';
import type { Beginning, Drafts, OnPage, PhonePage, Where } from './walk.ts';
import '../world/warm.fixture.ts';

const make = new ElementMaker();
const [HOME, ONE, FORM, HELLO] = ['s_home000000', 's_one0000000', 's_form000000', 's_hello00000'];
const me = thisId(T.hives);

const screen = (id: string, name: string, given: string | null, list: Element[]): Screen => ({
  id,
  name,
  given,
  icon: 'box',
  root: make.box('down', list),
});

/** An app with a list, a page for each record, a form, and a screen before the first. */
function someApp(change: (app: App) => void = () => undefined): App {
  const app = hiveApp();
  app.screens = [
    screen(HOME, 'Home', null, [
      make.list(T.hives, [make.text(`{${me}.${F.name}}`)], { tap: { do: 'open', screen: ONE, give: me } }),
      make.button('New', { do: 'open', screen: FORM, as: 'sheet' } as never),
    ]),
    screen(ONE, 'One', T.hives, [
      make.text(`It is {${me}.${F.name}}`, 'title'),
      make.button('Back', { do: 'back' }),
      make.button('Form', { do: 'open', screen: FORM, as: 'instead' } as never),
    ]),
    screen(FORM, 'Form', null, [make.form(T.hives, '', [])]),
    screen(HELLO, 'Hello', null, [make.button('Begin', { do: 'open', screen: HOME, give: '' })]),
  ];
  app.tabs = [{ screen: HOME, name: 'Home', icon: 'box' }];
  change(app);
  return app;
}

/** Somebody who walks through an app on a phone of a world, seen as a page sees it. */
async function walks(app = someApp(), from: Partial<Beginning> = {}) {
  const world = new World({ app, kinds: allKinds });
  const p = world.phone();
  await p.write(
    ['Bramble', 'Clover'].map((name, i) => ({ do: 'set', table: T.hives, record: `h${i}`, cells: { [F.name]: name } })),
  );
  await world.settle();
  return seenBy(world, p, from);
}

async function seenBy(world: World, p: WorldPhone, from: Partial<Beginning> = {}) {
  const pages = new Map<string, Page>();
  const said = {
    where: null as Where | null,
    drafts: {} as Drafts,
    leaving: 0,
    moves: 0,
    asked: [] as Asked[],
    did: [] as OnPage[],
  };
  const page: PhonePage = {
    where: (where, drafts) => {
      Object.assign(said, { where, drafts, moves: said.moves + 1 });
    },
    draw: async (opening, patch) => {
      const there = pages.get(opening) ?? new Page();
      pages.set(opening, there.take(patch));
    },
    leaving: () => void said.leaving++,
    asks: (all) => void (said.asked = [...all]),
    does: async (effect) => void said.did.push(effect),
  };
  const { walk } = p.phone;
  await walk.begin(page, { room: 'narrow', ...from });
  await world.settle();
  const top = () => said.where!.stack.at(-1)!;
  const drawn = (opening = top().opening): Page => pages.get(opening)!;
  const press = async (words: string, opening = top().opening): Promise<void> => {
    const found = [...drawn(opening).seen()].find(
      (n) => n.kind === 'button' && (n as { words?: string }).words === words,
    );
    await p.phone.tapped(opening, found!.key);
    await world.settle();
  };
  const row = async (n: number, opening = top().opening): Promise<void> => {
    const list = drawn(opening).find('list')[0]!;
    await p.phone.tapped(opening, list.rows[n]!.key);
    await world.settle();
  };
  const at = (): string[] =>
    said.where!.stack.map(
      (x) => `${x.screen.slice(2, 6).replace(/0+$/, '')}${x.record ? ` ${x.record}` : ''}${x.sheet ? ' sheet' : ''}`,
    );
  return { world, p, walk, said, at, drawn, press, row, top, texts: () => drawn().texts() };
}

describe('a walk through an app', () => {
  it('opens what a tap says, drawn at once, and goes back to the same opening', async () => {
    const o = await walks();
    const home = o.top().opening;
    await o.row(1);
    expect([o.at(), o.texts()]).toEqual([['home', 'one h1'], ['It is Clover']]);
    await o.press('Back');
    expect([o.at(), o.top().opening]).toEqual([['home'], home]);
  });
  it('follows records that change while it stands there', async () => {
    const o = await walks();
    await o.row(0);
    await o.p.write([{ do: 'set', table: T.hives, record: 'h0', cells: { [F.name]: 'Thorn' } }]);
    await o.world.settle();
    expect(o.texts()).toEqual(['It is Thorn']);
  });
  it('draws what is seen only: what lies below is left, and a sheet lies upon what is seen', async () => {
    const o = await walks();
    const home = o.top().opening;
    await o.press('New');
    expect(o.at()).toEqual(['home', 'form sheet']);
    const before = o.drawn(home).patches;
    await o.p.write([{ do: 'set', table: T.hives, record: 'h9', cells: { [F.name]: 'New one' } }]);
    await o.world.settle();
    expect(o.drawn(home).patches).toBe(before + 1);
    await o.walk.go({ to: 'back' });
    await o.row(0);
    const left = o.drawn(home).patches;
    await o.p.write([{ do: 'set', table: T.hives, record: 'h8', cells: { [F.name]: 'Another' } }]);
    await o.world.settle();
    expect(o.drawn(home).patches).toBe(left);
  });
  it('on a wide screen has the list beside the record, and what the list opens takes its place', async () => {
    const o = await walks(someApp(), { room: 'wide' });
    const home = o.top().opening;
    await o.row(0);
    expect(o.said.where).toMatchObject({ seen: 1, beside: 0 });
    await o.row(1, home);
    expect([o.at(), o.texts()]).toEqual([['home', 'one h1'], ['It is Clover']]);
    await o.walk.inRoom('narrow');
    expect(o.said.where).toMatchObject({ seen: 1, beside: null, by: 'room' });
  });
  it('begins where a link leads, with the first screen below, or where it was before a reload', async () => {
    const linked = await walks(someApp(), { linked: { screen: ONE, record: 'h0' }, starts: true });
    expect(linked.at()).toEqual(['home', 'one h0']);
    const again = await seenBy(linked.world, linked.p, { stack: linked.said.where!.stack });
    expect([again.at(), again.top().opening]).toEqual([linked.at(), linked.top().opening]);
  });
  it('begins with the screen before the first once on a device, and never where it follows a link', async () => {
    const app = someApp((a) => void (a.starts = { first: HELLO }));
    const o = await walks(app, { starts: true });
    expect([o.at(), o.said.where!.isStart]).toEqual([['hell'], true]);
    await o.press('Begin');
    expect(o.at()).toEqual(['home']);
    o.p.restart();
    expect((await seenBy(o.world, o.p, { starts: true })).at()).toEqual(['home']);
    expect((await walks(app)).at()).toEqual(['home']);
  });
  it('a screen that the app has no more is told so, and comes when it is there again', async () => {
    const o = await walks();
    await o.row(0);
    const app = o.world.app;
    o.p.phone.setApp({ ...app, screens: app.screens.filter((s) => s.id !== ONE) });
    await o.world.settle();
    expect(o.drawn().missing).toBe('This screen is not here any more.');
    o.p.phone.setApp(app);
    await o.world.settle();
    expect([o.drawn().missing, o.texts()]).toEqual([null, ['It is Bramble']]);
  });
});

describe('what a routine asks', () => {
  const asks = someApp((app) => {
    app.routines = [
      {
        id: 'q_ask000000',
        name: 'Ask',
        given: null,
        steps: [
          make.step('question', { words: 'How heavy?', as: 'number', result: 'v_heavy0000', resultName: 'h' }),
          make.step('message', { words: '{v_heavy0000} kg' }),
        ],
      },
    ];
  });
  const begun = async () => {
    const o = await walks(asks);
    void o.p.phone.session.runNow(asks.routines[0]!, null).catch(() => undefined);
    await o.world.settle();
    return o;
  };
  const questions = (o: { said: { asked: Asked[] } }): string[] =>
    o.said.asked.map((a) => (a.do === 'ask' ? a.question.words : a.do));

  it('waits for an answer, is asked by whatever page comes, and is gone when one has answered', async () => {
    const o = await begun();
    expect(questions(o)).toEqual(['How heavy?']);
    const other = await seenBy(o.world, o.p);
    expect(questions(other)).toEqual(['How heavy?']);
    await o.p.phone.answered(other.said.asked[0]!.id, { ok: true, value: '12' });
    await o.world.settle();
    expect(questions(other)).toEqual([]);
    expect(other.said.did).toEqual([{ do: 'message', words: '12 kg', tone: 'plain' }]);
    expect(o.said.did).toEqual([]);
  });
  it('is asked again in the next opening of the app, once', async () => {
    const o = await begun();
    o.p.restart();
    const again = await seenBy(o.world, o.p);
    await o.world.settle();
    expect(questions(again)).toEqual(['How heavy?']);
    await o.p.phone.answered(again.said.asked[0]!.id, { ok: true, value: '7' });
    await o.world.settle();
    expect(again.said.did).toEqual([{ do: 'message', words: '7 kg', tone: 'plain' }]);
  });
});

describe('what is typed and not saved', () => {
  const HALF = { [F.name]: 'Half' };
  const form = `${ONE}/h0/e_form/h0`;
  const typing = async () => {
    const o = await walks();
    await o.row(0);
    await o.walk.drafted(form, HALF);
    return o;
  };
  it('is asked about before it is left, by a tap, a routine or the device; and stays', async () => {
    const o = await typing();
    await o.press('Back');
    expect(await o.walk.go({ to: 'tab', screen: HOME })).toBe(false);
    expect(await o.walk.go({ to: 'history', stack: [{ screen: HOME, record: null }] })).toBe(false);
    await o.press('Form');
    expect([o.at(), o.said.leaving]).toEqual([['home', 'one h0'], 4]);
    await o.walk.stay();
    o.p.restart();
    const again = await seenBy(o.world, o.p, { stack: o.said.where!.stack });
    expect(again.said.drafts).toEqual({ [form]: HALF });
  });
  it('is thrown away when that is meant, and what was to be done is done', async () => {
    const o = await typing();
    await o.press('Back');
    await o.walk.leaveAnyway();
    expect([o.at(), await o.p.store.drafts()]).toEqual([['home'], {}]);
  });
  it('keeps nobody from opening another screen upon it', async () => {
    const o = await typing();
    expect(await o.walk.go({ to: 'push', place: { screen: FORM, record: null } })).toBe(true);
    expect([o.at(), o.said.leaving]).toEqual([['home', 'one h0', 'form'], 0]);
    // What lies below is not left by going back to it.
    expect(await o.walk.go({ to: 'back' })).toBe(true);
    expect(await o.walk.go({ to: 'back' })).toBe(false);
  });
  it('is gone when it is saved, and the way leads back', async () => {
    const o = await typing();
    await o.walk.drafted(form, {});
    await o.walk.saved();
    expect([o.at(), o.said.leaving]).toEqual([['home'], 0]);
  });
});
