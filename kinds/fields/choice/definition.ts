import { defineField } from '../../../core/fields/kind.ts';
import { listCell, toListCell, type Cell } from '../../../core/fields/lists.ts';
import { listOf, TEXT } from '../../../core/formula/types.ts';

/** Several items in one text: a JSON list as cells are, or items with commas, semicolons or lines between them. */
function itemsOf(text: string): string[] {
  if (text.startsWith('[')) return listCell(text);
  return text
    .split(/[,;\n]/)
    .map((s) => s.trim())
    .filter(Boolean);
}

export const choice = defineField({
  type: 'choice',
  name: 'choice',
  column: 'choice',
  valueType: (f) => (f.several ? listOf(TEXT) : TEXT),
  read: (cell, f) => (f.several ? listCell(cell as Cell) : String(cell as string | number | boolean)),
  typed: (text, _writing, f) => (f.several ? toListCell(itemsOf(text)) : text),
  offers: (f) => (f.choices ?? []).map((c) => ({ value: JSON.stringify(c.name), label: c.name })),
  guess: {
    order: 90,
    fits({ values }) {
      const distinct = new Set(values);
      return (
        values.length >= 8 &&
        distinct.size >= 2 &&
        distinct.size <= 12 &&
        distinct.size <= values.length / 3 &&
        [...distinct].every((v) => v.length <= 30 && !/\d{3}/.test(v))
      );
    },
  },
});
