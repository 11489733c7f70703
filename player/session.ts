import { ask } from './link.ts';
import type { Inside } from './later.ts';

/** Who has signed in to an app here, by what its host says of the session. */
interface Said {
  who: { mail: string; person: string } | null;
}
const sessionOf = (app: string): Promise<Said> => ask(`/api/apps/${app}/session`);

/** Somebody has just signed in: what is here stays where it is theirs, and goes where it is somebody else's. */
export async function signedIn({ store }: Pick<Inside, 'store'>, app: string): Promise<void> {
  if (!(await store.isThere())) return;
  const { who } = await sessionOf(app);
  const before = await store.get<{ record: string } | null>('person record');
  if (!who || before?.record !== who.person) await store.erase();
}

const over = new WeakSet<object>();

/** Nobody is signed in any more: what is here goes, but for what waits to be sent. */
export async function signedOut(on: Inside): Promise<void> {
  if (over.has(on)) return;
  over.add(on);
  // Of an app that has not opened nothing is here.
  const waiting = (on.phone as Inside['phone'] | undefined)?.device.waiting ?? 0;
  if (on.phone && waiting === 0) await on.store.erase();
  else if (on.phone) await (await on.store.whole()).onlyWaiting((await import('./contact.ts')).STAYS);
  on.tell({ kind: 'sign in', waiting });
}

/** The phone is used by whoever the host says has signed in. */
export async function whoIsHere(on: Inside): Promise<void> {
  const { app } = on.here;
  const { who } = await sessionOf(on.link.name);
  on.link.person = who?.person;
  const people = app.people;
  await on.phone.beUsedBy(who?.mail ?? null, who && people ? { table: people, record: who.person } : null);
}
