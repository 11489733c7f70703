import './becoming.ts';
import { describe, expect, it } from 'vitest';
import { elementKinds } from './kinds.ts';
import { ElementMaker } from '../app/make.ts';
import type { App, Element } from '../app/schema.ts';
import { thisId } from '../document/ids.ts';
import { formula, elements, type Brought } from '../document/meaning.ts';
import { F, T, hiveApp, someRecords } from '../records/fixture.ts';
import { Records } from '../records/store.ts';
import { Page } from '../session/fixture.ts';
import { fitted } from './by-value.ts';
import { ScreenCompiler } from './compile.ts';
import { defineElement, type AnyElementDefinition, type Drawing, type ElementKinds, type Place } from './element.ts';
import { LiveScreen, type Patch, type ScreenDoc } from './live-screen.ts';
import { expanded } from './parts.ts';
import { inside, reachAt, reachInside, reachOfScreen, thingOf, walkReach } from './reach.ts';
import { tapped } from './tapped.ts';

const me = thisId(T.hives);
const make = new ElementMaker();

/** An element that counts how often it was compiled and drawn, and shows what its formula gives. */
class Counter {
  compiled = 0;
  drawn: string[] = [];
  readonly kinds: ElementKinds;
  constructor(ask: (d: Drawing, p?: Place) => unknown = () => null) {
    const probe = defineElement({
      kind: 'probe',
      said: { name: 'Probe', hint: '' },
      properties: { value: formula('the value', 'any'), children: elements('what it holds', 50) },
    }).does({
      begin: () => ({ value: '', children: [] }),
      draw: (e, d) => {
        this.compiled++;
        ask(d);
        const value = d.formula(e.value);
        return (p) => {
          this.drawn.push(e.id);
          return { value: value.at(p) as never };
        };
      },
    });
    this.kinds = new Map<string, AnyElementDefinition>([
      ...elementKinds,
      ['probe', probe as unknown as AnyElementDefinition],
    ]);
  }
  /** Which were drawn since the last look. */
  look(): string[] {
    return this.drawn.splice(0);
  }
}
const probe = (id: string, value: string, children: Element[] = [], more: object = {}): Element =>
  ({ id: `e_${id.padEnd(8, '0')}`, kind: 'probe', value, children, ...more }) as unknown as Element;
const ids = (...names: string[]): string[] => names.map((n) => `e_${n.padEnd(8, '0')}`);

function open(
  root: Element,
  more: {
    given?: string;
    record?: string | null;
    optional?: boolean;
    counter?: Counter;
    change?: (a: App) => void;
  } = {},
) {
  const app = hiveApp();
  more.change?.(app);
  const records = new Records(app);
  someRecords(records);
  const counter = more.counter ?? new Counter();
  const compiler = new ScreenCompiler(counter.kinds, records, app);
  const doc: ScreenDoc = {
    id: 's_test00000',
    name: 'Test',
    given: more.given ?? null,
    root,
    ...(more.optional && { optional: true }),
  };
  const live = new LiveScreen(compiler, doc, more.record ?? null);
  const page = new Page();
  let last: Patch | null = null;
  const take = (): Patch | null => {
    last = live.take();
    page.take(last);
    return last;
  };
  take();
  records.subscribe((_, changes) => live.changed(changes));
  counter.look();
  return { app, records, counter, compiler, doc, live, page, take };
}

