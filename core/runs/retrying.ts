import { DAY_IS_OVER } from './day.ts';

/** A failure that may be over by itself is waited for so long, each time four times as long, and so often. */
const RETRY_MS = 15_000;
const RETRIES = 6;
/** What an app may do no more of today is tried again so often, however long that takes. */
const DAY_MS = 900_000;
/** Failures that may be over by themselves. */
const MAY_PASS: ReadonlySet<string> = new Set(['no network', 'too often', 'no answer']);

/** When a run that failed goes on by itself, and how often it was tried again by then. */
export interface Again {
  tries: number;
  at: number;
}

/** The next try after so many. */
export const nextTry = (tries: number, now: number): Again => ({ tries: tries + 1, at: now + RETRY_MS * 4 ** tries });

/** When a failure of this sort is tried again; null where it has failed for good. */
export function triedAgain(tries: number, sort: string, now: number): Again | null {
  if (sort === DAY_IS_OVER) return { tries, at: now + DAY_MS };
  return MAY_PASS.has(sort) && tries < RETRIES ? nextTry(tries, now) : null;
}
