import { describe, expect, it } from 'vitest';
import {
  addScreensFor,
  duplicateElement,
  elementOf,
  insertElement,
  moveElement,
  removeElement,
  removeField,
  removeTable,
  shiftElement,
} from '../app/edits.ts';
import { ElementMaker } from '../app/elements.ts';
import { thisId } from '../app/ids.ts';
import { idsOfField, usesInWords, usesOf } from '../app/uses.ts';
import { AppSchema, type BoxElement } from '../app/schema.ts';
import { singular } from '../app/names.ts';
import { Device } from '../host/device.ts';
import { Replica } from '../host/replica.ts';
import { F, T, hiveApp, someRecords } from '../records/fixture.ts';
import { Records } from '../records/store.ts';
import { Session, type Happened } from '../session/session.ts';
import { Drawer } from './draw.ts';
import type { Drawn, DrawnBox, DrawnList } from './drawn.ts';

const me = thisId(T.hives);

function stage() {
  const app = hiveApp();
  const [list, detail, form] = addScreensFor(app, T.hives);
  addScreensFor(app, T.visits);
  const records = new Records(app);
  someRecords(records);
  return { app, records, list: list!, detail: detail!, form: form! };
}
const find = <K extends Drawn['kind']>(root: Drawn, kind: K): Extract<Drawn, { kind: K }>[] => {
  const out: Drawn[] = [];
  const walk = (e: Drawn): void => {
    if (e.kind === kind) out.push(e);
    if ('children' in e) e.children.forEach(walk);
    if (e.kind === 'list') e.rows.forEach((r) => r.children.forEach(walk));
  };
  walk(root);
  return out as Extract<Drawn, { kind: K }>[];
};
const texts = (root: Drawn): string[] => find(root, 'text').map((t) => t.words);

describe('drawing', () => {
  it('shows the records of a list by title, with second line and figure', () => {
    const { app, records, list } = stage();
    const drawn = new Drawer(app, records).draw(list.id)!;
    expect(texts(drawn.root)).toEqual(
      expect.arrayContaining(['Hives', 'Bramble', 'Odile · Active', '14.2 kg', 'Clover']),
    );
    expect(drawn.problems).toEqual([]);
  });
  it('shows a record given by link alone, and says when it is gone', () => {
    const { app, records, detail } = stage();
    const drawer = new Drawer(app, records);
    expect(
      find(drawer.draw(detail.id, { record: 'bramble' })!.root, 'reading').map((r) => `${r.label}: ${r.value}`),
    ).toContain('Weight: 14.2 kg');
    expect(drawer.draw(detail.id, { record: 'nobody' })!.missing).toBe('This hive is not here any more.');
    expect(drawer.draw(detail.id)!.missing).toBe('This screen opens with a hive.');
  });
  it('leaves out what is not to be seen now', () => {
    const { app, records, detail } = stage();
    const make = new ElementMaker();
    detail.root.children.push({ ...make.text('Heavy'), seenWhen: `${me}.${F.weight} > 20` });
    const drawer = new Drawer(app, records);
    expect(texts(drawer.draw(detail.id, { record: 'clover' })!.root)).toContain('Heavy');
    expect(texts(drawer.draw(detail.id, { record: 'bramble' })!.root)).not.toContain('Heavy');
  });
  it('gives the part of a long list that is asked for', () => {
    const { app, records, list } = stage();
    records.load(
      T.hives,
      Array.from({ length: 500 }, (_, i) => ({ id: `h${i}`, cells: { [F.name]: `Hive ${i}` } })),
    );
    const id = find(new Drawer(app, records).draw(list.id)!.root, 'list')[0]!.id;
    const part = find(
      new Drawer(app, records).draw(list.id, { lists: { [id]: { from: 300, count: 20, search: 'Hive' } } })!.root,
      'list',
    )[0] as DrawnList;
    expect([part.total, part.from, part.rows.length]).toEqual([500, 300, 20]);
    expect(texts(part)).toContain('Hive 300');
  });
  it('a missing value breaks nothing', () => {
    const { app, records, list } = stage();
    records.set(T.hives, 'blank', {});
    const drawn = find(new Drawer(app, records).draw(list.id)!.root, 'list')[0]!;
    expect(drawn.rows).toHaveLength(3);
  });
  it('a formula with a mistake is told and draws nothing in its place', () => {
    const { app, records, list } = stage();
    list.root.children.push(new ElementMaker().text('{nothing such}'));
    const drawn = new Drawer(app, records).draw(list.id)!;
    expect(drawn.problems[0]).toContain('There is nothing called “nothing such”');
    expect(texts(drawn.root)).toContain('');
  });
});

