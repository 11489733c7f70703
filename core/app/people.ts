import type { App } from './schema.ts';
import type { Table } from '../tables/schema.ts';

/** A table whose name says that it is of people. */
const PEOPLE = /person|people|member|keeper|customer|contact|team|volunteer|user|student|guest|staff|driver|player/i;

/** The table of people: the one that the maker has chosen, else one whose name says so. */
export const peopleTable = (app: Pick<App, 'tables' | 'people'>): Table | null =>
  app.tables.find((t) => t.id === app.people) ?? app.tables.find((t) => !t.facts && PEOPLE.test(t.name)) ?? null;

/** The screens that look otherwise for each person: they, their parts or a formula field that they read ask who it is. */
export function personalScreens(app: Pick<App, 'screens' | 'parts' | 'tables'>): Set<string> {
  const asks = (thing: unknown): string => JSON.stringify(thing ?? null);
  const names = ['person()'];
  const formulas = app.tables.flatMap((t) => t.fields).filter((f) => f.type === 'formula' && f.formula);
  const parts = (app.parts ?? []).map((p) => ({ id: p.id, json: asks(p.root) }));
  const screens = app.screens.map((s) => ({ id: s.id, json: asks(s.root) }));
  // What reads one of these asks too; each round finds those that read what the round before has found.
  for (let more = true; more;) {
    more = false;
    for (const { id, text } of [
      ...formulas.map((f) => ({ id: f.id, text: f.formula! })),
      ...parts.map((p) => ({ id: p.id, text: p.json })),
    ]) {
      if (names.includes(id) || !names.some((n) => text.includes(n))) continue;
      names.push(id);
      more = true;
    }
  }
  return new Set(screens.filter((s) => names.some((n) => s.json.includes(n))).map((s) => s.id));
}
