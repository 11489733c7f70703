import { describe, expect, it } from 'vitest';
import { preflight } from '../preflight/preflight.ts';
import { hiveApp, someRecords, T, withHostileNames } from '../records/fixture.ts';
import { Records } from '../records/store.ts';
import { drawn, openSession } from '../session/fixture.ts';
import type { Effect } from '../session/effects.ts';
import { addScreen } from './edits.ts';
import { ElementMaker } from './make.ts';
import { ownerField } from './people.ts';
import { ROW_SECTIONS } from './row-sections.ts';
import { AppSchema, type App } from './schema.ts';
import type { Field } from '../tables/schema.ts';

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
  // Lists of keepers, which hold hives in a field of theirs or by entries.
  const link = (id: string, name: string, table: string, several = false): Field => ({
    id,
    name,
    type: 'link',
    ...(several && { several }),
    link: { kind: 'picked', table, backName: `${name} of` },
  });
  app.tables.push({
    id: 't_lists0000',
    name: 'Rounds',
    one: 'round',
    titleField: 'f_called000',
    pictureField: null,
    fields: [
      { id: 'f_called000', name: 'Called', type: 'text' },
      link('f_listof000', 'Whose', T.keepers),
      ...(kept === 'field' ? [link('f_holds0000', 'Holds', T.hives, true)] : []),
    ],
  });
  if (kept === 'between')
    app.tables.push({
      id: 't_entries00',
      name: 'Entries',
      one: 'entry',
      titleField: null,
      pictureField: null,
      fields: [link('f_inlist000', 'Round', 't_lists0000'), link('f_entry0000', 'Entry', T.hives)],
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

describe.each([
  ['between', appWith],
  ['field', appWith],
  ['field', (kept) => withHostileNames(appWith(kept))],
] as [kept: 'between' | 'field', make: typeof appWith][])(
  'buttons that work, with favourites kept in a %s (%#)',
  (kept, make) => {
    it.each(ROW_SECTIONS.map((s) => [s.said.name, s] as const))(
      '%s stands on a screen, and nothing is left to fill in',
      (_n, s) => {
        const app = make(kept);
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
  },
);

describe.each(['between', 'field'] as const)('a list of mine, which holds what is in it in a %s', (kept) => {
  /** Presses the button for a hive, and answers what is asked. */
  async function press(answers: readonly unknown[]) {
    const app = appWith(kept);
    const hives = app.tables.find((t) => t.id === T.hives)!;
    const screen = addScreen(app, 'One');
    screen.given = T.hives;
    const made = ROW_SECTIONS.find((s) => s.id === 'list')!.make(new ElementMaker(), app, hives);
    screen.root.children = [made.element];
    app.routines.push(...made.routines);
    const fill = (all: Records): void => {
      someRecords(all);
      all.person = 'Odile';
      all.set('t_lists0000', 'mine', { f_called000: 'Mine', f_listof000: 'odile' });
      all.set('t_lists0000', 'theirs', { f_called000: 'Theirs', f_listof000: 'orla' });
    };
    const offered: string[][] = [];
    const left = [...answers];
    const ports = {
      effect(e: Effect) {
        if (e.do !== 'ask') return;
        const { choices = [] } = e.question as { choices?: { value: unknown; label: string }[] };
        offered.push(choices.map((c) => c.label));
        const answer = left.shift();
        const chosen = choices.find((c) => c.label === answer)?.value ?? answer;
        queueMicrotask(() => opened.session.answered(e.id, { ok: true, value: chosen as never }));
      },
    };
    const opened = openSession(app, ports, fill);
    const { records } = opened;
    const page = opened.show(screen.id, 'bramble');
    await opened.session.tapped('phone', page.find('button')[0]!.key);
    const inList = (list: string): string[] =>
      kept === 'field'
        ? (JSON.parse(String(records.row('t_lists0000', list)?.cells['f_holds0000'] ?? '[]')) as string[])
        : records
            .rows('t_entries00')
            .filter((r) => r.cells['f_inlist000'] === list)
            .map((r) => String(r.cells['f_entry0000']));
    return { records, offered, inList };
  }

  it('takes a record in by a press of its name; the lists of others are not offered', async () => {
    const { offered, inList } = await press(['Mine']);
    expect(offered).toEqual([['Mine', 'A new round']]);
    expect([inList('mine'), inList('theirs')]).toEqual([['bramble'], []]);
  });
  it('is made and filled in one go', async () => {
    const { records, inList } = await press(['A new round', 'Spring']);
    const made = records.rows('t_lists0000').find((r) => r.title() === 'Spring')!;
    expect([made.cells['f_listof000'], inList(made.id), inList('mine')]).toEqual(['odile', ['bramble'], []]);
  });
});

it('is offered only where it makes sense', () => {
  const app = hiveApp();
  const visits = app.tables.find((t) => t.id === T.visits)!;
  const of = (id: string) => ROW_SECTIONS.find((s) => s.id === id)!.about(app, visits);
  expect([of('done'), of('counter'), of('favourite'), of('list')]).toEqual([null, 'Fed', null, null]);
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
