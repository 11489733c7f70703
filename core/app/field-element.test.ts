import { expect, it } from 'vitest';
import { thisId } from '../document/ids.ts';
import { F, T, hiveApp } from '../records/fixture.ts';
import { Model } from '../records/model.ts';
import { reachAt, reachInside } from '../screens/reach.ts';
import { elementKinds } from '../screens/kinds.ts';
import { elementForField, standsInRow } from './field-element.ts';
import { ElementMaker } from './make.ts';
import { addScreensFor } from './screens-for.ts';
import type { Element } from './schema.ts';
import { walkElements } from '../document/walk.ts';

const make = new ElementMaker();
const app = hiveApp({ hives: [{ id: 'f_photo0000', name: 'Photo', type: 'picture' }] });
const [list, detail, form] = addScreensFor(app, T.hives);
const hives = app.tables[0]!;
const model = new Model(app);
const of = (id: string) => ({ field: hives.fields.find((f) => f.id === id)!, table: hives });
const first = (root: Element, kind: string): Element => {
  let found: Element | null = null;
  walkElements<Element>([root], (e) => void (found ??= e.kind === kind ? e : null));
  return found!;
};

it('a field becomes what fits where it is put', () => {
  const me = thisId(T.hives);
  const onDetail = reachAt(elementKinds, model, detail!, detail!.root.id);
  expect(elementForField(make, of(F.weight), onDetail, false)).toMatchObject({
    kind: 'reading',
    label: 'Weight',
    value: `${me}.${F.weight}`,
  });
  expect(elementForField(make, of('f_photo0000'), onDetail, false)).toMatchObject({ kind: 'picture', shape: 'wide' });
  expect(elementForField(make, of(F.name), onDetail, false)).toMatchObject({ kind: 'text', style: 'title' });
  const rows = first(list!.root, 'list');
  const inRow = reachInside(elementKinds, model, reachAt(elementKinds, model, list!, rows.id), rows, 'children');
  expect(elementForField(make, of(F.weight), inRow, true)).toMatchObject({
    kind: 'text',
    words: `{${me}.${F.weight}}`,
  });
  const f = first(form!.root, 'form');
  const inForm = reachInside(elementKinds, model, reachAt(elementKinds, model, form!, f.id), f, 'children');
  expect(elementForField(make, of(F.weight), inForm, false)).toMatchObject({ kind: 'input', field: F.weight });
});

it('and nothing where no record is at hand, or where nobody fills it in', () => {
  const onList = reachAt(elementKinds, model, list!, list!.root.id);
  expect(elementForField(make, of(F.weight), onList, false)).toBeNull();
  const formula = { field: { id: 'f_worked000', name: 'Worked', type: 'formula' as const }, table: hives };
  expect(elementForField(make, formula, { things: [], form: T.hives }, false)).toBeNull();
});

it('knows rows by the boxes around', () => {
  const rows = first(list!.root, 'list') as Extract<Element, { kind: 'list' }>;
  expect(standsInRow(app, rows.children[0]!.id)).toBe(true);
  expect(standsInRow(app, first(detail!.root, 'reading').id)).toBe(false);
});
