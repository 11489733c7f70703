import { forgetFieldInAccess, forgetTableInAccess } from './access-edits.ts';
import type { Link, Where } from '../document/pieces.ts';
import { noConditions } from '../document/queries.ts';
import { drawnOf } from './names.ts';
import { ElementMaker } from './make.ts';
import { elementKinds } from '../screens/kinds.ts';
import { fieldKind } from '../fields/kinds.ts';
import { slotsOf } from '../document/meaning.ts';
import { cloned, copyOf } from '../document/copy.ts';
import { elementLists, walkElements } from '../document/walk.ts';
import { newId } from '../document/ids.ts';
import { freeName, singular } from '../document/names.ts';
import { namesInTable, tableOf } from '../tables/names.ts';
import type { App, BoxElement, Element, Screen } from './schema.ts';
import { bestFor } from '../tables/serves.ts';
import type { Field, FieldType, Table, View } from '../tables/schema.ts';
import { asWords } from '../records/words.ts';

/** Edits of an app document. Each changes the draft it is given; the caller names the edit and can undo it. */

/** What a table is called before its maker says so, and one record of it. */
const UNNAMED = 'New table';
const RECORD = 'record';

export function addTable(app: App, name = UNNAMED): Table {
  const title: Field = { id: newId('f'), name: 'Name', type: 'text' };
  const free = freeName(
    name,
    app.tables.map((t) => t.name),
  );
  const table: Table = {
    id: newId('t'),
    name: free,
    // Until it is called something, what it holds is called as little.
    one: free.startsWith(UNNAMED) ? RECORD : singular(free),
    fields: [title],
    titleField: title.id,
    pictureField: null,
  };
  app.tables.push(table);
  return table;
}

export function renameTable(app: App, id: string, name: string): void {
  const table = tableOf(app, id);
  if (!table) return;
  const wasDerived = table.one === singular(table.name) || table.one === RECORD;
  table.name = freeName(
    name,
    app.tables.filter((t) => t.id !== id).map((t) => t.name),
  );
  if (wasDerived) table.one = singular(table.name);
}

export function removeTable(app: App, id: string): void {
  forgetTableInAccess(app, id);
  if (app.people === id) delete app.people;
  app.tables = app.tables.filter((t) => t.id !== id);
  for (const t of app.tables)
    for (const f of t.fields)
      if (f.link?.table === id) {
        delete f.link;
        f.type = 'text';
      }
}

export function addField(app: App, tableId: string, type: FieldType, name = 'New field'): Field {
  const table = tableOf(app, tableId)!;
  const field = { id: newId('f'), name: freeName(name, namesInTable(app, tableId)), type } as Field;
  Object.assign(field, fieldKind(type).starts?.([]));
  table.fields.push(field);
  return field;
}

/** A link whose record is picked from a table; the other end calls its records by this name, as far as it is free. */
export const pickedLink = (app: App, to: Table, backName: string): Link => ({
  kind: 'picked',
  table: to.id,
  backName: freeName(backName, namesInTable(app, to.id)),
});

/**
 * Leads a link to another table: its records are picked from there. A name that came from the table before is that of the
 * new one, and so is what the other end calls it.
 */
export function leadLink(app: App, tableId: string, fieldId: string, target: string): void {
  const table = tableOf(app, tableId);
  const field = table?.fields.find((f) => f.id === fieldId);
  const to = tableOf(app, target);
  if (!table || !field?.link || !to) return;
  const before = tableOf(app, field.link.table);
  const isDerived = before && field.name.replace(/ \d+$/, '').toLowerCase() === before.one.toLowerCase();
  const { backName } = field.link;
  delete field.link;
  field.link = pickedLink(app, to, backName || table.name);
  if (isDerived) renameField(app, tableId, fieldId, to.one.charAt(0).toUpperCase() + to.one.slice(1));
}

export function renameField(app: App, tableId: string, fieldId: string, name: string): void {
  const field = tableOf(app, tableId)?.fields.find((f) => f.id === fieldId);
  if (field)
    field.name = freeName(
      name,
      namesInTable(app, tableId).filter((n) => n !== field.name),
    );
}

export function removeField(app: App, tableId: string, fieldId: string): void {
  const table = tableOf(app, tableId);
  if (!table) return;
  table.fields = table.fields.filter((f) => f.id !== fieldId);
  if (table.titleField === fieldId) table.titleField = bestFor(table.fields, 'title') ?? table.fields[0]?.id ?? null;
  if (table.pictureField === fieldId) table.pictureField = bestFor(table.fields, 'picture');
  table.key = table.key?.filter((id) => id !== fieldId);
  if (table.ownOrder === fieldId) delete table.ownOrder;
  for (const t of app.tables) if (t.view) forgetInView(t.view, fieldId);
  forgetFieldInAccess(app, fieldId);
  // A link that matches by this field has nothing to go by any more.
  for (const t of app.tables) t.fields = t.fields.filter((f) => f.link?.from !== fieldId && f.link?.to !== fieldId);
}

