import { Dexie, type EntityTable } from 'dexie';
import type { App } from '../../core/app/schema.ts';

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

class Registry extends Dexie {
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
  return btoa(String.fromCharCode(...crypto.getRandomValues(new Uint8Array(32)))).replace(/\+/g, '-').replace(/\//g, '_').replace(/=/g, '');
}
