/** Takes an app for this tab, so that two tabs never overwrite each other’s changes. Gives the way to let it go. */
export async function holdApp(id: string): Promise<() => void> {
  // Plain http from another machine has no locks; there the last change wins.
  if (!('locks' in navigator)) return () => undefined;
  return new Promise((resolve, reject) => {
    const patience = new AbortController();
    // A tab that is just closing lets go in a moment.
    const timer = setTimeout(() => patience.abort(), 2500);
    navigator.locks
      .request(`kite-app-${id}`, { signal: patience.signal }, () => {
        clearTimeout(timer);
        return new Promise<void>((done) => {
          resolve(done);
        });
      })
      .catch(() =>
        reject(new Error('This app is open in another tab. Go on there, or close it there and open it here again.')),
      );
  });
}
