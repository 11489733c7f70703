import { createHash, randomBytes, randomInt, timingSafeEqual } from 'node:crypto';
import { z } from 'zod';
import { plainMail } from '../core/document/addresses.ts';
import type { TextPort } from '../core/document/kept-text.ts';
import { Refused } from '../core/document/refused.ts';
import { Passkeys, PasskeySchema, type Passkey } from './passkeys.ts';

/** How people sign in to one app, and stay signed in: what is kept of codes, invitations and sessions. */

const DAY = 86_400_000;
/** A session ends after so long, and earlier when it was not used for some time. */
const LONGEST_MS = 180 * DAY;
const IDLE_MS = 45 * DAY;
/** The token of a session is replaced when it is so old; the one before is good for a moment more. */
const ROTATED_MS = DAY;
const OVERLAP_MS = 120_000;
const CODE_MS = 10 * 60_000;
const INVITED_MS = 14 * DAY;
const MOST_TRIES = 5;
/** So many codes may be sent to one address in an hour, and so many tries made at it. */
const MOST_CODES = 5;
const MOST_TRIES_HOUR = 15;
const HOUR = 3_600_000;
const MOST_ATTEMPTS = 2000;
const MOST_SESSIONS = 20_000;

const SessionSchema = z.object({
  id: z.string(),
  /** SHA-256 of its token, and of the one before it with the time until which that is good. */
  hash: z.string(),
  before: z.object({ hash: z.string(), until: z.number() }).optional(),
  person: z.string(),
  mail: z.string(),
  began: z.number(),
  rotated: z.number(),
  seen: z.number(),
  /** The browser, as it says itself. */
  browser: z.string(),
});
const InvitationSchema = z.object({
  hash: z.string(),
  mail: z.string(),
  until: z.number(),
  at: z.number(),
  /** The role that whoever comes by it has from then on. */
  role: z.string().optional(),
});
const Kept = z.object({
  sessions: z.array(SessionSchema),
  invitations: z.array(InvitationSchema),
  passkeys: z.array(PasskeySchema).default([]),
});
export type Session = z.infer<typeof SessionSchema>;

interface Attempt {
  mail: string;
  /** SHA-256 of the code with the attempt; null where nobody with this address may come in. */
  hash: string | null;
  until: number;
  tries: number;
}

const hashOf = (text: string): string => createHash('sha256').update(text).digest('hex');
const isHash = (a: string, b: string): boolean => timingSafeEqual(Buffer.from(a, 'hex'), Buffer.from(b, 'hex'));
const newToken = (): string => randomBytes(32).toString('base64url');

const WRONG = 'This code does not fit, or it is too old. Ask for a new one where that goes on.';

export class SignIns {
  private readonly sessions = new Map<string, Session>();
  /** Sessions by the hashes of their tokens. */
  private readonly byHash = new Map<string, Session>();
  private invitations = new Map<string, z.infer<typeof InvitationSchema>>();
  private readonly attempts = new Map<string, Attempt>();
  /** When codes were sent to an address, and when somebody tried one. */
  private readonly sent = new Map<string, number[]>();
  private readonly tried = new Map<string, number[]>();
  private writing: Promise<void> = Promise.resolve();

  readonly passkeys: Passkeys;

  private constructor(
    private readonly file: TextPort,
    private readonly now: () => number,
    passkeys: readonly Passkey[],
  ) {
    this.passkeys = new Passkeys(passkeys, () => this.keep(), now);
  }

  static async open(file: TextPort, now: () => number = Date.now): Promise<SignIns> {
    const text = await file.read();
    const kept = Kept.parse(text ? JSON.parse(text) : { sessions: [], invitations: [] });
    const made = new SignIns(file, now, kept.passkeys);
    for (const s of kept.sessions) made.index(s);
    made.invitations = new Map(kept.invitations.map((i) => [i.hash, i]));
    return made;
  }

  private index(s: Session): void {
    this.sessions.set(s.id, s);
    this.byHash.set(s.hash, s);
    if (s.before) this.byHash.set(s.before.hash, s);
  }

  /** Keeps what there is now; whoever waits for it waits for the disk. */
  private keep(): Promise<void> {
    this.writing = this.writing
      .catch(() => undefined)
      .then(() =>
        this.file.write(
          JSON.stringify({
            sessions: [...this.sessions.values()],
            invitations: [...this.invitations.values()],
            passkeys: this.passkeys.list(),
          }),
        ),
      );
    return this.writing;
  }

  // Codes

  /**
   * Somebody wants to sign in with an address. Gives the attempt, by which this device is known again, and the code to
   * send. An attempt that is for nobody (`isKnown` false) looks the same and leads nowhere.
   */
  begin(mail: string, isKnown: boolean): { attempt: string; code: string | null } {
    this.bounded(
      this.sent,
      plainMail(mail),
      MOST_CODES,
      'Too many codes were asked for. Wait an hour, then try again.',
    );
    for (const [id, a] of this.attempts) if (a.until < this.now()) this.attempts.delete(id);
    while (this.attempts.size >= MOST_ATTEMPTS) this.attempts.delete(this.attempts.keys().next().value!);
    const attempt = newToken();
    const code = String(randomInt(1_000_000)).padStart(6, '0');
    this.attempts.set(attempt, {
      mail: plainMail(mail),
      hash: isKnown ? hashOf(`${attempt} ${code}`) : null,
      until: this.now() + CODE_MS,
      tries: 0,
    });
    return { attempt, code: isKnown ? code : null };
  }

