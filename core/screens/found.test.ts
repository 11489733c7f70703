import { describe, expect, it } from 'vitest';
import { ElementMaker } from '../app/make.ts';
import { AppSchema, type App, type Element, type Screen } from '../app/schema.ts';
import { allOf } from '../document/queries.ts';
import { thisId } from '../document/ids.ts';
import { F, hiveApp, T } from '../records/fixture.ts';
import { openSession } from '../session/fixture.ts';
import { readKey } from '../records/changes.ts';
import '../../kinds/elements/list/arranged.ts';
import './parts.ts';

const make = new ElementMaker();
const HOME = 's_home000000';
const NAME = `{${thisId(T.hives)}.${F.name}}`;

function show(screen: Partial<Screen>, change: (app: App) => void = () => undefined, record: string | null = null) {
  const app = hiveApp({ hives: [{ id: 'f_photo000', name: 'Photo', type: 'picture' }] });
  app.screens = [{ id: HOME, name: 'Home', given: null, icon: 'list', root: make.box('down', []), ...screen }];
  change(app);
  expect(AppSchema.safeParse(app).error?.issues ?? []).toEqual([]);
  return openSession(app).show(HOME, record);
}

describe('a screen that finds its record by itself', () => {
  const finding = (finds: string) => show({ given: T.hives, finds, root: make.box('down', [make.text(NAME)]) });
  it.each([
    ['shows the one that a formula gives', `all_${T.hives}[2]`, 'Clover'],
    ['shows the first of several', `all_${T.hives}`, 'Bramble'],
  ])('%s', (_what, finds, name) => {
    const page = finding(finds);
    expect([page.missing, page.texts()]).toEqual([null, [name]]);
  });
  it.each([
    ['a record of another table', `all_${T.keepers}[1]`],
    ['nothing', `all_${T.hives}[9]`],
    ['no record', '7'],
  ])('says so where the formula gives %s', (_what, finds) => {
    expect(finding(finds).missing).toBe('This screen opens with a hive.');
  });
});

describe('a place of a part', () => {
  const part =
    (root: Element, more = {}) =>
    (app: App) => {
      app.parts = [
        { id: 'u_part000000', name: 'Card', given: T.hives, icon: 'list', inputs: [], root, ...more },
      ] as never;
    };
  const place = (more: object = {}): Element =>
    ({ ...(make.make('part' as never) as object), part: 'u_part000000', values: [], ...more }) as never;
  it.each([
    ['true', ['Bramble']],
    ['false', []],
  ])('is seen when its own condition says so: %s', (seenWhen, texts) => {
    const root = make.box('down', [place({ seenWhen })]);
    const page = show({ given: T.hives, root }, part(make.box('down', [make.text(NAME)])), 'bramble');
    expect(page.texts()).toEqual(texts);
  });
  it('has the records of its own lists in their rows, and not the one that it is given', () => {
    const list = make.list(T.hives, [make.text(NAME)]);
    const root = make.box('down', [make.text(NAME), list]);
    const page = show({ given: T.hives, root: make.box('down', [place()]) }, part(root), 'clover');
    expect(page.texts()).toEqual(['Clover', 'Bramble', 'Clover']);
  });
});

it('a list offers filters by fields that people can choose by, and leaves others out', () => {
  const list = make.list(T.hives, [make.text(NAME)], {
    query: allOf(T.hives),
    filters: [F.status, 'f_photo000', F.weight],
  } as never);
  const page = show({ root: make.box('down', [list]) });
  const [drawn] = page.find('list');
  expect(drawn!.filters.map((f) => f.field)).toEqual([F.status, F.weight]);
});

it('an element has the size that its maker gave it', () => {
  const sized = { ...make.text('Wide'), width: 120, height: 40 } as Element;
  const [text] = show({ root: make.box('down', [sized, make.text('Plain')]) }).find('text');
  expect(text).toMatchObject({ width: 120, height: 40 });
  const [, plain] = show({ root: make.box('down', [sized, make.text('Plain')]) }).find('text');
  expect([plain!.width, plain!.height]).toEqual([undefined, undefined]);
});

it('nothing is watched for a screen that is left', () => {
  const app = hiveApp();
  const root = make.box('down', [make.list(T.hives, [make.text(NAME)])]);
  app.screens = [{ id: HOME, name: 'Home', given: null, icon: 'list', root }];
  const { session, show: open, records } = openSession(app);
  open(HOME);
  expect(records.isWatched(readKey(T.hives, F.name))).toBe(true);
  session.setApp({ ...app, screens: [{ ...app.screens[0]!, root: make.box('down', []) }] });
  expect(records.isWatched(readKey(T.hives, F.name))).toBe(false);
  session.setApp(app);
  expect(records.isWatched(readKey(T.hives, F.name))).toBe(true);
  session.leave('phone');
  expect(records.isWatched(readKey(T.hives, F.name))).toBe(false);
});
