import { expect, it } from 'vitest';
import { hiveApp } from '../../core/records/fixture.ts';
import { ElementMaker } from '../../core/app/make.ts';
import type { App } from '../../core/app/schema.ts';
import { frameSeen } from './frame-seen.ts';

const make = new ElementMaker();
const start = (): App => {
  const app = hiveApp();
  app.screens = [
    { id: 's_home00000', name: 'Home', given: null, icon: 'list', root: make.box('down', [make.text('one')]) },
  ];
  app.tabs = [{ screen: 's_home00000', name: 'Home', icon: 'list' }];
  return app;
};
const withScreen = (app: App, more: Partial<App['screens'][number]>): App => ({
  ...app,
  screens: [{ ...app.screens[0]!, ...more }],
});

it('the frame of an app is the same while only what stands on its screens changes', () => {
  const app = start();
  const before = frameSeen(app);
  expect(frameSeen(app)).toBe(before);
  expect(frameSeen(withScreen(app, { root: make.box('down', [make.text('two')]) }))).toBe(before);
});
it.each([
  ['a screen is called otherwise', (app: App) => withScreen(app, { name: 'Start' })],
  ['a screen needs another record', (app: App) => withScreen(app, { given: 't_hives0000' })],
  [
    'there is another screen',
    (app: App) => ({ ...app, screens: [...app.screens, { ...app.screens[0]!, id: 's_two000000' }] }),
  ],
  ['a tab is another', (app: App) => ({ ...app, tabs: [{ ...app.tabs[0]!, icon: 'house' }] })],
  ['an address elsewhere is allowed', (app: App) => ({ ...app, elsewhere: ['pictures.example'] })],
  ['it looks otherwise', (app: App) => ({ ...app, look: { ...app.look, accent: '#123456' } })],
])('it is another when %s', (_what, change) => {
  const app = start();
  const before = frameSeen(app);
  const after = frameSeen(change(app));
  expect(after).not.toBe(before);
  expect(after).not.toEqual(before);
});
