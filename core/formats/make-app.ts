import { MOST_COLUMNS, MOST_FIELDS, MOST_TABLES } from '../document/limits.ts';
import { UnreadableError } from '../document/unreadable.ts';
import { newId } from '../document/ids.ts';
import { plainView } from '../app/edits.ts';
import { ElementMaker, type MakeId } from '../app/make.ts';
import { emptyApp } from '../app/document.ts';
import { freeName, singular } from '../document/names.ts';
import { generateScreens } from '../app/generate-screens.ts';
import { LOOKED_AT, type Known } from '../app/overview.ts';
import { fieldKind } from '../fields/kinds.ts';
import type { App } from '../app/schema.ts';
import { bestFor } from '../tables/serves.ts';
import type { Field, Table } from '../tables/schema.ts';
import type { TableDraft, TypedRows } from './infer.ts';
import type { LinkDraft } from './find-links.ts';
import type { Stated } from './table-schema.ts';
import type { Cell } from '../fields/lists.ts';

export interface MadeApp {
  app: App;
  records: { table: string; id: string; cells: Record<string, Cell> }[];
}

/** Makes an app of sheets: a table for each, the accepted links, and screens over them. */
export function makeApp(
  name: string,
  drafts: readonly TableDraft[],
  data: readonly TypedRows[],
  links: readonly LinkDraft[],
  id: MakeId = newId,
): MadeApp {
  const app = emptyApp(name, id('a'));
  const made = makeTables(drafts, data, links, id);
  app.tables = made.tables;
  const { screens, tabs } = generateScreens(app, new ElementMaker(id), knownOf(app.tables, made.records));
  return {
    app: { ...app, screens: screens.length ? screens : app.screens, tabs: tabs.length ? tabs : app.tabs },
    records: made.records,
  };
}

function knownOf(tables: readonly Table[], records: MadeApp['records']): Known {
  const differ = new Map<string, Set<Cell>>(
    tables.flatMap((t) => t.fields.map((f) => [f.id, new Set<Cell>()] as const)),
  );
  const filled = new Map<string, number>();
  const counts = new Map<string, number>();
  for (const r of records) {
    const n = (counts.get(r.table) ?? 0) + 1;
    counts.set(r.table, n);
    if (n > LOOKED_AT) continue;
    for (const [field, cell] of Object.entries(r.cells)) {
      if (cell === null) continue;
      differ.get(field)?.add(cell);
      filled.set(field, (filled.get(field) ?? 0) + 1);
    }
  }
  // What is worked out or found is not known yet, and is taken to differ.
  const isStored = (f: Field): boolean => f.type !== 'link' && f.type !== 'formula';
  const stored = tables.filter((t) => counts.has(t.id)).flatMap((t) => t.fields.filter(isStored));
  return {
    differ: new Map(stored.map((f) => [f.id, differ.get(f.id)!.size])),
    filled: new Map(stored.map((f) => [f.id, filled.get(f.id) ?? 0])),
    records: counts,
  };
}

/** Tables and records of sheets, without screens. `taken` are names of tables that are there already. */
export function makeTables(
  drafts: readonly TableDraft[],
  data: readonly TypedRows[],
  links: readonly LinkDraft[],
  id: MakeId = newId,
  taken: string[] = [],
) {
  if (taken.length + drafts.length > MOST_TABLES)
    throw new UnreadableError(
      `An app holds up to ${MOST_TABLES} tables; these would be ${taken.length + drafts.length}. Leave some sheets out.`,
    );
  const names = [...taken];
  const tables = drafts.map((d, i): Table => {
    const name = freeName(d.name, names);
    names.push(name);
    const columns = d.columns.filter((c) => !c.skip);
    if (columns.length > MOST_COLUMNS)
      throw new UnreadableError(
        `“${d.name}” would have ${columns.length} fields; up to ${MOST_COLUMNS} columns can be taken.`,
      );
    const fields = columns.map((c, at): Field => ({
      id: id('f'),
      name: c.name,
      type: c.type,
      ...(c.unit && (c.type === 'number' || c.type === 'money') && { unit: c.unit.text }),
      ...fieldKind(c.type).starts?.(data[i]!.rows.flatMap((r) => (typeof r[at] === 'string' ? [r[at]] : []))),
      ...(c.stated?.type === c.type && statedBeyond(c.stated)),
      // Where yes and no were both written, an empty cell is neither.
      ...(c.type === 'yesno' && isOpen(data[i]!.rows, at) && { unknown: true }),
    }));
    const table: Table = {
      id: id('t'),
      name,
      one: singular(name),
      fields,
      titleField: null,
      pictureField: bestFor(fields, 'picture'),
    };
    table.titleField = titleOf(table, data[i]!.rows);
    const summed = columns.flatMap((c, at) => (d.sums.includes(c.column) ? [fields[at]!.id] : []));
    if (summed.length) table.view = { ...plainView(), figures: Object.fromEntries(summed.map((f) => [f, 'sum'])) };
    return table;
  });
  for (const l of links) {
    const several = links.filter((x) => x.from.table === l.from.table && x.to.table === l.to.table).length > 1;
    addLink(tables, l, id, several);
  }
  const records = drafts.flatMap((_, i) => {
    const table = tables[i]!;
    return data[i]!.rows.map((row) => {
      const cells: Record<string, Cell> = {};
      row.forEach((cell, at) => {
        if (cell !== null && cell !== undefined) cells[table.fields[at]!.id] = cell;
      });
      return { table: table.id, id: id('r'), cells };
    });
  });
  return { tables, records };
}

