import type { Change, RecordState } from '../records/change.ts';
import type { HybridClock } from './clock.ts';
import type { KeptAlong } from './kept-along.ts';
import type { Replica } from './replica.ts';

/** As much of a device as many records at once need. */
interface Brings {
  queue: Change[];
  position: number;
  readonly replica: Replica;
  readonly clock: HybridClock;
  readonly kept: KeptAlong;
  readonly hasHost: boolean;
  nextId(): string;
  onQueued(): void;
}

/** Takes many new records at once, as an import brings them. `progress` hears how many are kept. */
export async function bring(
  device: Brings,
  records: readonly { table: string; id: string; cells: RecordState['cells'] }[],
  progress: (kept: number) => void = () => {},
): Promise<void> {
  const states = records.map((r): RecordState => ({
    table: r.table,
    id: r.id,
    cells: r.cells,
    stamp: device.clock.next(),
  }));
  const queued = device.hasHost ? states.flatMap((s) => changesOf(s, device)) : [];
  for (let i = 0; i < states.length; i += 5000) {
    const part = states.slice(i, i + 5000);
    await device.kept.bulk({ states: part, queued: queued.slice(i, i + 5000) });
    progress(Math.min(states.length, i + 5000));
  }
  for (const change of queued) device.queue.push(change);
  device.replica.load(states);
  if (queued.length) device.onQueued();
}

/** Puts every record in the queue, as the first release of an app needs it. */
export async function queueAll(device: Brings): Promise<void> {
  // In the order the records were made, so that they stand in it everywhere.
  const states = [...device.replica.all()].sort((a, b) => (a.stamp < b.stamp ? -1 : 1));
  device.queue = states.flatMap((s) => changesOf(s, device)).map((c) => ({ ...c, brought: true as const }));
  device.position = 0;
  await device.kept.save({ queued: device.queue, at: 0 });
}

/** The changes that make a record what it is: one for each stamp its cells have. */
function changesOf(s: RecordState, device: Brings): Change[] {
  const byStamp = new Map<string, RecordState['cells']>();
  for (const [field, cell] of Object.entries(s.cells)) {
    const stamp = s.stamps?.[field] ?? s.stamp;
    const cells = byStamp.get(stamp) ?? {};
    cells[field] = cell;
    byStamp.set(stamp, cells);
  }
  const base = { table: s.table, record: s.id };
  const changes: Change[] = Array.from(byStamp, ([stamp, cells]) => ({
    ...base,
    id: device.nextId(),
    stamp,
    do: 'set' as const,
    cells,
  }));
  if (s.removed) changes.push({ ...base, id: device.nextId(), stamp: s.removed, do: 'remove' });
  if (s.restored) changes.push({ ...base, id: device.nextId(), stamp: s.restored, do: 'restore', cells: {} });
  return changes;
}
