import { describe, expect, it } from 'vitest';
import { thisId } from '../document/ids.ts';
import { Model } from '../records/model.ts';
import { F, hiveApp, someRecords, T } from '../records/fixture.ts';
import { Records } from '../records/store.ts';
import { drawn } from '../session/fixture.ts';
import { crowdedParts } from '../../kinds/notes/crowded-parts.ts';
import { Looking } from '../preflight/note.ts';
import { readApp } from './document.ts';
import { ElementMaker } from './make.ts';
import { holdsPart, makePart, placeOfPart, placesInside, placesOf, removePart, takeApart } from './parts.ts';
import type { App, Element, Part } from './schema.ts';
import { waysBetween } from './ways-between.ts';

const make = new ElementMaker();
const me = thisId(T.hives);

/** A screen given a hive, with a box that names it. */
function appWith(children: Element[]): App {
  const app = hiveApp();
  app.screens[0]!.given = T.hives;
  app.screens[0]!.root.children = children;
  return app;
}
const card = (): Element =>
  make.box('down', [make.text(`{${me}.${F.name}} in ${'{'}${me}.${F.keeper}.${F.keeperName}}`)]) as Element;
const partFrom = (app: App, id: string): Part => makePart(app, new Model(app), id) as Part;
const seen = (app: App, record = 'bramble', screen = app.screens[0]!.id): string[] => {
  const records = new Records(app);
  someRecords(records);
  return drawn(app, records, screen, record).texts();
};

describe('a part', () => {
  it('is made of an element, and what that named becomes an input', () => {
    const box = card();
    const app = appWith([box]);
    const before = seen(app);
    const part = partFrom(app, box.id);
    expect(part.inputs).toMatchObject([{ name: 'hive', type: 'link', link: { table: T.hives } }]);
    expect(app.screens[0]!.root.children).toMatchObject([
      { kind: 'part', part: part.id, values: [{ field: part.inputs[0]!.id, value: me }] },
    ]);
    expect(JSON.stringify(part.root)).not.toContain(me);
    expect(seen(app)).toEqual(before);
    expect(() => readApp(JSON.parse(JSON.stringify(app)))).not.toThrow();
  });
  it('stands at several places with different values, and a change reaches all', () => {
    const box = card();
    const app = appWith([box]);
    const part = partFrom(app, box.id);
    const list = make.list(T.hives, [
      placeOfPart(part, [{ id: me, name: 'this hive', type: { k: 'record', table: T.hives } }]),
    ]);
    app.screens[0]!.root.children.push(list as Element);
    expect(seen(app)).toEqual(['Bramble in Odile', 'Bramble in Odile', 'Clover in ']);
    (part.root.children[0] as { words: string }).words = `{${part.inputs[0]!.id}.${F.weight}}`;
    app.parts = [{ ...part }];
    expect(seen(app)).toEqual(['14.2 kg', '14.2 kg', '21 kg']);
    expect(placesOf(app, part.id)).toHaveLength(2);
  });
  it('takes formulas and texts, its first value where nothing is given, and taps of its places', () => {
    const box = card();
    const app = appWith([box]);
    const part = partFrom(app, box.id);
    const [hive] = part.inputs;
    part.inputs.push({ id: 'i_words0000', name: 'words', type: 'text', first: '"none"' });
    part.inputs.push({ id: 'i_tap000000', name: 'tap', type: 'text', first: '', isTap: true });
    part.root.children = [
      make.text('{i_words0000 + "!"} {count([i_words0000])}') as Element,
      make.button('Go', { do: 'input', input: 'i_tap000000' }) as Element,
    ];
    const place = (values: object[]): Element =>
      ({ ...placeOfPart(part, []), values, taps: [{ input: 'i_tap000000', tap: { do: 'back' } }] }) as never;
    app.screens[0]!.root.children = [
      place([
        { field: 'i_words0000', value: `${me}.${F.name} + " hive"` },
        { field: hive!.id, value: me },
      ]),
      place([]),
    ];
    expect(seen(app)).toEqual(['Bramble hive! 1', 'none! 1']);
    const records = new Records(app);
    expect(
      drawn(app, records, app.screens[0]!.id)
        .find('button')
        .map((b) => b.tap),
    ).toEqual(['act', 'act']);
  });
  it('gives nothing rather than another record, where a row has the name of what was given', () => {
    const box = make.box('down', [
      make.text(`{${me}.${F.name}}`),
      make.list(T.hives, [make.text(`{${me}.${F.name}}`)]),
    ]) as Element;
    const app = appWith([box]);
    const before = seen(app);
    const part = partFrom(app, box.id);
    // The row of the list is its own: it did not become the input.
    expect(seen(app)).toEqual(before);
    const [hive] = part.inputs;
    const list = (part.root.children[1] as { children: { words: string }[] }).children;
    list[0]!.words = `{${hive!.id}.${F.name}}`;
    app.parts = [{ ...part }];
    expect(seen(app)).toEqual(['Bramble', '', '']);
  });
  it('is taken apart at one place, and everywhere when it is removed', () => {
    const box = card();
    const app = appWith([box]);
    const part = partFrom(app, box.id);
    app.screens[0]!.root.children.push(
      placeOfPart(part, [{ id: me, name: '', type: { k: 'record', table: T.hives } }]),
    );
    const before = seen(app);
    const root = takeApart(app, app.screens[0]!.root.children[0]!.id)!;
    expect(root.kind).toBe('box');
    expect(seen(app)).toEqual(before);
    removePart(app, part.id);
    expect(app.parts).toEqual([]);
    expect(seen(app)).toEqual(before);
    expect(JSON.stringify(app.screens)).not.toContain('"part"');
    expect(() => readApp(JSON.parse(JSON.stringify(app)))).not.toThrow();
  });
  it('may hold other parts, but never itself', () => {
    const box = card();
    const app = appWith([box]);
    const inner = partFrom(app, box.id);
    const outer = partFrom(app, app.screens[0]!.root.children[0]!.id);
    expect([holdsPart(app, outer.id, inner.id), holdsPart(app, inner.id, outer.id)]).toEqual([true, false]);
    expect(seen(app)).toEqual(['Bramble in Odile']);
    // A document that was written by hand ends all the same.
    inner.root.children.push(placeOfPart(outer, []));
    app.parts = [{ ...inner }, { ...outer }];
    expect(seen(app).length).toBeLessThan(20);
  });
  it('is not made of inputs whose form stays outside', () => {
    const input = make.input(F.name);
    const app = appWith([make.form(T.hives, '', [input]) as Element]);
    expect(makePart(app, new Model(app), input.id)).toContain('form around it');
    expect(makePart(app, new Model(app), app.screens[0]!.root.id)).toContain('whole screen');
  });
});

