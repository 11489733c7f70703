import { dateTimeText } from '../formula/temporal.ts';
import { DateTime, RecordValue, type Value } from '../formula/values.ts';
import type { Draft } from './change.ts';
import { fieldKind } from '../fields/kinds.ts';
import { keptCell, toCell } from './cells.ts';
import { checkCell } from './check-cell.ts';
import type { Cell } from '../fields/lists.ts';
import { trialRow } from './checks.ts';
import type { Cells, Records, TableStore } from './store.ts';
import type { Field } from '../tables/schema.ts';

/**
 * Changes completed by what the app fills in itself: defaults and a unique id in new records, the time of making
 * and of the last change. What a change says itself is left as it is.
 */
export function completed(records: Records, drafts: readonly Draft[]): Draft[] {
  const made = new Set<string>();
  const last = new Map<string, number | null>();
  return drafts.map((draft) => {
    const store = draft.do === 'set' || draft.do === 'raise' ? records.stores.get(draft.table) : undefined;
    if (!store || !needs(store)) return draft;
    if (draft.do === 'raise') {
      const cells = filledIn(store, draft.cells ?? {}, false);
      if (!draft.makes || store.byId.has(draft.record)) return { ...draft, cells };
      // What is added to begins at nothing on every device: a default would be one amount more.
      const given = { ...cells, ...Object.fromEntries(Object.keys(draft.by).map((f) => [f, null])), ...draft.makes };
      const makes = filledIn(store, { ...beginning(store, draft.record, given), ...draft.makes }, true);
      return { ...draft, cells, makes };
    }
    if (draft.do !== 'set') return draft;
    const isNew = !store.byId.has(draft.record) && !made.has(draft.record);
    made.add(draft.record);
    const cells: Cells = isNew
      ? { ...beginning(store, draft.record, draft.cells), ...draft.cells }
      : { ...draft.cells };
    const own = store.model.table.ownOrder;
    if (isNew && own && !(own in cells)) {
      const before = last.has(own) ? last.get(own)! : lastInOrder(store, own);
      last.set(own, before === null ? null : before + 1);
      if (before !== null) cells[own] = before + 1;
    }
    return { ...draft, cells: filledIn(store, cells, isNew) };
  });
}

/** Cells with those that the app keeps by itself. */
function filledIn(store: TableStore, cells: Cells, isNew: boolean): Cells {
  const now = nowCell(store.records);
  const all = { ...cells };
  for (const f of store.model.table.fields) {
    if (f.id in all) continue;
    const filled = fieldKind(f.type).fills?.({ isNew, now }, f);
    if (filled !== undefined) all[f.id] = filled;
  }
  return all;
}

const needs = (store: TableStore): boolean =>
  store.model.table.ownOrder !== undefined ||
  store.model.table.fields.some((f) => f.default || fieldKind(f.type).fills);

const nowCell = (records: Records): Cell => dateTimeText(new DateTime(Math.floor(records.runtime.now() / 1000) * 1000));

/** What a new record begins with, given what is known of it already. */
export function beginning(store: TableStore, record: string, given: Cells): Cells {
  const { table } = store.model;
  const cells: Cells = {};
  for (const field of table.fields) {
    if (!field.default || field.id in given) continue;
    const formula = store.records.model.formulaOf(table.id, field.default);
    if (formula.problems.some((p) => p.severity === 'error')) continue;
    const row = formula.dependencies.length ? trialRow(store, record, { ...cells, ...given }) : null;
    const value = formula.run([store.records.runtime as unknown as Value, row]);
    const target = targetOf(field);
    const cell = cellFor(field, value);
    if (
      cell !== null &&
      !(target in given) &&
      checkCell(target === field.id ? field : store.model.fields.get(target)!, cell) === null
    )
      cells[target] = cell;
  }
  return cells;
}

/** The stored field a value of this field is written to: a matched link is written to the field it goes by. */
const targetOf = (field: Field): string => (field.link?.kind === 'matched' ? field.link.from! : field.id);

function cellFor(field: Field, value: Value): Cell {
  if (field.link?.kind === 'matched') return value instanceof RecordValue ? toCell(value.get(field.link.to!)) : null;
  return keptCell(field, value);
}

/**
 * The highest place in the table's own order. Null while some record has none yet: those stand last in the order they
 * came, and a new one stands behind them by having none either.
 */
function lastInOrder(store: TableStore, field: string): number | null {
  let last = 0;
  for (const row of store.rows) {
    const n = row.cells[field];
    if (typeof n !== 'number') return null;
    if (n > last) last = n;
  }
  return Math.floor(last);
}
