import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { thisId } from '../document/ids.ts';
import { cloned } from '../document/copy.ts';
import { walkElements } from '../document/walk.ts';
import { F, T, hiveApp } from '../records/fixture.ts';
import { Model } from '../records/model.ts';
import { clipOfElements, clipOfSteps, pasteElements, readClip, stepsFrom } from './clip.ts';
import { elementOf, placeOf } from './edits.ts';
import { ElementMaker } from './make.ts';
import { makePart, placesOf } from './parts.ts';
import type { App, Element } from './schema.ts';
import { AppSchema } from './schema.ts';
import {
  duplicateElements,
  moveElements,
  putIntoBox,
  removeElements,
  screenOfAll,
  takeOutOfBox,
  topmost,
} from './selection.ts';

let n = 0;
const make = new ElementMaker((letter) => `${letter}_made${String(n++).padStart(6, '0')}`);
const me = thisId(T.hives);

/** Title, a box with three texts, a list with one text in its row. */
function someApp() {
  const [a, b, c] = ['a', 'b', 'c'].map((w) => make.text(w));
  const box = make.box('down', [a!, b!, c!]);
  const title = make.text('title');
  const inRow = make.text(`{${me}.${F.name}}`);
  const list = make.list(T.hives, [inRow]);
  const app = hiveApp();
  const root = make.box('down', [title, box, list]);
  app.screens = [
    { id: 's_first0000', name: 'First', given: null, icon: 'list', root },
    { id: 's_second000', name: 'Second', given: null, icon: 'list', root: make.box('down', []) },
  ];
  return { app, root, title, box, list, inRow, a: a!, b: b!, c: c! };
}
const words = (app: App, screen = 0): string[] => {
  const out: string[] = [];
  walkElements<Element>([app.screens[screen]!.root], (e) => {
    if (e.kind === 'text') out.push(e.words);
  });
  return out;
};

describe('several elements', () => {
  it('count once, in the order they are drawn; what stands in another goes with it', () => {
    const { app, title, box, a, list, root } = someApp();
    expect(topmost(app, [list.id, a.id, box.id, title.id, root.id, 'e_gone000000']).map((e) => e.id)).toEqual([
      title.id,
      box.id,
      list.id,
    ]);
    expect(screenOfAll(app, [a.id, list.id])?.name).toBe('First');
    expect(screenOfAll(app, [a.id, 'e_gone000000'])).toBeNull();
  });
  it('are put into a box where the first stands, and taken out again', () => {
    const { app, title, a, c, root } = someApp();
    const box = putIntoBox(app, [c.id, title.id, a.id])!;
    expect(words(app).slice(0, 4)).toEqual(['title', 'a', 'c', 'b']);
    expect(root.children[0]).toEqual(box);
    expect(takeOutOfBox(app, box.id)).toEqual([title.id, a.id, c.id]);
    expect(elementOf(app, box.id)).toBeNull();
    expect(takeOutOfBox(app, title.id)).toEqual([]);
    expect(putIntoBox(app, [root.id])).toBeNull();
  });
  it('are moved in their order, copied behind themselves, removed', () => {
    const { app, title, a, b, c } = someApp();
    moveElements(app, [b.id, a.id], title.id, 'before');
    expect(words(app).slice(0, 4)).toEqual(['a', 'b', 'title', 'c']);
    moveElements(app, [b.id, a.id], c.id, 'after');
    expect(words(app).slice(0, 4)).toEqual(['title', 'c', 'a', 'b']);
    const copies = duplicateElements(app, [a.id, title.id]);
    expect(words(app).slice(0, 6)).toEqual(['title', 'title', 'c', 'a', 'a', 'b']);
    removeElements(app, copies);
    expect(words(app).slice(0, 4)).toEqual(['title', 'c', 'a', 'b']);
  });
  it('are never lost or doubled by moving them (property)', () => {
    const where = fc.constantFrom('before' as const, 'after' as const, 'inside' as const);
    fc.assert(
      fc.property(fc.array(fc.nat(6), { maxLength: 4 }), fc.nat(6), where, (picked, to, at) => {
        const made = someApp();
        const all = [made.title, made.box, made.list, made.a, made.b, made.c, made.inRow];
        moveElements(
          made.app,
          picked.map((i) => all[i]!.id),
          all[to]!.id,
          at,
        );
        const left: string[] = [];
        walkElements<Element>([made.root], (e) => left.push(e.id));
        expect([...left].sort()).toEqual([made.root.id, ...all.map((e) => e.id)].sort());
      }),
    );
  });
});

