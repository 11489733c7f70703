import { expect, it } from 'vitest';
import { addTable } from '../app/edits.ts';
import { addScreensFor } from '../app/screens-for.ts';
import { ElementMaker } from '../app/make.ts';
import { emptyApp } from '../app/document.ts';
import { F, T, hiveApp } from '../records/fixture.ts';
import { preflight, stops } from './preflight.ts';

const make = new ElementMaker();
const said = (app: ReturnType<typeof hiveApp>): string[] => preflight(app).map((n) => `${n.severity}: ${n.said}`);

it('finds nothing in an app that was just made', () => {
  const app = emptyApp('New');
  addScreensFor(app, addTable(app, 'Hives').id);
  expect(said(app)).toEqual([]);
});
it('finds what is unfinished, with its place', () => {
  const app = emptyApp('New');
  addScreensFor(app, addTable(app, 'Hives').id);
  const [list] = app.screens;
  const [button, picture, input, open] = [
    make.button('Press', { do: 'nothing' }),
    make.picture('', 'wide'),
    make.input('f_gone0000'),
    make.button('Go', { do: 'open', screen: 's_gone0000', give: '' }),
  ];
  list!.root.children.push(button, picture, input, open);
  app.routines.push({ id: 'q_lonely000', name: 'Lonely', given: null, steps: [make.step('message')] });
  expect(said(app)).toEqual([
    'look: Button on Hives: a tap does nothing yet.',
    'look: Picture on Hives: no picture is chosen.',
    'stops: Input on Hives: its field belongs to no form or record that is at hand here.',
    'stops: Button on Hives: a tap opens a screen that is not chosen.',
    'look: Lonely is not started by anything.',
    'look: Lonely: a message has no words yet.',
  ]);
  expect(preflight(app)[0]).toMatchObject({ workspace: 'screens', screen: list!.id, element: button.id });
  expect(stops(preflight(app))).toBe(true);
});
it('finds formulas that do not work out, circles, and screens nobody reaches', () => {
  const app = hiveApp({
    hives: [
      { id: 'f_bad00000', name: 'Bad', type: 'formula', formula: 'Wieght + 1' },
      { id: 'f_own00000', name: 'Own', type: 'formula', formula: 'f_own00000' },
    ],
  });
  addScreensFor(app, T.hives);
  app.tabs = [];
  const notes = said(app);
  expect(notes).toContain('stops: Bad of Hives: There is nothing called “Wieght” here. Did you mean “Weight”?');
  expect(notes.find((n) => n.includes('Own of Hives'))).toContain('uses itself');
  app.tables[0]!.fields = app.tables[0]!.fields.filter((f) => f.id !== F.weight);
  expect(stops(preflight(app))).toBe(true);
});
