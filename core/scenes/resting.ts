import { deviceClock, pause } from '../document/time.ts';
import type { Rehearsal } from '../rehearsal/rehearsal.ts';

/** What takes time that no clock of a rehearsal counts, such as reading a file, is waited for so long at most, in milliseconds. */
const MOST_MS = 3000;

/** What must come to rest of a rehearsal. */
export type Resting = Pick<Rehearsal, 'phones' | 'settle'>;

/** Lets what is under way in a rehearsal come to rest, until each phone shows the screens that are open on it. */
export async function rest(room: Resting): Promise<void> {
  await room.settle();
  for (const end = deviceClock.now() + MOST_MS; !isDrawn(room) && deviceClock.now() < end;) {
    await pause(deviceClock, 1);
    await room.settle();
  }
}

const isDrawn = (room: Resting): boolean =>
  Object.values(room.phones).every(({ seen, state }) => {
    const { where } = seen;
    if (!where || !state.isOpen) return true;
    return where.stack.every((p, i) => (i < where.seen && i !== where.beside) || seen.screens.has(p.opening));
  });

/** What somebody asked of their phone may wait for an answer of theirs, so it is not waited for longer than so, in milliseconds. */
const ASKED_MS = 40;

/**
 * Waits for what was asked of a phone, as long as it needs nobody. Gives what came of it; null where it is under way
 * still, as a routine that asks a question. Rejects where it does by then.
 */
export async function underWay<T>(room: Resting, asked: Promise<T>): Promise<{ came: T } | null> {
  const answer: { now: { came: T } | { failed: Error } | null } = { now: null };
  asked.then(
    (came) => (answer.now = { came }),
    (failed: Error) => (answer.now = { failed }),
  );
  await rest(room);
  for (const end = deviceClock.now() + ASKED_MS; !answer.now && !isAsked(room) && deviceClock.now() < end;) {
    await pause(deviceClock, 1);
    await room.settle();
  }
  const { now } = answer;
  if (now && 'failed' in now) throw now.failed;
  return now;
}

const isAsked = (room: Resting): boolean => Object.values(room.phones).some(({ seen }) => seen.asked.length > 0);
