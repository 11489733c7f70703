import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { elementKinds } from './kinds.ts';
import { addScreensFor } from '../app/screens-for.ts';
import { ElementMaker } from '../app/make.ts';
import type { App, BoxElement, Element } from '../app/schema.ts';
import { backId, thisId } from '../document/ids.ts';
import { copyOf } from '../document/copy.ts';
import { Changes } from '../records/changes.ts';
import { F, T, hiveApp, someRecords } from '../records/fixture.ts';
import { Records } from '../records/store.ts';
import { drawn, Page } from '../session/fixture.ts';
import { ScreenCompiler } from './compile.ts';
import { LiveScreen, type Patch } from './live-screen.ts';

const me = thisId(T.hives);
const make = new ElementMaker();

/** A screen with lists in lists, values along links, conditions, and a form. */
function richApp(): App {
  const app = hiveApp();
  app.screens[0]!.root = make.box('down', [
    make.text(`{count(all_${T.hives})} hives, {sum(all_${T.visits}.${F.fed})} fed`, 'title'),
    make.list(
      T.hives,
      [
        make.text(`{${me}.${F.name}} {${me}.${F.keeper}.${F.keeperName}} {${me}.${F.total}}`),
        { ...make.text('heavy'), seenWhen: `${me}.${F.weight} > 20` },
        make.list(T.visits, [make.text(`{this_${T.visits}.${F.when}} {this_${T.visits}.${F.fed}}`)], {
          query: {
            table: T.visits,
            via: `${me}.${backId(F.hive)}`,
            where: { match: 'all', conditions: [] },
            order: [{ by: F.when, descending: true }],
            limit: 2,
          },
        }),
      ],
      {
        query: {
          table: T.hives,
          where: { match: 'all', conditions: [{ left: F.status, op: 'is not', right: '"Retired"' }] },
          order: [
            { by: F.weight, descending: true },
            { by: `${F.keeper}.${F.keeperName}`, descending: false },
          ],
          limit: null,
        },
        search: true,
      },
    ),
    make.list(T.visits, [make.text(`{this_${T.visits}.${F.label}}`)]),
    make.form(T.hives, `all_${T.hives}[1]`, [make.input(F.name)]),
  ]);
  return app;
}

function stage(app = richApp()) {
  const records = new Records(app);
  someRecords(records);
  const compiler = new ScreenCompiler(elementKinds, records, app);
  const live = new LiveScreen(compiler, app.screens[0]!, null);
  const page = new Page().take(live.take());
  let last: Patch | null = null;
  records.subscribe((_, changes) => {
    live.changed(changes);
    last = live.take();
    page.take(last);
  });
  const told = (work: () => void): string[] => {
    last = null;
    work();
    return (last as Patch | null)?.set.map((n) => n.kind) ?? [];
  };
  return { app, records, live, page, told };
}
/** The page as a fresh drawing would have it. */
const afresh = (app: App, records: Records): unknown => drawn(app, records, app.screens[0]!.id).seen();

