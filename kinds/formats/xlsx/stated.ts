import { strFromU8, strToU8, unzipSync, zipSync } from 'fflate';
import { readStated, statedOf, type Stated } from '../../../core/formats/table-schema.ts';
import type { Field } from '../../../core/tables/schema.ts';
import { readXml } from './xml.ts';

/** What a workbook tells of its columns stands in its custom properties (ECMA-376, part 1, 15.2.12.2), one a column. */
const PART = 'docProps/custom.xml';
const PREFIX = 'Column: ';
const CONTENT = 'application/vnd.openxmlformats-officedocument.custom-properties+xml';
const RELATION = 'http://schemas.openxmlformats.org/officeDocument/2006/relationships/custom-properties';
/** Spreadsheet programs keep no longer texts there. */
const LONGEST = 255;

const escaped = (text: string): string =>
  text
    // eslint-disable-next-line no-control-regex
    .replace(/[\u0000-\u001f]/g, ' ')
    .replace(/[&<>"]/g, (c) => `&#${c.charCodeAt(0)};`);

/** The workbook with what there is to tell of these columns. */
export function withStated(book: Uint8Array, fields: readonly Field[]): Uint8Array {
  const properties = fields.flatMap((f) => {
    const stated = statedOf(f);
    if (!stated || `${PREFIX}${f.name}`.length > LONGEST) return [];
    const whole = JSON.stringify(stated);
    // The choices are told as long as they fit; otherwise they are found among the values.
    const text = whole.length <= LONGEST ? whole : JSON.stringify({ ...stated, choices: undefined });
    return text.length <= LONGEST ? [{ name: `${PREFIX}${f.name}`, text }] : [];
  });
  if (properties.length === 0) return book;
  const parts = unzipSync(book);
  const types = '[Content_Types].xml';
  const relations = '_rels/.rels';
  const put = (path: string, before: string, what: string): void => {
    parts[path] = strToU8(strFromU8(parts[path]!).replace(before, () => what + before));
  };
  parts[PART] = strToU8(
    `<?xml version="1.0" encoding="UTF-8" standalone="yes"?>\n<Properties xmlns="http://schemas.openxmlformats.org/officeDocument/2006/custom-properties" xmlns:vt="http://schemas.openxmlformats.org/officeDocument/2006/docPropsVTypes">${properties
      .map(
        (p, i) =>
          `<property fmtid="{D5CDD505-2E9C-101B-9397-08002B2CF9AE}" pid="${i + 2}" name="${escaped(p.name)}"><vt:lpwstr>${escaped(p.text)}</vt:lpwstr></property>`,
      )
      .join('')}</Properties>`,
  );
  put(types, '</Types>', `<Override PartName="/${PART}" ContentType="${CONTENT}"/>`);
  put(relations, '</Relationships>', `<Relationship Id="rIdTold" Type="${RELATION}" Target="${PART}"/>`);
  return zipSync(parts, { level: 6 });
}

/** What the custom properties of a workbook tell, by the headers of its columns. */
export function statedIn(parts: Readonly<Record<string, Uint8Array>>): Map<string, Stated> {
  const found = new Map<string, Stated>();
  const bytes = parts[PART];
  if (!bytes) return found;
  let name = '';
  let text = '';
  readXml(bytes, {
    open(tag, a) {
      if (tag === 'property') [name, text] = [a['name'] ?? '', ''];
    },
    close(tag) {
      const stated = tag === 'property' && name.startsWith(PREFIX) ? readStated(text) : null;
      if (stated) found.set(name.slice(PREFIX.length), stated);
    },
    text(t) {
      text += t;
    },
  });
  return found;
}
