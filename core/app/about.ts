import { walkElements } from '../document/walk.ts';
import type { App, Element, Screen } from './schema.ts';

/** What screens are called together that are about no table. */
const OTHERS = 'Other screens';

/** The table that a screen is about: that of the record it shows, else of the first list or form on it. */
export function tableOfScreen(s: Screen): string | undefined {
  let table = s.given ?? undefined;
  walkElements<Element>([s.root], (e) => {
    table ??= 'query' in e ? e.query.table : e.kind === 'form' ? e.table : undefined;
  });
  return table;
}

/** What each screen is about, in words, by its id. Those about one table come one after the other. */
export function aboutOf(app: App): Map<string, string> {
  const names = new Map(app.tables.map((t) => [t.id, t.name]));
  const about = app.screens.map((s) => [s.id, names.get(tableOfScreen(s) ?? '') ?? OTHERS] as const);
  const order = [...new Set(about.map(([, name]) => name))].sort((a, b) => Number(a === OTHERS) - Number(b === OTHERS));
  return new Map(order.flatMap((name) => about.filter(([, n]) => n === name)));
}
