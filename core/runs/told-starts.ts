import type { App } from '../app/schema.ts';
import { isSameMail } from '../document/addresses.ts';
import type { Records } from '../records/store.ts';
import { inputsFrom } from '../routines/trigger.ts';
import type { LiveRun } from './live-run.ts';
import { triggersOf } from './ready.ts';
import { runId, type Start } from './start.ts';

/** What a run that has failed for good starts. A routine is not started by its own failure, nor by what it has led to. */
export function startsOfFailure(app: App, run: LiveRun, error: string, title: string, at: number): Start[] {
  const name = app.routines.find((r) => r.id === run.routine)?.name ?? 'A routine that is not there any more';
  const knows = { 'what failed': name, 'why it failed': error, 'name of the record': title };
  return triggersOf(app, 'run failed').flatMap(({ routine, trigger, at: place }) =>
    (trigger.of && trigger.of !== run.routine) || run.path.includes(routine.id)
      ? []
      : [
          {
            id: runId('failed', run.id, at, routine.id, place),
            routine: routine.id,
            given: null,
            values: inputsFrom(routine, knows),
            said: `A run of ${name} failed: ${error}`,
            // Each of those that led there once: what tells of a circle is none of it, and is not cut with it.
            path: [...new Set(run.path), routine.id],
          },
        ],
  );
}

/** What somebody has done who uses the app. */
export interface PersonDid {
  did: 'invited' | 'signed in' | 'signed out';
  mail: string;
}

/** What is started by what somebody has done. A routine that works with a record of people is given theirs, where there is one. */
export function startsOfPerson(app: App, records: Records, { did, mail }: PersonDid, at: number): Start[] {
  const field = app.access?.mail;
  const people = app.people && field ? records.rows(app.people) : [];
  const row = people.find((r) => isSameMail(r.cells[field!], mail));
  const words = { invited: 'was invited', 'signed in': 'signed in', 'signed out': 'signed out' };
  return triggersOf(app, 'person came').flatMap(({ routine, trigger, at: place }) => {
    if (trigger.did !== did || (routine.given && (routine.given !== app.people || !row))) return [];
    return [
      {
        id: runId('person', did, mail, at, routine.id, place),
        routine: routine.id,
        given: routine.given && row ? { table: routine.given, record: row.id } : null,
        values: inputsFrom(routine, { 'mail of the person': mail }),
        said: `${row?.title() || mail} ${words[did]}`,
        path: [routine.id],
      },
    ];
  });
}
