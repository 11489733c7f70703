import type { App } from '../app/schema.ts';
import type { Of, Spot } from '../app/scene-schema.ts';
import { elementOf } from '../app/edits.ts';
import { elementName } from '../app/names.ts';
import { nearestFew } from './nearest.ts';
import { ownerOf } from '../screens/part-places.ts';
import type { DrawnNode } from '../screens/element.ts';
import type { RehearsedPhone } from '../rehearsal/rehearsed-phone.ts';
import { rowsOf } from '../rehearsal/seen.ts';
import { isPressed, rowReads, wordsOf } from './reads.ts';

/** Longer words are cut where a place is known by them, and where a sentence calls it by them. */
const MOST_WORDS = 200;
const MOST_NAME = 60;

/** A record as a phone knows it. */
export function ofRecord(app: App, phone: RehearsedPhone, record: string): Of | undefined {
  for (const { id } of app.tables) {
    const row = phone.there.records.row(id, record);
    if (row) return { table: id, record, name: row.title().slice(0, MOST_WORDS) };
  }
  return undefined;
}

/** Where a key on an open screen is: by ids, and by what people read there. */
export function spotAt(app: App, phone: RehearsedPhone, view: string, key: string): Spot {
  const { seen } = phone;
  const nodes = seen.screens.get(view)?.nodes ?? new Map<string, DrawnNode>();
  const node = seen.nodeAt(view, key);
  const isRow = node !== undefined && node.key !== key;
  const record = seen.rowOf(view, key);
  const of = record ? ofRecord(app, phone, record) : undefined;
  const words = node ? (isRow ? rowReads(nodes, node, key) : wordsOf(nodes, key)) : '';
  return {
    screen: seen.where?.stack.find((p) => p.opening === view)?.screen ?? app.screens[0]!.id,
    element: node?.id ?? key.split('/').at(-1)!,
    ...(of && { of }),
    words: words.slice(0, MOST_WORDS),
  };
}

/** A place that was found on a phone. */
export interface Found {
  view: string;
  key: string;
  node: DrawnNode;
  /** It was found by something else than what it was known by. */
  remark?: string;
}

/** It was not found: what was looked for, and what is nearest. */
export interface Missing {
  looked: string;
  nearest: string[];
}

/** What a place is called now: the element by its name in the app, with the record of its row. */
export function spotName(app: App, { element, of, words }: Spot): string {
  const known = elementOf(app, ownerOf(element));
  // A box that is pressed is known by what people read in it.
  const isRead = !known || (known.kind === 'box' && words !== '' && !of?.name);
  const name = isRead ? [...words].slice(0, MOST_NAME).join('') : elementName(app, known);
  if (!of?.name) return name || 'something';
  // A row of records is called by its record.
  return (known && 'query' in known) || !name ? of.name : `${name} of ${of.name}`;
}

/** Finds a place again: by its ids, or by what people read. */
export function find(app: App, phone: RehearsedPhone, spot: Spot): Found | Missing {
  const open = phone.seen.open;
  for (const { opening, shown } of open) {
    for (const node of shown.nodes.values()) {
      if (node.id !== spot.element) continue;
      const found = within(phone, opening, node, spot);
      if (found) return found;
    }
  }
  // Made anew it has another id, and still says the same.
  const called = spotName(app, spot);
  for (const { opening, shown } of open)
    for (const node of shown.nodes.values())
      if (spot.words && isPressed(node) && wordsOf(shown.nodes, node.key) === spot.words) {
        const row = phone.seen.rowOf(opening, node.key);
        if (!spot.of || row === spot.of.record || titleOf(phone, spot.of.table, row) === spot.of.name)
          return { view: opening, key: node.key, node, remark: `${called} was found by its words.` };
      }
  const known = open.flatMap(({ shown }) =>
    [...shown.nodes.values()].flatMap((n) => [
      ...(isPressed(n) && rowsOf(n).length === 0 ? [wordsOf(shown.nodes, n.key)] : []),
      ...rowsOf(n).map((r) => rowReads(shown.nodes, n, r.key)),
    ]),
  );
  return { looked: called, nearest: nearestFew(spot.of?.name ?? called, known) };
}

/** The place within an element of this id: itself, or the row of a record in it. */
function within(phone: RehearsedPhone, view: string, node: DrawnNode, { of }: Spot): Found | null {
  const { seen } = phone;
  const rows = rowsOf(node);
  if (!of) return { view, key: node.key, node };
  const around = seen.rowOf(view, node.key);
  if (around === of.record) return { view, key: node.key, node };
  const row = rows.find((r) => r.record === of.record);
  if (row) return { view, key: row.key, node };
  const isNamed = (record: string | null): boolean => titleOf(phone, of.table, record) === of.name;
  const remark = `${of.name} is another record of this name.`;
  if (of.name && around && isNamed(around)) return { view, key: node.key, node, remark };
  const named = of.name ? rows.filter((r) => isNamed(r.record)) : [];
  return named.length === 1 ? { view, key: named[0]!.key, node, remark } : null;
}

const titleOf = (phone: RehearsedPhone, table: string, record: string | null): string =>
  (record && phone.there.records.row(table, record)?.title()) || '';

/** The lists that are open and have more rows than are drawn. */
export function longLists(phone: RehearsedPhone, element: string): { view: string; key: string; total: number }[] {
  return phone.seen.open.flatMap(({ opening, shown }) =>
    [...shown.nodes.values()].flatMap((n) => {
      const total = Number(n['total'] ?? 0);
      return n.id === element && total > rowsOf(n).length ? [{ view: opening, key: n.key, total }] : [];
    }),
  );
}
