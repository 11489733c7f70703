import type { Pages } from '../core/phone/kept-runs.ts';

/** The other pages of an app in this browser: Web Locks API, and broadcasting as the HTML standard has it. */
export function pagesOf(app: string): Pages {
  // Absent where the browser has none, as on plain http.
  const locks = globalThis.navigator?.locks as LockManager | undefined;
  const others = globalThis.BroadcastChannel ? new BroadcastChannel(`runs ${app}`) : null;
  return {
    ...(locks && { locked: (name, work) => locks.request(`run ${app} ${name}`, work) }),
    // oxlint-disable-next-line unicorn/require-post-message-target-origin -- a channel has no target origin
    tell: (id) => others?.postMessage(id),
    hear: (take) => others?.addEventListener('message', ({ data }) => take(data)),
  };
}
