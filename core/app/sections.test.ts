import { describe, expect, it } from 'vitest';
import { preflight } from '../preflight/preflight.ts';
import { hiveApp, someRecords, T, withHostileNames } from '../records/fixture.ts';
import { Records } from '../records/store.ts';
import { drawn } from '../session/fixture.ts';
import { addScreen } from './edits.ts';
import { rowFor } from './generate-screens.ts';
import { ElementMaker } from './make.ts';
import { AppSchema } from './schema.ts';
import { SECTIONS } from './sections.ts';

describe.each(SECTIONS.map((s) => [s.said.name, s] as const))('the section %s', (_name, section) => {
  it.each([
    [T.hives, hiveApp()],
    [T.visits, hiveApp()],
    [T.keepers, hiveApp()],
    ['hostile names', withHostileNames(hiveApp())],
  ])('stands on a screen of an app as it is (%s)', (table, app) => {
    const screen = addScreen(app, 'New');
    app.tabs = [{ screen: screen.id, name: 'New', icon: 'list' }];
    const at = { tables: app.tables, table: app.tables.find((t) => t.id === table) ?? app.tables[0]! };
    screen.root.children = [section.make(new ElementMaker(undefined, rowFor), at)];
    expect(AppSchema.safeParse(app).error).toBeUndefined();
    // What is left to fill in is worth a look; nothing keeps the app from being released.
    expect(preflight(app).filter((n) => n.severity === 'stops')).toEqual([]);
    const records = new Records(app);
    someRecords(records);
    const page = drawn(app, records, screen.id, null);
    expect(page.problems).toEqual([]);
    expect(page.find('box').length + page.find('list').length).toBeGreaterThan(0);
  });
});
