import type { LiveRun, RunsNow } from './live-run.ts';
import { usedUpTo } from './used.ts';

/** What an app may do by itself in a day, which is the 24 hours up to now: so nothing comes all at once at midnight. */
export interface DayLimits {
  /** Runs that begin. */
  runs: number;
  /** Minutes that runs are at work, all together. */
  minutes: number;
  /** Mails that leave the app, those of phones among them. */
  mails: number;
}
export const DAY_LIMITS: DayLimits = { runs: 100_000, minutes: 600, mails: 2000 };

/** The sort of failure that says that an app may do no more of something today. */
export const DAY_IS_OVER = 'day is over';

/** From this part of a limit on it is told. */
export const NEAR = 0.8;

/** What an app has used of what it may, and what is told of that. */
export interface DayUse {
  of: keyof DayLimits;
  used: number;
  most: number;
}

/** Holds the runs of an app to what they may do in a day. */
export class Day {
  /** What was told to be near already, until it is not any more. */
  private readonly told = new Set<string>();
  /** Runs that have begun and not ended. */
  private readonly begun = new Set<string>();

  constructor(
    private readonly now: RunsNow,
    private readonly limits: DayLimits,
    private readonly time: () => number,
    /** Mails that left the app in the 24 hours up to now. */
    private readonly mails: () => number,
    private readonly say: (words: string) => void,
  ) {}

  get use(): DayUse[] {
    const { limits } = this;
    const { runs, ms } = usedUpTo(this.now.used, this.time());
    return [
      { of: 'runs', used: runs + this.begun.size, most: limits.runs },
      { of: 'minutes', used: Math.floor(ms / 60_000), most: limits.minutes },
      { of: 'mails', used: this.mails(), most: limits.mails },
    ];
  }

  /** May a run go on, or begin? */
  mayGo(run: LiveRun): boolean {
    const { runs, ms } = usedUpTo(this.now.used, this.time());
    const { limits } = this;
    if (ms >= limits.minutes * 60_000) return false;
    return run.kept !== null || this.begun.has(run.id) || runs + this.begun.size < limits.runs;
  }

  begins(run: LiveRun): void {
    if (run.kept === null) this.begun.add(run.id);
  }
  /** It has ended, or stands somewhere: from there it goes on whatever the day has had. */
  stands(run: LiveRun): void {
    this.begun.delete(run.id);
  }

  /** Says what is near its limit, or over it: once, until it is not any more. */
  tell(): void {
    for (const { of, used, most } of this.use) {
      for (const [part, words] of [
        [NEAR, `It has used ${used} of the ${most} ${of} that it may in 24 hours.`],
        [
          1,
          `It has used all ${most} ${of} that it may in 24 hours: what starts is kept, and goes on as soon as it may.`,
        ],
      ] as const) {
        const key = `${of} ${part}`;
        if (used < most * part) this.told.delete(key);
        else if (!this.told.has(key)) {
          this.told.add(key);
          // Over the limit alone is told where both come at once.
          if (part === 1 || used < most) this.say(words);
        }
      }
    }
  }
}
