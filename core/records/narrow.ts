import { fieldKind } from '../fields/kinds.ts';
import { readNumberText } from '../fields/read-number.ts';
import { fix } from '../formula/number.ts';
import { parseDate, parts } from '../formula/temporal.ts';
import type { Type } from '../formula/types.ts';
import { CalendarDate, DateTime, type Value } from '../formula/values.ts';
import { isNothing, named, type ReadField } from './groups.ts';
import { compareKey, sortKey } from './order.ts';
import type { Row } from './row.ts';

/** What a person has set a filter to: some of the values, or the ends of a range as they were typed. */
export interface FilterSet {
  in?: readonly string[];
  from?: string;
  to?: string;
}
export type FiltersSet = Readonly<Record<string, FilterSet>>;

export interface FilterOption {
  key: string;
  label: string;
  /** So many records would be left with it, given the other filters. */
  count: number;
}
/** A filter as it is offered to people. */
export interface OfferedFilter {
  field: string;
  label: string;
  as: FilterAs;
  set: FilterSet;
  options: FilterOption[];
  /** What of a range was typed and could not be read. */
  wrong?: 'from' | 'to';
}
export type FilterAs = 'choices' | 'range' | 'dates';

/** More values than this nobody picks from. */
const MOST_OPTIONS = 60;

/** How a field is filtered by; null for what nobody filters by, such as pictures. */
export function filterAs(field: ReadField['field'], type: Type): FilterAs | null {
  const of = type.k === 'list' ? type.of : type;
  if (fieldKind(field.type).holdsFile) return null;
  if (of.k === 'boolean' || of.k === 'record' || field.choices) return 'choices';
  if (type.k === 'number') return 'range';
  if (type.k === 'date' || type.k === 'datetime') return 'dates';
  return of.k === 'text' ? 'choices' : null;
}

/** What came from the page as filters that are set; anything else is left out. */
export function filtersSet(view: unknown): FiltersSet {
  if (typeof view !== 'object' || view === null) return {};
  const out: Record<string, FilterSet> = {};
  for (const [field, given] of Object.entries(view as Record<string, unknown>)) {
    if (typeof given !== 'object' || given === null) continue;
    const { in: some, from, to } = given as Record<string, unknown>;
    const set: FilterSet = {
      ...(Array.isArray(some) && some.length > 0 && { in: some.map(String) }),
      ...(typeof from === 'string' && from.trim() && { from }),
      ...(typeof to === 'string' && to.trim() && { to }),
    };
    if (Object.keys(set).length) out[field] = set;
  }
  return out;
}

export interface NarrowBy extends ReadField {
  as: FilterAs;
}

interface Test {
  fits: ((v: Value) => boolean) | null;
  wrong?: 'from' | 'to';
}

/**
 * The records that every filter lets through, and the filters with how many records each of their values would leave:
 * one pass over the records, whatever number of filters there is.
 */
export function narrow(
  rows: readonly Row[],
  filters: readonly NarrowBy[],
  set: FiltersSet,
): { rows: readonly Row[]; filters: OfferedFilter[] } {
  const tests = filters.map((f) => testOf(f, set[f.field.id] ?? {}));
  const options = filters.map(() => new Map<string, FilterOption & { order: ReturnType<typeof sortKey> }>());
  const fitting: Row[] = [];
  for (const row of rows) {
    const values = filters.map((f) => f.get(row));
    let fails = 0;
    let failing = -1;
    for (let i = 0; i < tests.length; i++) {
      if (tests[i]!.fits?.(values[i]!) === false) {
        fails++;
        failing = i;
      }
    }
    if (fails === 0) fitting.push(row);
    for (let i = 0; i < filters.length; i++) {
      if (filters[i]!.as === 'choices')
        count(options[i]!, values[i]!, filters[i]!, fails === 0 || (fails === 1 && failing === i));
    }
  }
  const offered = filters.map((f, i): OfferedFilter => {
    const { wrong } = tests[i]!;
    return {
      field: f.field.id,
      label: f.field.name,
      as: f.as,
      set: set[f.field.id] ?? {},
      options: listed(options[i]!, set[f.field.id]?.in ?? []),
      ...(wrong && { wrong }),
    };
  });
  return { rows: tests.some((t) => t.fits) ? fitting : rows, filters: offered };
}

const each = (v: Value): readonly Value[] => (Array.isArray(v) && v.length ? v : [v]);

function count(
  options: Map<string, FilterOption & { order: ReturnType<typeof sortKey> }>,
  value: Value,
  { field }: NarrowBy,
  counts: boolean,
): void {
  for (const v of each(value)) {
    const it = named(v, field, `No ${field.name.toLowerCase()}`);
    const known = options.get(it.key);
    if (known) known.count += Number(counts);
    else
      options.set(it.key, {
        key: it.key,
        label: it.label,
        count: Number(counts),
        order: it.key === '' ? null : (it.rank ?? sortKey(it.label)),
      });
  }
}

/** The values in order, those that are chosen whatever number there is; of very many the most frequent. */
function listed(
  options: Map<string, FilterOption & { order: ReturnType<typeof sortKey> }>,
  chosen: readonly string[],
): FilterOption[] {
  let list = [...options.values()];
  if (list.length > MOST_OPTIONS) {
    const frequent = new Set([...list].sort((a, b) => b.count - a.count).slice(0, MOST_OPTIONS));
    list = list.filter((o) => frequent.has(o) || chosen.includes(o.key));
  }
  return list
    .sort((a, b) => compareKey(a.order, b.order, 1))
    .map(({ key, label, count: n }) => ({ key, label, count: n }));
}

function testOf({ as, field }: NarrowBy, set: FilterSet): Test {
  if (as === 'choices') {
    const wanted = set.in && new Set(set.in);
    return { fits: wanted ? (v) => each(v).some((x) => wanted.has(named(x, field).key)) : null };
  }
  const read = as === 'dates' ? dayTyped : numberTyped(field.type);
  const [from, to] = [read(set.from), read(set.to)];
  const fits =
    from === null && to === null
      ? null
      : (v: Value): boolean => {
          const n = as === 'dates' ? dayOf(v) : typeof v === 'number' ? v : null;
          return n !== null && (from === null || n >= from) && (to === null || n <= to);
        };
  const wrong = set.from && from === null ? 'from' : set.to && to === null ? 'to' : undefined;
  return { fits, ...(wrong && { wrong }) };
}

const dayOf = (v: Value): number | null =>
  isNothing(v) ? null : v instanceof CalendarDate ? v.day : v instanceof DateTime ? parts(v).date.day : null;

const dayTyped = (text: string | undefined): number | null => (text ? (parseDate(text)?.day ?? null) : null);

/** A percent is typed as "25" and held as 0.25. */
function numberTyped(type: ReadField['field']['type']): (text: string | undefined) => number | null {
  const { times = 1 } = fieldKind(type).range ?? {};
  return (text) => {
    const n = text ? (readNumberText(text) ?? readNumberText(text, ',')) : null;
    return n === null ? null : times === 1 ? n : fix(n / times);
  };
}