describe('what is worked out', () => {
  const tree = () =>
    probe('root', '', [
      probe('name', `all_${T.hives}[1].${F.name}`),
      probe('box', '', [probe('weight', `all_${T.hives}[1].${F.weight}`), probe('fixed', '1')]),
      probe('clock', 'now()'),
    ]);
  it('is each element once at first, parents before their children', () => {
    const counter = new Counter();
    open(tree(), { counter });
    expect(counter.compiled).toBe(6);
  });
  it('after a change is what reads it and nothing else, and what did not come out different is not told', () => {
    const { records, counter, take } = open(tree());
    records.set(T.hives, 'bramble', { [F.weight]: 3 });
    expect(counter.look()).toEqual(ids('weight'));
    expect(take()!.set.map((n) => n.id)).toEqual(ids('weight'));
    records.set(T.hives, 'clover', { [F.weight]: 3 });
    counter.look();
    expect(take()).toBeNull();
    records.set(T.keepers, 'odile', { [F.keeperName]: 'Ned' });
    expect(counter.look()).toEqual([]);
  });
  it('when the clock moves is what reads the clock', () => {
    const { records, counter } = open(tree());
    records.tick();
    expect(counter.look()).toEqual(ids('clock'));
  });
  it('in a changed document is what changed, and its ways are not compiled again', () => {
    const counter = new Counter();
    const { compiler, doc, live, page, take } = open(tree(), { counter });
    live.adopt(compiler, doc);
    expect([counter.compiled, counter.look(), take()]).toEqual([6, [], null]);
    const root = doc.root as unknown as { children: Element[] };
    const fixed = probe('fixed', '2');
    const box = {
      ...root.children[1]!,
      children: [(root.children[1] as unknown as { children: Element[] }).children[0]!, fixed],
    } as Element;
    const next = {
      ...doc,
      root: { ...root, children: [root.children[0]!, box, root.children[2]!] } as unknown as Element,
    };
    live.adopt(compiler, next);
    expect(counter.compiled).toBe(9);
    expect(counter.look().sort()).toEqual(ids('box', 'fixed', 'root').sort());
    expect(take()!.set.map((n) => [n.id, n['value']])).toEqual([[ids('fixed')[0], 2]]);
    expect(page.seen()).toHaveLength(6);
  });
  it('of a document whose outermost element is another begins anew', () => {
    const { compiler, doc, live, page, take } = open(tree());
    live.adopt(compiler, { ...doc, name: 'Other', root: probe('new', '7') });
    const patch = take()!;
    expect([patch.title, patch.root, patch.gone.length]).toEqual(['Other', ids('new')[0], 6]);
    expect(page.seen().map((n) => n['value'])).toEqual([7]);
  });
  it('is told again when only the name of the screen is another', () => {
    const { compiler, doc, live, take } = open(tree());
    live.adopt(compiler, { ...doc, name: 'Renamed', root: { ...doc.root } as Element });
    expect(take()).toMatchObject({ title: 'Renamed', set: [], gone: [] });
    expect(take()).toBeNull();
  });
});

describe('elements that are seen at times', () => {
  const heavy = `all_${T.hives}[1].${F.weight} > 20`;
  it('come, go and come again, each told once, with all that is in them', () => {
    const { records, page, take } = open(
      probe('root', '', [probe('when', '1', [probe('inner', '2')], { seenWhen: heavy }), probe('always', '3')]),
    );
    expect(page.seen().map((n) => n['value'])).toEqual([null, 3]);
    records.set(T.hives, 'bramble', { [F.weight]: 30 });
    expect(
      take()!
        .set.map((n) => n.id)
        .sort(),
    ).toEqual(ids('inner', 'root', 'when').sort());
    records.set(T.hives, 'bramble', { [F.weight]: 1 });
    const gone = take()!;
    expect([gone.gone.sort(), gone.set.map((n) => n.id)]).toEqual([ids('inner', 'when').sort(), ids('root')]);
    // Gone and back between two looks is nothing to tell.
    records.set(T.hives, 'bramble', { [F.weight]: 30 });
    records.set(T.hives, 'bramble', { [F.weight]: 1 });
    take();
    expect(page.seen().map((n) => n['value'])).toEqual([null, 3]);
    records.set(T.hives, 'bramble', { [F.weight]: 30 });
    take();
    expect(page.seen().map((n) => n['value'])).toEqual([null, 1, 2, 3]);
  });
  it('are not seen when their condition is no yes', () => {
    for (const [condition, seen] of [
      ['null', 1],
      ['"yes"', 1],
      ['1', 1],
      ['true', 2],
      ['1 +', 1],
    ] as const) {
      const { page } = open(probe('root', '', [probe('x', '1', [], { seenWhen: condition })]));
      expect(page.seen(), condition).toHaveLength(seen);
    }
  });
});

