import { signedInHere, storeInUse } from './others.ts';

const appName = (): string => /^\/a\/([a-z0-9-]+)/.exec(location.pathname)?.[1] ?? '';

/** Signs out of the app on this page: its session ends, and all of it leaves this device. */
export async function signOut(): Promise<void> {
  const answer = await fetch(`/api/apps/${appName()}/session`, { method: 'DELETE' }).catch(() => null);
  if (!answer?.ok) throw new Error('You are still signed in: the server could not be reached. Try again with a network.');
  await clearDevice();
}

/**
 * All that is kept of the app for whoever uses it here leaves this device, and its page begins anew; what is kept for
 * others who have signed in stays.
 */
export async function clearDevice(): Promise<void> {
  const name = appName();
  const { others } = await signedInHere(name).catch(() => ({ others: [] }));
  const { beNotTold, wantedFor } = await import('./closed.ts');
  // Whoever else has signed in here goes on to be told what is for them.
  if (!others.some((o) => o.mail === wantedFor())) await beNotTold().catch(() => undefined);
  const own = await storeInUse(name);
  const all = indexedDB.databases ? await indexedDB.databases() : [{ name: own }];
  const goes = (db: string): boolean =>
    others.length ? db === own : db === `app-${name}` || db.startsWith(`app-${name}-`);
  // Whoever has it open closes it then.
  for (const { name: db } of all)
    if (db && goes(db))
      await new Promise((resolve) => {
        const asked = indexedDB.deleteDatabase(db);
        for (const over of ['success', 'error', 'blocked']) asked.addEventListener(over, resolve);
      });
  location.replace(location.pathname);
}
