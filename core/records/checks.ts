import { aOrAn } from '../document/names.ts';
import { lettersOf } from '../fields/lists.ts';
import type { Value } from '../formula/values.ts';
import { display } from './format.ts';
import { MOST_LETTERS } from '../document/limits.ts';
import type { Table } from '../tables/schema.ts';
import { Row } from './row.ts';
import type { Cells, Records, TableStore } from './store.ts';
import { linkKey } from './table-rows.ts';

export interface RecordProblem {
  /** The field to say it at. */
  field: string;
  said: string;
}

/**
 * Says why a record may not become what these cells make of it: a value or a key that another record has, or a
 * check of the maker that does not hold. Checks are asked when something they read is written, so that an old record
 * that breaks one can still be changed elsewhere. Null when nothing is wrong.
 */
export function recordProblem(records: Records, table: string, record: string, cells: Cells): RecordProblem | null {
  const store = records.stores.get(table);
  if (!store) return null;
  const { table: of } = store.model;
  if (of.fetched) return { field: Object.keys(cells)[0] ?? '', said: fetchedSaid(of) };
  return (
    sizeProblem(store, cells) ??
    uniqueProblem(store, record, cells) ??
    keyProblem(store, record, cells) ??
    checkProblem(store, record, cells)
  );
}

/** Said of whoever writes to a table whose records are fetched. */
export const fetchedSaid = ({ name }: Pick<Table, 'name'>): string =>
  `${name} are fetched from a service, so they are not written here. A routine can ask the service to change them.`;

function sizeProblem(store: TableStore, cells: Cells): RecordProblem | null {
  if (lettersOf(cells) <= MOST_LETTERS) return null;
  const length = (id: string): number => String(cells[id] ?? '').length;
  const [field] = Object.keys(cells).sort((a, b) => length(b) - length(a)) as [string];
  const name = store.model.table.fields.find((f) => f.id === field)?.name ?? 'a field';
  return {
    field,
    said: `The files and texts of this ${store.model.table.one} are more than 3 MB together; the largest is ${name}. Choose smaller ones.`,
  };
}

function uniqueProblem(store: TableStore, record: string, cells: Cells): RecordProblem | null {
  for (const field of store.model.table.fields) {
    if (!field.unique || !(field.id in cells)) continue;
    const key = linkKey(cells[field.id]);
    const taken = key !== null && store.having(field.id, key).some((row) => row.id !== record);
    if (taken)
      return {
        field: field.id,
        said: `${field.name} “${String(cells[field.id])}” is taken by another ${store.model.table.one}.`,
      };
  }
  return null;
}

/** The record that has the same in every field of the table's key; null when there is none, or a part is empty. */
export function recordWithKey(store: TableStore, cells: Cells, not?: string): Row | null {
  const { key } = store.model.table;
  if (!key?.length) return null;
  const wanted = key.map((f) => linkKey(cells[f]));
  if (wanted.includes(null)) return null;
  const found = key.map((f, i) => store.having(f, wanted[i]!));
  const fewest = found.reduce((a, b) => (b.length < a.length ? b : a));
  return fewest.find((row) => row.id !== not && key.every((f, i) => linkKey(row.cells[f]) === wanted[i])) ?? null;
}

function keyProblem(store: TableStore, record: string, cells: Cells): RecordProblem | null {
  const { key, one, fields } = store.model.table;
  if (!key?.length || !key.some((f) => f in cells)) return null;
  const all = { ...store.byId.get(record)?.cells, ...cells };
  const other = recordWithKey(store, all, record);
  if (!other) return null;
  const parts = key.map((id) => {
    const field = fields.find((f) => f.id === id);
    const at = store.model.slots.get(id);
    return `${field?.name ?? id} “${at === undefined ? '' : display(store.model.members[at]!.get(other), field)}”`;
  });
  return { field: key.find((f) => f in cells)!, said: `There is ${aOrAn(one)} with ${parts.join(' and ')} already.` };
}

function checkProblem(store: TableStore, record: string, cells: Cells): RecordProblem | null {
  const { id: table, fields } = store.model.table;
  let row: Row | null = null;
  for (const field of fields) {
    if (!field.check?.formula) continue;
    const formula = store.records.model.formulaOf(table, field.check.formula);
    if (formula.problems.some((p) => p.severity === 'error')) continue;
    const asked =
      field.id in cells ||
      formula.dependencies.some((d) => d.table === table && d.field in cells) ||
      !store.byId.has(record);
    if (!asked) continue;
    row ??= trialRow(store, record, cells);
    const frame: Value[] = [store.records.runtime as unknown as Value, row];
    // Only a plain no is a refusal: what cannot be told, because something is empty, is not held against a record.
    if (formula.run(frame) === false)
      return { field: field.id, said: field.check.words || `${field.name} does not pass its check.` };
  }
  return null;
}

/** The record as it would be with these cells, in no table. Links and formula fields work from it. */
export function trialRow(store: TableStore, record: string, cells: Cells): Row {
  const row = new Row(record, store, { ...store.byId.get(record)?.cells, ...cells }, Infinity);
  store.fill(row);
  return row;
}

/**
 * Values that must differ, claimed by changes of one batch before any of them is made: without it two new records of
 * the same batch could both have what only one may.
 */
export class Claims {
  constructor(
    private readonly records: Records,
    private holders: Map<string, string> = new Map(),
  ) {}

  /** The same claims, to try more on. */
  copy(): Claims {
    return new Claims(this.records, new Map(this.holders));
  }

  /** Takes over what was claimed on a copy. */
  take(trial: Claims): void {
    this.holders = trial.holders;
  }

  /** Claims for a record what its cells say, or tells what another record of the batch has claimed already. */
  claim(table: string, record: string, cells: Cells): RecordProblem | null {
    const store = this.records.stores.get(table);
    if (!store) return null;
    const { fields, key, one } = store.model.table;
    const claims: { name: string; field: string; said: string }[] = fields.flatMap((f) => {
      const value = f.unique ? linkKey(cells[f.id]) : null;
      return value === null
        ? []
        : [
            {
              name: `${f.id} ${value}`,
              field: f.id,
              said: `${f.name} “${String(cells[f.id])}” is taken by another ${one}.`,
            },
          ];
    });
    if (key?.length && key.some((f) => f in cells)) {
      const all = { ...store.byId.get(record)?.cells, ...cells };
      const values = key.map((f) => linkKey(all[f]));
      if (!values.includes(null))
        claims.push({
          name: JSON.stringify([key, values]),
          field: key.find((f) => f in cells)!,
          said: `There is ${aOrAn(one)} with the same ${key.map((k) => fields.find((f) => f.id === k)?.name ?? k).join(' and ')} already.`,
        });
    }
    for (const c of claims) {
      const holder = this.holders.get(`${table} ${c.name}`);
      if (holder !== undefined && holder !== record) return { field: c.field, said: c.said };
    }
    for (const c of claims) this.holders.set(`${table} ${c.name}`, record);
    return null;
  }
}
