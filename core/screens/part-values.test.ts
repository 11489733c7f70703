import { expect, it } from 'vitest';
import { ElementMaker } from '../app/make.ts';
import { AppSchema, type App } from '../app/schema.ts';
import { F, hiveApp, T } from '../records/fixture.ts';
import { openSession } from '../session/fixture.ts';

const make = new ElementMaker();
const SIZE = 'v_size000000';

/** What a part says of an input, where its place gives it a value. */
async function says(words: string, value: string): Promise<string[]> {
  const app: App = hiveApp();
  app.parts = [
    {
      id: 'u_part000000',
      name: 'Card',
      given: null,
      icon: 'list',
      inputs: [{ id: SIZE, name: 'Size', type: 'number', first: '7' }],
      root: make.box('down', [make.text(words)]),
    },
  ] as never;
  const values = value ? [{ field: SIZE, value }] : [];
  const place = { ...(make.make('part' as never) as object), part: 'u_part000000', values } as never;
  app.screens = [{ id: 's_home000000', name: 'Home', given: T.hives, icon: 'list', root: make.box('down', [place]) }];
  expect(AppSchema.safeParse(app).error?.issues ?? []).toEqual([]);
  await import('./parts.ts');
  return openSession(app).show('s_home000000', 'clover').texts();
}

it.each([
  ['a value of the place', `{${SIZE} * 2}`, '4', '8'],
  ['a sum keeps together where it is multiplied', `{${SIZE} * 2}`, '1 + 4', '10'],
  ['a condition keeps together too', `{2 * ${SIZE} + 1}`, 'if true then 3 else 5', '7'],
  ['a field of the record at the place', `{${SIZE} - 1}`, `this_${T.hives}.${F.weight}`, '20'],
  ['what it begins with, where the place says nothing', `{${SIZE} + 1}`, '', '8'],
])('%s', async (_what, words, value, said) => expect(await says(words, value)).toEqual([said]));
