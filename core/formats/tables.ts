import Papa from 'papaparse';
import type { Field } from '../tables/schema.ts';
import { harmless } from './harmless.ts';
import { toJson } from '../formula/json.ts';
import { fieldKind } from '../../kinds/fields/index.ts';
import {
  CalendarDate,
  ClockTime,
  DateTime,
  DaysDuration,
  MonthsDuration,
  RecordValue,
  isContext,
  type Value,
} from '../formula/values.ts';
import { toCell } from '../records/cells.ts';
import { display, fileName } from '../records/format.ts';
import type { Records } from '../records/store.ts';

/** The fields and values of a table as they are exported: links by the title of their record. */
export interface TableExport {
  name: string;
  fields: Field[];
  rows: Value[][];
}

export function exportTable(records: Records, tableId: string): TableExport {
  const model = records.model.tables.get(tableId);
  if (!model) throw new Error('There is no such table.');
  const members = model.table.fields.map((f) => model.members.find((m) => m.id === f.id)!);
  return {
    name: model.table.name,
    fields: model.table.fields,
    rows: records.rows(tableId).map((r) => members.map((m) => m.get(r))),
  };
}

/** The plain text of a value in a file: ISO dates, numbers with a point, shares in percent, yes and no. */
function fileText(v: Value, field: Field): string {
  if (v === null) return '';
  const own = fieldKind(field.type).fileText?.(v);
  if (own !== undefined && own !== null) return own;
  if (typeof v === 'string') return v.startsWith('data:') ? fileName(v) : harmless(v);
  if (v instanceof RecordValue) return harmless(v.title());
  if (Array.isArray(v)) return harmless(v.map((x) => display(x)).join(', '));
  if (typeof v === 'boolean') return v ? 'yes' : 'no';
  if (isContext(v)) return String(toCell(v) ?? JSON.stringify(toJson(v)));
  return String(toJson(v));
}

/** CSV (RFC 4180) with a byte order mark, so that spreadsheet programs read it as UTF-8. */
export function toCsv(t: TableExport, mark = true): string {
  const data = [
    t.fields.map((f) => harmless(f.name)),
    ...t.rows.map((r) => r.map((v, i) => fileText(v, t.fields[i]!))),
  ];
  return (mark ? '\uFEFF' : '') + Papa.unparse(data, { newline: '\r\n' }) + '\r\n';
}

/** An array of objects keyed by field name, values typed. */
export function toJsonRows(t: TableExport): Record<string, unknown>[] {
  return t.rows.map((r) => Object.fromEntries(t.fields.map((f, i) => [f.name, jsonValue(r[i]!)])));
}

const jsonValue = (v: Value): unknown =>
  v instanceof RecordValue ? v.title() : Array.isArray(v) ? v.map(jsonValue) : toJson(v);

/** XLSX with typed cells: numbers, yes/no and dates stay what they are. */
export async function toXlsx(t: TableExport): Promise<Uint8Array> {
  const { default: ExcelJS } = await import('exceljs');
  const book = new ExcelJS.Workbook();
  const sheet = book.addWorksheet(t.name.replace(/[*?:\\/[\]]/g, ' ').slice(0, 31) || 'Table', {
    views: [{ state: 'frozen', ySplit: 1 }],
  });
  sheet.columns = t.fields.map((f) => ({
    header: f.name,
    width: Math.min(40, Math.max(12, f.name.length + 4)),
    style: { numFmt: fieldKind(f.type).numberFormat?.(f) ?? 'General' },
  }));
  for (const row of t.rows) sheet.addRow(row.map(xlsxValue));
  sheet.getRow(1).font = { bold: true };
  return new Uint8Array(await book.xlsx.writeBuffer());
}

function xlsxValue(v: Value): string | number | boolean | Date | null {
  if (v === null || typeof v === 'number' || typeof v === 'boolean') return v;
  if (typeof v === 'string') return v.startsWith('data:') ? fileName(v) : v;
  if (v instanceof CalendarDate) return new Date(v.day * 86_400_000);
  if (v instanceof DateTime) return new Date(v.ms);
  // Spreadsheet programs count times and durations in days.
  if (v instanceof ClockTime || v instanceof DaysDuration) return v.ms / 86_400_000;
  if (v instanceof MonthsDuration) return display(v);
  if (Array.isArray(v)) return v.map((x) => display(x)).join(', ');
  return isContext(v) ? String(toCell(v) ?? display(v)) : display(v);
}
