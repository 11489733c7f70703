import { fieldKind } from '../fields/kinds.ts';
import { harmless } from '../fields/harmless.ts';
import { fileName } from '../fields/kept-address.ts';
import { toJson } from '../formula/json.ts';
import { numberText } from '../formula/number.ts';
import { isContext, RecordValue, type Value } from '../formula/values.ts';
import type { Field } from '../tables/schema.ts';
import { toCell } from './cells.ts';
import { besideValues } from './column-header.ts';
import { display, isKeptFile } from './format.ts';

/** The plain text of a value in a file: ISO dates, numbers with a point, shares in percent, yes and no. */
export function fileText(v: Value, field: Field, isBare: boolean): string {
  if (v === null) return '';
  if (!isBare && typeof v === 'number' && besideValues(field)) return `${numberText(v)}${besideValues(field)}`;
  const own = fieldKind(field.type).fileText?.(v);
  if (own !== undefined && own !== null) return own;
  if (typeof v === 'string') return isKeptFile(v, field.type) ? fileName(v) : harmless(v);
  if (v instanceof RecordValue) return harmless(v.title());
  if (Array.isArray(v)) return harmless(v.map((x) => display(x)).join(', '));
  if (typeof v === 'boolean') return v ? 'yes' : 'no';
  if (isContext(v)) return String(toCell(v) ?? JSON.stringify(toJson(v)));
  return String(toJson(v));
}
