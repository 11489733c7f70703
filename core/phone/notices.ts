import type { Actions } from '../session/actions.ts';
import type { PhoneStore } from './keeps.ts';

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

/** What a phone has heard for whoever uses it. */
export interface Ears {
  readonly store: PhoneStore;
  readonly records: { readonly person: string | null };
  /** When the last notice came, as the host's clock had it; empty for never. */
  heardAt: string;
  /** What was said last of devices that are used by the same person. */
  devicesSaid: string;
  say(words: string): void;
  actions(): Promise<Actions>;
}

/** A notice has come. */
export async function noticed(on: Ears, { id, at, subject, body }: Notice): Promise<void> {
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
