import { DateTime, DaysDuration, type Value } from '../values.ts';
import { BOOLEAN, DATETIME, DAYS } from '../types.ts';
import type { WorkCalendar } from '../work-time.ts';
import { define, type Runtime } from './define.ts';

/** A moment as an instant: one without a zone is of the app's clock. */
const instantOf = (at: DateTime, work: WorkCalendar): number =>
  at.zone !== null || at.offset !== null ? at.instant : work.instantOf(at.ms);

/** Functions of the time in which work is done, as the app says when that is; nothing where it does not say. */
export const WORK_FUNCTIONS = [
  define('working time', 'from: datetime, until: datetime', DAYS, function (this: Runtime, from: DateTime, until: DateTime): Value {
    const work = this.work?.();
    const ms = work ? work.between(instantOf(from, work), instantOf(until, work)) : null;
    return ms === null ? null : new DaysDuration(ms);
  }),
  define('after working time', 'from: datetime, duration: days', DATETIME, function (this: Runtime, from: DateTime, { ms }: DaysDuration): Value {
    const work = this.work?.();
    const at = work ? work.after(instantOf(from, work), ms) : null;
    return at === null || !work ? null : new DateTime(work.wallOf(at));
  }),
  define('is working time', 'at: datetime', BOOLEAN, function (this: Runtime, at: DateTime): Value {
    const work = this.work?.();
    return work ? work.isAt(instantOf(at, work)) : null;
  }),
]; // prettier-ignore
