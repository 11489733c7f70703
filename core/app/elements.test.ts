import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { F, T, hiveApp } from '../records/fixture.ts';
import { backId, thisId } from '../document/ids.ts';
import { copyOf } from '../document/copy.ts';
import { walkElements, walkSteps } from '../document/walk.ts';
import {
  addScreen,
  duplicateElement,
  duplicateScreen,
  elementOf,
  insertElement,
  moveElement,
  placeOf,
  removeElement,
  removeScreen,
  shiftElement,
} from './edits.ts';
import { addScreensFor } from './screens-for.ts';
import { ElementMaker } from './make.ts';
import { AppSchema, ElementSchema, StepSchema, type App, type Element, type Step } from './schema.ts';

/** The hive app without a screen. */
const blank = (): App => ({ ...hiveApp(), screens: [], tabs: [] });
/** The hive app with the screens that are made for its tables: boxes, lists and forms several levels deep. */
function withScreens(): App {
  const app = hiveApp();
  for (const t of [T.hives, T.visits]) addScreensFor(app, t);
  return app;
}
const idsIn = (roots: readonly Element[]): string[] => {
  const ids: string[] = [];
  walkElements(roots, (e) => ids.push(e.id));
  return ids;
};
const idsOf = (app: App): string[] => idsIn(app.screens.map((s) => s.root));
/** An element without its ids, to compare copies by. */
const nameless = (value: unknown): unknown => JSON.parse(JSON.stringify(value).replace(/\b[es]_[a-z0-9]+/g, '#'));

const act = fc.record({
  do: fc.constantFrom('before', 'after', 'inside', 'shift', 'duplicate', 'remove', 'insert'),
  what: fc.nat(),
  to: fc.nat(),
});

describe('any edits of the elements', () => {
  it('keep the document whole: each id once, nothing lost or made by moving (property)', () => {
    fc.assert(
      fc.property(fc.array(act, { maxLength: 15 }), (acts) => {
        const app = withScreens();
        for (const a of acts) {
          const all = idsOf(app);
          const [what, to] = [all[a.what % all.length]!, all[a.to % all.length]!];
          if (a.do === 'duplicate') duplicateElement(app, what);
          else if (a.do === 'remove') removeElement(app, what);
          else if (a.do === 'insert') insertElement(app, new ElementMaker().text('New'), what);
          else {
            if (a.do === 'shift') shiftElement(app, what, (a.to % 5) - 2);
            else moveElement(app, what, to, a.do as 'before' | 'after' | 'inside');
            expect(idsOf(app).sort()).toEqual(all.sort());
          }
        }
        const after = idsOf(app);
        expect(new Set(after).size).toBe(after.length);
        expect(AppSchema.safeParse(app).error).toBeUndefined();
        for (const id of after) expect(elementOf(app, id)?.id).toBe(id);
      }),
      { numRuns: 150 },
    );
  });
  it('the root of a screen stays: it is neither moved, copied nor removed', () => {
    const app = withScreens();
    const before = structuredClone(app);
    const { root } = app.screens[0]!;
    removeElement(app, root.id);
    shiftElement(app, root.id, 1);
    moveElement(app, root.id, app.screens[1]!.root.id, 'inside');
    expect(duplicateElement(app, root.id)).toBeNull();
    expect(app).toEqual(before);
  });
  it('what is not there changes nothing', () => {
    const app = withScreens();
    const before = structuredClone(app);
    removeElement(app, 'e_gone0000');
    shiftElement(app, 'e_gone0000', 1);
    insertElement(app, new ElementMaker().text('New'), 'e_gone0000');
    moveElement(app, 'e_gone0000', app.screens[0]!.root.id, 'inside');
    removeScreen(app, 's_gone0000');
    expect([duplicateElement(app, 'e_gone0000'), duplicateScreen(app, 's_gone0000')]).toEqual([null, null]);
    expect([placeOf(app, 'e_gone0000'), elementOf(app, 'e_gone0000')]).toEqual([null, null]);
    expect(app).toEqual(before);
  });
});

describe('moving', () => {
  const make = new ElementMaker();
  const three = (): { app: App; ids: string[]; names(): string } => {
    const app = hiveApp();
    const screen = addScreen(app, 'Home');
    const [a, b, c] = ['a', 'b', 'c'].map((words) => make.text(words));
    screen.root.children = [a!, b!, make.box('down', [c!])];
    const words = (e: Element): string =>
      e.kind === 'text' ? e.words : e.kind === 'box' ? `(${e.children.map(words).join('')})` : '?';
    return {
      app,
      ids: [a!.id, b!.id, screen.root.children[2]!.id, c!.id, screen.root.id],
      names: () => screen.root.children.map(words).join(''),
    };
  };
  it.each<[string, number, number, 'before' | 'after' | 'inside', string]>([
    ['before another', 1, 0, 'before', 'ba(c)'],
    ['behind another', 0, 1, 'after', 'ba(c)'],
    ['into a box, at its end', 0, 2, 'inside', 'b(ca)'],
    ['before what stands in a box', 0, 3, 'before', 'b(ac)'],
    ['out of a box', 3, 0, 'before', 'cab()'],
    ['a box, with what it holds', 2, 0, 'before', '(c)ab'],
    ['beside a root: into it, at its end', 0, 4, 'before', 'b(c)a'],
    ['into what holds no others: behind it', 3, 0, 'inside', 'acb()'],
    ['not into itself', 2, 2, 'inside', 'ab(c)'],
    ['not into what it holds', 2, 3, 'after', 'ab(c)'],
  ])('%s', (_what, from, to, where, said) => {
    const { app, ids, names } = three();
    moveElement(app, ids[from]!, ids[to]!, where);
    expect(names()).toBe(said);
  });
  it('by steps stops at the ends', () => {
    const { app, ids, names } = three();
    shiftElement(app, ids[0]!, -1);
    shiftElement(app, ids[2]!, 1);
    expect(names()).toBe('ab(c)');
    shiftElement(app, ids[0]!, 1);
    expect(names()).toBe('ba(c)');
    shiftElement(app, ids[0]!, 9);
    expect(names()).toBe('ba(c)');
  });
  it('a new element goes into what holds others, and behind what does not', () => {
    const { app, ids, names } = three();
    insertElement(app, make.text('x'), ids[0]!);
    insertElement(app, make.text('y'), ids[2]!);
    expect(names()).toBe('axb(cy)');
  });
});

