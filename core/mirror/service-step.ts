import type { App } from '../app/schema.ts';
import { listCell, toListCell, type Cell } from '../fields/lists.ts';
import { isWritable } from '../records/cells.ts';
import type { Draft } from '../records/change.ts';
import type { Records } from '../records/store.ts';
import type { AskedMessage } from '../services/answer.ts';
import { keyFor, requestIn } from '../services/answer-type.ts';
import type { TakenRow } from '../services/taken.ts';
import { tableOf } from '../tables/names.ts';
import type { Field, Table } from '../tables/schema.ts';
import { merge, type AppRow, type BaseRow, type FileRow, type MergeResult } from './merge.ts';

/** An app as it is for asking services: its tables that are kept in step are fetched ones, so that answers have their records. */
export const asFetched = (app: App): App => ({
  ...app,
  tables: app.tables.map((t) => (t.inStep ? { ...t, fetched: { ...t.inStep, fresh: 0 } } : t)),
});

/** The fields that a service fills, in the order of the cells of a {@link BaseRow}. */
export const fieldsOfService = (table: Table): Field[] => table.fields.filter((f) => f.pick && isWritable(f));

/** What a service is to be told. `key`: by what the service knows the record; empty for one that it gets only now. */
export interface ToSend {
  do: 'add' | 'change' | 'remove';
  record: string;
  key: string;
  /** The fields that have changed; all that are filled in for a new one. */
  fields: Set<string>;
}

/** What one look at a service and its table comes to. */
export interface ServiceStep {
  drafts: Draft[];
  sends: ToSend[];
  conflicts: (MergeResult['conflicts'][number] & { field: Field | null })[];
  /** What is agreed by record, once it was sent, and while it was not. */
  written: Map<string, BaseRow>;
  unwritten: Map<string, BaseRow>;
  /** Records that would be removed because the service has them no more. */
  removed: number;
  /** Records that stay here alone, as the service takes no new ones. */
  alone: number;
}

export interface ServiceStepInput {
  app: App;
  records: Records;
  table: Table;
  base: readonly BaseRow[] | null;
  /** All records as the service has them now. */
  rows: readonly TakenRow[];
  /** Records that were sent to be added, and nobody knows whether they are there. */
  unsure: readonly string[];
  /** The id of a record that the service has under this key. */
  idFor(key: string): string;
}

/** A cell as a text that is the same where the cell is. */
export const cellText = (cell: Cell): string => (cell === null || cell === '' ? '' : JSON.stringify(cell));

/** Compares a service with its table, and says what either must take from the other. */
export function serviceStep(input: ServiceStepInput): ServiceStep {
  const { app, records, table, rows } = input;
  const { key, adds, changes, removes } = table.inStep!;
  const fields = fieldsOfService(table);
  const keyAt = fields.findIndex((f) => f.id === key);
  const links = new Links(app, records);
  const taken = new Set(changes?.values.map((v) => v.field));
  const locked = fields.map((f) => f.id === key || !taken.has(f.id));
  const now = rows.map((r): FileRow => {
    const cells = fields.map((f) => links.inward(f, r.cells[f.id] ?? null));
    return { texts: cells.map(cellText), cells, locked };
  });
  const there = records.rows(table.id).map((r): AppRow => rowHere(r, fields));
  const after = input.base ? found(input, fields, now, there, keyAt) : [];
  const base = input.base && [...input.base, ...after];
  const merged = merge({
    width: fields.length,
    keys: [keyAt],
    exact: true,
    base,
    file: now,
    app: there,
    first: 'file',
    // A service does not say when a value was changed: its own stands, and ours can be put in its place.
    fileTime: Number.MAX_SAFE_INTEGER,
    appTime: () => 0,
    newId: (at) => input.idFor(rows[at]!.id),
    textOf: cellText,
  });
  const out: ServiceStep = {
    drafts: [
      ...after.map((b): Draft => ({ do: 'set', table: table.id, record: b.record, cells: { [key]: b.cells[keyAt]! } })),
      ...merged.changes.map((c): Draft => {
        if (c.do === 'remove') return { do: 'remove', table: table.id, record: c.record };
        const cells = Object.fromEntries([...c.cells].map(([p, cell]) => [fields[p]!.id, cell]));
        return { do: c.do, table: table.id, record: c.record, cells };
      }),
    ],
    sends: [],
    conflicts: merged.conflicts.map((c) => ({ ...c, field: c.place === null ? null : fields[c.place]! })),
    written: byRecord(merged.written),
    unwritten: byRecord(merged.unwritten),
    removed: merged.changes.filter((c) => c.do === 'remove').length,
    alone: 0,
  };
  const recordAt = new Map([...out.written.values(), ...(base ?? [])].map((b) => [b.texts[keyAt]!, b.record]));
  const changed = new Map<string, ToSend>();
  for (const e of merged.edits) {
    if (e.do === 'append') {
      // What was sent already waits until somebody says what became of it.
      if (input.unsure.includes(e.record)) continue;
      if (!adds?.at) out.alone++;
      else out.sends.push({ do: 'add', record: e.record, key: '', fields: filledIn(fields, e.cells) });
      continue;
    }
    const record = recordAt.get(now[e.row]!.texts[keyAt]!)!;
    const at = rows[e.row]!.id;
    if (e.do === 'cell') {
      const send = changed.get(record) ?? { do: 'change', record, key: at, fields: new Set() };
      send.fields.add(fields[e.place]!.id);
      changed.set(record, send);
    } else if (removes) out.sends.push({ do: 'remove', record, key: at, fields: new Set() });
    else {
      // The service removes nothing: the record comes back.
      const cells = Object.fromEntries(now[e.row]!.cells.map((cell, p) => [fields[p]!.id, cell ?? null]));
      out.drafts.push({ do: 'restore', table: table.id, record, cells });
      out.conflicts.push({ record, place: null, file: null, app: null, kept: 'file', field: null });
    }
  }
  out.sends.push(...changed.values());
  return out;
}

