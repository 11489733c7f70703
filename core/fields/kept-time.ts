import { parseDateTime } from '../formula/temporal.ts';
import { DATETIME } from '../formula/types.ts';
import type { FieldDefinition } from './kind.ts';

/** A date and time that the app writes down by itself. */
export const keptTime = {
  keptByApp: true,
  grid: { width: 178 },
  valueType: () => DATETIME,
  read: (cell) => (typeof cell === 'string' ? parseDateTime(cell) : null),
  typed: () => undefined,
  numberFormat: () => 'yyyy-mm-dd hh:mm',
} satisfies Partial<FieldDefinition>;
