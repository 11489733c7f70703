import { UnreadableError } from '../document/unreadable.ts';
import { readable } from './formats.ts';
import { startsWith, type FormatDefinition } from './format.ts';
import { MAX_FILE_BYTES, type Sheet } from './sheet.ts';
import type { TableFile } from './table-file.ts';

const names = (): string => new Intl.ListFormat('en-GB', { type: 'disjunction' }).format(readable().map((f) => f.name));

/** Reads the sheets of a file; its content decides which format it is, not its name. Throws {@link UnreadableError}. */
export async function readSheets(fileName: string, bytes: Uint8Array): Promise<Sheet[]> {
  return formatOf(fileName, bytes).read!(fileName, bytes);
}

/** Opens a file that can be changed cell by cell. Throws {@link UnreadableError} for anything else, and for half a file. */
export async function openTableFile(fileName: string, bytes: Uint8Array): Promise<TableFile> {
  const format = formatOf(fileName, bytes);
  if (!format.open) throw new UnreadableError(`“${fileName}” is ${format.name}, which cannot be mirrored.`);
  return format.open(fileName, bytes);
}

function formatOf(fileName: string, bytes: Uint8Array): FormatDefinition {
  const what = `“${fileName}”`;
  if (bytes.length === 0)
    throw new UnreadableError(`${what} is empty. Choose a file with a header row and at least one row below it.`);
  if (bytes.length > MAX_FILE_BYTES) throw tooLarge(fileName, bytes.length);
  if (startsWith(bytes, 0xd0, 0xcf, 0x11, 0xe0))
    throw new UnreadableError(`${what} is in the old .xls format. Save it as .xlsx or CSV and bring it again.`);
  const kind = foreign(bytes);
  const format = kind ? null : readable().find((f) => f.isIn(bytes, fileName));
  if (!format)
    throw new UnreadableError(`${what} is ${kind ?? 'something else'}, not a table. Bring a ${names()} file.`);
  return format;
}

/** The refusal of a file that has too many bytes, which need not have been read for it. */
export const tooLarge = (fileName: string, size: number): UnreadableError =>
  new UnreadableError(
    `“${fileName}” has ${Math.round(size / 1_048_576)} MB; the largest file read here has ${MAX_FILE_BYTES / 1_048_576} MB. Leave out columns that the app does not need, or divide the file.`,
  );

function foreign(b: Uint8Array): string | null {
  if (startsWith(b, 0x89, 0x50, 0x4e, 0x47) || startsWith(b, 0xff, 0xd8, 0xff) || startsWith(b, 0x47, 0x49, 0x46, 0x38))
    return 'a picture';
  if (startsWith(b, 0x25, 0x50, 0x44, 0x46)) return 'a PDF';
  // What other programs export as a table is at times a page under another name.
  const begins = new TextDecoder('latin1')
    .decode(b.subarray(0, 200))
    .replace(/^\u00ef\u00bb\u00bf/, '')
    .trimStart();
  if (/^<(!doctype html|html|head|body|table)\b/i.test(begins)) return 'an HTML page';
  return /^<(\?xml|svg)\b/i.test(begins) ? 'XML' : null;
}
