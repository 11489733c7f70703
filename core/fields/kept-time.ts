import { parseDateTime, parts } from '../formula/temporal.ts';
import { DATETIME } from '../formula/types.ts';
import { serialOf, type ColumnStyle, type FileValue } from './file-cell.ts';
import type { FieldDefinition } from './kind.ts';
import type { Cell } from './lists.ts';

/** A date and time as a column of a file writes it. */
export function momentInFile(cell: Cell, style: ColumnStyle): FileValue {
  const moment = parseDateTime(String(cell));
  if (!moment) return { text: String(cell) };
  const time = String(cell).slice(11, style.seconds ? 19 : 16);
  const text = `${style.date(parts(moment).date)}${style.between}${time}`;
  return { text, serial: serialOf(moment.ms / 86_400_000) };
}

/** A date and time that the app writes down by itself. */
export const keptTime = {
  keptByApp: true,
  grid: { width: 178 },
  valueType: () => DATETIME,
  read: (cell) => (typeof cell === 'string' ? parseDateTime(cell) : null),
  typed: () => undefined,
  inFile: momentInFile,
  numberFormat: () => 'yyyy-mm-dd hh:mm',
} satisfies Partial<FieldDefinition>;
