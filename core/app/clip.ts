import { z } from 'zod';
import { newId } from '../document/ids.ts';
import { Id, Label } from '../document/pieces.ts';
import { cloned, copyOf } from '../document/copy.ts';
import { freeName } from '../document/names.ts';
import { VariableSchema } from '../tables/schema.ts';
import { insideOf, placeOf } from './edits.ts';
import { ElementSchema, FileSchema, PartSchema, RoutineSchema, StepSchema, type App, type Element } from './schema.ts';
import { topmost } from './selection.ts';

/**
 * Elements or steps on their way through the clipboard, as JSON text. With them travels what they need of their app:
 * parts, routines, variables and files whole, and the names of tables, fields and screens, by which another app finds
 * its own.
 */

const NamedSchema = z.object({
  is: z.enum(['table', 'field', 'screen']),
  name: Label,
  /** Of a field: the table it is in. */
  table: Id.optional(),
});

const ClipSchema = z.object({
  clip: z.literal('mellow-kite 1'),
  app: Id,
  elements: z.array(ElementSchema).max(200).optional(),
  steps: z.array(StepSchema).max(500).optional(),
  names: z.record(Id, NamedSchema),
  parts: z.array(PartSchema).max(50),
  routines: z.array(RoutineSchema).max(100),
  variables: z.array(VariableSchema).max(100),
  files: z.array(FileSchema).max(50),
});
export type Clip = z.infer<typeof ClipSchema>;

const CLIP = 'mellow-kite 1';
/** An id inside a formula too, where it may stand behind `this_` or `all_` and before `_back`. */
const ID = /(?<![a-z0-9])[a-z]_[a-z0-9]{6,24}/g;

/** What a clipboard holds, when that is something of ours; null for anything else. Throws in words where it is damaged. */
export function readClip(text: string): Clip | null {
  if (!text.startsWith(`{"clip":"${CLIP.split(' ')[0]}`)) return null;
  let json: unknown;
  try {
    json = JSON.parse(text);
  } catch {
    throw new Error('What was copied arrived only in part. Copy it again.');
  }
  const read = ClipSchema.safeParse(json);
  if (!read.success) throw new Error('What was copied comes from another version of Mellow Kite. Copy it again there.');
  return read.data;
}

/** Elements of an app for the clipboard, with what they need. */
export const clipOfElements = (app: App, ids: readonly string[]): Clip => ({
  clip: CLIP,
  app: app.id,
  elements: cloned(topmost(app, ids)),
  ...needs(app, topmost(app, ids)),
});

/** Steps of an app for the clipboard, with what they need. */
export const clipOfSteps = (app: App, steps: NonNullable<Clip['steps']>): Clip => ({
  clip: CLIP,
  app: app.id,
  steps: cloned(steps),
  ...needs(app, steps),
});

function needs(app: App, things: unknown): Omit<Clip, 'clip' | 'app'> {
  const names: Clip['names'] = {};
  const parts = new Map<string, Clip['parts'][number]>();
  const routines = new Map<string, Clip['routines'][number]>();
  const variables = new Map<string, Clip['variables'][number]>();
  const files = new Map<string, Clip['files'][number]>();
  const known = new Map<string, () => void>();
  for (const t of app.tables) {
    known.set(t.id, () => (names[t.id] = { is: 'table', name: t.name }));
    for (const f of t.fields)
      known.set(f.id, () => {
        names[f.id] = { is: 'field', name: f.name, table: t.id };
        names[t.id] = { is: 'table', name: t.name };
      });
  }
  for (const s of app.screens) known.set(s.id, () => (names[s.id] = { is: 'screen', name: s.name }));
  const whole = <T extends { id: string }>(list: readonly T[], into: Map<string, T>): void => {
    for (const x of list)
      known.set(x.id, () => {
        into.set(x.id, cloned(x));
        // The screen that a variable is of is not taken along: it becomes one of where it comes to.
        look({ ...x, screen: undefined });
      });
  };
  whole(app.parts ?? [], parts);
  whole(app.routines, routines);
  whole(app.variables ?? [], variables);
  whole(app.files, files);
  const seen = new Set<string>();
  function look(thing: unknown): void {
    // The content of a file names nothing, and is long.
    for (const [id] of JSON.stringify(thing, (k, v: unknown) => (k === 'data' ? undefined : v)).matchAll(ID)) {
      if (seen.has(id)) continue;
      seen.add(id);
      known.get(id)?.();
    }
  }
  look(things);
  return {
    names,
    parts: [...parts.values()],
    routines: [...routines.values()],
    variables: [...variables.values()],
    files: [...files.values()],
  };
}

/** What came of pasting: the new things, and what they name that this app does not have. */
export interface Pasted<T> {
  things: T[];
  lost: string[];
}

/** Puts elements from the clipboard behind an element, or inside a container that was not itself copied. */
export function pasteElements(app: App, clip: Clip, at: string): Pasted<Element> {
  const target = placeOf(app, at);
  if (!target || !clip.elements?.length) return { things: [], lost: [] };
  const { things, lost } = arrived<Element>(app, clip, clip.elements, target.screen.id);
  const there = target.list[target.at] ?? target.screen.root;
  const isCopied = clip.elements.some((e) => e.id === at);
  const within = target.parent && isCopied ? null : insideOf(there);
  if (within) within.push(...things);
  else target.list.splice(target.at + 1, 0, ...things);
  return { things, lost };
}

