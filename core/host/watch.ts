import type { Change } from '../records/change.ts';

/** Hears of every change of a host as it is made, one by one, with all records as they are before and after it. */
export interface Watch {
  before(change: Change): void;
  /** `at` is the number of the change. */
  after(change: Change, at: number): void;
  /** Some changes were made, the last with this number. */
  made(at: number): void;
}
