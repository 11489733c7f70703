import type { App } from '../app/schema.ts';
import { aOrAn } from '../document/names.ts';
import type { Tap } from '../document/pieces.ts';
import type { Cell } from '../fields/lists.ts';
import { keptCell } from '../records/cells.ts';
import type { Draft } from '../records/change.ts';
import { formBeginning } from '../records/form-values.ts';
import { moveInOrder } from '../records/own-order.ts';
import { Row } from '../records/row.ts';
import type { Records } from '../records/store.ts';
import type { ScreenCompiler } from '../screens/compile.ts';
import type { Spot } from '../screens/live-screen.ts';
import { fieldOf, tableOf } from '../tables/names.ts';
import type { Effect } from './effects.ts';

type OpenTap = Extract<Tap, { do: 'open' }>;

/** The nearest record in reach of a spot; with a table, of that table. */
export function nearest(spot: Spot, table?: string | null): Row | null {
  for (const value of [...spot.place.frame].reverse())
    if (value instanceof Row && (table === undefined || value.tableId === table)) return value;
  return null;
}

/** What a tap that opens a screen makes happen: the screen opens with what it needs, or it is said why it cannot. */
export function opening(app: App, tap: OpenTap, spot: Spot, compiler: ScreenCompiler): Effect {
  const said = (words: string): Effect => ({ do: 'message', words, tone: 'bad' });
  const screen = app.screens.find((s) => s.id === tap.screen);
  if (!screen) return said('The screen to open is not chosen yet.');
  const { as, height } = tap;
  const values = valuesGiven(app, tap, spot, compiler);
  const opened = (record: string | null): Effect => ({
    do: 'open',
    screen: screen.id,
    record,
    ...(as && { as }),
    ...(height && { height }),
    ...(values && { values }),
  });
  if (!screen.given || ((screen.optional || screen.finds) && !tap.give)) return opened(null);
  const given = compiler.given(tap, spot.reach, spot.place);
  if (given instanceof Row && given.tableId === screen.given) return opened(given.id);
  const one = tableOf(app, screen.given)?.one ?? 'record';
  return said(given instanceof Row ? `${screen.name} opens with ${aOrAn(one)}.` : `There is no ${one} to open.`);
}

/** What the variables of a screen, and the fields of its form for a new record, begin with when it is opened by a tap. */
function valuesGiven(app: App, tap: OpenTap, spot: Spot, compiler: ScreenCompiler): Record<string, Cell> | undefined {
  if (!tap.values?.length) return undefined;
  const table = tableOf(app, app.screens.find((s) => s.id === tap.screen)?.given ?? '');
  return Object.fromEntries(
    tap.values.flatMap(({ field, value }) => {
      const v = app.variables?.find((x) => x.id === field);
      const f = v ? undefined : fieldOf(table, field);
      const given = compiler.valueAt(value, spot.reach, spot.place);
      return v ? [[field, keptCell(v, given)]] : f ? [[field, formBeginning(f, given)]] : [];
    }),
  );
}

/** What gives the record of a row its place before another's, or the last, in the order that a number field keeps. */
export function placedBefore(records: Records, spot: Spot, before: string | null): Draft[] {
  const { ordered, query } = spot.element as unknown as { ordered?: string; query?: { table: string } };
  const row = nearest(spot, query?.table);
  if (!ordered || !row) return [];
  const placed = records.rows(row.tableId).map((r) => {
    const at = r.get(ordered);
    return { id: r.id, at: typeof at === 'number' ? at : null };
  });
  placed.sort((a, b) => (a.at ?? Infinity) - (b.at ?? Infinity) || 0);
  const numbers = moveInOrder(placed, row.id, before);
  return [...numbers].map(([record, at]) => ({ do: 'set', table: row.tableId, record, cells: { [ordered]: at } }));
}
