import { describe, expect, it } from 'vitest';
import {
  duplicateElement,
  elementOf,
  insertElement,
  moveElement,
  removeElement,
  removeField,
  removeTable,
  shiftElement,
} from '../app/edits.ts';
import { addScreensFor } from '../app/screens-for.ts';
import { ElementMaker } from '../app/make.ts';
import { thisId } from '../document/ids.ts';
import { idsOfField, usesInWords, usesOf } from '../app/uses.ts';
import { AppSchema, type BoxElement } from '../app/schema.ts';
import { singular } from '../document/names.ts';
import { F, T, hiveApp, someRecords } from '../records/fixture.ts';
import { Records } from '../records/store.ts';
import { drawn, openSession } from '../session/fixture.ts';

const me = thisId(T.hives);

function stage() {
  const app = hiveApp();
  const [list, detail, form] = addScreensFor(app, T.hives);
  addScreensFor(app, T.visits);
  const records = new Records(app);
  someRecords(records);
  return { app, records, list: list!, detail: detail!, form: form! };
}
describe('drawing', () => {
  it('shows the records of a list by title, with second line and figure', () => {
    const { app, records, list } = stage();
    const page = drawn(app, records, list.id);
    expect(page.texts()).toEqual(expect.arrayContaining(['Hives', 'Bramble', 'Odile · Active', '14.2 kg', 'Clover']));
    expect(page.problems).toEqual([]);
  });
  it('shows a record given by link alone, and says when it is gone', () => {
    const { app, records, detail } = stage();
    expect(
      drawn(app, records, detail.id, 'bramble')
        .find('reading')
        .map((r) => `${r.label}: ${r.value}`),
    ).toContain('Weight: 14.2 kg');
    expect(drawn(app, records, detail.id, 'nobody').missing).toBe('This hive is not here any more.');
    expect(drawn(app, records, detail.id).missing).toBe('This screen opens with a hive.');
  });
  it('leaves out what is not to be seen now', () => {
    const { app, records, detail } = stage();
    const make = new ElementMaker();
    detail.root.children.push({ ...make.text('Heavy'), seenWhen: `${me}.${F.weight} > 20` });
    expect(drawn(app, records, detail.id, 'clover').texts()).toContain('Heavy');
    expect(drawn(app, records, detail.id, 'bramble').texts()).not.toContain('Heavy');
  });
  it('works out looks and sizes from values, and keeps the fixed ones where none fits', async () => {
    const { app, records, detail } = stage();
    const make = new ElementMaker();
    const heavy = `if ${me}.${F.weight} > 20 then "bad" else "Soft"`;
    const text = { ...make.text('Weight'), worked: { colour: heavy, width: `${me}.${F.weight} * 10` } };
    const odd = { ...make.text('Odd'), worked: { colour: '"mauve"', style: '5', nothing: '1', width: '99999' } };
    detail.root.children.push(text, odd);
    expect(AppSchema.safeParse(app).error).toBeUndefined();
    const look = (record: string, id: string) =>
      drawn(app, records, detail.id, record)
        .find('text')
        .find((t) => t.id === id)!;
    expect(look('bramble', text.id)).toMatchObject({ colour: 'soft', width: 142 });
    expect(look('clover', text.id)).toMatchObject({ colour: 'bad' });
    expect(look('bramble', odd.id)).toMatchObject({ colour: 'ink', style: 'body', width: 2000 });
    expect(look('bramble', odd.id)).not.toHaveProperty('worked');
    expect(usesOf(app, [F.weight]).some((u) => u.element === text.id)).toBe(true);

    const { session, page, show, records: open } = openSession(app);
    show(detail.id, 'bramble');
    open.set(T.hives, 'bramble', { ...open.row(T.hives, 'bramble')!.cells, [F.weight]: 30 });
    await new Promise((r) => setTimeout(r, 50));
    expect(page.find('text').find((t) => t.id === text.id)).toMatchObject({ colour: 'bad', width: 300 });
    session.leave('phone');
  });
  it('a missing value breaks nothing', () => {
    const { app, records, list } = stage();
    records.set(T.hives, 'blank', {});
    expect(drawn(app, records, list.id).find('list')[0]!.rows).toHaveLength(3);
  });
  it('a formula with a mistake is told and draws nothing in its place', () => {
    const { app, records, list } = stage();
    list.root.children.push(new ElementMaker().text('{nothing such}'));
    const page = drawn(app, records, list.id);
    expect(page.problems[0]).toContain('There is nothing called “nothing such”');
    expect(page.texts()).toContain('');
  });
});

describe('using', () => {
  const session = () => {
    const s = stage();
    return { ...s, ...openSession(s.app) };
  };
  it('a tap on a row opens its record', async () => {
    const { session: use, show, effects, list, detail } = session();
    const row = show(list.id).find('list')[0]!.rows[1]!;
    await use.tapped('phone', row.key);
    expect(effects).toEqual([{ do: 'open', screen: detail.id, record: 'clover' }]);
  });
  it('a form saves what was typed, with a decimal comma and a matched link', async () => {
    const { session: use, records, happened } = session();
    const saved = await (
      await use.actions()
    ).saveForm(T.visits, null, { [F.when]: '2026-11-23', [F.fed]: '1,5', [F.hive]: 'clover' });
    expect(saved).toMatchObject({ created: true });
    expect(records.row(T.visits, (saved as { saved: string }).saved)!.cells).toEqual({
      [F.when]: '2026-11-23',
      [F.fed]: 1.5,
      [F.hiveTag]: 'HB-2',
    });
    expect(happened.at(-1)!.said).toBe('Saved Mon 23 Nov 2026 in Visits');
  });
  it('a form says for each field what is wrong, and saves nothing', async () => {
    const { session: use, app, records } = session();
    app.tables[1]!.fields[1]!.required = true;
    const before = records.rows(T.visits).length;
    expect(await (await use.actions()).saveForm(T.visits, null, { [F.when]: '', [F.fed]: 'lots' })).toEqual({
      problems: { [F.fed]: '“lots” is not a number.', [F.when]: 'When is needed.' },
    });
    expect(await (await use.actions()).saveForm(T.hives, null, { [F.name]: null })).toEqual({
      problems: { '': 'Fill in at least one field before saving.' },
    });
    expect(records.rows(T.visits)).toHaveLength(before);
  });
  it('a button without a routine says so', async () => {
    const { session: use, show, effects, list } = session();
    const button = new ElementMaker().button('Go', { do: 'routine', routine: '' });
    list.root.children.push(button);
    show(list.id);
    await use.tapped('phone', button.id);
    expect(effects).toEqual([{ do: 'message', words: 'This button has no routine yet.', tone: 'bad' }]);
  });
});

describe('editing screens', () => {
  const words = (box: BoxElement): string[] =>
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
