import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { walkElements } from '../document/walk.ts';
import { F, T, hiveApp } from '../records/fixture.ts';
import { Model } from '../records/model.ts';
import { Records } from '../records/store.ts';
import { GridView } from '../records/grid.ts';
import { someRecords } from '../records/fixture.ts';
import {
  addFacts,
  addField,
  addOwnOrder,
  addScreen,
  elementOf,
  inDraft,
  leadLink,
  moveFieldBefore,
  placeOf,
  plainView,
  removeField,
  removeTable,
  renameField,
  renameScreen,
} from './edits.ts';
import { ElementMaker } from './make.ts';
import { AppSchema, type App } from './schema.ts';
import { idsOfField, usesOf } from './uses.ts';

describe('the place of an element', () => {
  it('is the same in an app that changes no more as in one that may, wherever it stands', () => {
    const make = new ElementMaker();
    const app = hiveApp();
    const none = make.box('down', [make.text('None here')]);
    const list = { ...make.list(T.hives, [make.text('a'), make.box('across', [make.text('b')])]), none: [none] };
    app.screens = [
      { id: 's_one000000', name: 'One', given: null, icon: 'box', root: make.box('down', [list, make.text('c')]) },
      { id: 's_two000000', name: 'Two', given: null, icon: 'box', root: make.box('down', []) },
    ];
    const frozen = Object.freeze(structuredClone(app));
    const ids: string[] = [];
    for (const s of app.screens) walkElements([s.root], (e) => void ids.push(e.id));
    expect(ids).toHaveLength(9);
    for (const id of [...ids, 'e_gone000000']) {
      const [open, shut] = [placeOf(app, id), placeOf(frozen, id)];
      expect(shut).toEqual(open);
      expect(elementOf(frozen, id)?.id).toBe(id === 'e_gone000000' ? undefined : id);
    }
    for (const id of ids) {
      const draft = structuredClone(app);
      expect(inDraft(frozen, draft, id)).toBe(elementOf(draft, id));
    }
    expect(inDraft(frozen, structuredClone(app), 'e_gone000000')).toBeNull();
    // What changes is looked up anew.
    app.screens[0]!.root.children.reverse();
    expect(placeOf(app, list.id)!.at).toBe(1);
  });
});

describe('a link that is led to another table', () => {
  it('takes the name of that table, where its own came from the one before', () => {
    const app = hiveApp();
    leadLink(app, T.hives, F.keeper, T.visits);
    const field = app.tables[0]!.fields.find((f) => f.id === F.keeper)!;
    expect([field.name, field.link]).toEqual([
      'Visit',
      { kind: 'picked', table: T.visits, backName: expect.stringMatching(/^Hives/) },
    ]);
    // A name of its maker’s own stays.
    renameField(app, T.hives, F.keeper, 'Looked after by');
    leadLink(app, T.hives, F.keeper, T.keepers);
    expect(field.name).toBe('Looked after by');
  });
  it('has nothing to match by any more', () => {
    const app = hiveApp();
    leadLink(app, T.visits, F.hive, T.keepers);
    expect(app.tables[1]!.fields.find((f) => f.id === F.hive)!.link).toEqual({
      kind: 'picked',
      table: T.keepers,
      backName: 'Visits',
    });
  });
});

describe('screens', () => {
  it('renamed, take their tab and their heading along where those said the same', () => {
    const app = hiveApp();
    const screen = addScreen(app, 'New screen');
    app.tabs.push({ screen: screen.id, name: 'New screen', icon: 'house' });
    const heading = (): string => {
      const first = screen.root.children[0]!;
      return first.kind === 'text' ? first.words : '';
    };
    renameScreen(app, screen.id, 'Calculator');
    expect([screen.name, app.tabs.at(-1)!.name, heading()]).toEqual(['Calculator', 'Calculator', 'Calculator']);
    // In words a brace alone would begin a formula.
    renameScreen(app, screen.id, '{x}');
    expect([screen.name, heading()]).toEqual(['{x}', '{{x}']);
    renameScreen(app, screen.id, 'Sums');
    renameScreen(app, 's_gone000000', 'Nothing');
    expect([screen.name, heading()]).toEqual(['Sums', 'Sums']);
  });
});

const fieldsOf = (app: App): string[] => app.tables[0]!.fields.map((f) => f.id);

