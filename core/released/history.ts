import { z } from 'zod';
import type { Who } from '../access/access.ts';
import { readKeptAddress } from '../fields/kept-address.ts';
import type { Cell } from '../fields/lists.ts';
import { readStamp } from '../host/clock.ts';
import type { Host } from '../host/host.ts';
import { pastOf, type PastChange } from '../host/past.ts';
import type { Change } from '../records/change.ts';
import type { App } from '../app/schema.ts';
import { tableOf } from '../tables/names.ts';
import { Refused } from '../document/refused.ts';

const CellOf = z.union([z.string(), z.number(), z.boolean(), z.null()]);

/** What happened to a record, the latest first, as it is told to somebody. */
export const HistoryMessage = z.object({
  /** How many changes there are in all that they may look back at. */
  all: z.number(),
  changes: z.array(
    z.object({
      id: z.string(),
      /** ISO 8601. */
      at: z.string(),
      did: z.enum(['made', 'changed', 'removed', 'brought back']),
      /** Who made it: the holder of the app’s key, one of the people, or somebody who is not told. */
      by: z.union([
        z.object({ who: z.literal('owner') }),
        z.object({ who: z.literal('person'), name: z.string() }),
        z.object({ who: z.literal('somebody') }),
        /** Its name is known to the maker alone; empty otherwise. */
        z.object({ who: z.literal('routine'), name: z.string() }),
      ]),
      cells: z.array(
        z.object({
          field: z.string(),
          was: CellOf,
          is: CellOf,
          by: z.number().optional(),
          /** What it was cannot be put back: its file is not kept any more. */
          gone: z.literal(true).optional(),
        }),
      ),
    }),
  ),
});
export type HistoryMessage = z.infer<typeof HistoryMessage>;

/** So many changes are told at once. */
const MOST = 100;

/** What is asked of the history of one record: the changes behind so many of the latest. */
export interface HistoryAsked {
  table: string;
  record: string;
  from: number;
}

/** As much as this asks of the files of an app. */
interface Files {
  sizeOf(hash: string): number | null;
}

/**
 * What happened to a record, as far as somebody may look back at it: fields that they may see now and by whose rules they
 * may look back. Throws a {@link Refused} with the same words for a record that is not there and one that they may not
 * look back at.
 */
export async function historyOf(
  { app, host, files }: { app: App; host: Host; files: Files },
  changesOf: (record: string) => Promise<readonly Change[]>,
  { table, record, from }: HistoryAsked,
  who: Who,
): Promise<HistoryMessage> {
  const allowed = (): ReadonlySet<string> => {
    const fields = fieldsOf(app, host, table, record, who);
    if (!fields) throw new Refused(403, 'There is no history of this record for you.');
    return fields;
  };
  const fields = allowed();
  const changes = (await changesOf(record)).filter((c) => c.table === table);
  // Meanwhile a rule, a role or the record may be another.
  const now = allowed();
  const seen = (f: string): boolean => fields.has(f) && now.has(f);
  const past = pastOf(changes)
    .map((p) => ({ ...p, cells: p.cells.filter((c) => seen(c.field)) }))
    .filter((p) => p.cells.length > 0 || p.did !== 'changed')
    .reverse();
  return {
    all: past.length,
    changes: past.slice(from, from + MOST).map(({ change, did, cells }) => ({
      id: change.id,
      at: new Date(readStamp(change.stamp).ms).toISOString(),
      did,
      by: madeBy(app, host, change, who),
      cells: cells.map((c) => ({ ...c, ...(isGone(c.was, files) && { gone: true as const }) })),
    })),
  };
}

/** The fields whose past somebody may look back at; null where they may not look back at the record at all. */
function fieldsOf(app: App, host: Host, table: string, record: string, who: Who): ReadonlySet<string> | null {
  const state = host.replica.state(record);
  const known = tableOf(app, table);
  if (!known || !state || state.table !== table) return null;
  if (who.kind === 'owner') return new Set(known.fields.map((f) => f.id));
  return host.access.looksBack(who, state);
}

/** Who made a change, as far as whoever asks may see who that is. */
function madeBy(
  app: App,
  host: Host,
  { author, owner, run }: PastChange['change'],
  who: Who,
): HistoryMessage['changes'][number]['by'] {
  if (owner) return { who: 'owner' };
  if (run) {
    const routine = app.routines.find((r) => r.id === run.path.at(-1));
    return { who: 'routine', name: who.kind === 'owner' ? (routine?.name ?? '') : '' };
  }
  const state = author === undefined ? undefined : host.replica.state(author);
  const people = tableOf(app, app.people ?? '');
  const row = state && people ? host.replica.records.row(people.id, state.id) : undefined;
  if (!row || !people) return { who: 'somebody' };
  const { access } = host;
  const rights = access.rights(who);
  const { titleField } = people;
  const isSeen =
    who.kind === 'owner' ||
    (access.mayRead(rights, state!) && (!titleField || access.mayReadField(rights, state!, titleField)));
  return isSeen ? { who: 'person', name: row.title() } : { who: 'somebody' };
}

/** Does a cell name a file whose content is not kept any more? */
function isGone(cell: Cell, files: Files): boolean {
  const file = readKeptAddress(cell);
  return file !== null && files.sizeOf(file.hash) !== file.size;
}
