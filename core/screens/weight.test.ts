import { expect, it } from 'vitest';
import { elementKinds } from './kinds.ts';
import { ElementMaker } from '../app/make.ts';
import { allOf } from '../document/queries.ts';
import { F, T, hiveApp, someRecords } from '../records/fixture.ts';
import { Records } from '../records/store.ts';
import { ScreenCompiler } from './compile.ts';
import { byWeight, weigh, type Weight } from './weight.ts';

it('a screen weighs what is drawn of it, and the records behind its lists', () => {
  const make = new ElementMaker();
  const app = hiveApp();
  const row = (): ReturnType<typeof make.text> => make.text(`{this_${T.hives}.${F.name}}`);
  const list = make.list(T.hives, [row()]);
  const none = { match: 'all' as const, conditions: [{ left: F.name, op: 'is' as const, right: '"Nobody"' }] };
  app.screens = [
    {
      id: 's_heavy00000',
      name: 'Heavy',
      given: null,
      icon: 'list',
      root: make.box('down', [
        make.text('words'),
        list,
        make.list(T.visits, []),
        make.list(T.hives, [row()], { query: { ...allOf(T.hives), where: none } }),
      ]),
    },
    { id: 's_light00000', name: 'Light', given: null, icon: 'list', root: make.box('down', []) },
  ];
  const records = new Records(app);
  someRecords(records);
  const weights = app.screens.map((s) => weigh(new ScreenCompiler(elementKinds, records, app), s, null));
  // The box, the words, three lists, and two rows.
  expect(weights[0]).toMatchObject({ elements: 7, queries: 3, records: 5 });
  expect(weights[0]!.heaviest!.records).toBe(3);
  expect(weights[1]).toMatchObject({ elements: 1, queries: 0, records: 0, heaviest: null });
  expect(weights[0]!.bytes).toBeGreaterThan(weights[1]!.bytes * 3);
  expect(byWeight([weights[1]!, weights[0]!] as Weight[]).map((w) => w.screen)).toEqual([
    's_heavy00000',
    's_light00000',
  ]);
});