/** Takes a field out of a view, with the conditions and orders that go by it. */
function forgetInView(view: View, fieldId: string): void {
  const goesBy = (formula: string): boolean => formula.split(/[^a-z0-9_]+/).includes(fieldId);
  const forget = (w: Where): void => {
    w.conditions = w.conditions.filter((c) => !goesBy(c.left) && !goesBy(c.right));
    w.groups?.forEach(forget);
  };
  forget(view.where);
  view.order = view.order.filter((o) => !goesBy(o.by));
  view.hidden = view.hidden.filter((id) => id !== fieldId);
  if (view.group === fieldId) view.group = null;
  delete view.widths[fieldId];
  delete view.figures[fieldId];
}

/** A view that shows a table as it is. */
export const plainView = (): View => ({
  where: noConditions(),
  order: [],
  group: null,
  hidden: [],
  widths: {},
  frozen: 1,
  figures: {},
});

/** Moves a field in front of another, or to the end. */
export function moveFieldBefore(app: App, tableId: string, fieldId: string, before: string | null): void {
  const fields = tableOf(app, tableId)?.fields;
  const at = fields?.findIndex((f) => f.id === fieldId) ?? -1;
  if (!fields || at < 0 || before === fieldId) return;
  const [field] = fields.splice(at, 1);
  const to = before === null ? -1 : fields.findIndex((f) => f.id === before);
  fields.splice(to < 0 ? fields.length : to, 0, field!);
}

/** Gives a table an order of its own: a number field that dragging writes. */
export function addOwnOrder(app: App, tableId: string): Field {
  const table = tableOf(app, tableId)!;
  const field = addField(app, tableId, 'number', 'Own order');
  table.ownOrder = field.id;
  table.view ??= plainView();
  table.view.hidden.push(field.id);
  table.view.order = [{ by: field.id, descending: false }];
  table.view.group = null;
  return field;
}

/** The app facts: made when there are none yet. */
export function addFacts(app: App): Table {
  const present = app.tables.find((t) => t.facts);
  if (present) return present;
  const table = addTable(app, 'App facts');
  table.one = 'app facts';
  table.facts = true;
  table.fields = [];
  table.titleField = null;
  return table;
}

export function moveField(app: App, tableId: string, fieldId: string, by: number): void {
  const fields = tableOf(app, tableId)?.fields;
  if (fields)
    moveBy(
      fields,
      fields.findIndex((f) => f.id === fieldId),
      by,
    );
}

/** Moves one of a list by so many places; beyond an end it stays where it is. */
export function moveBy<T>(list: T[], at: number, by: number): void {
  const to = at + by;
  if (at < 0 || to < 0 || to >= list.length) return;
  const [item] = list.splice(at, 1);
  list.splice(to, 0, item!);
}

/** The list of an element's first slot, where others are put into it; null when it holds none. */
export function insideOf(e: Element): Element[] | null {
  const [slot] = slotsOf(elementKinds.get(e.kind)?.properties ?? {}, 'elements');
  return slot ? ((e as unknown as Record<string, Element[]>)[slot] ?? null) : null;
}

/** Where an element stands: in a list of its parent, or as a screen's root in none. */
interface Stands {
  screen: Screen;
  parent: Element | null;
  list: Element[];
  at: number;
}

/** The first element below a list that `is` what is looked for. */
function within(screen: Screen, parent: Element, list: Element[], is: (at: Stands) => boolean): Stands | null {
  for (let at = 0; at < list.length; at++) {
    const here = { screen, parent, list, at };
    if (is(here)) return here;
    const found = below(screen, list[at]!, is);
    if (found) return found;
  }
  return null;
}
function below(screen: Screen, owner: Element, is: (at: Stands) => boolean): Stands | null {
  for (const list of elementLists(owner)) {
    const found = within(screen, owner, list, is);
    if (found) return found;
  }
  return null;
}

/** Of apps that change no more, where each element stands; a draft is searched each time. */
const standing = new WeakMap<App, Map<string, Stands>>();

/** The list that holds an element, and its place there. */
export function placeOf(app: App, elementId: string): Stands | null {
  const root = (screen: Screen): Stands => ({ screen, parent: null, list: [], at: -1 });
  if (!Object.isFrozen(app)) {
    for (const screen of drawnOf(app)) {
      if (screen.root.id === elementId) return root(screen);
      const found = below(screen, screen.root, ({ list, at }) => list[at]!.id === elementId);
      if (found) return found;
    }
    return null;
  }
  let all = standing.get(app);
  if (!all) {
    const known = new Map<string, Stands>();
    for (const screen of drawnOf(app)) {
      known.set(screen.root.id, root(screen));
      below(screen, screen.root, (here) => {
        known.set(here.list[here.at]!.id, here);
        return false;
      });
    }
    standing.set(app, (all = known));
  }
  return all.get(elementId) ?? null;
}

