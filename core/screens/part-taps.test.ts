import { expect, it } from 'vitest';
import { ElementMaker } from '../app/make.ts';
import { AppSchema, type App } from '../app/schema.ts';
import { thisId } from '../document/ids.ts';
import { hiveApp, T } from '../records/fixture.ts';
import { openSession } from '../session/fixture.ts';
import { keyOfPlace } from './part-places.ts';

const make = new ElementMaker();

it('a tap that a place gives to a part means the record at the place, not the row of a list inside of the part', async () => {
  const app: App = hiveApp();
  const inner = make.button('Open', { do: 'input', input: 'v_tap0000000' } as never);
  const list = make.list(T.hives, [inner]);
  app.parts = [
    {
      id: 'u_part000000',
      name: 'Card',
      given: null,
      icon: 'list',
      inputs: [{ id: 'v_tap0000000', name: 'Tap', type: 'text', first: '', isTap: true }],
      root: make.box('down', [list]),
    },
  ] as never;
  const place = {
    ...(make.make('part' as never) as object),
    part: 'u_part000000',
    values: [],
    taps: [{ input: 'v_tap0000000', tap: { do: 'open', screen: 's_hive000000', give: thisId(T.hives) } }],
  } as never;
  app.screens = [
    { id: 's_home000000', name: 'Home', given: T.hives, icon: 'list', root: make.box('down', [place]) },
    { id: 's_hive000000', name: 'Hive', given: T.hives, icon: 'list', root: make.box('down', []) },
  ];
  const parsed = AppSchema.safeParse(app);
  expect(parsed.error?.issues ?? []).toEqual([]);
  await import('./parts.ts');
  const { session, effects, show } = openSession(app);
  const page = show('s_home000000', 'bramble');
  const buttons = page.find('button') as unknown as { key: string }[];
  expect(buttons.length).toBeGreaterThan(1);
  for (const b of buttons) await session.tapped('phone', b.key);
  expect(effects.map((e) => e.do === 'open' && e.record)).toEqual(buttons.map(() => 'bramble'));
});
it('the key of a place is found in that of anything inside of it', () => {
  expect(keyOfPlace('e_list/r1/e_p.e_inner/r2/e_p.e_button', 'e_p')).toBe('e_list/r1/e_p');
  expect(keyOfPlace('e_p.e_q.e_x', 'e_p.e_q')).toBe('e_p.e_q');
  expect(keyOfPlace('e_p', 'e_p')).toBe('e_p');
  expect(keyOfPlace('e_other', 'e_p')).toBe('e_other');
});
