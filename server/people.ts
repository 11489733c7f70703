import type { PersonDid } from '../core/runs/told-starts.ts';
import type { Who } from '../core/access/access.ts';
import { plainMail } from '../core/document/addresses.ts';
import type { Erasable } from '../core/released/erasing.ts';
import type { KeptAbout } from '../core/released/kept-about.ts';
import { Refused } from '../core/document/refused.ts';
import { MOST_BESIDE, type Caller } from './entrance.ts';
import type { RunningApp } from './running-app.ts';
import { SignIns, type Session } from './sign-ins.ts';
import type { FileStore } from './store.ts';
import { TextFile } from './text-file.ts';

/** What is kept of the sign-ins of each app, read when it is first asked for. */
export class AllSignIns {
  private readonly all = new Map<string, Promise<SignIns>>();

  constructor(private readonly store: FileStore) {}

  of(name: string): Promise<SignIns> {
    let known = this.all.get(name);
    if (!known) {
      known = SignIns.open(new TextFile(this.store.signInsPath(name), false, 0o600));
      this.all.set(name, known);
      // What could not be read is tried again.
      known.catch(() => this.all.delete(name));
    }
    return known;
  }

  /** The app at an address is gone. */
  forget(name: string): void {
    this.all.delete(name);
  }
}

/** Somebody who has signed in, by their address and their record. */
interface SignedIn {
  mail: string;
  person: string;
}

/** A session as its person or the holder of the key sees it. */
const shown = ({ id, person, mail, began, seen, browser }: Session, own: string | undefined) => ({
  id,
  person,
  mail,
  began,
  seen,
  browser,
  isThis: id === own,
});

/** Whom something is about: whoever asks, where nobody else is named. */
function whom(person: string | undefined, who: Who): string {
  const named = person ?? who.person;
  if (named === null) throw new Refused(401, 'Sign in to do this.');
  return named;
}

/** As much of the released apps as this asks. */
export interface AsksApps {
  ask<T>(caller: Caller, work: (app: RunningApp, who: Who) => Promise<T>): Promise<T>;
  endStreams(name: string, people: ReadonlySet<string>): void;
}

/** Who is signed in in a browser from now on: the token of whoever uses it, and of others beside them. */
export interface Begun {
  token: string;
  others: string[];
}

/**
 * Begins a session: in place of the one that a browser had before, or beside it, where somebody else signs in and the one
 * before stays.
 */
export async function begins(
  signIns: SignIns,
  caller: Caller,
  person: string,
  mail: string,
  browser: string,
): Promise<Begun> {
  const before = signIns.of(caller.session);
  const stays = caller.beside === true && before !== null && before.person !== person;
  if (before && !stays) await signIns.end((s) => s.id === before.id);
  const others = besideOf(signIns, [...(stays ? [caller.session!] : []), ...(caller.others ?? [])], person);
  return { token: await signIns.start(person, mail, browser), others };
}

/** The tokens that are good, each of another person, without one of them. */
function besideOf(signIns: SignIns, tokens: readonly string[], without: string | undefined): string[] {
  const by = new Map<string, string>();
  for (const token of tokens) {
    const session = signIns.of(token);
    if (session && session.person !== without && !by.has(session.person)) by.set(session.person, token);
  }
  return [...by.values()].slice(0, MOST_BESIDE - 1);
}

/** Tells an app what somebody has done. That a routine of it cannot begin keeps nobody out. */
const tellOf = (app: RunningApp, what: PersonDid): Promise<void> =>
  app
    .ask((a) => a.personDid(what))
    .catch((e: Error) => console.error(`What somebody did starts nothing: ${e.message}`));

/** How people come into an app, and leave it. Each of these is behind the {@link Entrance}. */
export class People {
  constructor(
    private readonly apps: AsksApps,
    private readonly signIns: AllSignIns,
    private readonly filePath: (name: string, hash: string) => string,
  ) {}