export const elementOf = (app: App, id: string): Element | null => {
  const p = placeOf(app, id);
  return p ? (p.list[p.at] ?? p.screen.root) : null;
};

/**
 * An element in a draft of the app as it is: reached straight down its way, so that the draft takes in nothing else and
 * costs what the way is long.
 */
export function inDraft(app: App, draft: App, id: string): Element | null {
  const way: [slot: string, at: number][] = [];
  for (let here = placeOf(app, id); here;) {
    const { parent, list, at, screen } = here;
    if (!parent) {
      const root = draft.screens[app.screens.indexOf(screen)]?.root;
      return root
        ? way.reduceRight<Element>((e, [slot, i]) => (e as unknown as Record<string, Element[]>)[slot]![i]!, root)
        : elementOf(draft, id);
    }
    const slots = parent as unknown as Record<string, unknown>;
    way.push([Object.keys(slots).find((k) => slots[k] === list)!, at]);
    here = placeOf(app, parent.id);
  }
  return null;
}

/** Puts an element in: inside a container, or behind any other element. */
export function insertElement(app: App, element: Element, at: string): void {
  const target = placeOf(app, at);
  if (!target) return;
  const there = target.list[target.at] ?? target.screen.root;
  const within = insideOf(there);
  if (within) within.push(element);
  else target.list.splice(target.at + 1, 0, element);
}

export function removeElement(app: App, id: string): void {
  const p = placeOf(app, id);
  if (p?.parent) p.list.splice(p.at, 1);
}

export function duplicateElement(app: App, id: string): Element | null {
  const p = placeOf(app, id);
  if (!p?.parent) return null;
  const copy = copyOf(p.list[p.at]!);
  p.list.splice(p.at + 1, 0, copy);
  return copy;
}

export function shiftElement(app: App, id: string, by: number): void {
  const p = placeOf(app, id);
  if (p) moveBy(p.list, p.at, by);
}

/**
 * Moves an element before or behind another, or inside a container. Where that is not possible it goes to the nearest
 * place that is; never into itself.
 */
export function moveElement(app: App, id: string, to: string, where: 'before' | 'after' | 'inside'): void {
  const from = placeOf(app, id);
  if (!from?.parent || id === to) return;
  const element = from.list[from.at]!;
  let inItself = false;
  walkElements([element], (e) => {
    inItself ||= e.id === to;
  });
  if (inItself) return;
  from.list.splice(from.at, 1);
  const target = placeOf(app, to)!;
  const there = target.list[target.at] ?? target.screen.root;
  // Nothing stands beside a screen's root, and nothing inside what holds no others.
  const within = where === 'inside' || !target.parent ? insideOf(there) : null;
  if (within) within.push(element);
  else target.list.splice(target.at + (where === 'before' ? 0 : 1), 0, element);
}

export function addScreen(app: App, name: string, given: string | null = null): Screen {
  const make = new ElementMaker();
  const root: BoxElement = make.box('down', [make.text(asWords(name), 'title')], { inside: 16, gap: 12 });
  const screen: Screen = {
    id: newId('s'),
    name: freeName(
      name,
      app.screens.map((s) => s.name),
    ),
    given,
    icon: 'circle-dot',
    root,
  };
  app.screens.push(screen);
  return screen;
}

/** Renames a screen; its tab and its heading follow where they were called the same. */
export function renameScreen(app: App, id: string, name: string): void {
  const screen = app.screens.find((s) => s.id === id);
  if (!screen) return;
  const old = screen.name;
  screen.name = name;
  const tab = app.tabs.find((t) => t.screen === id);
  if (tab?.name === old) tab.name = name;
  const heading = screen.root.children.find((e) => e.kind === 'text');
  if (heading?.kind === 'text' && heading.words === asWords(old)) heading.words = asWords(name);
}

export function duplicateScreen(app: App, id: string): Screen | null {
  const source = app.screens.find((s) => s.id === id);
  if (!source) return null;
  const copy: Screen = {
    ...cloned(source),
    id: newId('s'),
    name: freeName(
      source.name,
      app.screens.map((s) => s.name),
    ),
    root: copyOf(source.root),
  };
  app.screens.push(copy);
  return copy;
}

export function removeScreen(app: App, id: string): void {
  app.screens = app.screens.filter((s) => s.id !== id);
  app.tabs = app.tabs.filter((t) => t.screen !== id);
  if (app.drawer) app.drawer.ways = app.drawer.ways.filter((w) => w.screen !== id);
  for (const key of ['first', 'every'] as const) if (app.starts?.[key] === id) delete app.starts[key];
}
