import { describe, expect, it } from 'vitest';
import { StepSchema, type Step } from '../../../core/app/schema.ts';
import { ElementMaker } from '../../../core/app/make.ts';
import { Machine } from '../../../core/routines/machine.ts';
import { answersTo, type Answer, type Ports } from '../../../core/routines/asks.ts';
import { preflight } from '../../../core/preflight/preflight.ts';
import { Model } from '../../../core/records/model.ts';
import { cellsAfter } from '../../../core/records/raise.ts';
import { Records } from '../../../core/records/store.ts';
import { stepKinds } from '../../../core/routines/kinds.ts';
import { corpus } from './corpus.fixture.ts';
import { understood } from './understood.ts';
import { WORLDS, type World } from './worlds.fixture.ts';

const make = new ElementMaker();
const steps = (typed: string, world: World): Step[] | null => {
  const [offer] = understood(typed, world.app, new Model(world.app), world.routine, make);
  return offer && !offer.left ? offer.steps : null;
};

describe('what was understood can be kept and run', () => {
  it('every step of the corpus is one by its schema, and its formulas are read', () => {
    for (const { typed, world } of corpus) {
      const made = steps(typed, world);
      if (!made) continue;
      for (const s of made) expect(StepSchema.safeParse(s).error, typed).toBeUndefined();
      const routine = { ...world.routine, steps: made };
      const app = { ...world.app, routines: world.app.routines.map((r) => (r.id === routine.id ? routine : r)) };
      const broken = preflight(app).filter(
        (n) =>
          n.workspace === 'logic' &&
          n.severity === 'stops' &&
          !/not (?:filled in|chosen)|no words|no name|no columns/.test(n.said),
      );
      expect(
        broken.map((n) => n.said),
        typed,
      ).toEqual([]);
    }
  });

  /** Runs sentences one after the other with the first record of the world’s table, as a person by that name. */
  async function runs(world: World, load: (r: Records) => void, person: string, ...typed: string[]): Promise<Records> {
    const records = new Records(world.app);
    load(records);
    records.person = person;
    let n = 0;
    for (const sentence of typed) {
      const made = steps(sentence, world);
      expect(made, sentence).not.toBeNull();
      const routine = { ...world.routine, id: `q_run${String(++n).padStart(8, '0')}`, steps: made! };
      const app = { ...world.app, routines: [...world.app.routines, routine] };
      const machine = new Machine(app, records, stepKinds, { now: () => 1000, newId: () => `new${++n}` });
      const nothing = (): void => {};
      const ports = new Proxy({} as Ports, {
        get: (_, port) =>
          port !== 'write'
            ? nothing
            : (ask: Parameters<Ports['write']>[0]) => {
                for (const d of ask.drafts)
                  if (d.do === 'remove') records.remove(d.table, d.record);
                  else records.set(d.table, d.record, { ...cellsAfter(records, d) });
              },
      });
      let { state, ask } = machine.advance(machine.begin(routine, records.rows(world.routine.given!)[0]!.id));
      while (ask) {
        const answer: Answer = await answersTo(ask, ports);
        ({ state, ask } = machine.advance(state, answer));
      }
      expect((state as { failed?: string }).failed, sentence).toBeUndefined();
    }
    return records;
  }
  const id = (world: World, table: string, field?: string): string => {
    const found = world.app.tables.find((t) => t.name === table)!;
    return field ? found.fields.find((f) => f.name === field)!.id : found.id;
  };

  it('favourites that link a course and a person are made for the person, and only theirs are removed', async () => {
    const w = WORLDS['courses']!;
    const [courses, people, favourites] = [id(w, 'Courses'), id(w, 'People'), id(w, 'Favourites')];
    const [course, person] = [id(w, 'Favourites', 'Course'), id(w, 'Favourites', 'Person')];
    const load = (r: Records): void => {
      r.load(
        people,
        ['Odile', 'Piet'].map((n) => ({ id: n, cells: { [id(w, 'People', 'Name')]: n } })),
      );
      r.load(
        courses,
        ['yoga', 'chess'].map((n) => ({ id: n, cells: { [id(w, 'Courses', 'Title')]: n } })),
      );
      r.load(favourites, [
        { id: 'others', cells: { [course]: 'yoga', [person]: 'Piet' } },
        { id: 'chess', cells: { [course]: 'chess', [person]: 'Odile' } },
      ]);
    };
    const added = await runs(w, load, 'Odile', 'add this course to my favourites');
    expect(added.rows(favourites).map((r) => [r.cells[course], r.cells[person]])).toContainEqual(['yoga', 'Odile']);
    const gone = await runs(
      w,
      load,
      'Odile',
      'add this course to my favourites',
      'remove this course from my favourites',
    );
    expect(gone.rows(favourites).map((r) => r.id)).toEqual(['others', 'chess']);
  });
  it('several records that a person holds get one more, once, and one less', async () => {
    const w = WORLDS['tasks']!;
    const [tasks, people, held, points] = [
      id(w, 'Tasks'),
      id(w, 'People'),
      id(w, 'People', 'Favourites'),
      id(w, 'People', 'Points'),
    ];
    const load = (r: Records): void => {
      r.load(
        tasks,
        ['milk', 'bread'].map((n) => ({ id: n, cells: { [id(w, 'Tasks', 'Title')]: n } })),
      );
      r.load(people, [
        { id: 'odile', cells: { [id(w, 'People', 'Name')]: 'Odile', [held]: '["bread"]', [points]: 2 } },
        { id: 'piet', cells: { [id(w, 'People', 'Name')]: 'Piet', [held]: '["milk"]', [points]: 2 } },
      ]);
    };
    const of = (r: Records, who: string, field: string): unknown => r.row(people, who)!.cells[field];
    const added = await runs(w, load, 'Odile', 'add to favourites', 'add this task to my favourites');
    expect([of(added, 'odile', held), of(added, 'piet', held)]).toEqual(['["bread","milk"]', '["milk"]']);
    const gone = await runs(w, load, 'Odile', 'add to favourites', 'remove this task from my favourites');
    expect(of(gone, 'odile', held)).toEqual('["bread"]');
    const raised = await runs(w, load, 'Odile', 'set owner to me', "raise the owner's points by 5");
    expect([of(raised, 'odile', points), of(raised, 'piet', points)]).toEqual([7, 2]);
  });
});
