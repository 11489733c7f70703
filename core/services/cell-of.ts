import { listCell, toListCell, type Cell } from '../fields/lists.ts';
import { numberText } from '../formula/number.ts';
import { checkCell } from '../records/check-cell.ts';
import { typedCell } from '../records/cells.ts';
import type { Field } from '../tables/schema.ts';

/** An instant: a date and time with its offset from UTC (RFC 3339). */
const INSTANT = /^(\d{4}-\d\d-\d\d)[T ]\d\d:\d\d(:\d\d(\.\d+)?)?(Z|[+-]\d\d:?\d\d)$/i;

/** An instant in the JSON of OData 2: milliseconds since 1970. */
const OLD_INSTANT = /^\/Date\((-?\d{1,15})(?:[+-]\d{1,4})?\)\/$/;

/** Turns an instant in milliseconds into what the clocks of the app show, written as if it were UTC. */
export type ToLocal = (instant: number) => number;

/** The cell in which a field keeps something from an answer; undefined where that does not fit the field. */
export function cellOf(field: Field, json: unknown, toLocal: ToLocal): Cell | undefined {
  if (json === null || json === undefined || json === '') return null;
  const cell = read(field, json, toLocal);
  return cell === undefined || (cell !== null && checkCell(field, cell) !== null) ? undefined : cell;
}

function read(field: Field, json: unknown, toLocal: ToLocal): Cell | undefined {
  if (Array.isArray(json)) {
    if (field.several) return toListCell(json.filter((x) => x !== null).map(plain));
    if (json.every((x) => typeof x !== 'object' || x === null) && isText(field)) return json.map(plain).join(', ');
    return isText(field) ? JSON.stringify(json) : undefined;
  }
  if (typeof json === 'object') return isText(field) ? JSON.stringify(json) : undefined;
  if (field.several) return toListCell(listCell(plain(json)));
  const text = typeof json === 'string' ? localText(field, json, toLocal) : plain(json);
  return isText(field) ? text : typedCell(field, text);
}

const isText = (field: Field): boolean => field.type === 'text' || field.type === 'longtext';

/** A plain value of JSON as a text. */
const plain = (json: unknown): string =>
  typeof json === 'number' ? numberText(json) : typeof json === 'string' ? json : JSON.stringify(json);

/** Dates and times keep no offset: an instant becomes what the clocks of the app show then. */
function localText(field: Field, text: string, toLocal: ToLocal): string {
  if (field.type !== 'datetime' && field.type !== 'date' && field.type !== 'time') return text;
  const old = OLD_INSTANT.exec(text);
  if (!old && !INSTANT.test(text)) return text;
  const instant = old ? Number(old[1]) : Date.parse(text.replace(' ', 'T').replace(/([+-]\d\d)(\d\d)$/, '$1:$2'));
  if (Number.isNaN(instant)) return text;
  const local = new Date(toLocal(instant)).toISOString();
  if (field.type === 'date') return local.slice(0, 10);
  return field.type === 'time' ? local.slice(11, 19) : local.slice(0, 19);
}
