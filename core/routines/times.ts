/** Words for the times at which routines of the host start. */

export const DAYS = {
  monday: 'Monday',
  tuesday: 'Tuesday',
  wednesday: 'Wednesday',
  thursday: 'Thursday',
  friday: 'Friday',
  saturday: 'Saturday',
  sunday: 'Sunday',
} as const;
export type Day = keyof typeof DAYS;

/** What becomes of times that passed while the machine of the host was off. */
export const MISSED = { once: 'done once', each: 'done each', skip: 'left out' } as const;
export type Missed = keyof typeof MISSED;
