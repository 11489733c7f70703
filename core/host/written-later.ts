import type { Change } from '../records/change.ts';
import { readStamp } from './clock.ts';
import { stampOf, type Replica } from './replica.ts';

/** What a host asks of a change that comes late. Apart from the replica, since phones do not ask it. */

/** The fields of a change that another device has written later. */
export function laterThan(replica: Replica, change: Change): string[] {
  const s = replica.state(change.record);
  if (!s || change.do !== 'set') return [];
  const by = readStamp(change.stamp).device;
  return Object.keys(change.cells).filter((f) => {
    const stamp = stampOf(s, f);
    return stamp > change.stamp && readStamp(stamp).device !== by;
  });
}

/** The fields of a change that come to nothing, since they hold what was written later. */
export function writtenSince(replica: Replica, change: Extract<Change, { do: 'set' }>): string[] {
  const s = replica.state(change.record);
  return s ? Object.keys(change.cells).filter((f) => stampOf(s, f) > change.stamp) : [];
}
