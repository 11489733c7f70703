import { describe, expect, it } from 'vitest';
import { preflight } from '../preflight/preflight.ts';
import { hiveApp, someRecords, T } from '../records/fixture.ts';
import { Records } from '../records/store.ts';
import { drawn } from '../session/fixture.ts';
import { addScreen } from './edits.ts';
import { ElementMaker } from './make.ts';
import { ownerField } from './people.ts';
import { ROW_SECTIONS } from './row-sections.ts';
import { AppSchema, type App } from './schema.ts';

/** Hives with a yes or no, and favourites of keepers: a table between, or several hives of a keeper. */
function appWith(kept: 'between' | 'field'): App {
  const app = hiveApp({
    hives: [{ id: 'f_done00000', name: 'Done', type: 'yesno' }],
    keepers:
      kept === 'field'
        ? [
            {
              id: 'f_kept00000',
              name: 'Favourites',
              type: 'link',
              several: true,
              link: { kind: 'picked', table: T.hives, backName: 'Fans' },
            },
          ]
        : [],
  });
  if (kept === 'between')
    app.tables.push({
      id: 't_favourite',
      name: 'Favourites',
      one: 'favourite',
      titleField: 'f_since0000',
      pictureField: null,
      fields: [
        { id: 'f_since0000', name: 'Since', type: 'date' },
        { id: 'f_what00000', name: 'Hive', type: 'link', link: { kind: 'picked', table: T.hives, backName: 'Fans' } },
        {
          id: 'f_whose0000',
          name: 'Keeper',
          type: 'link',
          link: { kind: 'picked', table: T.keepers, backName: 'Likes' },
        },
      ],
    });
  return app;
}

describe.each(['between', 'field'] as const)('buttons that work, with favourites kept in a %s', (kept) => {
  it.each(ROW_SECTIONS.map((s) => [s.said.name, s] as const))(
    '%s stands on a screen, and nothing is left to fill in',
    (_n, s) => {
      const app = appWith(kept);
      const hives = app.tables.find((t) => t.id === T.hives)!;
      expect(s.about(app, hives)).not.toBeNull();
      const screen = addScreen(app, 'One');
      screen.given = T.hives;
      screen.optional = true;
      app.tabs = [{ screen: screen.id, name: 'One', icon: 'list' }];
      const made = s.make(new ElementMaker(), app, hives);
      screen.root.children = [made.element];
      app.routines.push(...made.routines);
      expect(AppSchema.safeParse(app).error).toBeUndefined();
      expect(
        preflight(app)
          .filter((n) => n.severity === 'stops')
          .map((n) => n.said),
      ).toEqual([]);
      const records = new Records(app);
      someRecords(records);
      records.person = 'Odile';
      const page = drawn(app, records, screen.id, 'bramble');
      expect(page.problems).toEqual([]);
      expect(JSON.stringify(page.find('button'))).not.toMatch(/[a-z]_[a-z0-9]{8}[.[]/);
    },
  );
});

it('is offered only where it makes sense', () => {
  const app = hiveApp();
  const visits = app.tables.find((t) => t.id === T.visits)!;
  const of = (id: string) => ROW_SECTIONS.find((s) => s.id === id)!.about(app, visits);
  expect([of('done'), of('counter'), of('favourite')]).toEqual([null, 'Fed', null]);
});

it('the owner of a record is a person or a link to the people; a table without either has none', () => {
  const app = hiveApp();
  const of = (id: string, without?: string) => {
    const tables = app.tables.filter((t) => t.id !== without);
    return ownerField(
      { ...app, tables },
      app.tables.find((t) => t.id === id)!,
    )?.name;
  };
  expect([of(T.hives), of(T.visits), of(T.keepers), of(T.visits, T.keepers)]).toEqual([
    'Keeper',
    undefined,
    undefined,
    undefined,
  ]);
});
