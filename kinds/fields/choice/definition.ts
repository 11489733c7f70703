import { MOST_CHOICES } from '../../../core/document/limits.ts';
import { harmless } from '../../../core/fields/harmless.ts';
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

/** The different values, those that come most often first; as many as a field may be told. */
function mostFirst(values: readonly string[]): string[] {
  const counts = new Map<string, number>();
  for (const v of values) if (v) counts.set(v, (counts.get(v) ?? 0) + 1);
  return [...counts]
    .sort((a, b) => b[1] - a[1])
    .slice(0, MOST_CHOICES)
    .map(([name]) => name);
}

export const choice = defineField({
  type: 'choice',
  name: 'choice',
  patterned: true,
  column: 'choice',
  valueType: (f) => (f.several ? listOf(TEXT) : TEXT),
  read: (cell, f) => (f.several ? listCell(cell as Cell) : String(cell as string | number | boolean)),
  typed: (text, _writing, f) => (f.several ? toListCell(itemsOf(text)) : text),
  offers: (f) => (f.choices ?? []).map((c) => ({ value: JSON.stringify(c.name), label: c.name })),
  inFile: (cell, _style, f) => ({ text: harmless(f.several ? listCell(cell).join(', ') : String(cell)) }),
  starts: (values) => ({ choices: mostFirst(values).map((name, i) => ({ name, colour: i % 8 })) }),
  serves: { title: 0, second: 4 },
});
