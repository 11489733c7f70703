import { unzipSync } from 'fflate';
import { UnreadableError } from '../../../core/document/unreadable.ts';
import { base64Of } from '../../../core/document/base64.ts';
import { MAX_FILE_CELL } from '../../../core/fields/kind.ts';
import { endingOf } from '../../../core/formats/format.ts';
import { MAX_FILE_BYTES, tidyName, type Sheet } from '../../../core/formats/sheet.ts';
import { DataPackage, toldBy, type TableSchema } from '../../../core/formats/table-schema.ts';
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
  const bases = new Set<string>();
  for (const format of INSIDE)
    for (const path of Object.keys(parts).sort()) {
      const name = path.split('/').at(-1)!;
      if (!format.endings.includes(endingOf(name)) || path.startsWith('__MACOSX/') || path === 'datapackage.json')
        continue;
      const base = path.slice(0, -endingOf(name).length).toLowerCase();
      if (bases.has(base)) continue;
      bases.add(base);
      const resource = described?.resources.find((r) => r.path === path);
      for (const sheet of await format.read!(name, parts[path]!)) {
        if (resource?.title) sheet.name = tidyName(resource.title);
        sheets.push(withFiles(resource ? withTold(sheet, resource.schema) : sheet, parts));
      }
    }
  if (sheets.length === 0)
    throw new UnreadableError(`${what} has no table in it. Bring a zip with CSV, XLSX or JSON files.`);
  return sheets;
}

function unpacked(what: string, bytes: Uint8Array): Record<string, Uint8Array> {
  let [size, files] = [0, 0];
  try {
    return unzipSync(bytes, {
      filter(f) {
        size += f.originalSize;
        // What it says of its size is believed: no more than that is unpacked.
        if (size > MAX_UNPACKED || ++files > MAX_FILES || f.originalSize > MAX_FILE_BYTES * 4)
          throw new UnreadableError(
            `${what} unpacks to more than ${MAX_UNPACKED / 1_048_576} MB or ${MAX_FILES} files. Take it apart and bring the tables by themselves.`,
          );
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

const withTold = (sheet: Sheet, schema: z.infer<typeof TableSchema>): Sheet => ({
  ...sheet,
  told: toldBy(schema, sheet.rows[0] ?? []),
});

/** Cells that name a file of the zip hold the file. */
function withFiles(sheet: Sheet, parts: Readonly<Record<string, Uint8Array>>): Sheet {
  const odd = [...(sheet.odd ?? [])];
  const rows = sheet.rows.map((row, r) =>
    row.map((text) => {
      const file = text.includes('/') ? parts[text] : undefined;
      if (!file) return text;
      const address = `data:${TYPES[endingOf(text)] ?? 'application/octet-stream'};name=${encodeURIComponent(text.split('/').at(-1)!)};base64,${base64Of(file)}`;
      if (address.length <= MAX_FILE_CELL) return address;
      odd.push({
        line: sheet.lines[r]!,
        reason: `The file “${text}” is too large to come with its record; the cell keeps its path. Add it to the record by hand.`,
      });
      return text;
    }),
  );
  return { ...sheet, rows, ...(odd.length && { odd }) };
}
