import { fieldKind } from '../fields/kinds.ts';
import type { Field, Figure, Table } from '../tables/schema.ts';
import { allOf } from '../document/queries.ts';
import type { ElementMaker } from './make.ts';
import type { Tap } from '../document/pieces.ts';
import { asWords } from '../records/words.ts';
import type { App, Element, Screen } from './schema.ts';

/** What is known of the records that screens are made for. */
export interface Known {
  /** How many different values the records have in a field, the first `LOOKED_AT` of them. */
  differ: ReadonlyMap<string, number>;
  /** In how many of those the field is filled in. */
  filled: ReadonlyMap<string, number>;
  /** How many records a table has. */
  records: ReadonlyMap<string, number>;
}

/** Records that are looked at to see whether a field tells them apart. */
export const LOOKED_AT = 2000;

/** How one record of a table is shown among others, and what a tap on it does. */
export interface OneRecord {
  shows(t: Table): Element;
  opens(t: Table): Tap;
}

/** Does a field tell records apart? One with a single value tells nothing. */
export const tells = (f: Field, known: Known | undefined): boolean => (known?.differ.get(f.id) ?? 2) > 1;

const lookedAt = (t: Table, known: Known | undefined): number =>
  Math.min(LOOKED_AT, known?.records.get(t.id) ?? Infinity);

/** The share of records in which a field is filled in, from 0 to 1; where that is not known, 1. */
export function filledShare(f: Field, t: Table, known: Known | undefined): number {
  const filled = known?.filled.get(f.id);
  return filled === undefined ? 1 : filled / Math.max(1, lookedAt(t, known));
}

/** A field in which so large a share of the records differs nearly names each. */
const MOST_DIFFER = 0.6;
export const nearlyNames = (f: Field, t: Table, known: Known | undefined): boolean =>
  (known?.differ.get(f.id) ?? 0) > MOST_DIFFER * lookedAt(t, known);

const capital = (s: string): string => s.charAt(0).toUpperCase() + s.slice(1);

/** Numbers that name something or count years are no figures. */
const NO_FIGURE =
  /^(?:x|y|lat(?:itude)?|lon(?:gitude)?|lng|breite(?:ngrad)?|länge(?:ngrad)?|id|no|year)\b|code|year|order|\bno\.?$|number$/i;
/** Amounts that add up; of others the average says more. */
const ADDS_UP =
  /amount|total|quantit|qty|count|hours|minutes|cost|sum\b|paid|fed|sold|stock|pieces|distance|litre|revenue|sales|takings|donat/i;
const MOST_TILES = 4;

/** The numbers of a table that a figure can be made of. */
export const figuresOf = (t: Table, known?: Known): Field[] =>
  t.fields.filter(
    (f) =>
      fieldKind(f.type).serves?.figure &&
      f.id !== t.titleField &&
      !NO_FIGURE.test(f.name) &&
      tells(f, known) &&
      !t.fields.some((l) => l.link?.from === f.id),
  );

/**
 * How many there are, what they come to, how that went, and where they are: a screen over all tables. Null when there
 * are no figures and no places.
 */
export function overviewScreen(app: App, known: Known, make: ElementMaker, one: OneRecord): Screen | null {
  const tables = app.tables.filter((t) => !t.facts && (known.records.get(t.id) ?? 0) > 0);
  const figures = tables.flatMap((t) => figuresOf(t, known).map((field) => ({ table: t, field })));
  const map = mapOf(tables, known, make, one);
  if (figures.length + map.length === 0) return null;
  const tile = (t: Table, title: string, figure: Figure, of?: Field): Element =>
    make.tile(t.id, asWords(title), { figure, ...(of && { of: of.id }) });
  const counts = tables.slice(0, figures.length > 1 ? 2 : 3).map((t) => tile(t, t.name.toLowerCase(), 'count'));
  const sums = figures.slice(0, MOST_TILES - counts.length).map(({ table, field }) => {
    const figure = figureFor(field);
    return tile(
      table,
      figure === 'sum' ? `${field.name.toLowerCase()} in all` : `average ${field.name.toLowerCase()}`,
      figure,
      field,
    );
  });
  const tiles = [...counts, ...sums];
  const rows: Element[] = [];
  for (let i = 0; i < tiles.length; i += 2) rows.push(make.box('across', tiles.slice(i, i + 2), { gap: 10 }));
  return {
    id: make.id('s'),
    name: 'Overview',
    given: null,
    icon: 'chart',
    root: make.box('down', [make.text('Overview', 'title'), ...rows, ...chartOf(tables, known, make), ...map], {
      inside: 16,
      gap: 12,
    }),
  };
}

/** One map, of the first records that have places on the earth. */
function mapOf(tables: readonly Table[], known: Known, make: ElementMaker, one: OneRecord): Element[] {
  for (const t of tables) {
    const at = t.fields.find((f) => f.type === 'place' && tells(f, known));
    if (!at) continue;
    const map = make.make('plan', { at: at.id, tap: one.opens(t), children: [one.shows(t)] }, { table: t });
    return [make.text(asWords(`Where the ${t.name.toLowerCase()} are`), 'heading'), map];
  }
  return [];
}

const figureFor = (f: Field): 'sum' | 'average' => (f.type === 'money' || ADDS_UP.test(f.name) ? 'sum' : 'average');

/** One chart: what happens in time by its months, or else records by a choice. */
function chartOf(tables: readonly Table[], known: Known, make: ElementMaker): Element[] {
  const busiest = [...tables].sort((a, b) => (known.records.get(b.id) ?? 0) - (known.records.get(a.id) ?? 0));
  for (const t of busiest) {
    const when = t.fields.find((f) => fieldKind(f.type).serves?.moment && tells(f, known));
    if (!when) continue;
    const of = figuresOf(t, known).find((f) => figureFor(f) === 'sum');
    return [
      make.make('chart', {
        title: asWords(`${capital(of ? of.name : t.name)} over time`),
        query: allOf(t.id),
        look: 'area',
        by: when.id,
        figure: of ? 'sum' : 'count',
        ...(of && { of: of.id }),
      }),
    ];
  }
  for (const t of busiest) {
    const by = t.fields.find((f) => {
      const differ = known.differ.get(f.id) ?? 0;
      return (f.type === 'choice' || f.type === 'yesno') && differ >= 2 && differ <= 12;
    });
    if (by)
      return [
        make.make('chart', {
          title: asWords(`${t.name} by ${by.name.toLowerCase()}`),
          query: allOf(t.id),
          look: 'ring',
          by: by.id,
        }),
      ];
  }
  return [];
}