/** Does a column of yes and no have cells without an answer? */
function isOpen(rows: readonly Cell[][], at: number): boolean {
  const answers = new Set(rows.map((r) => r[at] ?? null));
  return answers.has(null) && answers.has(true) && answers.has(false);
}

/** What a file tells of a field beside its type and unit. */
const statedBeyond = ({ decimals, several, choices }: Stated): Partial<Field> => ({
  ...(decimals !== undefined && { decimals }),
  ...(several && { several }),
  ...(choices && { choices }),
});

/** The field that names a record best: called a name or title, else the text that differs most. */
function titleOf(table: Table, rows: Cell[][]): string | null {
  const candidates = table.fields.map((f, at) => {
    const kind = fieldKind(f.type).serves?.title;
    if (kind === undefined) return null;
    const values = rows
      .slice(0, 2000)
      .map((r) => r[at])
      .filter((v) => v !== null && v !== undefined);
    if (values.length === 0) return null;
    const variety = new Set(values).size / values.length;
    const named = /^(name|title|full name)$/i.test(f.name) ? 3 : /name|title|subject/i.test(f.name) ? 1.5 : 0;
    const code = /code|\bid\b|tag|number|\bno\b/i.test(f.name) ? -0.5 : 0;
    return { id: f.id, score: named + kind + variety + code - at * 0.02 };
  });
  return candidates.filter((c) => c !== null).sort((a, b) => b.score - a.score)[0]?.id ?? table.fields[0]?.id ?? null;
}

const capital = (s: string): string => s.charAt(0).toUpperCase() + s.slice(1);
const wordsOf = (s: string): string[] => s.toLowerCase().match(/[\p{L}\p{N}]+/gu) ?? [];
/** Words of a column that only say that it holds a key. */
const KEY_WORDS = new Set(['id', 'ids', 'code', 'no', 'nr', 'number', 'key', 'ref', 'name']);

/**
 * What the record at the other end is to these: “departure” for a column “Departure airport code” that leads to
 * airports. Null when the column says nothing beyond what it leads to.
 */
function roleOf(column: string, to: Table, key: string): string | null {
  const known = new Set([...wordsOf(to.one), ...wordsOf(to.name), ...wordsOf(key)]);
  return (
    wordsOf(column)
      .filter((w) => !known.has(w) && !KEY_WORDS.has(w))
      .join(' ') || null
  );
}

/** What the many are called from the other end, by their role: “departure flights”, or “flights from”. */
const backByRole = (many: string, role: string): string =>
  /^(?:from|to)$/.test(role) ? `${many} ${role}` : capital(`${role} ${many.toLowerCase()}`);

function addLink(tables: Table[], l: LinkDraft, id: MakeId, several: boolean): void {
  const from = tables[l.from.table]!;
  const to = tables[l.to.table]!;
  if (from.fields.length >= MOST_FIELDS) return;
  const fromField = from.fields[l.from.column]!;
  const toField = to.fields[l.to.column]!;
  // Where several links lead to the same table, each is called by its role at both ends.
  const role = several ? roleOf(fromField.name, to, toField.name) : null;
  const one = capital(role ? `${role} ${to.one}` : to.one);
  const backs = tables.flatMap((t) => t.fields.flatMap((f) => (f.link?.table === to.id ? [f.link.backName] : [])));
  const fromNames = [
    ...from.fields.map((f) => f.name),
    ...tables.flatMap((t) => t.fields.flatMap((f) => (f.link?.table === from.id ? [f.link.backName] : []))),
  ];
  // A column that has the link's best name already keeps its values under a longer one.
  if (fromField.name.toLowerCase() === one.toLowerCase()) {
    const key = toField.name.toLowerCase();
    const more = key === one.toLowerCase() ? 'as written' : key;
    fromField.name = freeName(`${fromField.name} ${more}`, fromNames);
    fromNames.splice(
      fromNames.findIndex((n) => n.toLowerCase() === one.toLowerCase()),
      1,
    );
  }
  from.fields.push({
    id: id('f'),
    name: freeName(one, fromNames),
    type: 'link',
    link: {
      kind: 'matched',
      table: to.id,
      from: fromField.id,
      to: toField.id,
      backName: freeName(role ? backByRole(from.name, role) : from.name, [...to.fields.map((f) => f.name), ...backs]),
    },
  });
}
