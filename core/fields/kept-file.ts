import { isKeptAddress, KEPT, readKeptAddress, type KeptFile } from './kept-address.ts';
import type { Cell } from './lists.ts';

/** The largest file a record can hold, in bytes. */
export const MOST_FILE_BYTES = 20 * 1024 * 1024;
/** Files are sent in pieces of so many bytes, so that a connection that breaks loses no more than one. */
export const PIECE_BYTES = 256 * 1024;

/** The address of a kept file: a name by its hash (RFC 6920), with its type, size and name as parameters. */
export function keptAddress({ hash, type, size, name }: KeptFile): string {
  const about = new URLSearchParams({ ct: type, size: String(size), ...(name && { name: shortName(name) }) });
  return `${KEPT}${hash}?${about}`;
}

/** Names keep their ending when they are too long. */
const shortName = (name: string): string =>
  name.length <= 120 ? name : `${name.slice(0, 100).replace(/[\uD800-\uDBFF]$/, '')}…${name.slice(-19)}`;

/** Why a text that begins like the address of a kept file cannot be one, or null. */
export function keptProblem(text: string): string | null {
  if (!isKeptAddress(text)) return null;
  const file = readKeptAddress(text);
  if (!file) return 'This is no address of a kept file.';
  return file.size > MOST_FILE_BYTES ? tooLarge(file) : null;
}

/** What is said of a file over the bound. */
export const tooLarge = ({ name, size }: { name: string; size: number }): string =>
  `${name ? `“${name}”` : 'The file'} has ${(size / 1_048_576).toFixed(1)} MB; up to ${MOST_FILE_BYTES / 1_048_576} MB are kept in a record. Choose a smaller one.`;

/** The kept files that cells name, each once. */
export function keptIn(cells: Readonly<Record<string, Cell>>): KeptFile[] {
  const found = new Map<string, KeptFile>();
  for (const cell of Object.values(cells)) {
    const file = readKeptAddress(cell);
    if (file) found.set(file.hash, file);
  }
  return [...found.values()];
}
