import type { Sheet } from '../../../core/formats/sheet.ts';
import type { Area } from './worksheet.ts';

/**
 * A header of several rows with merged cells becomes one row: “Weights” over “Spring” and “Autumn” gives
 * “Weights Spring” and “Weights Autumn”. A cell merged over the whole width is a title and names no column.
 */
export function joinedHeader(sheet: Sheet, merges: readonly Area[]): Sheet {
  const width = sheet.rows.slice(0, 20).reduce((most, r) => Math.max(most, r.length), 0);
  const [first] = sheet.lines;
  const areas = merges.filter((a) => a.top <= (first ?? 1) + 8 && a.right - a.left + 1 < Math.max(3, width));
  // A merged cell without words names nothing.
  const named = (a: Area): boolean => Boolean(sheet.rows[sheet.lines.indexOf(a.top)]?.[a.left - 1]?.trim());
  const across = areas.filter((a) => a.right > a.left && named(a));
  if (across.length === 0) return sheet;
  const top = Math.min(...across.map((a) => a.top));
  // The row below the last that is merged across names the single columns; cells merged downwards may reach further.
  const bottom = Math.max(
    ...across.map((a) => a.bottom + 1),
    ...areas.filter((a) => a.top >= top && a.left === a.right).map((a) => a.bottom),
  );
  const from = sheet.lines.findIndex((l) => l >= top);
  const to = sheet.lines.findLastIndex((l) => l <= bottom);
  if (from < 0 || to <= from || to - from > 4) return sheet;
  const names = Array.from({ length: width }, (_, i) => {
    const parts: string[] = [];
    for (let r = from; r <= to; r++) {
      const over = across.find(
        (a) => a.top <= sheet.lines[r]! && a.bottom >= sheet.lines[r]! && a.left <= i + 1 && a.right >= i + 1,
      );
      const text = (
        over ? (sheet.rows[sheet.lines.indexOf(over.top)]?.[over.left - 1] ?? '') : (sheet.rows[r]![i] ?? '')
      ).trim();
      if (text && !parts.includes(text)) parts.push(text);
    }
    return parts.join(' ');
  });
  return {
    ...sheet,
    rows: [...sheet.rows.slice(0, from), names, ...sheet.rows.slice(to + 1)],
    lines: [...sheet.lines.slice(0, from), sheet.lines[to]!, ...sheet.lines.slice(to + 1)],
    notes: [...sheet.notes, `The header has merged cells; its ${to - from + 1} rows are read as one.`],
  };
}
