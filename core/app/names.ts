import { allId, backId, thisId } from './ids.ts';
import type { App, Field, Routine, Screen, Step, Table, Element } from './schema.ts';

export const tableOf = (app: App, id: string): Table | undefined => app.tables.find((t) => t.id === id);
export const screenOf = (app: App, id: string): Screen | undefined => app.screens.find((s) => s.id === id);
export const routineOf = (app: App, id: string): Routine | undefined => app.routines.find((r) => r.id === id);
export const fieldOf = (table: Table | undefined, id: string): Field | undefined =>
  table?.fields.find((f) => f.id === id);

/** Today's name of everything a stored formula may refer to. */
export function nameTable(app: App): Map<string, string> {
  const names = new Map<string, string>();
  for (const t of app.tables) {
    names.set(t.id, t.name);
    names.set(allId(t.id), t.facts ? t.name.toLowerCase() : `all ${t.name}`);
    names.set(thisId(t.id), `this ${t.one}`);
    for (const f of t.fields) {
      names.set(f.id, f.name);
      if (f.link) names.set(backId(f.id), f.link.backName);
    }
  }
  for (const r of app.routines)
    walkSteps(r.steps, (s) => {
      if (s.do === 'add') names.set(s.result, s.resultName);
    });
  return names;
}

export function walkSteps(steps: readonly Step[], visit: (s: Step) => void): void {
  for (const s of steps) {
    visit(s);
    if (s.do === 'if') {
      walkSteps(s.then, visit);
      walkSteps(s.otherwise, visit);
    }
  }
}

export function walkElements(
  elements: readonly Element[],
  visit: (e: Element, parent: Element | null) => void,
  parent: Element | null = null,
): void {
  for (const e of elements) {
    visit(e, parent);
    if ('children' in e) walkElements(e.children, visit, e);
  }
}

/** A name that is not taken, by counting up: "Hives", "Hives 2". */
export function freeName(wanted: string, taken: Iterable<string>): string {
  const used = new Set([...taken].map((n) => n.toLowerCase()));
  const base = wanted.trim() || 'Untitled';
  if (!used.has(base.toLowerCase())) return base;
  for (let i = 2; ; i++) if (!used.has(`${base} ${i}`.toLowerCase())) return `${base} ${i}`;
}

/** What one record of a table is called, from the table's English plural: "Hives" gives "hive". */
export function singular(plural: string): string {
  const words = plural.trim().toLowerCase().split(/\s+/);
  const last = words.pop() ?? '';
  let one = last;
  if (/[^aeiou]ies$/.test(last)) one = `${last.slice(0, -3)}y`;
  else if (/(ss|sh|ch|x|z)es$/.test(last)) one = last.slice(0, -2);
  else if (/[^su]s$/.test(last)) one = last.slice(0, -1);
  const name = [...words, one].join(' ');
  return name || 'record';
}

/** The field names of a table with the names its links have from the other end; none may occur twice. */
export function namesInTable(app: App, tableId: string): string[] {
  const own = tableOf(app, tableId)?.fields.map((f) => f.name) ?? [];
  const back = app.tables.flatMap((t) => t.fields.flatMap((f) => (f.link?.table === tableId ? [f.link.backName] : [])));
  return [...own, ...back];
}
