import { peopleTable } from '../app/people.ts';
import type { App } from '../app/schema.ts';
import type { Change } from '../records/change.ts';
import type { Records } from '../records/store.ts';
import type { ChangedRecord } from './state.ts';
import { recordName, shownField } from './words.ts';

/** So many changed records are listed. */
const LISTED = 100;

/** What is otherwise than before after some changes, the latest first, and how many records were changed in all. */
export function changedSince(
  app: App,
  before: Records,
  now: Records,
  kept: readonly Change[],
): { records: ChangedRecord[]; all: number } {
  const by = new Map<string, Change[]>();
  for (const c of kept) {
    const known = by.get(c.record) ?? [];
    // The one that was changed last comes last.
    by.delete(c.record);
    by.set(c.record, [...known, c]);
  }
  const records = [...by]
    .reverse()
    .slice(0, LISTED)
    .flatMap(([record, changes]): ChangedRecord[] => {
      const { table } = changes[0]!;
      const [was, is] = [before.row(table, record), now.row(table, record)];
      if (!was && !is) return [];
      const fields = app.tables.find((t) => t.id === table)?.fields ?? [];
      return [
        {
          table,
          record,
          name: recordName(app, is ? now : before, table, record),
          did: !is ? 'removed' : was ? 'changed' : 'added',
          by: [...new Set(changes.map((c) => madeBy(app, now, c)))],
          fields: is
            ? fields
                .map((f) => ({
                  id: f.id,
                  name: f.name,
                  was: shownField(before, was, f.id),
                  is: shownField(now, is, f.id),
                }))
                .filter((f) => f.was !== f.is)
            : [],
        },
      ];
    });
  return { records: records.filter((r) => r.did !== 'changed' || r.fields.length > 0), all: by.size };
}

function madeBy(app: App, records: Records, { author, run, owner }: Change): string {
  if (run) return app.routines.find((r) => r.id === run.path.at(-1))?.name ?? 'a routine';
  const people = app.people ?? peopleTable(app)?.id;
  if (author && people) return records.row(people, author)?.title() || 'somebody';
  return owner ? 'the app' : 'somebody';
}
