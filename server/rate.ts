import { rateLimit, type Options } from 'express-rate-limit';

/** Requests a minute and address; generous for people, a wall for loops. */
export const perMinute = (limit: number, more: Partial<Options> = {}) =>
  rateLimit({
    windowMs: 60_000,
    limit,
    standardHeaders: true,
    legacyHeaders: false,
    message: { error: 'Too many requests. Wait a minute, then try again.' },
    ...more,
  });