/** Steps from the clipboard as they are in this app, with ids of their own. */
export const stepsFrom = (app: App, clip: Clip): Pasted<NonNullable<Clip['steps']>[number]> =>
  arrived(app, clip, clip.steps ?? [], null);

/** Copies of things as they stand in this app; what they need and it has not is added. */
function arrived<T extends { id: string }>(app: App, clip: Clip, list: readonly T[], screen: string | null): Pasted<T> {
  if (clip.app === app.id && stillThere(app, clip)) {
    const { list: things } = copyOf({ id: newId('a'), list: list as T[] });
    return { things, lost: [] };
  }
  const at = new Map<string, string>();
  const lost: string[] = [];
  const same = (a: string, b: string): boolean => a.trim().toLowerCase() === b.trim().toLowerCase();
  const tables = Object.entries(clip.names).filter(([, n]) => n.is === 'table');
  for (const [id, n] of tables) {
    const own = app.tables.find((t) => t.id === id) ?? app.tables.find((t) => same(t.name, n.name));
    if (own) at.set(id, own.id);
    else lost.push(`the table ${n.name}`);
  }
  for (const [id, n] of Object.entries(clip.names)) {
    if (n.is === 'table') continue;
    if (n.is === 'screen') {
      const own = app.screens.find((s) => s.id === id) ?? app.screens.find((s) => same(s.name, n.name));
      if (own) at.set(id, own.id);
      else lost.push(`the screen ${n.name}`);
      continue;
    }
    const table = app.tables.find((t) => t.id === at.get(n.table ?? ''));
    const own = table?.fields.find((f) => f.id === id) ?? table?.fields.find((f) => same(f.name, n.name));
    if (own) at.set(id, own.id);
    else if (table) lost.push(`the field ${n.name} of ${table.name}`);
  }
  // What is here and alike in all but its ids is taken for the same; what is not, comes along.
  const shape = (x: object): string => JSON.stringify(x).replace(ID, '#');
  const missing = <X extends { id: string; name: string }>(own: readonly X[], given: readonly X[]): X[] =>
    given.filter((x) => {
      const there = own.find((o) => o.id === x.id) ?? own.find((o) => shape(o) === shape(x));
      if (there) at.set(x.id, there.id);
      return !there;
    });
  const files = clip.files.filter((f) => {
    const there = app.files.find((o) => o.data === f.data);
    if (there) at.set(f.id, there.id);
    return !there;
  });
  const bundle = {
    id: newId('a'),
    list: list as T[],
    parts: missing(app.parts ?? [], clip.parts),
    routines: missing(app.routines, clip.routines),
    variables: missing(app.variables ?? [], clip.variables),
    files: [] as Clip['files'],
  };
  for (const f of files) at.set(f.id, newId('x'));
  const fresh = renamed(copyOf(cloned(bundle)), at);
  app.files = [...app.files, ...files.map((f) => ({ ...f, id: at.get(f.id)! }))];
  const named = <X extends { name: string }>(own: readonly { name: string }[], list: readonly X[]): X[] =>
    list.map((x) => ({
      ...x,
      name: freeName(
        x.name,
        own.map((o) => o.name),
      ),
    }));
  if (fresh.parts.length) app.parts = [...(app.parts ?? []), ...named(app.parts ?? [], fresh.parts)];
  app.routines = [...app.routines, ...named(app.routines, fresh.routines)];
  const taken = [
    ...app.tables.flatMap((t) => [t.name, ...t.fields.map((f) => f.name)]),
    ...(app.variables ?? []).map((v) => v.name),
  ];
  const variables = fresh.variables.map((v) => ({
    ...v,
    name: freeName(v.name, taken),
    // A variable of the screen it came from is one of the screen it comes to.
    ...(v.lasts === 'screen' && (screen ? { screen } : { lasts: 'app' as const })),
  }));
  if (variables.length) app.variables = [...(app.variables ?? []), ...variables];
  return { things: fresh.list, lost };
}

/** Everything that was named is still in the app it was copied from. */
function stillThere(app: App, clip: Clip): boolean {
  const has = (list: readonly { id: string }[] | undefined, x: { id: string }): boolean =>
    Boolean(list?.some((o) => o.id === x.id));
  return (
    clip.parts.every((x) => has(app.parts, x)) &&
    clip.routines.every((x) => has(app.routines, x)) &&
    clip.variables.every((x) => has(app.variables, x)) &&
    clip.files.every((x) => has(app.files, x))
  );
}

/** The same with other ids, in formulas too. */
function renamed<T>(thing: T, at: ReadonlyMap<string, string>): T {
  const walk = (value: unknown): unknown => {
    if (typeof value === 'string') return value.replace(ID, (id) => at.get(id) ?? id);
    if (Array.isArray(value)) return value.map(walk);
    if (value && typeof value === 'object')
      return Object.fromEntries(Object.entries(value).map(([k, v]) => [k, walk(v)]));
    return value;
  };
  return walk(thing) as T;
}