describe('copies', () => {
  it('are the same but for their ids, and share none of them (property)', () => {
    const app = withScreens();
    fc.assert(
      fc.property(fc.constantFrom(...app.screens.map((s) => s.root as Element)), (root) => {
        const copy = copyOf(root);
        expect(nameless(copy)).toEqual(nameless(root));
        expect(idsIn([copy]).filter((id) => idsIn([root]).includes(id))).toEqual([]);
        expect(ElementSchema.safeParse(copy).error).toBeUndefined();
      }),
    );
  });
  it('of steps use their own results, and those from outside as before', () => {
    const make = new ElementMaker();
    const outer = make.step('add', { table: T.hives, resultName: 'outer' });
    const inner = make.step('add', { table: T.hives, resultName: 'inner' });
    const words = `{${inner.result}.${F.name}} {${outer.result}.${F.name}}`;
    const group: Step = make.step('together', { steps: [inner, make.step('message', { words })] });
    const copy = copyOf(group);
    const results: string[] = [];
    const said: string[] = [];
    walkSteps<Step>([copy], (s) => {
      if (s.do === 'add') results.push(s.result);
      if (s.do === 'message') said.push(s.words);
    });
    expect(results).not.toEqual([inner.result]);
    expect(said).toEqual([`{${results[0]}.${F.name}} {${outer.result}.${F.name}}`]);
    expect(StepSchema.safeParse(copy).error).toBeUndefined();
  });
  it('of a screen get a free name and leave the first as it is', () => {
    const app = withScreens();
    const before = structuredClone(app);
    const [source] = app.screens;
    const copy = duplicateScreen(app, source!.id)!;
    expect(app.screens.slice(0, -1)).toEqual(before.screens);
    expect(copy.name).not.toBe(source!.name);
    expect(nameless(copy.root)).toEqual(nameless(source!.root));
    expect(new Set(idsOf(app)).size).toBe(idsOf(app).length);
  });
});

describe('screens', () => {
  it('are made for a table with a tab, and take the place of an empty first one', () => {
    const app = blank();
    addScreen(app, 'Home').root.children = [];
    const made = addScreensFor(app, T.hives);
    expect(app.screens.map((s) => s.id)).toEqual(made.map((s) => s.id));
    expect(app.tabs.map((t) => t.screen)).toEqual([made[0]!.id]);
    addScreensFor(app, T.hives);
    expect(new Set(app.screens.map((s) => s.name)).size).toBe(app.screens.length);
    for (let i = 0; i < 5; i++) addScreensFor(app, T.visits);
    expect(app.tabs).toHaveLength(5);
  });
  it('list what links to a record, also on screens that are there already, and add to it', () => {
    const app = blank();
    const [, hive] = addScreensFor(app, T.hives);
    const [, visit, form] = addScreensFor(app, T.visits);
    const lists = (): unknown[] => {
      const found: unknown[] = [];
      walkElements(hive!.root.children, (e) => void (e.kind === 'list' && found.push([e.query.via, e.tap])));
      return found;
    };
    const link = app.tables.find((t) => t.id === T.visits)!.fields.find((f) => f.link?.table === T.hives)!;
    expect(lists()).toEqual([
      [`${thisId(T.hives)}.${backId(link.id)}`, { do: 'open', screen: visit!.id, give: thisId(T.visits) }],
    ]);
    expect(JSON.stringify(hive)).toContain(
      JSON.stringify({
        do: 'open',
        screen: form!.id,
        give: '',
        values: [{ field: link.id, value: thisId(T.hives) }],
      }),
    );
    // Once is enough.
    addScreensFor(app, T.visits);
    expect(lists()).toHaveLength(1);
  });
  it('a screen with something on it is kept', () => {
    const app = blank();
    const home = addScreen(app, 'Home');
    addScreensFor(app, T.hives);
    expect(app.screens[0]!.id).toBe(home.id);
  });
  it('take their tabs along when they are removed', () => {
    const app = withScreens();
    const [tab] = app.tabs;
    removeScreen(app, tab!.screen);
    expect(app.tabs.some((t) => t.screen === tab!.screen)).toBe(false);
    expect(app.screens.some((s) => s.id === tab!.screen)).toBe(false);
  });
});
