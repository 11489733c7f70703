import { defineFormat, endingOf, startsWith } from '../../../core/formats/format.ts';

/** Tables in a zip, such as that of all data: each of its tables, with the files that lie beside them. */
export const zip = defineFormat({
  id: 'zip',
  name: 'ZIP',
  type: 'application/zip',
  endings: ['.zip'],
  // A workbook that is cut off has no list of its parts any more: then its name is believed.
  isIn: (bytes, name) => startsWith(bytes, 0x50, 0x4b) && endingOf(name) !== '.xlsx' && !holdsWorkbook(bytes),
  read: async (fileName, bytes) => (await import('./read.ts')).readZip(fileName, bytes),
});

/** Names that only the parts of a workbook have, among the first of a zip or in the list at its end. */
const PARTS = ['[Content_Types].xml', 'xl/work'].map((name) => new TextEncoder().encode(name));

function holdsWorkbook(bytes: Uint8Array): boolean {
  const isAt = (name: Uint8Array, at: number): boolean => name.every((b, i) => bytes[at + i] === b);
  for (const [from, to] of [
    [0, Math.min(bytes.length, 4096)],
    [Math.max(0, bytes.length - 1_000_000), bytes.length],
  ] as const)
    for (let at = from; at < to; at++) if (PARTS.some((name) => bytes[at] === name[0] && isAt(name, at))) return true;
  return false;
}