  /** Sends a code to an address. Answers alike whoever it is, and as soon. */
  async begin(caller: Caller, mail: string): Promise<{ attempt: string }> {
    return this.apps.ask(caller, async (app) => {
      const isKnown = await app.ask((a) => a.mayCome(mail));
      const { attempt, code } = (await this.signIns.of(caller.name)).begin(mail, isKnown);
      // Nobody waits for it, so that nobody learns by how long it takes.
      if (code !== null)
        void app
          .ask((a) => a.sendCode(plainMail(mail), code))
          .catch((e: Error) => console.error(`A code for “${caller.name}” was not sent: ${e.message}`));
      return { attempt };
    });
  }

  /** Somebody has the code. Gives the token of their session. */
  confirm(caller: Caller, attempt: string, code: string, browser: string): Promise<Begun> {
    return this.apps.ask(caller, async (app) => {
      const mail = (await this.signIns.of(caller.name)).confirm(attempt, code);
      return this.startFor(app, caller, mail, browser);
    });
  }

  /** Somebody comes by an invitation. */
  invited(caller: Caller, token: string, browser: string): Promise<Begun> {
    return this.apps.ask(caller, async (app) => {
      const { mail, role } = await (await this.signIns.of(caller.name)).take(token);
      return this.startFor(app, caller, mail, browser, role);
    });
  }

  /** A session is always a new one: what a browser had before is ended. */
  private async startFor(
    app: RunningApp,
    caller: Caller,
    mail: string,
    browser: string,
    role?: string,
  ): Promise<Begun> {
    const person = await app.ask((a) => a.comesIn(mail, role));
    if (person === null) throw new Refused(403, 'This address is not among the people of this app any more.');
    const begun = await begins(await this.signIns.of(caller.name), caller, person, mail, browser);
    await tellOf(app, { did: 'signed in', mail });
    return begun;
  }

  /** Who is signed in, who else in the same browser, and a new token where theirs is old. */
  session(caller: Caller): Promise<{ who: SignedIn | null; others: SignedIn[]; token: string | null }> {
    return this.apps.ask(caller, async (_app, who) => {
      const signIns = await this.signIns.of(caller.name);
      const isIn = who.kind === 'somebody' && who.person !== null && who.mail !== undefined;
      const others = besideOf(signIns, caller.others ?? [], who.person ?? undefined).map((t) => signIns.of(t)!);
      return {
        who: isIn ? { mail: who.mail!, person: who.person! } : null,
        others: others.map(({ mail, person }) => ({ mail, person })),
        token: isIn && caller.session ? await signIns.rotate(caller.session) : null,
      };
    });
  }

  /** Another of those who have signed in in a browser uses it from now on. */
  switchTo(caller: Caller, person: string): Promise<Begun> {
    return this.apps.ask(caller, async () => {
      const signIns = await this.signIns.of(caller.name);
      const token = caller.others?.find((t) => signIns.of(t)?.person === person);
      if (token === undefined) throw new Refused(404, 'This person is not signed in here any more.');
      return { token, others: besideOf(signIns, [caller.session ?? '', ...(caller.others ?? [])], person) };
    });
  }

  async signOut(caller: Caller): Promise<void> {
    await this.apps.ask(caller, async (app) => {
      const signIns = await this.signIns.of(caller.name);
      const own = signIns.of(caller.session);
      if (!own) return;
      this.ended(caller.name, await signIns.end((s) => s.id === own.id));
      await tellOf(app, { did: 'signed out', mail: own.mail });
    });
  }

  /** The sessions of whoever asks; of everybody for the holder of the key. */
  sessions(caller: Caller): Promise<ReturnType<typeof shown>[]> {
    return this.apps.ask(caller, async (_app, who) => {
      const signIns = await this.signIns.of(caller.name);
      return signIns.list(this.whose(who)).map((s) => shown(s, signIns.of(caller.session)?.id));
    });
  }

