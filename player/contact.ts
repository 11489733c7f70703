import { keptIn, type Kept, type PhoneStore, type WholeStore } from '../core/phone/keeps.ts';
import type { App } from '../core/app/schema.ts';
import type { Phone } from '../core/phone/phone.ts';
import type { Keeper } from './keeper.ts';

/**
 * A phone that has not heard from its host for as long as the maker says lets go of what it keeps. What waits to be sent
 * stays, since it is nowhere else, and was written by its person.
 */

/** When the host was last heard from is kept under this name, in milliseconds, with each of its news. */
export const CONTACT = 'contact';
/** What is kept of a device that holds no records: the app, who uses it, and what waits. */
export const STAYS: ReadonlySet<string> = new Set([
  'app',
  'moved',
  'device',
  'ear',
  'person',
  'person record',
  'begun',
  'heard',
  'waiting writes',
]);

const DAY_MS = 86_400_000;
const EVERY_MS = 600_000;

const words = (days: number): string =>
  `This phone was without contact for ${days === 1 ? 'a day' : `${days} days`}, so its records were cleared. They come back with a network; what you wrote and is not sent yet is kept.`;

/** As much of a released app on a device as this needs. */
interface Open {
  here: { app: Pick<App, 'access'> };
  phone: Pick<Phone, 'online' | 'device'>;
  store: { whole(): Promise<Keeper> };
  say(words: string): void;
}
type Store = PhoneStore & Pick<WholeStore, 'onlyWaiting'>;

/** Is it that long ago that the host was heard from? What was kept before that was noted counts from now on. */
async function isOver(store: Store, days: number, now: number): Promise<boolean> {
  const heard = await store.get<number>(CONTACT);
  if (heard === undefined) await store.put(CONTACT, now);
  return heard !== undefined && now - heard > days * DAY_MS;
}

/** What is here of an app that is opened. */
export async function keptHere({ here, store, say }: Omit<Open, 'phone'>, now = Date.now()): Promise<Kept> {
  const whole = await store.whole();
  const days = here.app.access?.clears;
  if (days !== undefined && (await isOver(whole, days, now))) {
    await whole.onlyWaiting(STAYS);
    say(words(days));
  }
  return keptIn(whole);
}

/** The same for an app that is open, now: while it has its host, that is contact. */
export async function clearWhenDue(on: Open, now = Date.now()): Promise<void> {
  const days = on.here.app.access?.clears;
  if (days === undefined) return;
  const store = await on.store.whole();
  if (on.phone.online) return store.put(CONTACT, now);
  if (!(await isOver(store, days, now))) return;
  const { takeGiven } = await import('../core/host/in-views.ts');
  const { device } = on.phone;
  takeGiven(device, { forget: [...device.replica.all()].map((s) => s.id) });
  for (const change of device.queue) device.replica.apply(change);
  device.position = 0;
  device.view = undefined;
  // After what is on its way into the store.
  await device.kept.save({});
  await store.onlyWaiting(STAYS);
  on.say(words(days));
}

/** Looks at it again and again while the app is open. */
export function watchContact(on: Open): void {
  void clearWhenDue(on);
  setInterval(() => void clearWhenDue(on), EVERY_MS);
}
