import type { Change, Draft, RecordState } from '../records/change.ts';
import { raised } from '../records/raise.ts';
import type { Cell } from '../fields/lists.ts';
import { readStamp } from './clock.ts';
import { isSameDevice, type Device } from './device.ts';
import { cellsBefore, isRemoved } from './replica.ts';

/** Changes as they were made, and the ones that take them back, the last first. */
export interface Written {
  made: Change[];
  back: Draft[];
}

/** What would be taken back was changed by somebody since; nothing was taken back. */
export class ChangedSince extends Error {
  override name = 'ChangedSince';
}

/** Several that were written one after the other, as one. */
export const joined = (list: readonly Written[]): Written => ({
  made: list.flatMap((w) => w.made),
  back: list.toReversed().flatMap((w) => w.back),
});

/** Makes changes, and gives what takes them back. */
export async function writeWithUndo(
  device: Device,
  drafts: readonly Draft[],
  together = false,
  wrote?: string,
): Promise<Written> {
  // Each is taken back to what the ones before it have made.
  const ahead = new Map<string, RecordCells>();
  const back = drafts.map((d) => {
    const now = ahead.get(d.record) ?? nowIn(device, d.record);
    ahead.set(d.record, after(now, d));
    return backOf(now, d);
  });
  return { made: await device.write(drafts, together, wrote), back: back.reverse() };
}

/** The cells of a record, or those it had when it was removed. */
interface RecordCells {
  isThere: boolean;
  cells: RecordState['cells'];
}

function nowIn({ replica }: Device, record: string): RecordCells {
  const state = replica.state(record);
  if (!state) return { isThere: false, cells: {} };
  return isRemoved(state) ? { isThere: false, cells: cellsBefore(state) } : { isThere: true, cells: state.cells };
}

function after({ isThere, cells }: RecordCells, d: Draft): RecordCells {
  switch (d.do) {
    case 'remove':
      return { isThere: false, cells };
    case 'restore':
      return { isThere: true, cells: { ...cells, ...d.cells } };
    case 'raise': {
      const sums = Object.entries(d.by).map(([f, n]) => [f, raised(cells[f], n)] as const);
      return {
        isThere: isThere || d.makes !== undefined,
        cells: { ...(isThere ? cells : d.makes), ...d.cells, ...Object.fromEntries(sums) },
      };
    }
    case 'set':
      return { isThere: true, cells: { ...(isThere && cells), ...d.cells } };
  }
}

function backOf({ isThere, cells }: RecordCells, d: Draft): Draft {
  const { table, record } = d;
  switch (d.do) {
    case 'raise':
      return { do: 'raise', table, record, by: Object.fromEntries(Object.entries(d.by).map(([f, n]) => [f, -n])) };
    case 'remove':
      return { do: 'restore', table, record, cells: { ...cells } };
    case 'restore':
      return { do: 'remove', table, record };
    case 'set':
      if (!isThere) return { do: 'remove', table, record };
      return { ...d, cells: Object.fromEntries(Object.keys(d.cells).map((f) => [f, cells[f] ?? null])) };
  }
}

/**
 * Takes back what was written, all of it or nothing. Every cell that was written must be as the last change left it, and
 * a record that was made must have nothing that others wrote since: else it throws a {@link ChangedSince} that says what
 * was changed. Amounts can always be taken back.
 */
export async function takeBack(device: Device, written: Written, together = false): Promise<Written> {
  const fresh = new Set(written.back.flatMap((d) => (d.do === 'remove' ? [d.record] : [])));
  for (const [record, changes] of byRecord(written.made)) {
    const changed = changedSince(device, record, changes, fresh.has(record));
    if (changed) throw new ChangedSince(changed);
  }
  return writeWithUndo(device, written.back, together);
}

function byRecord(changes: readonly Change[]): Map<string, Change[]> {
  const by = new Map<string, Change[]>();
  for (const c of changes) {
    const known = by.get(c.record);
    if (known) known.push(c);
    else by.set(c.record, [c]);
  }
  return by;
}

/** What somebody has changed of a record since these changes were made, in words; null for nothing. */
function changedSince(
  { id, replica }: Device,
  record: string,
  changes: readonly Change[],
  isNew: boolean,
): string | null {
  const state = replica.state(record);
  const last = changes.at(-1)!;
  const model = replica.records.model.tables.get(last.table);
  const one = model?.table.one ?? 'record';
  const isGone = state === undefined || isRemoved(state);
  const title = replica.records.row(last.table, record)?.title() || `a ${one}`;
  if (last.do === 'remove') return isGone ? null : `${title} was brought back meanwhile.`;
  if (isGone)
    return `${state ? titleOf(state, model?.table.titleField) || `A ${one}` : `A ${one}`} was removed meanwhile.`;
  const left = cellsLeft(changes);
  const stamps = new Set(changes.map((c) => c.stamp));
  const own = (field: string, cell: Cell | undefined): boolean => {
    const stamp = state.stamps?.[field] ?? state.stamp;
    if (stamps.has(stamp)) return true;
    // What the host has counted or corrected has a stamp of its own, and so has what was undone and done again here, also
    // before the app was opened anew:
    // the value tells whether it is still the same.
    const by = readStamp(stamp).device;
    return (by === 'host' || isSameDevice(by, id)) && (state.cells[field] ?? null) === (cell ?? null);
  };
  const fields = isNew ? Object.keys(state.cells) : [...left.keys()];
  for (const field of fields) {
    const cell = left.get(field);
    // Amounts alone are taken back from whatever stands there.
    if (cell === 'amount' || own(field, cell)) continue;
    return `${model?.fields.get(field)?.name ?? 'A field'} of ${title} was changed meanwhile.`;
  }
  return null;
}

/** The cells as changes have left them; "amount" for one that they only added to. */
function cellsLeft(changes: readonly Change[]): Map<string, Cell | 'amount'> {
  const left = new Map<string, Cell | 'amount'>();
  for (const c of changes) {
    if (c.do === 'raise')
      for (const [field, by] of Object.entries(c.by)) {
        const before = left.get(field);
        left.set(field, before === undefined || before === 'amount' ? 'amount' : raised(before, by));
      }
    else if (c.do !== 'remove') for (const [field, cell] of Object.entries(c.cells ?? {})) left.set(field, cell);
  }
  return left;
}

const titleOf = (s: RecordState, field: string | null | undefined): string => {
  const cell = field ? cellsBefore(s)[field] : null;
  return typeof cell === 'string' ? cell : '';
};