  /** The address of whoever has the code that was sent for an attempt. Throws a {@link Refused} otherwise; a code is good once. */
  confirm(attempt: string, code: string): string {
    const a = this.attempts.get(attempt);
    if (!a || a.until < this.now()) throw new Refused(422, WRONG);
    this.bounded(this.tried, a.mail, MOST_TRIES_HOUR, 'Too many codes were tried. Wait an hour, then try again.');
    const fits = isHash(a.hash ?? hashOf('nobody'), hashOf(`${attempt} ${code.replace(/\s/g, '')}`)) && a.hash !== null;
    if (fits || ++a.tries >= MOST_TRIES) this.attempts.delete(attempt);
    if (!fits) throw new Refused(422, WRONG);
    return a.mail;
  }

  private bounded(times: Map<string, number[]>, mail: string, most: number, words: string): void {
    const since = this.now() - HOUR;
    if (times.size > MOST_ATTEMPTS) for (const [m, at] of times) if (!at.some((t) => t > since)) times.delete(m);
    const recent = (times.get(mail) ?? []).filter((t) => t > since);
    if (recent.length >= most) throw new Refused(429, words);
    times.set(mail, [...recent, this.now()]);
  }

  // Invitations

  /** A token by which whoever has it signs in once with this address. */
  async invite(mails: readonly string[], role?: string): Promise<string[]> {
    const now = this.now();
    for (const [hash, i] of this.invitations) if (i.until < now) this.invitations.delete(hash);
    const tokens = mails.map((mail) => {
      const token = newToken();
      const hash = hashOf(token);
      // The newest invitation of an address is the one that counts.
      for (const [h, i] of this.invitations) if (i.mail === plainMail(mail)) this.invitations.delete(h);
      const invited = { hash, mail: plainMail(mail), until: now + INVITED_MS, at: now };
      this.invitations.set(hash, role === undefined ? invited : { ...invited, role });
      return token;
    });
    await this.keep();
    return tokens;
  }

  /** The address that an invitation is for, and the role that it gives. It is used up by that. */
  async take(token: string): Promise<{ mail: string; role: string | undefined }> {
    const hash = hashOf(token);
    const found = this.invitations.get(hash);
    this.invitations.delete(hash);
    if (!found || found.until < this.now())
      throw new Refused(422, 'This invitation was used already, or it is too old. Ask for a new one.');
    await this.keep();
    return { mail: found.mail, role: found.role };
  }

  /** Invitations that nobody has used yet, the newest first. */
  invited(): { mail: string; at: number; until: number }[] {
    return [...this.invitations.values()]
      .filter((i) => i.until >= this.now())
      .sort((a, b) => b.at - a.at)
      .map(({ mail, at, until }) => ({ mail, at, until }));
  }

  // Sessions

  /** Begins a session, and gives its token, which is kept nowhere. */
  async start(person: string, mail: string, browser: string): Promise<string> {
    const now = this.now();
    for (const s of this.sessions.values()) if (this.isOver(s)) this.forget(s);
    if (this.sessions.size >= MOST_SESSIONS) throw new Refused(503, 'Too many people are signed in to this app.');
    const token = newToken();
    this.index({
      id: randomBytes(9).toString('base64url'),
      hash: hashOf(token),
      person,
      mail: plainMail(mail),
      began: now,
      rotated: now,
      seen: now,
      browser: browser.slice(0, 300),
    });
    await this.keep();
    return token;
  }

  private isOver(s: Session): boolean {
    return s.began + LONGEST_MS < this.now() || s.seen + IDLE_MS < this.now();
  }

  private forget(s: Session): void {
    this.sessions.delete(s.id);
    this.byHash.delete(s.hash);
    if (s.before) this.byHash.delete(s.before.hash);
  }

  /** The session of a token; null where there is none any more. */
  of(token: string | undefined): Session | null {
    if (!token || token.length > 100) return null;
    const hash = hashOf(token);
    const s = this.byHash.get(hash);
    if (!s || this.isOver(s) || (s.hash !== hash && (s.before?.until ?? 0) < this.now())) return null;
    // Kept with what is kept next: a day more or less decides nothing.
    s.seen = this.now();
    return s;
  }

  /** Another token for a session whose token is old; null while it is not. */
  async rotate(token: string): Promise<string | null> {
    const s = this.of(token);
    if (!s || s.hash !== hashOf(token) || s.rotated + ROTATED_MS > this.now()) return null;
    const next = newToken();
    this.forget(s);
    this.index({
      ...s,
      hash: hashOf(next),
      before: { hash: s.hash, until: this.now() + OVERLAP_MS },
      rotated: this.now(),
    });
    await this.keep();
    return next;
  }

  /** The sessions of one person, or of all. */
  list(person?: string): Session[] {
    return [...this.sessions.values()].filter((s) => !this.isOver(s) && (person === undefined || s.person === person));
  }

  /** Lets go of all that is kept of somebody. Gives the sessions that have ended by it. */
  async erase(person: string, mail: string): Promise<Session[]> {
    const plain = plainMail(mail);
    for (const [hash, i] of this.invitations) if (i.mail === plain) this.invitations.delete(hash);
    for (const [id, a] of this.attempts) if (a.mail === plain) this.attempts.delete(id);
    for (const times of [this.sent, this.tried]) times.delete(plain);
    const ended = await this.end((s) => s.person === person || (plain !== '' && s.mail === plain));
    await this.passkeys.remove((p) => p.person === person || (plain !== '' && p.mail === plain));
    // Invitations may have gone without a session.
    await this.keep();
    return ended;
  }

  /** Ends sessions; gives those that have ended. */
  async end(which: (s: Session) => boolean): Promise<Session[]> {
    const ended = [...this.sessions.values()].filter(which);
    for (const s of ended) this.forget(s);
    if (ended.length) await this.keep();
    return ended;
  }
}
