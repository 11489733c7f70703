import type { TableExport } from '../../../core/formats/exported.ts';
import {
  CalendarDate,
  ClockTime,
  DateTime,
  DaysDuration,
  MonthsDuration,
  isContext,
  type Value,
} from '../../../core/formula/values.ts';
import { toCell } from '../../../core/records/cells.ts';
import { fileName } from '../../../core/fields/kept-address.ts';
import { display, isKeptFile } from '../../../core/records/format.ts';
import type { Field } from '../../../core/tables/schema.ts';
import { fieldKind } from '../../../core/fields/kinds.ts';
import { withStated } from './stated.ts';

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
  for (const row of t.rows) sheet.addRow(row.map((v, i) => xlsxValue(v, t.fields[i]!)));
  sheet.getRow(1).font = { bold: true };
  return withStated(new Uint8Array(await book.xlsx.writeBuffer()), t.fields);
}

function xlsxValue(v: Value, field: Field): string | number | boolean | Date | null {
  if (v === null || typeof v === 'number' || typeof v === 'boolean') return v;
  if (typeof v === 'string') return isKeptFile(v, field.type) ? fileName(v) : v;
  if (v instanceof CalendarDate) return new Date(v.day * 86_400_000);
  if (v instanceof DateTime) return new Date(v.ms);
  // Spreadsheet programs count times and durations in days.
  if (v instanceof ClockTime || v instanceof DaysDuration) return v.ms / 86_400_000;
  if (v instanceof MonthsDuration) return display(v);
  if (Array.isArray(v)) return v.map((x) => display(x)).join(', ');
  return isContext(v) ? String(toCell(v) ?? display(v)) : display(v);
}
