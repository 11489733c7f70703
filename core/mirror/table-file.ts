import { UnreadableError } from '../document/unreadable.ts';
import { DelimitedFile } from './delimited.ts';
import type { TableFile } from './file-edit.ts';
import { WorkbookFile } from './workbook.ts';

/** Opens the bytes of a CSV or XLSX file. Throws {@link UnreadableError} for anything else, and for half a file. */
export async function openTableFile(name: string, bytes: Uint8Array): Promise<TableFile> {
  if (bytes.length === 0) throw new UnreadableError(`“${name}” is empty.`);
  if (bytes[0] === 0x50 && bytes[1] === 0x4b) return WorkbookFile.open(name, bytes);
  if (/\.xlsx$/i.test(name)) throw new UnreadableError(`“${name}” is no workbook, or only half of one.`);
  if (bytes.subarray(0, 4096).includes(0) && bytes[0] !== 0xff && bytes[0] !== 0xfe)
    throw new UnreadableError(`“${name}” holds no text.`);
  const file = new DelimitedFile(name, bytes);
  if (file.sheets[0]!.rows.length === 0) throw new UnreadableError(`“${name}” has no rows.`);
  return file;
}