describe('parts that hold one another many times over', () => {
  /** Each part holds the next ten times; the last the first, where they go round. */
  function crowd(deep: number, round: boolean): App {
    const app = appWith([]);
    const id = (n: number): string => `u_crowd000${n}`;
    const use = (n: number): Element => ({ ...make.box('down', []), kind: 'part', part: id(n), values: [] }) as never;
    const ten = (n: number): Element[] =>
      Array.from({ length: 10 }, (_, i) => ({ ...use(n), id: `e_place${n}${i}000`.slice(0, 12) }) as Element);
    app.parts = Array.from({ length: deep }, (_, n) => ({
      id: id(n),
      name: `Crowd ${n}`,
      inputs: [],
      root: make.box('down', n + 1 < deep ? ten(n + 1) : round ? ten(0) : [make.text('leaf')]),
    })) as never;
    app.screens[0]!.root.children = [use(0)];
    return app;
  }
  it.each([
    ['ten to the eighth', 8, false],
    ['round in a circle', 3, true],
  ])('are drawn up to a bound, and preflight says so: %s', (_, deep, round) => {
    const app = crowd(deep, round);
    expect(seen(app).length).toBeLessThanOrEqual(1000);
    expect(waysBetween(app)).toEqual([]);
    expect(holdsPart(app, 'u_crowd0000', `u_crowd000${deep - 1}`)).toBe(true);
    expect(placesInside(app).get('u_crowd0000')).toBe(round ? Infinity : 11_111_110);
    const notes = crowdedParts.find(new Looking(app));
    expect(notes[0]!.said).toContain(round ? 'holds itself' : 'holds 11,111,110 places of parts; 1,000 are drawn');
  });
  it('of an ordinary number are drawn whole', () => {
    const app = crowd(3, false);
    expect(seen(app)).toHaveLength(100);
    expect(crowdedParts.find(new Looking(app))).toEqual([]);
  });
});
