import type { Who } from '../access/access.ts';
import type { App } from '../app/schema.ts';
import { isSameMail } from '../document/addresses.ts';
import type { Cell } from '../fields/lists.ts';
import { readKeptAddress } from '../fields/kept-address.ts';
import { RecordValue } from '../formula/values.ts';
import type { Host } from '../host/host.ts';
import { isRemoved } from '../host/replica.ts';
import type { RecordState } from '../records/change.ts';
import type { Row } from '../records/row.ts';
import type { Field } from '../tables/schema.ts';

/** What an app keeps about a person, by the names of its tables and fields. */
export interface KeptAbout {
  app: string;
  /** What their own record says, and those that lead to it or hold their address. */
  tables: { name: string; records: Record<string, Cell>[] }[];
  /** Files that these records hold, with the name that they have in them. */
  files: { hash: string; name: string }[];
}

/**
 * What is kept about a person of the table of people, as far as somebody may read it: their own record, records with a link
 * to it, and records that hold their address. Values are as they are kept; a link gives the id of its record, a file the
 * name that it has beside.
 */
export function keptAbout(app: App, host: Host, person: string, who: Who): KeptAbout {
  const { people, access: documented } = app;
  const { records } = host.replica;
  const cell = people && documented?.mail ? records.row(people, person)?.cells[documented.mail] : undefined;
  const mail = typeof cell === 'string' ? cell : '';
  const rights = host.access.rights(who);
  const seenOf = (state: RecordState, fields: readonly Field[]): Field[] =>
    fields.filter((f) => f.type !== 'formula' && host.access.mayReadField(rights, state, f.id));
  const files = new Map<string, string>();
  const written = (value: Cell): Cell => {
    const file = readKeptAddress(value);
    if (!file) return value;
    const ending = file.name.replace(/[^\p{L}\p{N}. _-]/gu, '_');
    if (!files.has(file.hash)) files.set(file.hash, `files/${files.size + 1} ${ending || 'file'}`);
    return files.get(file.hash)!;
  };
  const tables = app.tables.flatMap((t) => {
    const about = records.rows(t.id).flatMap((row) => {
      const state = host.replica.state(row.id);
      if (!state || isRemoved(state) || !host.access.mayRead(rights, state)) return [];
      const seen = seenOf(state, t.fields);
      const isOwn = t.id === people && row.id === person;
      if (!isOwn && !seen.some((f) => leadsTo(row, f, people, person) || isSameMail(row.cells[f.id], mail))) return [];
      const filled = seen.filter((f) => row.cells[f.id] !== undefined && row.cells[f.id] !== null);
      return [Object.fromEntries(filled.map((f) => [f.name, written(row.cells[f.id]!)]))];
    });
    return about.length ? [{ name: t.name, records: about }] : [];
  });
  return { app: app.name, tables, files: [...files].map(([hash, name]) => ({ hash, name })) };
}

/** Does a link of a record lead to this person? */
export function leadsTo(row: Row, { id, link }: Field, people: string | undefined, person: string): boolean {
  if (!link || link.table !== people) return false;
  const value = row.get(id);
  return (Array.isArray(value) ? value : [value]).some((v) => v instanceof RecordValue && v.id === person);
}
