import '../../kinds/given/all.ts';
import '../../kinds/elements/list/arranged.ts';
import '../world/warm.fixture.ts';
import type { App } from '../app/schema.ts';
import type { Scene } from '../app/scene-schema.ts';
import { ElementMaker } from '../app/make.ts';
import { generateScreens } from '../app/generate-screens.ts';
import { noConditions } from '../document/queries.ts';
import { stampText } from '../host/clock.ts';
import type { RecordState } from '../records/change.ts';
import { F, hiveApp, T } from '../records/fixture.ts';
import { Rehearsal } from '../rehearsal/rehearsal.ts';
import { HOUR, make, routine, START } from '../runs/fixture.ts';
import { allKinds } from '../session/fixture.ts';
import { Hands } from './hands.fixture.ts';
import { Pointing } from './pointing.ts';
import { Recorder } from './recorder.ts';

const stamp = stampText(START - HOUR, 0, 'maker');
export const CLUB: RecordState[] = [
  { table: T.keepers, id: 'odile', cells: { [F.keeperName]: 'Odile', [F.mail]: 'odile@heatherfield.example' }, stamp },
  { table: T.keepers, id: 'tom', cells: { [F.keeperName]: 'Tom', [F.mail]: 'tom@heatherfield.example' }, stamp },
  {
    table: T.hives,
    id: 'oak',
    cells: { [F.name]: 'Oak', [F.tag]: 'HB-1', [F.weight]: 10, [F.status]: 'Active' },
    stamp,
  },
  { table: T.visits, id: 'v1', cells: { [F.hiveTag]: 'HB-1', [F.when]: '2026-11-01', [F.fed]: 2 }, stamp },
];

/** An app with a list, a page and a form for each table, and a mail at four o’clock. */
export function clubApp(): App {
  const app = hiveApp();
  app.zone = 'UTC';
  app.people = T.keepers;
  let n = 0;
  const { screens, tabs } = generateScreens(app, new ElementMaker((l) => `${l}_${String(++n).padStart(8, '0')}`));
  Object.assign(app, { screens, tabs });
  const mail = make.step('mail', { to: '"keeper@example.org"', subject: 'At four', body: 'Look.' });
  app.routines.push(routine('Digest', 'clock', { each: 'day', time: '16:00' }, [mail], { given: null }));
  return app;
}

/** The same app, in which whoever has signed in sees all, and adds and changes hives. */
export function ruledClub(): App {
  const app = clubApp();
  const all = { match: 'all' as const, conditions: [] };
  const rule = (id: string, table: string, may: ('see' | 'change' | 'add')[]) =>
    ({ id, who: 'signed in', may, table, where: noConditions() ?? all }) as never;
  app.access = {
    opens: 'people',
    mail: F.mail,
    roles: [],
    rules: [
      rule('u_hives00000', T.hives, ['see', 'add']),
      rule('u_change0000', T.hives, ['change']),
      rule('u_visits0000', T.visits, ['see']),
      rule('u_keepers000', T.keepers, ['see']),
    ],
  } as App['access'];
  return app;
}

export const screenOf = (app: App, name: string): string => app.screens.find((s) => s.name === name)!.id;

/** Plays what is told by hands in a rehearsal, and gives it as a scene. */
export async function recorded(
  app: App,
  acts: (room: Rehearsal, hands: (person: string) => Promise<Hands>, pointing: Pointing) => Promise<void>,
): Promise<Scene> {
  const recorder = new Recorder(app, CLUB);
  const room = new Rehearsal({
    app,
    states: CLUB,
    kinds: allKinds,
    at: START,
    file: async () => null,
    changed: () => undefined,
    byHand: true,
    acts: recorder,
  });
  recorder.of(room);
  try {
    await acts(room, (person) => Hands.of(room, person), new Pointing(app, room, recorder));
    return await recorder.scene('Two keepers');
  } finally {
    await room.end();
  }
}
