import { z } from 'zod';
import { plainMail } from '../document/addresses.ts';
import type { TextPort } from '../document/kept-text.ts';
import { hashOf } from '../fields/keep-file.ts';

/** So many people of an app, and devices of one of them, are kept; the ones that came first go. */
const MOST_PEOPLE = 5000;
const MOST_DEVICES = 20;

/** By person, and by the hash of a device's secret: since when it says that this person uses it (ISO 8601). */
const Kept = z.record(z.string(), z.record(z.string(), z.string()));

/** What a device that listens for somebody may hear. */
export interface Listening {
  /** Since when it has said so; what was sent before is not for it. */
  since: string;
  /** Devices that say that they are used by this person, this one among them. */
  devices: number;
}

const secretHash = (secret: string): string => hashOf(new TextEncoder().encode(secret)).slice(0, 22);

/**
 * Which devices have said who uses them, and since when. People do not sign in yet: anybody with the link can say that
 * they are anybody. So nobody hears by that what was sent before they said it, and whoever is meant sees that there is
 * another device.
 */
export class Listeners {
  private people: Promise<Map<string, Map<string, string>>> | null = null;
  private writing: Promise<void> = Promise.resolve();
  /** Somebody is to be kept by a writing that has not begun. */
  private waits = false;

  constructor(
    private readonly port: TextPort,
    private readonly now: () => number = Date.now,
  ) {}

  private read(): Promise<Map<string, Map<string, string>>> {
    this.people ??= this.port
      .read()
      .then((text) => Kept.parse(JSON.parse(text)))
      // Without what was kept everybody begins to listen anew.
      .catch(() => ({}))
      .then((kept) => new Map(Object.entries(kept).map(([p, d]) => [p, new Map(Object.entries(d))])));
    return this.people;
  }

  /** A device, by a secret of its own, listens for a person. */
  async listens(person: string, device: string): Promise<Listening> {
    const people = await this.read();
    const devices = people.get(person) ?? new Map<string, string>();
    const own = secretHash(device);
    let since = devices.get(own);
    if (since === undefined) {
      since = new Date(this.now()).toISOString();
      devices.set(own, since);
      if (devices.size > MOST_DEVICES) devices.delete(devices.keys().next().value!);
      people.delete(person);
      people.set(person, devices);
      if (people.size > MOST_PEOPLE) people.delete(people.keys().next().value!);
      this.keep(people);
    }
    await this.writing;
    return { since, devices: devices.size };
  }

  /** Nobody listens for these people any more. */
  async forget(names: readonly string[]): Promise<void> {
    const people = await this.read();
    for (const person of people.keys())
      if (names.some((n) => n !== '' && plainMail(n) === plainMail(person))) people.delete(person);
    this.keep(people);
    await this.writing;
  }

  /** Keeps who listens. Those who come while that is being written are kept together, by the next writing. */
  private keep(people: Map<string, Map<string, string>>): void {
    if (this.waits) return;
    this.waits = true;
    this.writing = this.writing
      .then(() => {
        this.waits = false;
        return this.port.write(this.text(people));
      })
      .catch(() => undefined);
  }

  private text(people: Map<string, Map<string, string>>): string {
    return JSON.stringify(Object.fromEntries(Array.from(people, ([p, d]) => [p, Object.fromEntries(d)])));
  }
}
