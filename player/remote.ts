import { proxy, type Remote } from 'comlink';
import type { PhoneApi } from '../core/phone/api.ts';
import type { WalkApi } from '../core/phone/walk.ts';

/** What is in a worker, as if it were here; some of it in another way than it is there. */
export const remoteWith = <T extends object>(remote: Remote<T>, own: Partial<T>): T =>
  new Proxy(remote, { get: (there, name) => own[name as keyof T] ?? there[name as keyof Remote<T>] }) as T;

/** The phone in a worker, as a page asks it: what is called back must be made to cross over. */
export const remotePhone = (phone: Remote<PhoneApi>, own: Partial<PhoneApi> = {}): PhoneApi =>
  remoteWith<PhoneApi>(phone, {
    show: (view, screen, record, take, opening) => phone.show(view, screen, record, proxy(take), opening),
    ...own,
  });

/** The same of what leads somebody through the app. */
export const remoteWalk = (walk: Remote<WalkApi>): WalkApi =>
  remoteWith<WalkApi>(walk, { begin: (page, from) => walk.begin(proxy(page), from) });