describe('a live screen', () => {
  it('tells only the element that reads what changed', () => {
    const { records, told, page } = stage();
    expect(told(() => records.set(T.hives, 'bramble', { [F.name]: 'Thorn' }))).toEqual([
      'text',
      'text',
      'text',
      'form',
    ]);
    expect(page.texts()).toContain('Thorn Odile 3.3');
    expect(told(() => records.set(T.keepers, 'odile', { [F.mail]: 'new@heatherfield.example' }))).toEqual([]);
    expect(told(() => records.set(T.hives, 'clover', { [F.tag]: 'HB-2' }))).toEqual([]);
  });
  it('does not work out elements whose reads did not change', () => {
    const app = hiveApp();
    app.screens[0]!.root = make.box('down', [
      make.text(`{count(all_${T.keepers})} keepers`),
      make.text(`{count(all_${T.visits})} visits`),
    ]);
    let drawings = 0;
    const counted = new Map(
      [...elementKinds].map(([kind, d]) => [
        kind,
        {
          ...d,
          draw: (...args: Parameters<typeof d.draw>) =>
            ((run) => (p: Parameters<typeof run>[0]) => (drawings++, run(p)))(d.draw(...args)),
        },
      ]),
    );
    const records = new Records(app);
    someRecords(records);
    const live = new LiveScreen(new ScreenCompiler(counted, records, app), app.screens[0]!, null);
    records.subscribe((_, changes) => live.changed(changes));
    expect(drawings).toBe(3);
    records.set(T.visits, 'v9', {});
    expect(drawings).toBe(4);
    records.set(T.hives, 'h9', {});
    expect(drawings).toBe(4);
  });
  it('shows and hides by condition, and forgets what was in it', () => {
    const { records, page, told } = stage();
    expect(page.texts()).not.toContain('heavy');
    expect(told(() => records.set(T.hives, 'bramble', { [F.weight]: 25 }))).toContain('text');
    expect(page.texts()).toContain('heavy');
    records.set(T.hives, 'bramble', { [F.weight]: 1 });
    expect(page.texts()).not.toContain('heavy');
    expect(page.nodes.size).toBe(page.seen().length);
  });
  it('gives the part of a long list that is asked for, searched and in order', () => {
    const { live, page, records } = stage();
    records.load(
      T.hives,
      Array.from({ length: 500 }, (_, i) => ({ id: `h${i}`, cells: { [F.name]: `Hive ${i}`, [F.weight]: i } })),
    );
    const { key } = page.find('list')[0]!;
    live.look(key, { from: 300, count: 20 });
    page.take(live.take());
    const list = (): ReturnType<typeof page.find<'list'>>[0] => page.find('list')[0]!;
    expect([list().total, list().from, list().rows.length]).toEqual([501, 300, 20]);
    live.look(key, { search: 'hive 49', from: 0 });
    page.take(live.take());
    expect(list().rows.map((r) => r.record)).toEqual([
      'h499',
      'h498',
      'h497',
      'h496',
      'h495',
      'h494',
      'h493',
      'h492',
      'h491',
      'h490',
      'h49',
    ]);
    records.set(T.hives, 'h7', { [F.name]: 'Hive 49 b' });
    expect(list().rows.at(-1)!.record).toBe('h7');
    // Found by what no row shows, and by the title of a linked record.
    live.look(key, { search: 'special' });
    page.take(live.take());
    expect(list().total).toBe(0);
    records.set(T.hives, 'h8', { [F.tag]: 'Special 8' });
    records.set(T.hives, 'h9', { [F.keeper]: 'odile' });
    records.set(T.keepers, 'odile', { [F.keeperName]: 'Odile the special' });
    expect(list().rows.map((r) => r.record)).toEqual(['bramble', 'h9', 'h8']);
  });
  it('inner lists are looked at one by one', () => {
    const { live, page, records } = stage();
    records.set(T.hives, 'clover', { [F.status]: 'Active' });
    const inner = page.find('list').filter((l) => l.key.includes('/'));
    expect(inner.map((l) => l.rows.length)).toEqual([1, 2]);
    live.look(inner[1]!.key, { count: 1 });
    page.take(live.take());
    expect(
      page
        .find('list')
        .filter((l) => l.key.includes('/'))
        .map((l) => l.rows.length),
    ).toEqual([1, 1]);
  });
  it('says when its record is gone, and shows it again when it is back', () => {
    const app = hiveApp();
    const [, detail] = addScreensFor(app, T.hives);
    const records = new Records(app);
    someRecords(records);
    const live = new LiveScreen(new ScreenCompiler(elementKinds, records, app), detail!, 'clover');
    const page = new Page().take(live.take());
    records.subscribe((_, changes) => {
      live.changed(changes);
      page.take(live.take());
    });
    records.remove(T.hives, 'clover');
    expect(page.missing).toBe('This hive is not here any more.');
    records.set(T.hives, 'clover', { [F.name]: 'Clover again' });
    expect(page.missing).toBeNull();
    expect(page.texts()).toContain('Clover again');
  });
  it('draws what reads the clock when it moves, and nothing else', () => {
    const app = hiveApp();
    app.screens[0]!.root = make.box('down', [make.text('{string(now())}'), make.text('still')]);
    let now = 0;
    const records = new Records(app, () => now);
    const live = new LiveScreen(new ScreenCompiler(elementKinds, records, app), app.screens[0]!, null);
    live.take();
    const patches: (Patch | null)[] = [];
    records.subscribe((_, changes) => {
      live.changed(changes);
      patches.push(live.take());
    });
    now = 60_000;
    records.tick();
    expect(patches.map((p) => p?.set.map((n) => n['words']))).toEqual([['1970-01-01T00:01:00']]);
  });
});