  async end(caller: Caller, id: string): Promise<void> {
    await this.apps.ask(caller, async (_app, who) => {
      const person = this.whose(who);
      const signIns = await this.signIns.of(caller.name);
      const ended = await signIns.end(
        (s) => (s.id === id || id === 'all') && (person === undefined || s.person === person),
      );
      if (ended.length === 0 && id !== 'all') throw new Refused(404, 'This session has ended already.');
      this.ended(caller.name, ended);
    });
  }

  /** Whose sessions somebody may see and end: their own, or those of all (undefined). */
  private whose(who: Who): string | undefined {
    if (who.kind === 'owner') return undefined;
    if (who.person === null) throw new Refused(401, 'Sign in to see where you are signed in.');
    return who.person;
  }

  private ended(name: string, sessions: readonly Session[]): void {
    this.apps.endStreams(name, new Set(sessions.map((s) => s.person)));
  }

  /**
   * What is kept about somebody: records as far as whoever asks may read them, with where their files lie, and their
   * sessions. About themselves, or for the holder of the key about anybody.
   */
  keptAbout(caller: Caller, person?: string): Promise<KeptAbout & { sessions: object[]; paths: string[] }> {
    return this.apps.ask(caller, async (app, who) => {
      const whom = person ?? who.person;
      if (whom === null) throw new Refused(401, 'Sign in to have what is kept about you.');
      const kept = await app.ask((a) => a.keptAbout(whom, who));
      if (kept.tables.length === 0) throw new Refused(404, 'Nothing is kept about this person.');
      const signIns = await this.signIns.of(caller.name);
      const sessions = signIns.list(whom).map(({ mail, began, seen, browser }) => ({
        mail,
        began: new Date(began).toISOString(),
        seen: new Date(seen).toISOString(),
        browser,
      }));
      return { ...kept, sessions, paths: kept.files.map((f) => this.filePath(caller.name, f.hash)) };
    });
  }

  /** What erasing somebody would take: oneself, or for the holder of the key anybody. */
  erasable(caller: Caller, person?: string): Promise<Erasable> {
    return this.apps.ask(caller, (app, who) => app.ask((a) => a.erasable(whom(person, who), who)));
  }

  /** Erases somebody, with the records of these tables that lead to them. They are signed out everywhere. */
  erase(caller: Caller, tables: readonly string[], person?: string): Promise<void> {
    return this.apps.ask(caller, async (app, who) => {
      const erased = whom(person, who);
      const { mail } = await app.ask((a) => a.erasable(erased, who));
      await app.ask((a) => a.erase(erased, tables, who));
      const signIns = await this.signIns.of(caller.name);
      this.ended(caller.name, await signIns.erase(erased, mail));
    });
  }

  /** Links by which people sign in once, each with one address, and have a role from then on. With words, each is sent theirs
   * by mail. */
  invite(
    caller: Caller,
    mails: readonly string[],
    { mailed, role }: { mailed?: { words: string; linkOf(token: string): string }; role?: string | undefined },
  ): Promise<{ mail: string; token: string }[]> {
    return this.apps.ask(caller, async (app) => {
      for (const mail of mails)
        if (!(await app.ask((a) => a.mayCome(mail))))
          throw new Refused(422, `“${mail}” is no mail address, or not among the people of this app.`);
      if (role !== undefined) await app.ask((a) => a.mustGive(role));
      const tokens = await (await this.signIns.of(caller.name)).invite(mails, role);
      const invited = mails.map((mail, i) => ({ mail, token: tokens[i]! }));
      if (mailed)
        for (const { mail, token } of invited)
          await app.ask((a) => a.sendInvitation(plainMail(mail), mailed.linkOf(token), mailed.words));
      for (const mail of mails) await tellOf(app, { did: 'invited', mail: plainMail(mail) });
      return invited;
    });
  }

  /** Who has signed in, and who was invited and has not come. */
  people(caller: Caller): Promise<{ sessions: ReturnType<typeof shown>[]; invited: ReturnType<SignIns['invited']> }> {
    return this.apps.ask(caller, async () => {
      const signIns = await this.signIns.of(caller.name);
      return { sessions: signIns.list().map((s) => shown(s, undefined)), invited: signIns.invited() };
    });
  }
}