describe('fields', () => {
  it('are moved before another or to the end', () => {
    const app = hiveApp();
    moveFieldBefore(app, T.hives, F.weight, F.name);
    expect(fieldsOf(app).slice(0, 3)).toEqual([F.weight, F.name, F.tag]);
    moveFieldBefore(app, T.hives, F.weight, null);
    expect(fieldsOf(app).at(-1)).toBe(F.weight);
    moveFieldBefore(app, T.hives, F.weight, F.weight);
    moveFieldBefore(app, T.hives, 'f_gone0000', F.name);
    expect(fieldsOf(app)).toHaveLength(hiveApp().tables[0]!.fields.length);
  });
  it('moving never loses one (property)', () => {
    const ids = fieldsOf(hiveApp());
    fc.assert(
      fc.property(fc.array(fc.tuple(fc.constantFrom(...ids), fc.option(fc.constantFrom(...ids)))), (moves) => {
        const app = hiveApp();
        for (const [id, before] of moves) moveFieldBefore(app, T.hives, id, before);
        expect(fieldsOf(app).sort()).toEqual([...ids].sort());
      }),
    );
  });
  it('take what goes by them along when they are removed', () => {
    const app = hiveApp();
    const table = app.tables[0]!;
    table.key = [F.name, F.weight];
    table.ownOrder = F.weight;
    table.view = {
      ...plainView(),
      where: {
        match: 'all',
        conditions: [
          { left: F.weight, op: 'over', right: '3' },
          { left: F.name, op: 'is', right: `${F.weight}` },
          { left: F.name, op: 'is filled', right: '' },
        ],
      },
      order: [
        { by: F.weight, descending: true },
        { by: F.name, descending: false },
      ],
      group: F.weight,
      hidden: [F.weight, F.tag],
      widths: { [F.weight]: 90 },
      figures: { [F.weight]: 'sum' },
    };
    removeField(app, T.hives, F.weight);
    expect(table).toMatchObject({ key: [F.name] });
    expect(table.ownOrder).toBeUndefined();
    expect(table.view).toEqual({
      ...plainView(),
      where: { match: 'all', conditions: [{ left: F.name, op: 'is filled', right: '' }] },
      order: [{ by: F.name, descending: false }],
      hidden: [F.tag],
    });
    expect(AppSchema.safeParse(app).success).toBe(true);
  });
  it('say who uses them: formulas, defaults, checks, links', () => {
    const app = hiveApp();
    const status = app.tables[0]!.fields.find((f) => f.id === F.status)!;
    status.default = `if ${F.weight} > 3 then "a" else "b"`;
    status.check = { formula: `${F.tag} != null`, words: '' };
    expect(usesOf(app, idsOfField(F.weight)).map((u) => u.said)).toContain('the field Status of Hives');
    expect(usesOf(app, idsOfField(F.tag)).map((u) => u.said)).toEqual(
      expect.arrayContaining(['the field Status of Hives', 'the field Hive of Visits']),
    );
  });
});

describe('own order', () => {
  it('is a hidden number field that the view goes by; new records come last', () => {
    const app = hiveApp();
    const field = addOwnOrder(app, T.hives);
    const table = app.tables[0]!;
    expect([field.type, table.ownOrder]).toEqual(['number', field.id]);
    expect(table.view).toMatchObject({ hidden: [field.id], order: [{ by: field.id, descending: false }] });
    const records = new Records(app);
    someRecords(records);
    records.set(T.hives, 'clover', { [field.id]: 1 });
    const view = new GridView(records, T.hives, { ...table.view!, search: '', closed: [] });
    expect(view.part(0, 9).part.map((l) => l.row!.id)).toEqual(['clover', 'bramble']);
  });
});

describe('app facts', () => {
  it('are made once, and are at hand under their name everywhere', () => {
    const app = hiveApp();
    const facts = addFacts(app);
    expect(addFacts(app)).toBe(facts);
    const season = addField(app, facts.id, 'number', 'Season');
    const model = new Model(app);
    for (const place of [T.hives, T.keepers, null])
      expect(model.optionsFor(place).names.some((n) => n.name === 'app facts')).toBe(true);
    expect(model.shown(`all_${facts.id}.${season.id} + 1`)).toBe('app facts.Season + 1');
    renameField(app, facts.id, season.id, 'This season');
    expect(new Model(app).shown(`all_${facts.id}.${season.id}`)).toBe('app facts.This season');
    removeTable(app, facts.id);
    expect(app.tables.some((t) => t.facts)).toBe(false);
  });
});