describe('using', () => {
  function session() {
    const s = stage();
    const replica = new Replica(s.records);
    const happened: Happened[] = [];
    const device = new Device('dtest', replica, { save: async () => undefined }, null);
    return {
      ...s,
      happened,
      use: new Session(s.app, s.records, { device, mail: async () => undefined, happened: (h) => happened.push(h) }),
    };
  }
  it('a tap on a row opens its record', async () => {
    const { use, list, detail } = session();
    const drawn = find(use.draw(list.id)!.root, 'list')[0]!;
    expect(await use.tap(drawn.tap, [{ thing: me, table: T.hives, record: 'clover' }])).toEqual([
      { do: 'open', screen: detail.id, record: 'clover' },
    ]);
  });
  it('a form saves what was typed, with a decimal comma and a matched link', async () => {
    const { use, records, happened } = session();
    const saved = await use.saveForm(T.visits, null, { [F.when]: '2026-11-23', [F.fed]: '1,5', [F.hive]: 'clover' });
    expect(saved).toMatchObject({ created: true });
    expect(records.row(T.visits, (saved as { saved: string }).saved)!.cells).toEqual({
      [F.when]: '2026-11-23',
      [F.fed]: 1.5,
      [F.hiveTag]: 'HB-2',
    });
    expect(happened.at(-1)!.said).toBe('Saved Mon 23 Nov 2026 in Visits');
  });
  it('a form says for each field what is wrong, and saves nothing', async () => {
    const { use, app, records } = session();
    app.tables[1]!.fields[1]!.required = true;
    const before = records.rows(T.visits).length;
    expect(await use.saveForm(T.visits, null, { [F.when]: '', [F.fed]: 'lots' })).toEqual({
      problems: { [F.fed]: '“lots” is not a number.', [F.when]: 'When is needed.' },
    });
    expect(await use.saveForm(T.hives, null, { [F.name]: null })).toEqual({
      problems: { '': 'Fill in at least one field before saving.' },
    });
    expect(records.rows(T.visits)).toHaveLength(before);
  });
  it('a button without a routine says so', async () => {
    expect(await session().use.tap({ do: 'routine', routine: '' }, [])).toEqual([
      { do: 'message', words: 'This button has no routine yet.', tone: 'bad' },
    ]);
  });
});

describe('editing screens', () => {
  const words = (box: BoxElement | DrawnBox): string[] =>
    (box.children as { kind: string; words?: string }[]).map((c) => c.words ?? c.kind);
  function tree() {
    const app = hiveApp();
    const make = new ElementMaker();
    const [a, b, c] = [make.text('a'), make.text('b'), make.text('c')];
    const box = make.box('down', [c]);
    app.screens[0]!.root.children = [a, b, box];
    return { app, a, b, c, box, root: app.screens[0]!.root };
  }
  it('moves before, after and inside, never into itself', () => {
    const { app, a, b, c, box, root } = tree();
    moveElement(app, c.id, a.id, 'before');
    expect(words(root)).toEqual(['c', 'a', 'b', 'box']);
    moveElement(app, b.id, box.id, 'inside');
    expect(words(box)).toEqual(['b']);
    moveElement(app, box.id, b.id, 'after');
    expect(words(root)).toEqual(['c', 'a', 'box']);
    shiftElement(app, a.id, -1);
    expect(words(root)).toEqual(['a', 'c', 'box']);
  });
  it('copies with new ids, inserts behind and removes', () => {
    const { app, a, box, root } = tree();
    const copy = duplicateElement(app, box.id) as BoxElement;
    expect(copy.children[0]!.id).not.toBe(box.children[0]!.id);
    insertElement(app, new ElementMaker().text('new'), a.id);
    expect(words(root)).toEqual(['a', 'new', 'b', 'box', 'box']);
    removeElement(app, box.id);
    expect(elementOf(app, box.id)).toBeNull();
    expect(AppSchema.safeParse(app).success).toBe(true);
  });
  it('says what used a field that is removed', () => {
    const { app } = stage();
    expect(usesInWords(usesOf(app, idsOfField(F.tag)))).toContain('the field Hive of Visits');
    removeField(app, T.hives, F.tag);
    expect(app.tables[1]!.fields.some((f) => f.link)).toBe(false);
    removeTable(app, T.keepers);
    expect(AppSchema.safeParse(app).success).toBe(true);
  });
  it.each([
    ['Hives', 'hive'],
    ['Apiaries', 'apiary'],
    ['Boxes', 'box'],
    ['Glass', 'glass'],
    ['Store moves', 'store move'],
    ['Status', 'status'],
  ])('one of %s is a %s', (many, one) => expect(singular(many)).toBe(one));
});
