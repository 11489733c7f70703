import { defineFormat, endingOf, type FormatDefinition } from '../../../core/formats/format.ts';
import { tidyName } from '../../../core/formats/sheet.ts';

/** JSON (RFC 8259): lists of objects, also line by line, and GeoJSON; it goes out as an array of objects. */
export const json: FormatDefinition = defineFormat({
  id: 'json',
  name: 'JSON',
  type: 'application/json',
  endings: ['.json', '.geojson', '.jsonl', '.ndjson'],
  archived: true,
  isIn(bytes, fileName) {
    const first = bytes.find((b) => b > 32 && b !== 0xef && b !== 0xbb && b !== 0xbf);
    return (first === 0x7b || first === 0x5b) && json.endings.includes(endingOf(fileName));
  },
  async read(fileName, bytes) {
    const { readJson } = await import('./read.ts');
    const { decode } = await import('../csv/read.ts');
    return readJson(tidyName(fileName.replace(/\.[^.]*$/, '')), decode(bytes).text, `“${fileName}”`);
  },
  async write(table) {
    const { toJsonRows } = await import('./write.ts');
    return new TextEncoder().encode(`${JSON.stringify(toJsonRows(table), null, 2)}\n`);
  },
});
