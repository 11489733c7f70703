import type { App, Routine } from '../app/schema.ts';
import type { Change } from '../records/change.ts';
import { Overlay } from '../records/overlay.ts';
import type { Records } from '../records/store.ts';
import { ClockStarts, type Upcoming } from './clock-starts.ts';
import type { LateChange } from './lately.ts';
import { recordTest } from './ready.ts';
import { RecordStarts } from './record-starts.ts';
import { zoneOf } from './starting.ts';

/** What one of the latest changes would have done. */
export interface WouldStart {
  id: string;
  at: number;
  /** The record, by its title. */
  title: string;
  did: 'added' | 'changed' | 'removed';
  byRoutine: boolean;
  starts: boolean;
}

/**
 * Which of the latest changes a trigger of a routine would have answered to: the record is laid over the records as it was
 * and as it became; records that it links to are as they are now. Null for a trigger that does not look at changes.
 */
export function wouldHaveStarted(
  records: Records,
  app: App,
  routine: Routine,
  at: number,
  lately: readonly LateChange[],
): WouldStart[] | null {
  const trigger = routine.starts?.[at];
  if (trigger?.on !== 'record changed' && trigger?.on !== 'record becomes') return null;
  const of = trigger.on === 'record changed' ? changedBy(records, app, routine, trigger) : becameSo(records, trigger);
  return lately.filter((c) => c.table === trigger.table).map((late) => tried(records, late, of));
}

/**
 * What the clock will start by one trigger of a routine, as records are now: for a date of records, the soonest of them
 * within a year. Null for none, and for a trigger that does not go by the clock.
 */
export function startsNext(records: Records, app: App, routine: Routine, at: number, now: number): Upcoming | null {
  const trigger = routine.starts?.[at];
  if (trigger?.on !== 'clock' && trigger?.on !== 'date reached') return null;
  const alone = { ...app, routines: [{ ...routine, starts: [trigger] }] };
  const clocks = new ClockStarts(records, alone, zoneOf(app));
  const next = clocks.upcoming(now)[0] ?? null;
  clocks.close();
  return next;
}

interface Answers {
  before(change: Change): void;
  starts(change: Change): boolean;
}

function changedBy(
  records: Records,
  app: App,
  routine: Routine,
  trigger: NonNullable<Routine['starts']>[number],
): Answers {
  const finds = new RecordStarts(records, { ...app, routines: [{ ...routine, starts: [trigger] }] });
  return { before: (c) => finds.before(c), starts: (c) => finds.after(c).length > 0 };
}

function becameSo(
  records: Records,
  { table, where }: { table: string; where: Parameters<typeof recordTest>[2] },
): Answers {
  const test = recordTest(records, table, where);
  const holds = ({ record }: Change): boolean => {
    const row = records.row(table, record);
    return row !== undefined && test.holds(row);
  };
  let held = false;
  return { before: (c) => void (held = holds(c)), starts: (c) => !held && holds(c) };
}

/** Makes a change again over the records, and takes it away again. */
function tried(records: Records, late: LateChange, answers: Answers): WouldStart {
  const { id, at, table, record, byRoutine, was, is } = late;
  const overlay = new Overlay(records);
  const becomes = (cells: LateChange['was']): void => {
    const now = records.row(table, record)?.cells ?? {};
    const gone = Object.fromEntries(Object.keys(now).map((f) => [f, null]));
    overlay.lay([cells ? { do: 'set', table, record, cells: { ...gone, ...cells } } : { do: 'remove', table, record }]);
  };
  const title = (): string => records.row(table, record)?.title() ?? '';
  const change: Change = {
    do: 'set',
    id,
    stamp: '',
    table,
    record,
    cells: {},
    ...(byRoutine && { run: { id: '', path: [] } }),
  };
  try {
    becomes(was);
    const before = title();
    answers.before(change);
    becomes(is);
    const starts = answers.starts(change);
    return { id, at, byRoutine, starts, title: title() || before, did: !was ? 'added' : is ? 'changed' : 'removed' };
  } finally {
    overlay.lift();
  }
}
