import type { Query } from '../document/pieces.ts';
import type { Value } from '../formula/values.ts';
import type { Row } from '../records/row.ts';
import type { Field } from '../tables/schema.ts';
import { StepError, type StepScope } from './step.ts';

/** A field of the records that a step goes through. */
export interface Column {
  field: Field;
  get(row: Row): Value;
}

/** As many records as a made file holds. */
const MOST_LINES = 10_000;

/** The records a step writes down, if there are any. Throws when there are more than a file may hold. */
export function anyLinesOf(s: StepScope, query: Query, most = MOST_LINES): readonly Row[] {
  const table = s.records.model.tables.get(query.table)?.table;
  if (!table) throw new StepError('Which records go into it is not chosen yet.');
  const rows = s.find(query);
  if (rows.length > most)
    throw new StepError(
      `${rows.length.toLocaleString('en-GB')} records were found; a file holds ${most.toLocaleString('en-GB')} at most. Give a limit.`,
    );
  return rows;
}

/** The records a step writes down. Throws when none is found, or more than a file may hold. */
export function linesOf(s: StepScope, query: Query, most = MOST_LINES): readonly Row[] {
  const rows = anyLinesOf(s, query, most);
  const one = s.records.model.tables.get(query.table)?.table.one;
  if (rows.length === 0) throw new StepError(`There is no ${one} to write down.`);
  return rows;
}

/** Some fields of the records of a query, in their order; those that are gone are left out. */
export function columnsOf(s: StepScope, query: Query, ids: readonly string[]): Column[] {
  return ids.flatMap((id) => columnOf(s, query, id) ?? []);
}

export function columnOf(s: StepScope, query: Query, id: string | undefined): Column | null {
  const model = s.records.model.tables.get(query.table);
  const field = id ? model?.fields.get(id) : undefined;
  const member = model?.members.find((m) => m.id === id);
  return field && member ? { field, get: (row) => member.get(row) } : null;
}

/** "3 visits", "1 visit". */
export function countOf(s: StepScope, query: Query, count: number): string {
  const table = s.records.model.tables.get(query.table)?.table;
  return count === 1
    ? `1 ${table?.one ?? 'record'}`
    : `${count.toLocaleString('en-GB')} of ${table?.name ?? 'nothing'}`;
}

/** The name of a file with its ending, fit for every device. */
export function nameOfFile(words: string, ending: string): string {
  const clean = words
    .replace(/[\\/:*?"<>|\p{Cc}]+/gu, ' ')
    .replace(/\s+/g, ' ')
    .trim()
    .slice(0, 100);
  if (!clean) throw new StepError('The file has no name.');
  return clean.toLowerCase().endsWith(`.${ending}`) ? clean : `${clean}.${ending}`;
}
