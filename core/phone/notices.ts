import { once } from '../document/once.ts';
import type { OpenQuestion } from '../runs/questions.ts';
import type { Ears } from './ears.ts';
import type { HostSide } from './host-side.ts';

/** Where the host stands, as it says when it is listened to. */
export interface Hello {
  at: number;
  view?: string;
  release: number;
  /** The time there, ISO 8601. */
  now: string;
  /** Devices that say that the same person uses them, this one among them. */
  devices: number;
}

/** A notice as the host tells it. */
export interface Notice {
  id: string;
  at: string;
  subject: string;
  body: string;
}

/** Something is heard besides news of records and releases. */
export async function heard(on: Ears, host: HostSide, event: string, data: unknown): Promise<void> {
  if (event === 'notice') await noticed(on, data as Notice);
  else if (event === 'asks') (await questions()).asked(on, host, data as OpenQuestion[]);
  else host.heard?.(event, data);
}
const questions = once(() => import('./questions.ts'));

/** A notice has come. */
async function noticed(on: Ears, { id, at, subject, body }: Notice): Promise<void> {
  void on.store.put('heard', (on.heardAt = at));
  (await on.actions()).noticed({ id, title: subject, words: body });
}

/** The host says who listens: whoever is meant hears that others say they are the same person. */
export function greeted(on: Ears, { now, devices }: Hello): void {
  const said = `${devices} devices say that they are used by ${on.records.person}.`;
  if (devices > 1 && said !== on.devicesSaid) {
    on.say(said);
    void on.store.put('told', (on.devicesSaid = said));
  }
  if (!on.heardAt) void on.store.put('heard', (on.heardAt = now));
}
