import { elementKinds } from '../screens/kinds.ts';
import { stepKinds } from '../routines/kinds.ts';
import { triggerKinds } from '../routines/kinds.ts';
import { allId, backId, thisId } from '../document/ids.ts';
import type { Meaning, Properties } from '../document/meaning.ts';
import { pieces } from '../records/words.ts';
import { ownerOf } from '../screens/part-places.ts';
import { tableOf } from '../tables/names.ts';
import { walkElements, walkSteps } from '../document/walk.ts';
import type { Way } from './frames.ts';
import { drawnOf, kindName } from './names.ts';
import type { App } from './schema.ts';

/** Something that uses a table, field or screen, in words, with where to find it. */
export interface Use {
  said: string;
  screen?: string;
  element?: string;
  routine?: string;
  table?: string;
  field?: string;
  scene?: string;
  /** The properties that name it, as sentences call them. */
  places: string[];
}

/** Ids in a stored formula stand as words; what is between quotes is a text. */
const idsIn = (formula: string): string[] =>
  formula.replace(/"(?:\\.|[^"\\])*"/g, '""').match(/\b(?:(?:all|this)_)?[a-z]_[a-z0-9]{6,}(?:_back)?\b/g) ?? [];

const formulaNames = (formula: unknown, ids: ReadonlySet<string>): boolean =>
  typeof formula === 'string' && idsIn(formula).some((id) => ids.has(id));

/** Does anything in a value that is made of ids and formulas name one of them? */
function names(value: unknown, ids: ReadonlySet<string>): boolean {
  if (typeof value === 'string') return formulaNames(value, ids);
  if (Array.isArray(value)) return value.some((v) => names(v, ids));
  return value !== null && typeof value === 'object' && Object.values(value).some((v) => names(v, ids));
}

/** Does a step of a scene name one of them? Its values are by the ids of their fields; of an element in a part it names the place. */
function inStep(value: unknown, ids: ReadonlySet<string>): boolean {
  if (typeof value === 'string') return ids.has(value) || ids.has(ownerOf(value));
  if (Array.isArray(value)) return value.some((v) => inStep(v, ids));
  if (value === null || typeof value !== 'object') return false;
  return Object.entries(value).some(([name, v]) => ids.has(name) || inStep(v, ids));
}

/** How a property can name something, by what it means; a property that is not here cannot. */
const NAMES: Partial<Record<Meaning, (value: unknown, ids: ReadonlySet<string>) => boolean>> = {
  words: (v, ids) => pieces(String(v)).some((p) => 'formula' in p && formulaNames(p.formula, ids)),
  formula: formulaNames,
  query: names,
  where: names,
  values: names,
  tap: names,
  table: (v, ids) => ids.has(String(v)),
  field: (v, ids) => ids.has(String(v)),
  taps: names,
  part: (v, ids) => ids.has(String(v)),
  variable: (v, ids) => ids.has(String(v)),
  routine: (v, ids) => ids.has(String(v)),
  request: (v, ids) => ids.has(String(v)),
  element: (v, ids) => ids.has(String(v)),
  fields: names,
  screen: (v, ids) => ids.has(String(v)),
};

/** The properties of an element, step or trigger that name one of these ids, as they are called in sentences. */
function naming(properties: Properties | undefined, owner: object, ids: ReadonlySet<string>): string[] {
  const held = owner as Record<string, unknown>;
  const found = Object.entries(properties ?? {}).flatMap(([name, p]) =>
    held[name] !== undefined && NAMES[p.is]?.(held[name], ids) ? [p.said] : [],
  );
  for (const [name, formula] of Object.entries((held['worked'] ?? {}) as Record<string, string>))
    if (formulaNames(formula, ids)) found.push(properties?.[name]?.said ?? `the ${name}`);
  return formulaNames(held['seenWhen'], ids) ? [...found, 'when it is seen'] : found;
}

/** Everything that uses one of these ids, outside the thing they name itself: found from what properties mean. */
export function usesOf(app: App, ids: Iterable<string>): Use[] {
  const wanted = new Set(ids);
  const uses: Use[] = [];
  for (const t of app.tables) {
    for (const f of t.fields) {
      if (wanted.has(f.id)) continue;
      const formulas = [f.formula, f.default, f.check?.formula];
      if (formulas.some((x) => formulaNames(x, wanted)) || names(f.link, wanted))
        uses.push({ said: `the field ${f.name} of ${t.name}`, table: t.id, field: f.id, places: [] });
    }
  }
  for (const s of drawnOf(app)) {
    if (wanted.has(s.id)) continue;
    if ((s.given && wanted.has(s.given)) || formulaNames(s.finds, wanted))
      uses.push({ said: `the screen ${s.name}`, screen: s.id, places: [] });
    walkElements([s.root], (e) => {
      const places = naming(elementKinds.get(e.kind)?.properties, e, wanted);
      if (places.length)
        uses.push({ said: `${e.name ?? kindName(e.kind)} on ${s.name}`, screen: s.id, element: e.id, places });
    });
  }
  for (const r of app.routines) {
    const places: string[] = [];
    for (const t of r.starts ?? []) places.push(...naming(triggerKinds.get(t.on)?.properties, t, wanted));
    walkSteps(r.steps, (s) => places.push(...naming(stepKinds.get(s.do)?.properties, s, wanted)));
    if (places.length || (r.given && wanted.has(r.given)))
      uses.push({ said: `the routine ${r.name}`, routine: r.id, places });
  }
  const way = (w: Way): boolean =>
    wanted.has(w.screen) || formulaNames(w.badge, wanted) || formulaNames(w.seenWhen, wanted);
  if (app.tabs.some(way)) uses.push({ said: 'the tab bar', places: [] });
  if (app.drawer && (app.drawer.ways.some(way) || NAMES.words!(app.drawer.head, wanted)))
    uses.push({ said: 'the drawer', places: [] });
  if (Object.values(app.starts ?? {}).some((s) => wanted.has(s)))
    uses.push({ said: 'the start of the app', places: [] });
  for (const { id, name, steps } of app.scenes ?? [])
    if (inStep(steps, wanted)) uses.push({ said: `the scene ${name}`, scene: id, places: [] });
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
