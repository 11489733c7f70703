import { defineFormat } from '../../../core/formats/format.ts';

/** JSON (RFC 8259), which goes out as an array of objects. */
export const json = defineFormat({
  id: 'json',
  name: 'JSON',
  type: 'application/json',
  endings: ['.json'],
  archived: true,
  isIn: () => false,
  async write(table) {
    const { toJsonRows } = await import('./write.ts');
    return new TextEncoder().encode(`${JSON.stringify(toJsonRows(table), null, 2)}\n`);
  },
});
