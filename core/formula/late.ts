import type { Value } from './values.ts';
import type { WorkCalendar, WorkTimes } from './work-time.ts';

/** What few formulas use; phones fetch it for apps that do (`rare-functions.ts`). */
export const late: {
  instanceOf: (v: Value, type: string) => boolean;
  /** The known name closest to a misspelt one: for those who write formulas. */
  nearest(name: string, known: readonly string[]): string | null;
  /** When work is done, as an app says; null where it does not, or no formula needs to know. */
  workOf(app: { work?: Pick<WorkTimes, 'days' | 'free'> | undefined; zone?: string | undefined }): WorkCalendar | null;
} = {
  instanceOf: () => {
    throw new Error('What “instance of” needs is not loaded.');
  },
  nearest: () => null,
  workOf: () => null,
};
