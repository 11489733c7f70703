import Papa from 'papaparse';
import type { TableExport } from '../../../core/formats/exported.ts';
import { harmless } from '../../../core/fields/harmless.ts';
import { toJson } from '../../../core/formula/json.ts';
import { RecordValue, isContext, type Value } from '../../../core/formula/values.ts';
import { toCell } from '../../../core/records/cells.ts';
import { fileName } from '../../../core/fields/kept-address.ts';
import { display, isKeptFile } from '../../../core/records/format.ts';
import { besideValues, headerOf } from '../../../core/formats/header.ts';
import { numberText } from '../../../core/formula/number.ts';
import type { Field } from '../../../core/tables/schema.ts';
import { fieldKind } from '../../fields/index.ts';

/** The plain text of a value in a file: ISO dates, numbers with a point, shares in percent, yes and no. */
function fileText(v: Value, field: Field, isBare: boolean): string {
  if (v === null) return '';
  if (!isBare && typeof v === 'number' && besideValues(field)) return `${numberText(v)}${besideValues(field)}`;
  const own = fieldKind(field.type).fileText?.(v);
  if (own !== undefined && own !== null) return own;
  if (typeof v === 'string') return isKeptFile(v, field.type) ? fileName(v) : harmless(v);
  if (v instanceof RecordValue) return harmless(v.title());
  if (Array.isArray(v)) return harmless(v.map((x) => display(x)).join(', '));
  if (typeof v === 'boolean') return v ? 'yes' : 'no';
  if (isContext(v)) return String(toCell(v) ?? JSON.stringify(toJson(v)));
  return String(toJson(v));
}

/** CSV (RFC 4180) with a byte order mark, so that spreadsheet programs read it as UTF-8. */
export function toCsv(t: TableExport): string {
  const { isBare = false } = t;
  const data = [
    t.fields.map((f) => harmless(isBare ? f.name : headerOf(f))),
    ...t.rows.map((r) => r.map((v, i) => fileText(v, t.fields[i]!, isBare))),
  ];
  return '\uFEFF' + Papa.unparse(data, { newline: '\r\n' }) + '\r\n';
}