describe('patches (properties)', () => {
  const hive = fc.constantFrom('bramble', 'clover', 'moss', 'fern');
  const step = fc.oneof(
    fc.record({ do: fc.constant('weigh' as const), hive, weight: fc.integer({ min: 15, max: 25 }) }),
    fc.record({ do: fc.constant('name' as const), hive, name: fc.constantFrom('Ash', 'Birch', 'Hazel') }),
    fc.record({ do: fc.constant('retire' as const), hive, status: fc.constantFrom('Active', 'Retired') }),
    fc.record({ do: fc.constant('tag' as const), hive, tag: fc.constantFrom('HB-1', 'HB-2', 'HB-3') }),
    fc.record({ do: fc.constant('keeper' as const), hive, keeper: fc.constantFrom('odile', 'ines', '') }),
    fc.record({ do: fc.constant('remove' as const), hive }),
    fc.record({
      do: fc.constant('visit' as const),
      id: fc.constantFrom('v1', 'v4', 'v5'),
      tag: fc.constantFrom('HB-1', 'HB-3'),
      fed: fc.nat(9),
    }),
    fc.record({ do: fc.constant('unvisit' as const), id: fc.constantFrom('v1', 'v2', 'v4') }),
    fc.record({ do: fc.constant('person' as const), name: fc.constantFrom('Ines', 'Odile') }),
    fc.record({ do: fc.constant('look' as const), count: fc.integer({ min: 1, max: 3 }) }),
    fc.record({ do: fc.constant('words' as const), at: fc.nat(3), words: fc.constantFrom('one', 'two') }),
    fc.record({ do: fc.constant('copy' as const), at: fc.nat(3) }),
    fc.record({ do: fc.constant('take' as const), at: fc.nat(5) }),
    fc.record({ do: fc.constant('move' as const), at: fc.nat(4) }),
    fc.record({ do: fc.constant('wrap' as const), at: fc.nat(4), many: fc.integer({ min: 1, max: 2 }) }),
    fc.record({ do: fc.constant('unwrap' as const), at: fc.nat(4) }),
    fc.record({ do: fc.constant('into' as const), at: fc.nat(4), to: fc.nat(4) }),
  );
  type Step = typeof step extends fc.Arbitrary<infer S> ? S : never;

  function make(s: Step, records: Records): void {
    const { hives, visits, keepers } = T;
    switch (s.do) {
      case 'weigh':
        return records.set(hives, s.hive, { [F.weight]: s.weight });
      case 'name':
        return records.set(hives, s.hive, { [F.name]: s.name });
      case 'retire':
        return records.set(hives, s.hive, { [F.status]: s.status });
      case 'tag':
        return records.set(hives, s.hive, { [F.tag]: s.tag });
      case 'keeper':
        return records.set(hives, s.hive, { [F.keeper]: s.keeper || null });
      case 'remove':
        return records.remove(hives, s.hive);
      case 'visit':
        return records.set(visits, s.id, { [F.hiveTag]: s.tag, [F.fed]: s.fed });
      case 'unvisit':
        return records.remove(visits, s.id);
      case 'person':
        return records.set(keepers, s.name.toLowerCase(), { [F.keeperName]: s.name });
      default:
    }
  }
  const box = (inside: Element[]): BoxElement => new ElementMaker().box('down', inside);
  /** The document after an edit; what it left alone is the same object. */
  function edited(app: App, s: Step): App {
    const screen = app.screens[0]!;
    const children = [...screen.root.children];
    const at = 'at' in s ? s.at % Math.max(1, children.length) : 0;
    const there = children[at];
    if (!there) return app;
    if (s.do === 'words') children[at] = there.kind === 'text' ? { ...there, words: s.words } : there;
    else if (s.do === 'copy' && children.length < 8) children.splice(at, 0, copyOf(there));
    else if (s.do === 'take' && children.length > 2) children.splice(at, 1);
    else if (s.do === 'move') children.push(...children.splice(at, 1));
    else if (s.do === 'wrap') children.splice(at, 0, box(children.splice(at, s.many)));
    else if (s.do === 'unwrap' && there.kind === 'box') children.splice(at, 1, ...there.children);
    else if (s.do === 'into' && children[s.to % children.length]?.kind === 'box' && s.to % children.length !== at) {
      const to = s.to % children.length;
      const target = children[to] as BoxElement;
      children[to] = { ...target, children: [...target.children, there] };
      children.splice(at, 1);
    } else return app;
    const list = children.map((c): Element =>
      c.kind === 'list' && s.do === 'move' ? { ...c, gap: (c.gap + 1) % 9 } : c,
    );
    return { ...app, screens: [{ ...screen, root: { ...screen.root, children: list } }] };
  }

  it('lead to what a fresh drawing gives, after any records and edits', () => {
    fc.assert(
      fc.property(fc.array(step, { maxLength: 14 }), (steps) => {
        let app = richApp();
        const records = new Records(app);
        someRecords(records);
        records.set(T.keepers, 'ines', { [F.keeperName]: 'Ines' });
        const compiler = new ScreenCompiler(elementKinds, records, app);
        const live = new LiveScreen(compiler, app.screens[0]!, null);
        const page = new Page().take(live.take());
        let counts: number | null = null;
        records.subscribe((_, changes) => live.changed(changes));
        for (const s of steps) {
          make(s, records);
          const next = edited(app, s);
          if (next !== app) {
            app = next;
            live.adopt(compiler, app.screens[0]!);
          }
          page.take(live.take());
          if (s.do !== 'look') continue;
          counts = s.count;
          for (const l of page.find('list')) live.look(l.key, { count: counts });
          page.take(live.take());
        }
        // A fresh drawing looks at every list as usual, so the page is made to do the same.
        if (counts !== null) for (const l of page.find('list')) live.look(l.key, { count: 40 });
        page.take(live.take());
        expect(page.seen()).toEqual(afresh(app, records));
        expect(page.nodes.size).toBe(page.seen().length);
      }),
      { numRuns: 400 },
    );
  });
  it('one change after the other tells the same as all of them at once', () => {
    fc.assert(
      fc.property(fc.array(step, { maxLength: 10 }), (steps) => {
        const [one, all] = [stage(), stage()];
        for (const s of steps) make(s, one.records);
        all.records.batch(() => {
          for (const s of steps) make(s, all.records);
        });
        expect(one.page.seen().map((n) => ({ ...n, key: '', id: '' })).length).toBe(all.page.seen().length);
        expect(one.page.texts()).toEqual(all.page.texts());
      }),
      { numRuns: 100 },
    );
  });
});

it('changes that happen later are taken in with those before', () => {
  const { records } = stage();
  const row = records.row(T.hives, 'bramble')!;
  const [a, b] = [new Changes(), new Changes()];
  a.note('x/y', row);
  b.note('x/z', row);
  b.clock = true;
  a.add(b);
  expect([[...a.rows.keys()], a.clock, a.all, new Changes().isEmpty]).toEqual([['x/y', 'x/z'], true, false, true]);
});
