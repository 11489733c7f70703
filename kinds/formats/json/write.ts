import type { TableExport } from '../../../core/formats/exported.ts';
import { toJson } from '../../../core/formula/json.ts';
import { fix, numberText } from '../../../core/formula/number.ts';
import { isContext, RecordValue, type Value } from '../../../core/formula/values.ts';
import { besideValues, nameWithUnit } from '../../../core/records/column-header.ts';
import { toCell } from '../../../core/records/cells.ts';
import type { Field } from '../../../core/tables/schema.ts';
import { fieldKind } from '../../../core/fields/kinds.ts';

/** An array of objects keyed by field name, values typed. */
export function toJsonRows(t: TableExport): Record<string, unknown>[] {
  const names = t.fields.map(nameWithUnit);
  return t.rows.map((r) => Object.fromEntries(t.fields.map((f, i) => [names[i], fieldValue(r[i]!, f)])));
}

function fieldValue(v: Value, f: Field): unknown {
  if (typeof v === 'number' && fieldKind(f.type).range?.times === 100) return fix(v * 100);
  if (typeof v === 'number' && besideValues(f)) return `${numberText(v)}${besideValues(f)}`;
  if (isContext(v)) return toCell(v) ?? jsonValue(v);
  return jsonValue(v);
}

const jsonValue = (v: Value): unknown =>
  v instanceof RecordValue ? v.title() : Array.isArray(v) ? v.map(jsonValue) : toJson(v);
