import { zipSync, type Zippable } from 'fflate';
import type { App } from '../app/schema.ts';
import { fromBase64 } from '../document/base64.ts';
import { fileName, fileType, readKeptAddress } from '../fields/kept-address.ts';
import { isKeptFile } from '../records/format.ts';
import type { Records } from '../records/store.ts';
import { writable } from './formats.ts';
import { nameWithUnit } from '../records/column-header.ts';
import { schemaOf } from './table-schema.ts';
import { exportTable, type TableExport } from './exported.ts';

/** The bytes of a kept file, by its hash; null when they cannot be had. */
export type FileOf = (hash: string) => Promise<Uint8Array | null>;

/**
 * The whole data of an app as a zip: every table as CSV and as JSON, and the files that records hold beside them,
 * under the paths that the tables give. What their columns are stands in a Data Package (Frictionless Data, version 1).
 */
export async function toArchive(app: App, records: Records, file: FileOf): Promise<Uint8Array> {
  const zip: Zippable = {};
  const names = new Set<string>();
  const resources: object[] = [];
  for (const table of app.tables) {
    const name = free(safe(table.name) || 'table', names);
    const content = await withFiles(exportTable(records, table.id), name, zip, file);
    for (const format of writable())
      if (format.archived) zip[`${name}${format.endings[0]}`] = await format.write(content);
    resources.push({
      name: `table-${resources.length + 1}`,
      title: table.name,
      path: `${name}.json`,
      schema: schemaOf(table.fields, table.fields.map(nameWithUnit)),
    });
  }
  zip['datapackage.json'] = new TextEncoder().encode(
    JSON.stringify({ name: 'mellow-kite-data', title: app.name, resources }, null, 2),
  );
  for (const f of app.files) zip[`files of the app/${free(safe(f.name) || f.id, names)}`] = fromBase64(f.data);
  return zipSync(zip, { level: 6 });
}

/** A name that every file system takes. */
const safe = (name: string): string =>
  name
    // eslint-disable-next-line no-control-regex
    .replace(/[<>:"/\\|?*\u0000-\u001f]/g, ' ')
    .replace(/\s+/g, ' ')
    .replace(/^[. ]+|[. ]+$/g, '')
    .slice(0, 100);

function free(name: string, taken: Set<string>): string {
  const dot = name.lastIndexOf('.');
  const [base, end] = dot > 0 ? [name.slice(0, dot), name.slice(dot)] : [name, ''];
  let unique = name;
  for (let i = 2; taken.has(unique.toLowerCase()); i++) unique = `${base} ${i}${end}`;
  taken.add(unique.toLowerCase());
  return unique;
}

const ENDINGS: Record<string, string> = {
  'image/jpeg': '.jpg',
  'image/png': '.png',
  'image/svg+xml': '.svg',
  'audio/mpeg': '.mp3',
  'audio/ogg': '.ogg',
  'application/pdf': '.pdf',
};

/** Takes files out of the cells and puts their paths there instead. What cannot be had stays as its address. */
async function withFiles(content: TableExport, folder: string, zip: Zippable, file: FileOf): Promise<TableExport> {
  const names = new Set<string>();
  const rows = content.rows.map((row) => [...row]);
  for (const row of rows)
    for (const [i, v] of row.entries()) {
      if (!isKeptFile(v, content.fields[i]!.type)) continue;
      const bytes = await bytesOf(v, file);
      if (!bytes) continue;
      const known = safe(fileName(v));
      const name = free(known.includes('.') ? known : `${known}${ENDINGS[fileType(v)!] ?? ''}`, names);
      const path = `${folder} files/${name}`;
      zip[path] = bytes;
      row[i] = path;
    }
  return { ...content, rows };
}

function bytesOf(address: string, file: FileOf): Promise<Uint8Array | null> {
  const kept = readKeptAddress(address);
  if (kept) return file(kept.hash);
  const data = /^data:[^,]*;base64,([A-Za-z0-9+/=]+)$/.exec(address)?.[1];
  return Promise.resolve(data === undefined ? null : fromBase64(data));
}
