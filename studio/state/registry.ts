import type { EntityTable } from 'dexie';
import { readApp } from '../../core/app/document.ts';
import type { App } from '../../core/app/schema.ts';
import { WakefulDb } from '../../player/storage.ts';

/** An app as this browser keeps it. Its records are in a database of their own. */
export interface KeptApp {
  id: string;
  app: App;
  /** Proves who may release, replace or remove the app on a host. */
  ownerKey: string;
  released: { address: string; number: number; at: string; app: App } | null;
  /** ISO 8601. */
  changed: string;
  demo?: boolean;
}

class Registry extends WakefulDb {
  readonly apps!: EntityTable<KeptApp, 'id'>;
  constructor() {
    super('mellow-kite');
    this.version(1).stores({ apps: 'id,changed' });
  }
}
export const registry = new Registry();
export const recordsDbName = (appId: string): string => `records-${appId}`;

/** A new owner key: 256 bits of chance, in base64url. */
export function newOwnerKey(): string {
  return btoa(String.fromCharCode(...crypto.getRandomValues(new Uint8Array(32))))
    .replace(/\+/g, '-')
    .replace(/\//g, '_')
    .replace(/=/g, '');
}

const unwrittenKey = (id: string): string => `unwritten-${id}`;

/** Leaves an app where it is written at once, for a tab that is about to close. */
export function leaveUnwritten(kept: KeptApp): void {
  try {
    localStorage.setItem(unwrittenKey(kept.id), JSON.stringify(kept));
  } catch {
    // Too large or not allowed: what was written last is what there is.
  }
}

/** Takes what a closing tab left, and writes it down. Undefined when it left nothing. */
export function takeUnwritten(id: string): KeptApp | undefined {
  const text = localStorage.getItem(unwrittenKey(id));
  if (!text) return undefined;
  localStorage.removeItem(unwrittenKey(id));
  try {
    const kept = JSON.parse(text) as KeptApp;
    const app = readApp(kept.app);
    void registry.apps.put({ ...kept, app });
    return { ...kept, app };
  } catch {
    return undefined;
  }
}