describe('a screen that is given a record', () => {
  const root = probe('root', `${me}.${F.name}`);
  it('says when it is missing, and which', () => {
    const missing = (more: Parameters<typeof open>[1]) => open(root, { given: T.hives, ...more }).page.missing;
    expect([missing({}), missing({ record: 'nobody' }), missing({ record: 'bramble' })]).toEqual([
      'This screen opens with a hive.',
      'This hive is not here any more.',
      null,
    ]);
    expect([missing({ optional: true }), missing({ optional: true, record: 'nobody' })]).toEqual([
      null,
      'This hive is not here any more.',
    ]);
    expect(open(root, { given: 't_gone0000', record: 'x' }).page.missing).toBe('This record is not here any more.');
  });
  it('begins anew when the record goes, and when it comes back', () => {
    const { records, page, take } = open(root, { given: T.hives, record: 'bramble' });
    expect(page.seen()[0]!['value']).toBe('Bramble');
    records.remove(T.hives, 'bramble');
    take();
    expect([page.missing, page.seen()[0]!['value']]).toEqual(['This hive is not here any more.', null]);
    records.set(T.hives, 'bramble', { [F.name]: 'Back' });
    take();
    expect([page.missing, page.seen()[0]!['value']]).toEqual([null, 'Back']);
  });
  it('takes another table’s record for none of its own', () => {
    const { page } = open(root, { given: T.hives, record: 'odile' });
    expect(page.missing).toBe('This hive is not here any more.');
  });
});

describe('places on a screen', () => {
  const list = make.list(T.hives, [probe('in', `${me}.${F.name}`)]);
  it('are found by key: elements, what is in rows, and rows themselves', () => {
    const { live } = open(probe('root', '', [list, probe('x', '1')]));
    const [x, inner] = ids('x', 'in');
    expect(live.at(x!)!.element.id).toBe(x);
    const spot = live.at(`${list.id}/clover/${inner}`)!;
    expect([spot.element.id, spot.reach.things.map((t) => t.id)]).toEqual([inner, [me]]);
    const row = live.at(`${list.id}/clover`)!;
    expect([row.element.id, (row.place.frame.at(-1) as unknown as { id: string }).id]).toEqual([list.id, 'clover']);
    expect(row.place.keep({}, () => 7)).toBe(7);
    for (const key of ['', 'e_gone00000', `${list.id}/nobody`, `${x}/clover`, `${list.id}/clover/e_gone00000`])
      expect(live.at(key), key).toBeNull();
  });
  it('that are looked at and are not there change nothing', () => {
    const { live, take } = open(probe('root', '', [list]));
    live.look('e_gone00000', { from: 3 });
    expect(take()).toBeNull();
    live.look(list.id, { count: 1 });
    expect(take()!.gone).toHaveLength(1);
  });
  it('of rows that go and come under the same id are drawn anew', () => {
    const { records, page, take } = open(probe('root', '', [list]));
    records.remove(T.hives, 'clover');
    records.set(T.hives, 'clover', { [F.name]: 'New' });
    take();
    expect(page.seen().flatMap((n) => n['value'] ?? [])).toEqual(['Bramble', 'New']);
  });
  it('are ready when all their lists are', () => {
    const { live } = open(probe('root', '', [{ ...list, search: true } as Element]));
    expect(live.prepare(Infinity)).toBe(true);
    expect(live.prepare(0)).toBe(true);
  });
  it('hear nothing after the screen is closed', () => {
    const { live, records } = open(probe('root', `all_${T.hives}[1].${F.name}`));
    live.close();
    records.set(T.hives, 'bramble', { [F.name]: 'x' });
    expect(live.problems).toEqual([]);
  });
});

