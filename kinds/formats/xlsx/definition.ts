import { defineFormat, startsWith } from '../../../core/formats/format.ts';

/** Workbooks (ECMA-376), which are zips. */
export const xlsx = defineFormat({
  id: 'xlsx',
  name: 'XLSX',
  type: 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet',
  endings: ['.xlsx'],
  isIn: (bytes) => startsWith(bytes, 0x50, 0x4b),
  read: async (fileName, bytes) => (await import('./read.ts')).readWorkbook(`“${fileName}”`, bytes),
  open: async (fileName, bytes) => (await import('./table-file.ts')).WorkbookFile.open(fileName, bytes),
  write: async (table) => (await import('./write.ts')).toXlsx(table),
});
