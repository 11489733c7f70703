import type { Starter, TriggersDoc } from './trigger.ts';

/** What starts a routine among the triggers that are kept with it, of one kind. */
export const startersKept = <T extends { on: string }>(
  app: TriggersDoc,
  routine: string,
  on: T['on'],
  say: (trigger: T) => Starter | null,
): Starter[] =>
  (app.routines.find((r) => r.id === routine)?.starts ?? []).flatMap((t) => (t.on === on ? (say(t as T) ?? []) : []));
