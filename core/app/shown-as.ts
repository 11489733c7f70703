import { placeOf } from './edits.ts';
import type { ElementMaker } from './make.ts';
import type { App, Element } from './schema.ts';
import { tableOf } from '../tables/names.ts';
import { elementKinds } from '../screens/kinds.ts';

/** The kinds that show the records of a query, any of which can become another. */
export const SHOWN_AS = ['list', 'table', 'board', 'calendar', 'plan'] as const;
export type ShownAs = (typeof SHOWN_AS)[number];
type Shows = Extract<Element, { kind: ShownAs }>;

export const isShownAs = (e: Element): e is Shows => (SHOWN_AS as readonly string[]).includes(e.kind);

/**
 * Shows the records of an element another way. What both ways have stays: which records, filters, what a tap does and
 * what is drawn of each; the rest begins as that way begins.
 */
export function showAs(app: App, id: string, kind: ShownAs, make: ElementMaker): void {
  const at = placeOf(app, id);
  const before = at?.list[at.at];
  if (!at || !before || !isShownAs(before) || before.kind === kind) return;
  const table = tableOf(app, before.query.table) ?? null;
  const begun = make.make(kind, {}, { tables: app.tables, table }) as unknown as Record<string, unknown>;
  const held = before as unknown as Record<string, unknown>;
  const { properties } = elementKinds.get(kind)!;
  const was = elementKinds.get(before.kind)!.properties;
  const same = Object.keys(properties).filter((k) => held[k] !== undefined && was[k]?.is === properties[k]!.is);
  // A table has few elements of its own: what was drawn of each record would not fit there.
  const kept = same.filter((k) => !(k === 'children' && (kind === 'table' || before.kind === 'table')));
  // What they are put together by means days in one and columns in another.
  // A name that only said what it was says it of another way now.
  const named = /^(List|Table|Board|Calendar) of /.test(before.name ?? '') ? [] : ['name'];
  const by = begun['by'];
  const next = {
    ...begun,
    ...Object.fromEntries(
      [...kept, ...named, 'id', 'seenWhen', 'worked', 'width', 'height', 'stands'].map((k) => [k, held[k]]),
    ),
    ...(by !== undefined && { by }),
  };
  for (const [k, v] of Object.entries(next)) if (v === undefined) delete (next as Record<string, unknown>)[k];
  at.list.splice(at.at, 1, next as unknown as Element);
}
