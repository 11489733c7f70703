import type { EntityTable } from 'dexie';
import { readApp } from '../../core/app/document.ts';
import type { App } from '../../core/app/schema.ts';
import type { KeptSteps } from './kept-steps.ts';
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
  /** What can be undone and done again in each app. */
  readonly steps!: EntityTable<KeptSteps, 'id'>;
  constructor() {
    super('mellow-kite');
    this.version(1).stores({ apps: 'id,changed' });
    this.version(2).stores({ apps: 'id,changed', steps: 'id' });
  }
}
export const registry = new Registry();
export const recordsDbName = (appId: string): string => `records-${appId}`;

const unwrittenKey = (id: string): string => `unwritten-${id}`;

const unwrittenSteps = (id: string): string => `unwritten-steps-${id}`;

/** Leaves an app and its steps where they are written at once, for a tab that is about to close. */
export function leaveUnwritten(kept: KeptApp, steps: KeptSteps): void {
  const leave = (key: string, value: unknown): void => {
    try {
      localStorage.setItem(key, JSON.stringify(value));
    } catch {
      // Too large or not allowed: what was written last is what there is.
    }
  };
  localStorage.removeItem(unwrittenSteps(kept.id));
  leave(unwrittenKey(kept.id), kept);
  leave(unwrittenSteps(kept.id), steps);
}

/** What was kept of an app's steps, or left by a closing tab. Whether they fit the document, `readSteps` tells. */
export async function stepsOf(id: string): Promise<unknown> {
  const text = localStorage.getItem(unwrittenSteps(id));
  localStorage.removeItem(unwrittenSteps(id));
  try {
    if (text) return JSON.parse(text) as unknown;
  } catch {
    // What was written before may fit.
  }
  return registry.steps.get(id).catch(() => undefined);
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
