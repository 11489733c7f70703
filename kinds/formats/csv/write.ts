import Papa from 'papaparse';
import type { TableExport } from '../../../core/formats/exported.ts';
import { harmless } from '../../../core/fields/harmless.ts';
import { headerOf } from '../../../core/records/column-header.ts';
import { fileText } from '../../../core/records/file-text.ts';

/** CSV (RFC 4180) with a byte order mark, so that spreadsheet programs read it as UTF-8. */
export function toCsv(t: TableExport): string {
  const { isBare = false } = t;
  const data = [
    t.fields.map((f) => harmless(isBare ? f.name : headerOf(f))),
    ...t.rows.map((r) => r.map((v, i) => fileText(v, t.fields[i]!, isBare))),
  ];
  return '\uFEFF' + Papa.unparse(data, { newline: '\r\n' }) + '\r\n';
}