const byRecord = (rows: readonly BaseRow[]): Map<string, BaseRow> => new Map(rows.map((r) => [r.record, r]));
const rowHere = (r: { id: string; cells: Readonly<Record<string, Cell>> }, fields: readonly Field[]): AppRow => ({
  id: r.id,
  cells: fields.map((f) => r.cells[f.id] ?? null),
});
const filledIn = (fields: readonly Field[], cells: readonly Cell[]): Set<string> =>
  new Set(fields.flatMap((f, p) => (cells[p] === null || cells[p] === '' ? [] : [f.id])));

/**
 * What was sent without an answer and is there after all: rows that nobody knew, with all that was sent. The records here
 * get their keys, and are agreed as they were sent.
 */
function found(
  { base, unsure }: ServiceStepInput,
  fields: readonly Field[],
  now: readonly FileRow[],
  there: readonly AppRow[],
  keyAt: number,
): BaseRow[] {
  const known = new Set(base?.map((b) => b.texts[keyAt]));
  return unsure.flatMap((record): BaseRow[] => {
    const here = there.find((r) => r.id === record);
    const sent = here && filledIn(fields, here.cells);
    if (!here || !sent?.size) return [];
    const isIt = ({ texts }: FileRow): boolean =>
      !known.has(texts[keyAt]) && fields.every((f, p) => !sent.has(f.id) || texts[p] === cellText(here.cells[p]!));
    const row = now.find(isIt);
    if (!row) return [];
    known.add(row.texts[keyAt]);
    here.cells[keyAt] = row.cells[keyAt]!;
    return [{ record, texts: here.cells.map(cellText), cells: [...here.cells] }];
  });
}

/** What a service is asked for to take over what was added, changed or removed here. */
export function messageFor(app: App, records: Records, table: Table, send: ToSend): AskedMessage {
  const { adds, changes, removes } = table.inStep!;
  if (send.do === 'remove')
    return { request: removes!.request, inputs: { [removes!.input]: keyFor(app, removes!, send.key) } };
  const writes = (send.do === 'add' ? adds : changes)!;
  const request = requestIn(app, writes.request);
  const links = new Links(app, records);
  const cells = records.row(table.id, send.record)?.cells ?? {};
  const whole = (request as { method?: string } | undefined)?.method === 'PUT';
  const inputs: Record<string, Cell> = {};
  for (const { input, field } of writes.values) {
    const known = table.fields.find((f) => f.id === field);
    const isKey = field === table.inStep!.key && send.do === 'change';
    const wanted = isKey || whole || send.fields.has(field) || !request?.inputs.find((i) => i.id === input)?.optional;
    if (!wanted || !known) continue;
    const cell = isKey ? keyFor(app, { request: writes.request, input }, send.key) : (cells[field] ?? null);
    // Emptied is something else than never filled in.
    if (cell !== null || send.fields.has(field)) inputs[input] = isKey ? cell : links.outward(known, cell);
  }
  // Sent twice, it is done once (the Idempotency-Key header).
  return { request: writes.request, inputs, ...(send.do === 'add' && { once: `add-${send.record}`.slice(0, 60) }) };
}

/** Links to tables that services know by keys: here they hold the ids of records. */
class Links {
  private readonly known = new Map<string, Map<string, string>>();

  constructor(
    private readonly app: App,
    private readonly records: Records,
  ) {}

  private keyOf(field: Field): string | undefined {
    return field.link && tableOf(this.app, field.link.table)?.inStep?.key;
  }

  /** A cell as it is here, from what the service says. */
  inward(field: Field, cell: Cell): Cell {
    const key = this.keyOf(field);
    if (!key || cell === null) return cell;
    const { table } = field.link!;
    let ids = this.known.get(table);
    if (!ids) {
      ids = new Map(this.records.rows(table).map((r) => [String(r.cells[key] ?? ''), r.id]));
      this.known.set(table, ids);
    }
    const known = ids;
    return field.several ? toListCell(listCell(cell).map((k) => known.get(k) ?? k)) : (known.get(String(cell)) ?? cell);
  }

  /** A cell as the service knows it. */
  outward(field: Field, cell: Cell): Cell {
    const key = this.keyOf(field);
    if (!key || cell === null) return cell;
    const keyOfRecord = (id: string): string => String(this.records.row(field.link!.table, id)?.cells[key] ?? id);
    return field.several ? toListCell(listCell(cell).map(keyOfRecord)) : keyOfRecord(String(cell));
  }
}
