import { deviceClock, pause } from '../document/time.ts';
import type { Rehearsal } from '../rehearsal/rehearsal.ts';

/** What takes time that no clock of a rehearsal counts, such as reading a file, is waited for so long at most, in milliseconds. */
const MOST_MS = 3000;

/** Lets what is under way in a rehearsal come to rest, until each phone shows the screens that are open on it. */
export async function rest(room: Rehearsal): Promise<void> {
  await room.settle();
  for (const end = deviceClock.now() + MOST_MS; !isDrawn(room) && deviceClock.now() < end;) {
    await pause(deviceClock, 1);
    await room.settle();
  }
}

const isDrawn = (room: Rehearsal): boolean =>
  Object.values(room.phones).every(({ seen, state }) => {
    const { where } = seen;
    if (!where || !state.isOpen) return true;
    return where.stack.every((p, i) => (i < where.seen && i !== where.beside) || seen.screens.has(p.opening));
  });