describe('what an element asks of the compiler', () => {
  it('reads a field, or all of a table', () => {
    for (const [field, hears] of [
      [F.fed, false],
      [F.when, true],
      [undefined, true],
    ] as const) {
      const counter = new Counter((d) => d.reads(T.visits, field));
      const { records } = open(probe('root', ''), { counter });
      records.set(T.visits, 'v1', { [F.when]: '2026-01-01' });
      expect(counter.look().length > 0, String(field)).toBe(hears);
    }
    const counter = new Counter((d) => d.reads(T.visits));
    const { records } = open(probe('root', ''), { counter });
    records.set(T.visits, 'new', { [F.fed]: 1 });
    expect(counter.look()).toEqual(ids('root'));
  });
  it('finds the app’s own files, and leaves other addresses as they are', () => {
    const found: string[] = [];
    const counter = new Counter((d) =>
      found.push(
        d.address('file:x_logo0000'),
        d.address('file:x_gone0000'),
        d.address('https://a.example/b.png'),
        d.address(''),
      ),
    );
    open(probe('root', ''), {
      counter,
      change: (a) => void (a.files = [{ id: 'x_logo0000', name: 'l', type: 'image/png', data: 'QQ==' }]),
    });
    expect(found).toEqual(['data:image/png;base64,QQ==', '', 'https://a.example/b.png', '']);
  });
  it('has nothing for a formula that is not filled in, and words where they can be', () => {
    const { page, live } = open(probe('root', '', [make.text('{1 / 0}{"a"}'), probe('bad', '1 +')]));
    expect(page.texts()).toEqual(['a']);
    expect(live.problems).toHaveLength(1);
  });
  it('compiles the same query once, and again for other things in reach', () => {
    const { compiler } = open(probe('root', ''));
    const query = { table: T.hives, where: { match: 'all' as const, conditions: [] }, order: [], limit: null };
    const things = thingOf(compiler.records.model, T.hives);
    const first = compiler.query(query, things);
    expect(compiler.query(query, [...things])).toBe(first);
    expect(compiler.query({ ...query }, things)).not.toBe(first);
    expect(compiler.query(query, thingOf(compiler.records.model, T.visits))).not.toBe(first);
    expect(compiler.query(query, [])).not.toBe(first);
  });
  it('is compiled anew where something else is in reach', () => {
    const { compiler, counter } = open(probe('root', ''));
    const e = probe('e', '1');
    const model = compiler.records.model;
    const at = (given: string | null, form: string | null = null) =>
      compiler.node(e, { ...reachOfScreen(model, { id: 's', given }), form });
    const before = counter.compiled;
    const first = at(null);
    expect(at(null)).toBe(first);
    expect(at(T.hives)).not.toBe(first);
    expect(at(T.hives, T.hives)).not.toBe(at(T.hives));
    expect(counter.compiled - before).toBe(4);
  });
  it('says when there is no such kind', () => {
    const { compiler } = open(probe('root', ''));
    expect(() =>
      compiler.node(
        { id: 'e_x', kind: 'wave' } as never,
        reachOfScreen(compiler.records.model, { id: 's', given: null }),
      ),
    ).toThrow('There is no element of the kind “wave” here.');
  });
  it('gives a tap its record, or nothing', () => {
    const { compiler, live } = open(probe('root', ''), { given: T.hives, record: 'clover' });
    const { reach, place } = live.at(ids('root')[0]!)!;
    const given = (give: string) =>
      compiler.given({ do: 'open', screen: 's', give }, reach, place) as { id: string } | null;
    expect([given(''), given(me)!.id, given(`all_${T.hives}[1]`)!.id]).toEqual([null, 'clover', 'bramble']);
  });
});

describe('what is in reach', () => {
  const records = new Records(hiveApp());
  const { model } = records;
  const names = (of: readonly { name: string }[]): string[] => of.map((t) => t.name);
  it('is the record a screen is given, the row of a list, and the form around', () => {
    const input = make.input(F.name);
    const text = make.text('x');
    const form = make.form(T.visits, '', [input]);
    const list = make.list(T.visits, [text]);
    const inForm = make.text('y');
    const formInList = make.form(T.keepers, '', [inForm]);
    const root = make.box('down', [form, list, make.list(T.hives, [formInList])]);
    const screen = { id: 's_screen00', given: T.hives, root };
    const at = (id: string) => reachAt(elementKinds, model, screen, id);
    expect([names(at(input.id).things), at(input.id).form]).toEqual([['this hive'], T.visits]);
    expect([names(at(text.id).things), at(text.id).form]).toEqual([['this hive', 'this visit'], null]);
    expect([names(at(inForm.id).things), at(inForm.id).form]).toEqual([['this hive'], T.keepers]);
    expect(at('e_gone00000')).toEqual(reachOfScreen(model, screen));
    const seen: string[] = [];
    walkReach(elementKinds, model, root, reachOfScreen(model, { ...screen, given: null }), (e) => seen.push(e.kind));
    expect(seen).toEqual(['box', 'form', 'input', 'list', 'text', 'list', 'form', 'text']);
    expect(names(reachInside(elementKinds, model, at(list.id), list, 'children').things)).toEqual([
      'this hive',
      'this visit',
    ]);
    expect(reachInside(elementKinds, model, at(list.id), list, 'nothing')).toEqual(at(list.id));
  });
  it('a row takes the place of a record of its table further out, and ends a form', () => {
    const outer = { things: [...thingOf(model, T.hives), ...thingOf(model, T.visits)], form: T.hives };
    const within = (b: Brought) => inside(model, outer, b);
    expect(names(within({ row: T.hives }).things)).toEqual(['this visit', 'this hive']);
    expect([within({ row: T.hives }).form, within({ form: T.keepers }).form, within({}).form]).toEqual([
      null,
      T.keepers,
      T.hives,
    ]);
    expect(within({}).things).toBe(outer.things);
    expect(names(within({ row: 't_gone0000' }).things)).toEqual(['this hive', 'this visit']);
    expect([thingOf(model, null), thingOf(model, 't_gone0000')]).toEqual([[], []]);
  });
});

