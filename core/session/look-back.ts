import { inShort } from '../document/in-short.ts';
import { aOrAn } from '../document/names.ts';
import type { Cell } from '../fields/lists.ts';
import { DateTime } from '../formula/values.ts';
import { onDevice } from '../formula/wall-clock.ts';
import type { Draft } from '../records/change.ts';
import { trialRow } from '../records/checks.ts';
import { display } from '../records/format.ts';
import { Row } from '../records/row.ts';
import type { Records } from '../records/store.ts';
import type { HistoryAsked, HistoryMessage } from '../released/history.ts';
import type { Ask, Question } from '../routines/asks.ts';
import type { KeptValue } from '../records/kept-value.ts';
import type { SessionPorts } from './ports.ts';

/** One cell of a past change in words. */
export interface ShownCell {
  name: string;
  was: string;
  is: string;
  /** What puts back what it was; null where that cannot be, or where that is what it holds. */
  back: Extract<Draft, { do: 'set' }> | null;
}
/** One past change in words. */
export interface ShownPast {
  id: string;
  /** Such as “Sun 29 Nov 2026, 14:05”, by the clock of this device. */
  at: string;
  /** Such as “Changed by Ines Marlow”. */
  said: string;
  cells: ShownCell[];
}
export interface ShownHistory {
  all: number;
  changes: ShownPast[];
}

/** A text of more letters than this is cut where it is shown; it is put back whole. */
const LONG = 300;

const DID = { made: 'Made', changed: 'Changed', removed: 'Removed', 'brought back': 'Brought back' } as const;

/** Who made a change. */
function makerWords(by: HistoryMessage['changes'][number]['by']): string {
  switch (by.who) {
    case 'owner':
      return 'the maker of the app';
    case 'person':
      return by.name;
    case 'routine':
      return by.name ? `the routine ${by.name}` : 'a routine of the app';
    default:
      return 'somebody';
  }
}

/** A history in words, with what would put a value back. */
export function shownHistory(records: Records, { table, record }: HistoryAsked, told: HistoryMessage): ShownHistory {
  const store = records.stores.get(table);
  const model = records.model.tables.get(table);
  if (!store || !model) return { all: 0, changes: [] };
  const row = store.byId.get(record);
  const words = (field: string, cell: Cell): string => {
    const def = model.fields.get(field)!;
    if (cell === null) return '';
    // A picture of the app itself, which has no name for those who use it.
    if (typeof cell === 'string' && /^file:[a-z]_/.test(cell) && def.type === 'picture') return 'a picture of the app';
    const value = trialRow(store, record, { [field]: cell }).get(field);
    const shown = def.link
      ? [value].flat().map((v) => (v instanceof Row ? v.title() : aOrAn(linkedOne(records, def.link!.table))))
      : [display(value, def) || String(cell)];
    const text = shown.join(', ');
    return inShort(text, LONG);
  };
  return {
    all: told.all,
    changes: told.changes.map(({ id, at, did, by, cells }) => ({
      id,
      at: display(new DateTime(onDevice(Date.parse(at)))),
      said: `${DID[did]} by ${makerWords(by)}`,
      cells: cells
        .filter((c) => model.fields.has(c.field))
        .map((c) => {
          const isSame = (row?.cells[c.field] ?? null) === c.was;
          const back = { do: 'set' as const, table, record, cells: { [c.field]: c.was } };
          return {
            name: model.fields.get(c.field)!.name,
            was: words(c.field, c.was),
            is: words(c.field, c.is),
            back: !row || did === 'made' || did === 'removed' || isSame || c.gone ? null : back,
          };
        }),
    })),
  };
}

/** What a link leads to that is not here, or may not be seen. */
const linkedOne = (records: Records, table: string): string =>
  `${records.model.tables.get(table)?.table.one ?? 'record'} that is not here`;

/** What somebody presses in a history: a value to be put back, by its place, or to see what was before. */
const EARLIER = 'earlier';

/**
 * Shows somebody the history of a record, and puts back what they press. Gives the draft of that, or null when they have
 * only looked.
 */
export async function lookBack(
  records: Records,
  ports: SessionPorts,
  { table, record }: Extract<Ask, { ask: 'history' }>,
  question: (question: Question) => Promise<KeptValue | void>,
): Promise<Draft | null> {
  const services = await ports.services?.();
  if (!services?.history) throw new Error('What was before is known to the server, once the app is released.');
  let shown: ShownHistory = { all: 0, changes: [] };
  for (;;) {
    const asked = { table, record, from: shown.changes.length };
    const more = shownHistory(records, asked, await services.history(asked));
    shown = { all: more.all, changes: [...shown.changes, ...more.changes] };
    const mayWrite = records.may ? records.may.changes(records.row(table, record)!) : null;
    const backs: Draft[] = [];
    const changes = shown.changes.map((c) => ({
      ...c,
      cells: c.cells.map(({ back, ...cell }) => {
        const may = back && (!mayWrite || Object.keys(back.cells).every((f) => mayWrite.has(f)));
        return { ...cell, back: may ? backs.push(back) - 1 : null };
      }),
    }));
    const words = records.row(table, record)?.title() || 'History';
    const pressed = await question({ words, wants: 'a look back', changes, earlier: shown.all - changes.length });
    if (pressed !== EARLIER) return typeof pressed === 'number' ? (backs[pressed] ?? null) : null;
  }
}
