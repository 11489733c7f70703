import { z } from 'zod';

/** So many times of work a day has, and so many days without work an app. */
export const MOST_TIMES = 4;
export const MOST_FREE_DAYS = 500;

const Minute = z.number().int().min(0).max(1440);
const Times = z
  .array(z.tuple([Minute, Minute]))
  .max(MOST_TIMES)
  .refine(
    (times) => times.every(([from, until], i) => from < until && (i === 0 || times[i - 1]![1] <= from)),
    'Times of work end after they begin, and come one after the other.',
  );

/** When work is done: see `WorkTimes` of formulas. */
export const WorkSchema = z.object({
  days: z.array(Times).length(7),
  free: z.array(z.iso.date()).max(MOST_FREE_DAYS),
});
export type Work = z.infer<typeof WorkSchema>;