it('a tap is nothing, saves the form, or is for the engine', () => {
  expect([undefined, { do: 'nothing' }, { do: 'save' }, { do: 'back' }].map((t) => tapped(t as never))).toEqual([
    'nothing',
    'nothing',
    'save',
    'act',
  ]);
});

describe('what is seen of records in records, and of what comes and goes', () => {
  it('a row in a row names the records of both', () => {
    const inner = make.list(T.visits, [make.text(`{${me}.${F.name}}: {${thisId(T.visits)}.${F.fed}}`)]);
    const { page, records } = open(make.box('down', [make.list(T.hives, [inner])]));
    const names = records.rows(T.hives).map((r) => String(r.cells[F.name]));
    const visits = records.rows(T.visits);
    expect([names.length, visits.length].every((n) => n > 0)).toBe(true);
    const texts = page.texts();
    expect(texts).toHaveLength(names.length * visits.length);
    for (const name of names) expect(texts.filter((t) => t.startsWith(`${name}: `))).toHaveLength(visits.length);
  });
  it('what came and went before anybody looked is no part of what the page is told', () => {
    const app = hiveApp();
    const records = new Records(app);
    someRecords(records);
    const text = { ...make.text('{1 + 1}'), seenWhen: `${me}.${F.weight} > 50` };
    const doc: ScreenDoc = { id: 's_test00000', name: 'Test', given: T.hives, root: make.box('down', [text]) };
    const live = new LiveScreen(new ScreenCompiler(elementKinds, records, app), doc, 'bramble');
    const page = new Page().take(live.take());
    records.subscribe((_, changes) => live.changed(changes));
    records.set(T.hives, 'bramble', { [F.weight]: 60 });
    records.set(T.hives, 'bramble', { [F.weight]: 40 });
    const patch = live.take();
    expect(patch?.set.map((n) => n.kind) ?? []).not.toContain('text');
    if (patch) page.take(patch);
    expect([...page.nodes.values()].map((n) => n.kind)).not.toContain('text');
    records.set(T.hives, 'bramble', { [F.weight]: 70 });
    page.take(live.take());
    expect(page.texts()).toEqual(['2']);
  });
  it('a place of a part gives its inputs their values, and those it says nothing of have their first', () => {
    const inputs = [
      { id: 'v_one000000', name: 'One', type: 'text', first: '"first"' },
      { id: 'v_two000000', name: 'Two', type: 'text', first: '"second"' },
      { id: 'v_three0000', name: 'Three', type: 'text' },
    ];
    const part = { inputs, root: make.box('down', [make.text('{v_one000000} {v_two000000} {v_three0000}')]) };
    const use = {
      id: 'e_use0000000',
      kind: 'part',
      part: 'o_part0000',
      values: [{ field: 'v_one000000', value: '"given"' }],
    };
    const box = expanded(elementKinds, part as never, use as never) as unknown as { children: { words: string }[] };
    expect(box.children[0]!.words).toBe('{"given"} {"second"} {null}');
  });
  it('a value takes the place of a property only as far as it fits', () => {
    const text = { is: 'text', said: '', most: 5 } as const;
    expect([fitted(text, 'abcdefgh'), fitted(text, 7), fitted({ is: 'yesNo', said: '' }, 'yes')]).toEqual([
      'abcde',
      undefined,
      undefined,
    ]);
    const length = { is: 'number', said: '', least: 1, most: 9, whole: true } as const;
    expect([fitted(length, 40), fitted(length, -3), fitted(length, 2.6), fitted(length, Infinity)]).toEqual([
      9,
      1,
      3,
      undefined,
    ]);
  });
});
