import { expect, it } from 'vitest';
import { hiveApp } from '../records/fixture.ts';
import { Model } from '../records/model.ts';
import { reachedScreens, startedRoutines } from '../preflight/reached.ts';
import { addScreen } from './edits.ts';
import { ElementMaker } from './make.ts';
import { makePart } from './parts.ts';
import type { Element } from './schema.ts';
import { waysBetween } from './ways-between.ts';

const make = new ElementMaker();

it('ways lead by taps, by routines that taps run, and out of parts; each is found once', () => {
  const app = hiveApp();
  const [home] = app.screens;
  const [a, b, c] = ['A', 'B', 'C'].map((n) => addScreen(app, n));
  const open = (to: string) => ({ do: 'open' as const, screen: to, give: '' });
  app.routines = [
    { id: 'q_goes000000', name: 'Goes', given: null, steps: [make.step('open', { screen: b!.id, as: 'sheet' })] },
  ];
  const inPart = make.box('down', [make.button('C', open(c!.id))]) as Element;
  const button = make.button('A', open(a!.id));
  const runs = make.button('B', { do: 'routine', routine: 'q_goes000000' });
  home!.root.children = [
    button,
    runs,
    inPart,
    make.button('gone', open('s_gone0000')),
    make.button('self', open(home!.id)),
  ];
  makePart(app, new Model(app), inPart.id);
  const place = home!.root.children[2]!;
  expect(waysBetween(app)).toEqual([
    { from: home!.id, to: a!.id, element: button.id, as: 'over' },
    { from: home!.id, to: b!.id, element: runs.id, as: 'sheet' },
    { from: home!.id, to: c!.id, element: place.id, as: 'over' },
  ]);
  expect([...reachedScreens(app)]).toEqual(expect.arrayContaining([a!.id, b!.id, c!.id]));
  expect(startedRoutines(app).has('q_goes000000')).toBe(true);
});
