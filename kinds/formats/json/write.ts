import type { TableExport } from '../../../core/formats/exported.ts';
import { toJson } from '../../../core/formula/json.ts';
import { RecordValue, type Value } from '../../../core/formula/values.ts';

/** An array of objects keyed by field name, values typed. */
export function toJsonRows(t: TableExport): Record<string, unknown>[] {
  return t.rows.map((r) => Object.fromEntries(t.fields.map((f, i) => [f.name, jsonValue(r[i]!)])));
}

const jsonValue = (v: Value): unknown =>
  v instanceof RecordValue ? v.title() : Array.isArray(v) ? v.map(jsonValue) : toJson(v);
