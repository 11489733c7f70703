import type { Sheet } from './sheet.ts';
import type { TableExport } from './exported.ts';
import type { TableFile } from './table-file.ts';

/**
 * A kind of file that tables come in or go out by. The definition is all there is to know of it elsewhere; it is
 * light, and fetches its code when it is used.
 */
export interface FormatDefinition {
  /** Also its word on the command line. */
  id: string;
  name: string;
  /** Media type (IANA). */
  type: string;
  /** Endings of such files, each with its point; written ones get the first. */
  endings: readonly string[];
  /** Are these its bytes? The formats are asked in the order of their index, the name decides nothing by itself. */
  isIn(bytes: Uint8Array, fileName: string): boolean;
  /** The sheets in a file. Throws {@link UnreadableError}. Absent for a format that only goes out. */
  read?(fileName: string, bytes: Uint8Array): Promise<Sheet[]>;
  /** A file that is changed cell by cell, all else staying to the byte; for mirrors. Throws {@link UnreadableError}. */
  open?(fileName: string, bytes: Uint8Array): Promise<TableFile>;
  /** The bytes of a file with the table. Absent for a format that only comes in. */
  write?(table: TableExport): Promise<Uint8Array>;
  /** Does it go into the zip of all data? */
  archived?: boolean;
}

/** A format that tables go out by. */
export type WritableFormat = FormatDefinition & Required<Pick<FormatDefinition, 'write'>>;

export const defineFormat = (format: FormatDefinition): FormatDefinition => format;

export const startsWith = (bytes: Uint8Array, ...magic: number[]): boolean => magic.every((m, i) => bytes[i] === m);
/** The ending of a name in small letters, with its point. */
export const endingOf = (fileName: string): string => /\.[^.]*$/.exec(fileName.toLowerCase())?.[0] ?? '';
