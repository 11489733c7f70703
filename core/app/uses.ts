import { allId, backId, thisId } from '../document/ids.ts';
import { tableOf } from '../tables/names.ts';
import { walkElements, walkSteps } from '../document/walk.ts';
import { kindName } from './names.ts';
import type { App } from './schema.ts';

/** Something that uses a table, field or screen, in words, with where to find it. */
export interface Use {
  said: string;
  screen?: string;
  element?: string;
  routine?: string;
  table?: string;
  field?: string;
}

/** Elements and steps that stand in another are looked at by themselves. */
const isSlot = (v: unknown): boolean =>
  Array.isArray(v) && /^[ep]_/.test(String((v[0] as { id?: unknown } | undefined)?.id ?? ''));

/** Does any text inside this value name the id? Stored formulas and templates hold ids as words. */
function mentions(value: unknown, ids: ReadonlySet<string>): boolean {
  if (typeof value === 'string')
    return (value.match(/\b(?:(?:all|this)_)?[a-z]_[a-z0-9]{6,}(?:_back)?\b/g) ?? []).some((m) => ids.has(m));
  if (Array.isArray(value)) return value.some((v) => mentions(v, ids));
  if (value && typeof value === 'object')
    return Object.entries(value).some(([k, v]) => k !== 'id' && !isSlot(v) && mentions(v, ids));
  return false;
}

/** Everything that uses one of these ids, outside the thing they name itself. */
export function usesOf(app: App, ids: Iterable<string>): Use[] {
  const wanted = new Set(ids);
  const uses: Use[] = [];
  for (const t of app.tables) {
    for (const f of t.fields) {
      if (wanted.has(f.id)) continue;
      if (mentions([f.formula, f.link, f.default, f.check?.formula], wanted))
        uses.push({ said: `the field ${f.name} of ${t.name}`, table: t.id, field: f.id });
    }
  }
  for (const s of app.screens) {
    if (wanted.has(s.id)) continue;
    if (s.given && wanted.has(s.given)) uses.push({ said: `the screen ${s.name}`, screen: s.id });
    walkElements([s.root], (e) => {
      if (mentions(e, wanted))
        uses.push({ said: `${e.name ?? kindName(e.kind)} on ${s.name}`, screen: s.id, element: e.id });
    });
  }
  for (const r of app.routines) {
    let used = Boolean(r.given && wanted.has(r.given)) || mentions(r.starts, wanted);
    walkSteps(r.steps, (s) => {
      used ||= mentions(s, wanted);
    });
    if (used) uses.push({ said: `the routine ${r.name}`, routine: r.id });
  }
  if (app.tabs.some((t) => wanted.has(t.screen))) uses.push({ said: 'the tab bar' });
  return uses;
}

/** The ids by which formulas know a field. */
export const idsOfField = (field: string): string[] => [field, backId(field)];
/** The ids by which formulas know a table and everything in it. */
export const idsOfTable = (app: App, table: string): string[] => [
  table,
  allId(table),
  thisId(table),
  ...(tableOf(app, table)?.fields.flatMap((f) => idsOfField(f.id)) ?? []),
];

/** "2 screens and 1 routine" for a sentence about what a removal touches. */
export function usesInWords(uses: readonly Use[]): string {
  const list = uses.slice(0, 3).map((u) => u.said);
  const rest = uses.length - list.length;
  return rest > 0
    ? `${list.join(', ')} and ${rest} more`
    : list.length > 1
      ? `${list.slice(0, -1).join(', ')} and ${list.at(-1)}`
      : (list[0] ?? '');
}
