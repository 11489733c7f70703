import { unzipSync } from 'fflate';
import { UnreadableError } from '../../../core/document/unreadable.ts';
import { base64Of } from '../../../core/document/base64.ts';
import { MAX_FILE_CELL } from '../../../core/fields/kind.ts';
import { endingOf } from '../../../core/formats/format.ts';
import { MAX_FILE_BYTES, tidyName, type Sheet } from '../../../core/formats/sheet.ts';
import { DataPackage, statedBy, type TableSchema } from '../../../core/formats/table-schema.ts';
import type { z } from 'zod';
import { csv } from '../csv/definition.ts';
import { json } from '../json/definition.ts';
import { xlsx } from '../xlsx/definition.ts';

/** What a zip may hold unpacked, in bytes, and how many files. */
const MAX_UNPACKED = 300 * 1024 * 1024;
const MAX_FILES = 20_000;

/** The formats of the tables in a zip, the most exact first: of a table that lies there twice the first is read. */
const INSIDE = [json, xlsx, csv];

const TYPES: Readonly<Record<string, string>> = {
  '.jpg': 'image/jpeg',
  '.jpeg': 'image/jpeg',
  '.png': 'image/png',
  '.webp': 'image/webp',
  '.gif': 'image/gif',
  '.svg': 'image/svg+xml',
  '.mp3': 'audio/mpeg',
  '.ogg': 'audio/ogg',
  '.m4a': 'audio/mp4',
  '.webm': 'audio/webm',
  '.pdf': 'application/pdf',
};

/** The tables in a zip. What its description tells of their columns is believed, and paths to files become the files. */
export async function readZip(fileName: string, bytes: Uint8Array): Promise<Sheet[]> {
  const what = `“${fileName}”`;
  const parts = unpacked(what, bytes);
  const described = description(parts['datapackage.json']);
  const sheets: Sheet[] = [];
  const addresses = new Addresses(parts);
  let books = 0;
  const bases = new Set<string>();
  for (const format of INSIDE)
    for (const path of Object.keys(parts).sort()) {
      const name = path.split('/').at(-1)!;
      if (!format.endings.includes(endingOf(name)) || path.startsWith('__MACOSX/') || path === 'datapackage.json')
        continue;
      const base = path.slice(0, -endingOf(name).length).toLowerCase();
      if (bases.has(base)) continue;
      bases.add(base);
      if (format === xlsx && (books += unpackedSize(parts[path]!)) > MAX_UNPACKED)
        throw new UnreadableError(
          `The workbooks in ${what} unpack to more than ${MAX_UNPACKED / 1_048_576} MB. Bring them one by one.`,
        );
      const resource = described?.resources.find((r) => r.path === path);
      for (const sheet of await format.read!(name, parts[path]!)) {
        if (resource?.title) sheet.name = tidyName(resource.title);
        sheets.push(withFiles(resource ? withStated(sheet, resource.schema) : sheet, addresses));
      }
    }
  if (sheets.length === 0)
    throw new UnreadableError(`${what} has no table in it. Bring a zip with CSV, XLSX or JSON files.`);
  return sheets;
}

function unpacked(what: string, bytes: Uint8Array): Record<string, Uint8Array> {
  let [size, files, packed] = [0, 0, 0];
  try {
    return unzipSync(bytes, {
      filter(f) {
        size += f.originalSize;
        // What it says of its size is believed: no more than that is unpacked.
        if (size > MAX_UNPACKED || ++files > MAX_FILES || f.originalSize > MAX_FILE_BYTES * 4)
          throw new UnreadableError(
            `${what} unpacks to more than ${MAX_UNPACKED / 1_048_576} MB or ${MAX_FILES} files. Take it apart and bring the tables by themselves.`,
          );
        // Parts that lie upon one another unpack the same bytes again and again.
        packed += f.size;
        if (packed > bytes.length)
          throw new UnreadableError(`${what} is damaged: its files lie upon one another. Pack it once more.`);
        return !f.name.endsWith('/');
      },
    });
  } catch (e) {
    if (e instanceof UnreadableError) throw e;
    throw new UnreadableError(
      `${what} is a zip that cannot be opened: it may be damaged or cut off. Copy it once more.`,
    );
  }
}

function description(bytes: Uint8Array | undefined): z.infer<typeof DataPackage> | null {
  if (!bytes) return null;
  try {
    return DataPackage.safeParse(JSON.parse(new TextDecoder().decode(bytes))).data ?? null;
  } catch {
    return null;
  }
}

const withStated = (sheet: Sheet, schema: z.infer<typeof TableSchema>): Sheet => ({
  ...sheet,
  stated: statedBy(schema, sheet.rows[0] ?? []),
});

/** What a workbook says that it unpacks to, in bytes. */
function unpackedSize(book: Uint8Array): number {
  let size = 0;
  try {
    unzipSync(book, { filter: (f) => ((size += f.originalSize), false) });
  } catch {
    // Reading it tells what is wrong.
  }
  return size;
}

/** The files of a zip as what cells hold. However many cells name a file, it is made once, and all have a bound together. */
class Addresses {
  private readonly made = new Map<string, string>();
  private given = 0;

  constructor(private readonly parts: Readonly<Record<string, Uint8Array>>) {}

  /** The file at a path; null where there is none, and where it cannot come with its record why not. */
  at(path: string): { address: string } | { reason: string } | null {
    if (!path.includes('/') || !Object.hasOwn(this.parts, path)) return null;
    let address = this.made.get(path);
    if (address === undefined) {
      const name = encodeURIComponent(
        path
          .split('/')
          .at(-1)!
          .replace(/\p{Cs}/gu, '\uFFFD'),
      );
      const type = TYPES[endingOf(path)] ?? 'application/octet-stream';
      address = `data:${type};name=${name};base64,${base64Of(this.parts[path]!)}`;
      this.made.set(path, address);
    }
    const kept = 'the cell keeps its path. Add it to the record by hand.';
    if (address.length > MAX_FILE_CELL)
      return { reason: `The file “${path}” is too large to come with its record; ${kept}` };
    this.given += address.length;
    if (this.given > MAX_UNPACKED)
      return { reason: `With “${path}” the files of all records would be more than can come at once; ${kept}` };
    return { address };
  }
}

/** Cells that name a file of the zip hold the file. */
function withFiles(sheet: Sheet, files: Addresses): Sheet {
  const odd = [...(sheet.odd ?? [])];
  const rows = sheet.rows.map((row, r) =>
    row.map((text) => {
      const file = files.at(text);
      if (!file) return text;
      if ('address' in file) return file.address;
      odd.push({ line: sheet.lines[r]!, reason: file.reason });
      return text;
    }),
  );
  return { ...sheet, rows, ...(odd.length && { odd }) };
}
