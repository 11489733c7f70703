import type { Change } from '../records/change.ts';

/** Hears of every change of a host as it is made, one by one, with all records as they are before and after it. */
export interface Watch {
  /** Records are as they were at this time, in milliseconds since 1970, while they are restored; null for now. */
  readonly asOf: number | null;
  /** The records that were kept are here; the changes made since are told next. */
  restored(): void;
  before(change: Change): void;
  /** `at` is the number of the change. */
  after(change: Change, at: number): void;
  /** Some changes were made, the last with this number. */
  made(at: number): void;
}
