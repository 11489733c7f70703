/** Signs out of the app on this page: its session ends, and all of it leaves this device. */
export async function signOut(): Promise<void> {
  const name = /^\/a\/([a-z0-9-]+)/.exec(location.pathname)?.[1] ?? '';
  const answer = await fetch(`/api/apps/${name}/session`, { method: 'DELETE' }).catch(() => null);
  if (!answer?.ok) throw new Error('You are still signed in: the host could not be reached. Try again with a network.');
  const all = indexedDB.databases ? await indexedDB.databases() : [{ name: `app-${name}` }];
  // Whoever has it open closes it then.
  for (const { name: db } of all)
    if (db === `app-${name}` || db?.startsWith(`app-${name}-`))
      await new Promise((resolve) => {
        const asked = indexedDB.deleteDatabase(db);
        for (const over of ['success', 'error', 'blocked']) asked.addEventListener(over, resolve);
      });
  location.replace(location.pathname);
}