describe('the clipboard', () => {
  const text = (app: App, ...ids: string[]): string => JSON.stringify(clipOfElements(app, ids));
  it('gives copies with ids of their own, behind what was copied or inside what is selected', () => {
    const { app, a, box } = someApp();
    const clip = readClip(text(app, a.id))!;
    const pasted = pasteElements(app, clip, a.id);
    expect(words(app).slice(0, 4)).toEqual(['title', 'a', 'a', 'b']);
    expect(pasted.things[0]!.id).not.toBe(a.id);
    pasteElements(app, clip, box.id);
    expect(words(app)[5]).toBe('a');
    // A box that was itself copied is not put into itself.
    pasteElements(app, readClip(text(app, box.id))!, box.id);
    expect(app.screens[0]!.root.children.map((e) => e.kind)).toEqual(['text', 'box', 'box', 'list']);
    pasteElements(app, clip, app.screens[1]!.root.id);
    expect(words(app, 1)).toEqual(['a']);
  });
  it('finds in another app what has the same name, brings what it needs, and says what is missing', () => {
    const { app, list, box, inRow } = someApp();
    const routine = {
      id: 'q_retire000',
      name: 'Retire',
      given: T.hives,
      steps: [make.step('set', { record: me, values: [{ field: F.status, value: '"Retired"' }] })],
    };
    app.routines = [routine];
    app.files = [{ id: 'x_picture00', name: 'A picture', type: 'image/svg+xml', data: 'PHN2Zy8+' }];
    app.variables = [
      { id: 'v_longest00', name: 'Longest', type: 'number', lasts: 'screen', screen: 's_first0000', first: '1' },
    ];
    list.tap = { do: 'routine', routine: routine.id };
    list.children.push(make.text(`{${me}.${F.weight} > v_longest00}`));
    box.children.push(make.picture('"file:x_picture00"', 'square'));
    makePart(app, new Model(app), inRow.id);
    const clip = readClip(text(app, list.id, box.id))!;

    const other = cloned(hiveApp());
    other.id = 'a_other0000';
    // The same tables with other ids; one field is not there.
    const renewed = JSON.parse(
      JSON.stringify(other).replaceAll(T.hives, 't_other0000').replaceAll(F.name, 'f_othername'),
    ) as App;
    const hives = renewed.tables[0]!;
    hives.fields = hives.fields.filter((f) => f.id !== F.status);
    renewed.screens = [{ id: 's_there0000', name: 'There', given: null, icon: 'list', root: make.box('down', []) }];
    const pasted = pasteElements(renewed, clip, renewed.screens[0]!.root.id);
    expect(pasted.lost).toEqual(['the field Status of Hives']);
    const [newBox, newList] = pasted.things as [Element, Extract<Element, { kind: 'list' }>];
    expect(newBox.kind).toBe('box');
    expect(newList.query.table).toBe('t_other0000');
    expect(newList.tap).toEqual({ do: 'routine', routine: renewed.routines[0]!.id });
    expect(renewed.routines[0]).toMatchObject({ name: 'Retire', given: 't_other0000' });
    expect(renewed.files).toHaveLength(1);
    expect(JSON.stringify(newBox)).toContain(`file:${renewed.files[0]!.id}`);
    expect(renewed.variables).toMatchObject([{ name: 'Longest', lasts: 'screen', screen: 's_there0000' }]);
    expect(placesOf(renewed, renewed.parts![0]!.id)).toHaveLength(1);
    expect(JSON.stringify([newList, renewed.parts])).toContain('this_t_other0000');
    expect(JSON.stringify(renewed)).not.toContain(T.hives);
    expect(AppSchema.safeParse(renewed).error).toBeUndefined();
    // Again: what it needs is there now and does not come twice.
    pasteElements(renewed, clip, renewed.screens[0]!.root.id);
    expect([renewed.routines.length, renewed.parts!.length, renewed.files.length]).toEqual([1, 1, 1]);
  });
  it('carries steps too', () => {
    const { app } = someApp();
    const step = make.step('message', { words: 'Hello' });
    const clip = readClip(JSON.stringify(clipOfSteps(app, [step])))!;
    const [copy] = stepsFrom(app, clip).things;
    expect(copy).toEqual({ ...step, id: copy!.id });
    expect(copy!.id).not.toBe(step.id);
    expect(pasteElements(app, clip, app.screens[0]!.root.id).things).toEqual([]);
  });
  it('is read only where it holds what is ours, whole and known', () => {
    const { app, a } = someApp();
    const good = text(app, a.id);
    expect(readClip('some words')).toBeNull();
    expect(() => readClip(good.slice(0, -5))).toThrow('arrived only in part');
    expect(() => readClip(good.replace('"kind":"text"', '"kind":"hologram"'))).toThrow('another version');
    expect(placeOf(app, a.id)).not.toBeNull();
  });
});
