import { fieldKind } from '../fields/kinds.ts';
import { numberText } from '../formula/number.ts';
import { cellOf, type ToLocal } from '../services/cell-of.ts';
import { picked } from '../services/picks.ts';
import { taken } from '../services/taken.ts';
import { bestFor } from '../tables/serves.ts';
import type { Field, Table } from '../tables/schema.ts';
import type { ColumnType } from './column-types.ts';
import type { ReplyShape } from './shape-of-reply.ts';

/** What the records of an answer are taken for, while a maker corrects it before they become a table. */
export interface ReviewedReply {
  /** The name of the table. */
  name: string;
  shape: ReplyShape;
  /** The ids of fields that are left out. */
  left: readonly string[];
}

/** A value of a record as the service wrote it, and whether its field can keep it. */
export interface ReviewedValue {
  text: string;
  fits: boolean;
}

const PLACE = '$[*]';
/** So many records are looked at to tell what a choice can be. */
const LOOKED_AT = 500;

const valueIn = (item: unknown, field: Field): unknown => picked(item, field.pick!)[0];

const written = (value: unknown): string =>
  value === null || value === undefined
    ? ''
    : typeof value === 'number'
      ? numberText(value)
      : typeof value === 'string'
        ? value
        : JSON.stringify(value);

/** Gives a field another type, with what this type needs to know of the values (the choices that are there). */
export function retyped(
  reviewed: ReviewedReply,
  id: string,
  type: ColumnType,
  items: readonly unknown[],
): ReviewedReply {
  const fields = reviewed.shape.fields.map((f): Field => {
    if (f.id !== id) return f;
    const texts = items
      .slice(0, LOOKED_AT)
      .map((i) => written(valueIn(i, f)))
      .filter(Boolean);
    return { id, name: f.name, pick: f.pick, type, ...fieldKind(type).starts?.(texts) };
  });
  return { ...reviewed, shape: { ...reviewed.shape, fields } };
}

/** The shape without what is left out; the key is never left out. */
export function keptShape({ shape, left }: ReviewedReply): ReplyShape {
  const fields = shape.fields.filter((f) => f.id === shape.key || !left.includes(f.id));
  const kept = (id: string | null): string | null => (fields.some((f) => f.id === id) ? id : null);
  return {
    ...shape,
    fields,
    titleField: kept(shape.titleField) ?? fields.find((f) => f.type === 'text')?.id ?? shape.key,
    pictureField: kept(shape.pictureField) ?? bestFor(fields, 'picture'),
    leftOut: [...shape.leftOut, ...shape.fields.filter((f) => !fields.includes(f)).map((f) => f.name)],
  };
}

/**
 * What the records would be as they are reviewed now: the values of the first ones, and what could not be taken over
 * of all, in words. It is read by what reads answers in the app, so that the review promises nothing else.
 */
export function asTaken(
  reviewed: ReviewedReply,
  items: readonly unknown[],
  { toLocal, first = 6 }: { toLocal: ToLocal; first?: number },
): { rows: ReviewedValue[][]; notes: string[]; count: number } {
  const { fields, key } = keptShape(reviewed);
  const table: Table = {
    id: 't_review',
    name: reviewed.name,
    one: reviewed.name,
    fields,
    titleField: null,
    pictureField: null,
    fetched: { request: '', rows: PLACE, key, fresh: 0 },
  };
  const { rows, notes } = taken(items, [], [{ table, at: PLACE }], toLocal);
  return {
    rows: items.slice(0, first).map((item) =>
      reviewed.shape.fields.map((f) => {
        const value = valueIn(item, f);
        return { text: written(value), fits: cellOf(f, value, toLocal) !== undefined };
      }),
    ),
    notes,
    count: rows[table.id]!.length,
  };
}
