import { z } from 'zod';
import { OWNER, type Who } from '../access/access.ts';
import { mailField } from '../app/access-edits.ts';
import type { App } from '../app/schema.ts';
import { isSameMail } from '../document/addresses.ts';
import { newId } from '../document/ids.ts';
import { Refused } from '../document/refused.ts';
import { keptIn } from '../fields/kept-file.ts';
import { listCell, toListCell, type Cell } from '../fields/lists.ts';
import type { Host } from '../host/host.ts';
import type { ForGood } from '../host/made-of.ts';
import type { Change, RecordState } from '../records/change.ts';
import { tableOf } from '../tables/names.ts';
import { leadsTo } from './kept-about.ts';

/** Somebody who is being erased, kept until nothing of them is left: what was begun is gone on with after a stop. */
export const Erasing = z.object({
  /** Their record in the table of people, and what stands in links in its place. */
  person: z.string(),
  former: z.string(),
  /** All records that go. */
  records: z.array(z.string()),
  mail: z.string(),
  name: z.string(),
  /** Fields in which people are named by their names. */
  named: z.array(z.string()),
  /** Hashes of files that these records hold. */
  files: z.array(z.string()),
});
export type Erasing = z.infer<typeof Erasing>;

/** What erasing somebody would do. */
export interface Erasable {
  name: string;
  mail: string;
  /** Records of other tables that lead to them: how many, and how many of them may go along. */
  tables: { id: string; name: string; records: number; may: number }[];
}

/** What links have in place of somebody, as `isFormer` knows it. */
const newFormer = (): string => `former-${newId('x').slice(2)}`;

interface Of {
  app: App;
  host: Host;
  person: string;
  who: Who;
}

/** Throws a {@link Refused} for whoever may not erase this person: only the maker may, and they themselves where a rule lets them remove their record. */
function mustMay({ app, host, person, who }: Of): { people: string; name: string; mail: string } {
  const { people, access } = app;
  const row = people ? host.replica.records.row(people, person) : undefined;
  const own = who.kind === 'owner' || host.access.personOf(who) === person;
  if (!people || !row || !own) throw new Refused(404, 'There is no such person.');
  if (!mayGo(host, people, person, who)) throw new Refused(403, 'In this app only its maker erases people.');
  const field = access?.mail ?? mailField(tableOf(app, people))?.id;
  const mail = field ? row.cells[field] : null;
  return { people, name: row.title(), mail: typeof mail === 'string' ? mail : '' };
}

/** May somebody remove a record? */
function mayGo({ access }: Host, table: string, record: string, who: Who): boolean {
  const change: Change = { do: 'remove', id: 'asked', stamp: '', table, record };
  return who.kind === 'owner' || access.refusal(who, change) === null;
}

/** The records of other tables that lead to a person, by table. */
function leading({ app, host, person }: Of): [table: string, ids: string[]][] {
  return app.tables
    .filter((t) => t.id !== app.people && !t.fetched)
    .map((t): [string, string[]] => [
      t.id,
      host.replica.records
        .rows(t.id)
        .filter((row) => t.fields.some((f) => leadsTo(row, f, app.people, person)))
        .map((row) => row.id),
    ])
    .filter(([, ids]) => ids.length > 0);
}

/** What erasing somebody would take, for those who may. */
export function erasable(of: Of): Erasable {
  const { name, mail } = mustMay(of);
  return {
    name,
    mail,
    tables: leading(of).map(([id, ids]) => ({
      id,
      name: of.app.tables.find((t) => t.id === id)!.name,
      records: ids.length,
      may: ids.filter((r) => mayGo(of.host, id, r, of.who)).length,
    })),
  };
}

/** Begins to erase somebody, with the records of some tables that lead to them. `former` is given where it was begun before. */
export function beginErasing(of: Of, tables: readonly string[], former = newFormer()): Erasing {
  const { app, host, person, who } = of;
  const { name, mail } = mustMay(of);
  const along = leading(of).flatMap(([table, ids]) =>
    tables.includes(table) ? ids.filter((id) => mayGo(host, table, id, who)) : [],
  );
  const records = [person, ...along];
  const files = records.flatMap((id) => keptIn(host.replica.state(id)?.cells ?? {}).map((f) => f.hash));
  const named = app.tables.flatMap((t) => t.fields.filter((f) => f.type === 'person').map((f) => f.id));
  return { person, former, records, mail, name, named, files };
}

/** The same with records that have come to lead to them since; what is gone on with asks nobody again. */
export const goOnErasing = (app: App, host: Host, before: Erasing, tables: readonly string[]): Erasing =>
  beginErasing({ app, host, person: before.person, who: OWNER }, tables, before.former);

/** What is changed in an app's records so that somebody is erased. */
export function erasingDrafts({ replica }: Host, e: Erasing): ForGood[] {
  const gone = new Set(e.records);
  const drafts: ForGood[] = [];
  for (const s of replica.all()) {
    if (gone.has(s.id))
      drafts.push({ do: 'remove', table: s.table, record: s.id, erased: s.id === e.person ? e.former : '' });
    else {
      const cells = Object.entries(s.cells).flatMap(([f, c]): [string, Cell][] => {
        const without = withoutThem(e, f, c);
        return without === c ? [] : [[f, without]];
      });
      if (cells.length) drafts.push({ do: 'set', table: s.table, record: s.id, cells: Object.fromEntries(cells) });
    }
  }
  return drafts;
}

/** A cell of a record that stays, without somebody who is erased: a link leads to who they are from now on. */
function withoutThem(e: Erasing, field: string, cell: Cell): Cell {
  if (typeof cell !== 'string' || cell === '') return cell;
  if (cell === e.person) return e.former;
  const isThem = (text: string): boolean =>
    isSameMail(text, e.mail) || (e.named.includes(field) && text.trim().toLowerCase() === e.name.trim().toLowerCase());
  if (isThem(cell)) return null;
  if (!cell.startsWith('[')) return cell;
  const list = listCell(cell);
  if (!list.some((x) => x === e.person || isThem(x))) return cell;
  return toListCell(list.filter((x) => !isThem(x)).map((x) => (x === e.person ? e.former : x)));
}

const cellsWithout = (e: Erasing, cells: RecordState['cells']): RecordState['cells'] =>
  Object.fromEntries(Object.entries(cells).map(([f, c]) => [f, withoutThem(e, f, c)]));

/** What stays of kept changes and records when somebody is erased; null for nothing. */
export function withoutErased(e: Erasing): {
  state(s: RecordState): RecordState | null;
  change(c: Change): Change | null;
  holds(text: string): boolean;
} {
  const gone = new Set(e.records);
  return {
    state: (s) => (gone.has(s.id) ? null : { ...s, cells: cellsWithout(e, s.cells) }),
    change: (c) => {
      if (gone.has(c.record) && !(c.do === 'remove' && c.erased !== undefined)) return null;
      const by = c.author === e.person ? { ...c, author: e.former } : c;
      return 'cells' in by && by.cells ? ({ ...by, cells: cellsWithout(e, by.cells) } as Change) : by;
    },
    // Of a line that nobody can read it is only known whether it names them.
    holds: (text) =>
      e.records.some((r) => text.includes(r)) ||
      (e.mail.trim() !== '' && text.toLowerCase().includes(e.mail.trim().toLowerCase())),
  };
}
