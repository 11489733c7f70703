import { zipSync, type Zippable } from 'fflate';
import type { App } from '../app/schema.ts';
import { fileName, isKeptFile } from '../records/format.ts';
import type { Records } from '../records/store.ts';
import { FORMATS } from '../../kinds/formats/index.ts';
import { exportTable, type TableExport } from './exported.ts';

/**
 * The whole data of an app as a zip: every table as CSV and as JSON, and the files that records hold beside them,
 * under the paths that the tables give.
 */
export async function toArchive(app: App, records: Records): Promise<Uint8Array> {
  const zip: Zippable = {};
  const names = new Set<string>();
  for (const table of app.tables) {
    const name = free(safe(table.name) || 'table', names);
    const content = withFiles(exportTable(records, table.id), name, zip);
    for (const format of FORMATS) if (format.archived) zip[`${name}${format.endings[0]}`] = await format.write(content);
  }
  for (const f of app.files) zip[`files of the app/${free(safe(f.name) || f.id, names)}`] = decode(f.data);
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

const decode = (base64: string): Uint8Array => Uint8Array.from(atob(base64), (c) => c.charCodeAt(0));
const ENDINGS: Record<string, string> = {
  'image/jpeg': '.jpg',
  'image/png': '.png',
  'image/svg+xml': '.svg',
  'audio/mpeg': '.mp3',
  'audio/ogg': '.ogg',
  'application/pdf': '.pdf',
};

/** Takes files out of the cells and puts their paths there instead. */
function withFiles(content: TableExport, folder: string, zip: Zippable): TableExport {
  const names = new Set<string>();
  return {
    ...content,
    rows: content.rows.map((row) =>
      row.map((v, i) => {
        const m = isKeptFile(v, content.fields[i]!.type)
          ? /^data:([^;,]*)[^,]*;base64,([A-Za-z0-9+/=]+)$/.exec(v)
          : null;
        if (!m) return v;
        const known = safe(fileName(String(v)));
        const name = free(known.includes('.') ? known : `${known}${ENDINGS[m[1]!] ?? ''}`, names);
        const path = `${folder} files/${name}`;
        zip[path] = decode(m[2]!);
        return path;
      }),
    ),
  };
}
