import { MOST_COLUMNS } from '../document/limits.ts';
import { freeName } from '../document/names.ts';
import { newId } from '../document/ids.ts';
import { fieldKind } from '../fields/kinds.ts';
import { numberText } from '../formula/number.ts';
import { nameOfPlace, pathOf, type Location } from '../services/picks.ts';
import { bestFor } from '../tables/serves.ts';
import type { Field } from '../tables/schema.ts';
import { inferType } from './column-type.ts';

/** What the records of a list in an answer are like. */
export interface ReplyShape {
  fields: Field[];
  /** The field that tells them apart. */
  key: string;
  titleField: string | null;
  pictureField: string | null;
  /** What is in them and becomes no field, in words. */
  leftOut: string[];
}

/** So many records are looked at, and objects in objects are followed so deep. */
const SAMPLE = 500;
const DEEPEST = 4;

/** The values at one place of all records. */
interface Column {
  at: Location;
  values: unknown[];
}

/** Guesses fields from the records of a list: each with its path, named and typed by what is there. */
export function shapeOfReply(items: readonly unknown[], id: (letter: string) => string = newId): ReplyShape {
  const columns = new Map<string, Column>();
  const lists = new Set<string>();
  const sample = items.slice(0, SAMPLE);
  for (const item of sample) leaves(item, [], columns, lists);
  const names: string[] = [];
  const leftOut = [...lists].map((name) => `the list ${name}`);
  const all = [...columns.values()].filter((c) => c.values.length > 0);
  const kept = all.slice(0, MOST_COLUMNS);
  if (all.length > kept.length) leftOut.push(`${all.length - kept.length} more values of each record`);
  const fields = kept.map(({ at, values }): Field => {
    const name = freeName(at.length === 0 ? 'Value' : nameIn(at), names);
    names.push(name);
    return { id: id('f'), name: name.slice(0, 80), ...typeOf(values, name), pick: pathOf(at) };
  });
  const key = keyOf(kept, fields, sample.length);
  return {
    fields,
    key,
    titleField: titleOf(fields, kept),
    pictureField: bestFor(fields, 'picture'),
    leftOut,
  };
}

/** A value in an object in a record is called after both. */
const nameIn = (at: Location): string => {
  const own = nameOfPlace(at);
  if (at.length < 2) return own;
  return `${nameOfPlace(at.slice(0, -1))} ${own.toLowerCase()}`;
};

function leaves(value: unknown, at: Location, into: Map<string, Column>, lists: Set<string>): void {
  if (typeof value === 'object' && value !== null && !Array.isArray(value)) {
    if (at.length < DEEPEST)
      for (const [name, inner] of Object.entries(value)) leaves(inner, [...at, name], into, lists);
    else lists.add(nameOfPlace(at));
    return;
  }
  if (Array.isArray(value) && value.some((x) => typeof x === 'object' && x !== null)) {
    lists.add(nameOfPlace(at));
    return;
  }
  const path = pathOf(at);
  const column = into.get(path) ?? { at, values: [] };
  into.set(path, column);
  if (value !== null && value !== '' && !(Array.isArray(value) && value.length === 0)) column.values.push(value);
}

/** The type that values of an answer fit, as fields keep them. */
export function typeOf(values: readonly unknown[], name: string): Pick<Field, 'type' | 'choices' | 'several'> {
  if (values.length > 0 && values.every((v) => typeof v === 'boolean')) return { type: 'yesno' };
  if (values.length > 0 && values.every(Array.isArray)) return { type: 'text' };
  const texts = values.map((v) => (typeof v === 'number' ? numberText(v) : String(v)));
  const { type } = inferType(texts, name);
  // What JSON writes as a text is one, also where it is made of digits.
  const isText = values.some((v) => typeof v === 'string');
  if (isText && (type === 'number' || type === 'money' || type === 'percent' || type === 'yesno' || type === 'rating'))
    return { type: 'text' };
  if (!isText && values.every((v) => typeof v === 'number') && type === 'text') return { type: 'number' };
  return { type, ...fieldKind(type).starts?.(texts) };
}

/** The field that tells records apart: one that is called so, or else the first that is never the same twice and is likely to stay so. */
function keyOf(columns: readonly Column[], fields: readonly Field[], count: number): string {
  const differs = columns.map(({ values }) => values.length === count && new Set(values.map(String)).size === count);
  const plain = (i: number): boolean => differs[i]! && columns[i]!.at.length <= 1;
  const called = fields.findIndex(
    (f, i) => plain(i) && /^(id|key|uuid|ref|reference|code|number|no|sku|isbn|ean|slug)$/i.test(f.name),
  );
  const named = called >= 0 ? called : fields.findIndex((f, i) => plain(i) && /\bid$/i.test(f.name));
  // Amounts, moments and words may differ for now; they tell nothing apart for long.
  const lasting = (f: Field): boolean =>
    (f.type === 'text' || f.type === 'number') && !/price|amount|cost|total|sum|note|remark|description/i.test(f.name);
  const at = named >= 0 ? named : fields.findIndex((f, i) => plain(i) && lasting(f));
  const any = at >= 0 ? at : fields.findIndex((_, i) => plain(i));
  return fields[Math.max(0, any)]?.id ?? '';
}

function titleOf(fields: readonly Field[], columns: readonly Column[]): string | null {
  const called = fields.find((f) => f.type === 'text' && /^(name|title|label|subject|headline)$/i.test(f.name));
  if (called) return called.id;
  const texts = fields.filter(
    (f, i) => f.type === 'text' && columns[i]!.values.some((v) => /[a-z]{3}/i.test(String(v))),
  );
  return texts[0]?.id ?? fields[0]?.id ?? null;
}
