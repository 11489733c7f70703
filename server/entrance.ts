import type { IncomingHttpHeaders } from 'node:http';
import { NOBODY, OWNER, type Who } from '../core/access/access.ts';
import type { Door } from './door-table.ts';
import type { Doors } from './doors.ts';
import { isKeyOf, keyIn } from './keys.ts';
import { Refused } from '../core/document/refused.ts';
import type { Releases } from './releases.ts';
import type { SignIns } from './sign-ins.ts';
import type { Release } from './store.ts';

/** Somebody at a door, with what they say of themselves. */
export interface Caller {
  door: Door;
  /** The address of the app. */
  name: string;
  /** The key that they bring. */
  key?: string | undefined;
  /** The app that they mean, by its id. */
  app?: string | undefined;
  /** The messages that they know; see `PROTOCOL`. */
  protocol?: number | undefined;
  /** The token of their session. */
  session?: string | undefined;
  /** Tokens of others who have signed in in the same browser. */
  others?: string[] | undefined;
  /** Whoever signs in does so beside those who have: they stay signed in. */
  beside?: boolean | undefined;
  /** Whom their device is used by, as it knows: what it sends is of nobody else. */
  person?: string | undefined;
}

/** The cookie with the token of a session. It goes to one app alone, by its path. */
export const SESSION_COOKIE = 'kite_session';
/** The cookie with the tokens of others who have signed in in the same browser, with dots between them. */
export const BESIDE_COOKIE = 'kite_beside';
/** So many people are signed in in one browser, one of whom uses it. */
export const MOST_BESIDE = 6;
const inCookie = (header: string | undefined, wanted: string): string | undefined =>
  header
    ?.split(';')
    .map((part) => part.trim().split('='))
    .find(([name]) => name === wanted)?.[1];

/** What a request says of who asks. Phones that say nothing of the messages they know are of before they did. */
export function callerOf(door: Door, name: string, headers: IncomingHttpHeaders): Caller {
  const text = (header: string): string | undefined => {
    const value = headers[header];
    return typeof value === 'string' ? value : undefined;
  };
  return {
    door,
    name,
    key: text('x-owner-key'),
    app: text('x-app-id'),
    protocol: Number(text('x-protocol') ?? 1) || 1,
    session: inCookie(text('cookie'), SESSION_COOKIE),
    others: (inCookie(text('cookie'), BESIDE_COOKIE) ?? '').split('.').filter(Boolean).slice(0, MOST_BESIDE),
    person: text('x-person'),
  };
}

/**
 * Stands in front of every door. It finds out who asks, and lets nobody in who may not come in there; whoever is inside
 * stays the same person until they have gone, since nobody removes or replaces the app meanwhile.
 */
export class Entrance {
  constructor(
    private readonly doors: Doors,
    private readonly releases: Releases,
    /** Phones that know earlier messages than these are told to load the app anew. */
    private readonly leastProtocol: number,
    private readonly signIns: (name: string) => Promise<SignIns>,
  ) {}

  /** Does something for somebody, when they may come in. Rejects with a {@link Refused} otherwise. */
  enter<T>(caller: Caller, work: (who: Who, release: Release) => Promise<T>): Promise<T> {
    return this.doors.enter(caller.name, async () => {
      const release = await this.releases.at(caller.name);
      return work(await this.admit(caller, release), release);
    });
  }

  /** The same alone, after everybody else has gone. */
  enterAlone<T>(caller: Caller, work: (who: Who, release: Release) => Promise<T>): Promise<T> {
    return this.doors.close(caller.name, async () => {
      const release = await this.releases.at(caller.name);
      return work(await this.admit(caller, release), release);
    });
  }

  /** Does something at an address that may be free, for whoever brings a key: the one of the app, where there is one. */
  claim<T>({ name, key, door }: Caller, work: (key: string, release: Release | null) => Promise<T>): Promise<T> {
    if (door.for !== 'claimant') throw new Error('This door is not for those who claim an address.');
    const brought = keyIn(key);
    return this.doors.enter(name, async () => work(brought, await this.releases.known(name)));
  }

  /** Throws a {@link Refused} where no key is brought: what takes long is not begun for those who bring none. */
  mustBring({ key }: Caller): void {
    keyIn(key);
  }

  private async admit({ door, key, app, protocol, name, session, person }: Caller, release: Release): Promise<Who> {
    if (door.for === 'claimant') throw new Error('This door is for those who claim an address.');
    if (app !== undefined && app !== release.facts.app) throw new Refused(410, 'Another app is at this address now.');
    if (door.speaks && (protocol ?? 1) < this.leastProtocol)
      throw new Refused(
        426,
        'This app was opened before it was brought up to date. What you wrote is kept: close it and open it again.',
      );
    if (door.for === 'owner' && !isKeyOf(release, keyIn(key)))
      throw new Refused(403, door.words ?? 'This is only for the holder of the app’s key.');
    if (key !== undefined && isKeyOf(release, key)) return OWNER;
    const known = release.facts.ruled && session ? (await this.signIns(name)).of(session) : null;
    // Somebody else has signed in in the same browser: what the first one wrote is not theirs.
    if (known && person !== undefined && person !== known.person)
      throw new Refused(401, 'Somebody else has signed in.');
    if (known) return { kind: 'somebody', person: known.person, mail: known.mail };
    if (release.facts.closed && !door.outside) throw new Refused(401, 'Sign in to use this app.');
    return NOBODY;
  }
}
