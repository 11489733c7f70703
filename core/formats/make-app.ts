import { newId } from '../document/ids.ts';
import { ElementMaker, type MakeId } from '../app/make.ts';
import { emptyApp } from '../app/document.ts';
import { freeName, singular } from '../document/names.ts';
import { generateScreens } from '../app/generate-screens.ts';
import type { App } from '../app/schema.ts';
import type { Field, Table } from '../tables/schema.ts';
import type { TableDraft, TypedRows } from './infer.ts';
import type { LinkDraft } from './match.ts';
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
  const { screens, tabs } = generateScreens(app, new ElementMaker(id));
  return {
    app: { ...app, screens: screens.length ? screens : app.screens, tabs: tabs.length ? tabs : app.tabs },
    records: made.records,
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
  const names = [...taken];
  const tables = drafts.map((d, i): Table => {
    const name = freeName(d.name, names);
    names.push(name);
    const columns = d.columns.filter((c) => !c.skip);
    const fields = columns.map((c, at): Field => ({
      id: id('f'),
      name: c.name,
      type: c.type,
      ...(c.type === 'choice' && { choices: choicesOf(data[i]!.rows, at) }),
    }));
    const table: Table = {
      id: id('t'),
      name,
      one: singular(name),
      fields,
      titleField: null,
      pictureField: fields.find((f) => f.type === 'picture')?.id ?? null,
    };
    table.titleField = titleOf(table, data[i]!.rows);
    return table;
  });
  for (const l of links) addLink(tables, l, id);
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

function choicesOf(rows: Cell[][], at: number): { name: string; colour: number }[] {
  const counts = new Map<string, number>();
  for (const r of rows) if (typeof r[at] === 'string' && r[at]) counts.set(r[at], (counts.get(r[at]) ?? 0) + 1);
  return [...counts].sort((a, b) => b[1] - a[1]).map(([name], i) => ({ name, colour: i % 8 }));
}

/** The field that names a record best: called a name or title, else the text that differs most. */
function titleOf(table: Table, rows: Cell[][]): string | null {
  const candidates = table.fields.map((f, at) => {
    if (!['text', 'choice', 'mail', 'longtext', 'date', 'datetime', 'number'].includes(f.type)) return null;
    const values = rows
      .slice(0, 2000)
      .map((r) => r[at])
      .filter((v) => v !== null && v !== undefined);
    if (values.length === 0) return null;
    const variety = new Set(values).size / values.length;
    const named = /^(name|title|full name)$/i.test(f.name) ? 3 : /name|title|subject/i.test(f.name) ? 1.5 : 0;
    const kind =
      f.type === 'text'
        ? 1
        : f.type === 'mail'
          ? 0.2
          : f.type === 'date' || f.type === 'datetime'
            ? 0.15
            : f.type === 'longtext'
              ? 0.3
              : 0;
    const code = /code|\bid\b|tag|number|\bno\b/i.test(f.name) ? -0.5 : 0;
    return { id: f.id, score: named + kind + variety + code - at * 0.02 };
  });
  return candidates.filter((c) => c !== null).sort((a, b) => b.score - a.score)[0]?.id ?? table.fields[0]?.id ?? null;
}

function addLink(tables: Table[], l: LinkDraft, id: MakeId): void {
  const from = tables[l.from.table]!;
  const to = tables[l.to.table]!;
  const fromField = from.fields[l.from.column]!;
  const toField = to.fields[l.to.column]!;
  const one = to.one.charAt(0).toUpperCase() + to.one.slice(1);
  const backs = tables.flatMap((t) => t.fields.flatMap((f) => (f.link?.table === to.id ? [f.link.backName] : [])));
  const fromNames = [
    ...from.fields.map((f) => f.name),
    ...tables.flatMap((t) => t.fields.flatMap((f) => (f.link?.table === from.id ? [f.link.backName] : []))),
  ];
  // A column that has the link's best name already keeps its values under a longer one.
  if (fromField.name.toLowerCase() === one.toLowerCase()) {
    fromField.name = freeName(`${fromField.name} ${toField.name.toLowerCase()}`, fromNames);
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
      backName: freeName(from.name, [...to.fields.map((f) => f.name), ...backs]),
    },
  });
}
