import { expect, it } from 'vitest';
import { hiveApp } from '../records/fixture.ts';
import { contradictions } from './contradictions.ts';
import { ElementMaker } from './make.ts';
import type { App, Element } from './schema.ts';

const make = new ElementMaker();

/** An app whose screen holds a box with one text, each as it is told. */
function appWith(text: object, box: object = {}): { app: App; id: string } {
  const inner = { ...make.text('Hello'), ...text };
  const app = hiveApp();
  app.screens[0]!.root.children = [{ ...make.box('down', [inner]), ...box } as Element];
  return { app, id: inner.id };
}

it.each([
  ['fills the height of a box that does not', { height: 'fill' }, {}, 'only as high'],
  ['fills the width of a row that does not', { width: 'fill' }, { runs: 'across', width: 'fit' }, 'only as wide'],
  ['has a least width over its most', { stands: { leastWidth: 200, mostWidth: 100 } }, {}, 'least width'],
  ['has a least height over its most', { stands: { leastHeight: 200, mostHeight: 100 } }, {}, 'least height'],
  ['is wider than a phone', { width: 500 }, {}, '500 pixels wide'],
  ['takes a share and does not fill', { stands: { share: 2 } }, {}, 'a share'],
])('an element that %s is told, and the mend mends it', (_, text, box, said) => {
  const { app, id } = appWith(text, box);
  const found = contradictions(app, id);
  expect(found.map((c) => c.said).join()).toContain(said);
  for (const c of found) c.mend.do(app);
  // What the mend does may ask more of the box around, which then can be mended too.
  for (const c of contradictions(app, id)) c.mend.do(app);
  expect(contradictions(app, id)).toEqual([]);
});
it.each([
  ['fills a row that fills', { width: 'fill' }, { runs: 'across', width: 'fill' }],
  ['fills the height of a box that fills', { height: 'fill' }, { height: 'fill' }],
  ['fills the height of a box of a fixed one', { height: 'fill' }, { height: 300 }],
  ['says nothing of its size', {}, {}],
])('an element that %s is fine', (_, text, box) => {
  const { app, id } = appWith(text, box);
  expect(contradictions(app, id)).toEqual([]);
});
it('the height of the screen itself can be filled', () => {
  const { app } = appWith({});
  const [box] = app.screens[0]!.root.children;
  box!.height = 'fill';
  expect(contradictions(app, box!.id)).toEqual([]);
});
