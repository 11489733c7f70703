import { ask } from './link.ts';
import type { PhoneApi } from '../core/phone/api.ts';

/** How this device is told what is for a person while the app is closed (Web Push). */

const name = /^\/a\/([a-z0-9-]+)/.exec(location.pathname)?.[1] ?? '';
const path = `/api/apps/${name}/subscription`;
/** For whom it is wanted here, or '' where somebody did not want to be asked, in the store of the page. */
const KEPT = `told ${name}`;

/** For whom it is wanted here; '' for nobody who was asked, null where nobody was. */
export function wantedFor(): string | null {
  try {
    return localStorage.getItem(KEPT);
  } catch {
    return '';
  }
}
function want(person: string): void {
  try {
    localStorage.setItem(KEPT, person);
  } catch {
    // This browser keeps nothing for pages: it is asked for again when the app is opened.
  }
}

/** Can this browser be told anything while the app is closed, and has nobody forbidden it? */
export const canBeTold = (): boolean =>
  name !== '' &&
  'serviceWorker' in navigator &&
  'PushManager' in globalThis &&
  globalThis.Notification?.permission !== 'denied';

/** Is the person told on this device? */
export async function isTold(person: string): Promise<boolean> {
  if (!canBeTold() || wantedFor() !== person) return false;
  return (await (await navigator.serviceWorker.ready).pushManager.getSubscription()) !== null;
}

const bytesOf = (base64url: string): Uint8Array<ArrayBuffer> =>
  Uint8Array.from(atob(base64url.replace(/-/g, '+').replace(/_/g, '/')), (c) => c.charCodeAt(0));

/** From now on the person is told on this device. Rejects in words where that cannot be. */
export async function beTold(api: PhoneApi, person: string): Promise<void> {
  if ((await Notification.requestPermission()) !== 'granted')
    throw new Error('This device shows no notices of the app. Allow them in the settings of the browser.');
  const { pushManager } = await navigator.serviceWorker.ready;
  const { key } = await ask<{ key: string }>(path);
  const wanted = { userVisibleOnly: true, applicationServerKey: bytesOf(key) };
  const subscription = await pushManager
    .subscribe(wanted)
    .catch(async (e: Error) => {
      // The server has other keys than it had: what was agreed with the ones before is over.
      if (e.name !== 'InvalidStateError') throw e;
      await (await pushManager.getSubscription())?.unsubscribe();
      return pushManager.subscribe(wanted);
    })
    .catch(() => {
      throw new Error('The push service of this browser cannot be reached now. Try again later.');
    });
  const { endpoint, keys } = subscription.toJSON();
  const json = { subscription: { endpoint, keys }, person, device: await api.ear };
  await ask(path, { method: 'PUT', json });
  want(person);
}

/** Nobody is told on this device any more. */
export async function beNotTold(): Promise<void> {
  want('');
  const subscription = await (await navigator.serviceWorker.getRegistration())?.pushManager.getSubscription();
  if (!subscription) return;
  await subscription.unsubscribe();
  // What the host does not hear now it hears from the push service.
  await ask(`${path}/ended`, { method: 'POST', json: { endpoint: subscription.endpoint } }).catch(() => undefined);
}

/** Nobody is to be asked here whether they want it. */
export const askNoMore = (): void => want('');

/** Says so again when the app is opened: browsers change what they have agreed with their push service. */
export async function stillTold(api: PhoneApi): Promise<void> {
  const person = await api.person();
  if (person && Notification.permission === 'granted' && wantedFor() === person) await beTold(api, person);
}
