import type { App } from './schema.ts';
import { allId } from '../document/ids.ts';
import { madeOf } from '../document/made-of.ts';
import type { FieldValue } from '../document/pieces.ts';
import type { Field, Table } from '../tables/schema.ts';

/** A table whose name says that it is of people. */
const PEOPLE = /person|people|member|keeper|customer|contact|team|volunteer|user|student|guest|staff|driver|player/i;

/** Does the name of a table say that it is of people? */
export const areNamedPeople = (table: string): boolean => PEOPLE.test(table);

/** The paths that a screen or part compares with the person in a condition, and a table in the formulas of its fields. */
const pathsCompared = madeOf((thing: object): readonly string[] => {
  const paths: string[] = [];
  JSON.stringify(thing, (_, part: { left?: unknown; right?: unknown } | null) => {
    if (part?.right === 'person()' && typeof part.left === 'string') paths.push(part.left);
    return part;
  });
  if ('fields' in thing)
    for (const { formula } of (thing as Table).fields)
      for (const [, path] of formula?.matchAll(/([\w.]+) *= *person\(\)/g) ?? []) paths.push(path!);
  return paths;
});

/** The table that links lead to which are compared with the person using the app, in a condition or a formula. */
function comparedWith(app: Pick<App, 'tables' | 'screens' | 'parts'>): string | undefined {
  const paths = [...app.screens, ...(app.parts ?? []), ...app.tables].flatMap(pathsCompared);
  if (!paths.length) return undefined;
  const links = new Map(app.tables.flatMap((t) => t.fields.map((f) => [f.id, f.link?.table] as const)));
  return paths.map((path) => links.get(path.split('.').at(-1)!)).find((table) => table !== undefined);
}

/**
 * The table of people: the one that the maker has chosen, else the one whose records are compared with the person using
 * the app, else one whose name says so.
 */
export function peopleTable(app: Pick<App, 'tables' | 'people' | 'screens' | 'parts'>): Table | null {
  const chosen = app.people ?? comparedWith(app);
  return app.tables.find((t) => t.id === chosen) ?? app.tables.find((t) => !t.facts && PEOPLE.test(t.name)) ?? null;
}

/** The field that says whose a record is: a person, or a link to the table of people. Undefined where there is none. */
export function ownerField(app: Pick<App, 'tables' | 'people' | 'screens' | 'parts'>, table: Table): Field | undefined {
  const people = peopleTable(app)?.id;
  return table.fields.find(
    (f) =>
      f.type === 'person' || (people !== undefined && table.id !== people && !f.several && f.link?.table === people),
  );
}

/** What is written so that a link leads to a record: the link itself, or the field by which it is matched. */
export const valueForLink = (field: Field, record: string): FieldValue =>
  field.link?.kind === 'matched'
    ? { field: field.link.from!, value: `${record}.${field.link.to!}` }
    : { field: field.id, value: record };

/** The record of the person using the app, as a formula; null where people are no records. */
export function ownRecord(app: Pick<App, 'tables' | 'people' | 'screens' | 'parts'>): string | null {
  const people = peopleTable(app);
  return people && `${allId(people.id)}[item = person()][1]`;
}

/**
 * The screens that are otherwise for each person: they, their parts, a formula field that they read or a routine that is
 * run from them ask who it is.
 */
export function personalScreens(app: Pick<App, 'screens' | 'parts' | 'tables' | 'routines'>): Set<string> {
  const json = (thing: unknown): string => JSON.stringify(thing ?? null);
  const names = ['person()'];
  const formulas = app.tables.flatMap((t) => t.fields).filter((f) => f.type === 'formula' && f.formula);
  const parts = (app.parts ?? []).map((p) => ({ id: p.id, json: json(p.root) }));
  const routines = app.routines.map((r) => ({ id: r.id, text: json(r.steps) }));
  const screens = app.screens.map((s) => ({ id: s.id, json: json(s.root) }));
  // What reads one of these asks too; each round finds those that read what the round before has found.
  for (let more = true; more;) {
    more = false;
    for (const { id, text } of [
      ...formulas.map((f) => ({ id: f.id, text: f.formula! })),
      ...parts.map((p) => ({ id: p.id, text: p.json })),
      ...routines,
    ]) {
      if (names.includes(id) || !names.some((n) => text.includes(n))) continue;
      names.push(id);
      more = true;
    }
  }
  return new Set(screens.filter((s) => names.some((n) => s.json.includes(n))).map((s) => s.id));
}
