import { createHash, randomBytes } from 'node:crypto';
import { isIP } from 'node:net';
import type { AuthenticationResponseJSON, RegistrationResponseJSON } from '@simplewebauthn/server';
import { z } from 'zod';
import { once } from '../core/document/once.ts';
import { Refused } from '../core/document/refused.ts';

/** Passkeys (W3C Web Authentication, Level 3) of the people of one app, verified by SimpleWebAuthn. */

const ASKED_MS = 5 * 60_000;
const MOST_ASKED = 2000;
const MOST_EACH = 20;

/** What is kept of a passkey: its public half, whose it is, and for which site it was made. */
export const PasskeySchema = z.object({
  /** Id of the credential and its public key (COSE), in base 64 for addresses. */
  id: z.string(),
  key: z.string(),
  counter: z.number(),
  transports: z.array(z.string()).optional(),
  person: z.string(),
  /** The address that their record had then: with another one it may be somebody else. */
  mail: z.string(),
  /** The host name that it is good for. */
  host: z.string(),
  added: z.number(),
  used: z.number(),
  /** The browser it was made with, as it says itself. */
  browser: z.string(),
});
export type Passkey = z.infer<typeof PasskeySchema>;

const Text = z.string().max(20_000);
const answered = {
  id: z.string().max(2000),
  rawId: z.string().max(2000),
  type: z.literal('public-key'),
  clientExtensionResults: z.record(z.string(), z.unknown()),
  authenticatorAttachment: z.enum(['platform', 'cross-platform']).optional(),
};
/** What a browser answers when a passkey was made, and when one was used. */
export const MadePasskey = z.object({
  ...answered,
  response: z.object({
    clientDataJSON: Text,
    attestationObject: Text,
    transports: z.array(z.string().max(40)).max(10).optional(),
  }),
});
export const UsedPasskey = z.object({
  ...answered,
  response: z.object({
    clientDataJSON: Text,
    authenticatorData: Text,
    signature: Text,
    userHandle: z.string().max(200).optional(),
  }),
});

/** The page that asks: its host name and its origin. */
export interface Site {
  host: string;
  origin: string;
}

const webauthn = once(() => import('@simplewebauthn/server'));
const WRONG = 'This passkey does not fit. Sign in with a code, then make a new one.';
const bytesOf = (text: string): Uint8Array<ArrayBuffer> => new Uint8Array(Buffer.from(text, 'base64url'));

export class Passkeys {
  private readonly all = new Map<string, Passkey>();
  /** What was asked and is not answered yet; for whom a passkey is to be made, null where one is to be used. */
  private readonly asked = new Map<string, { challenge: string; person: string | null; until: number }>();

  constructor(
    kept: readonly Passkey[],
    private readonly keep: () => Promise<void>,
    private readonly now: () => number,
  ) {
    for (const p of kept) this.all.set(p.id, p);
  }

  list(person?: string): Passkey[] {
    return [...this.all.values()].filter((p) => person === undefined || p.person === person);
  }

  private ask(challenge: string, person: string | null): string {
    for (const [id, a] of this.asked) if (a.until < this.now()) this.asked.delete(id);
    while (this.asked.size >= MOST_ASKED) this.asked.delete(this.asked.keys().next().value!);
    const attempt = randomBytes(24).toString('base64url');
    this.asked.set(attempt, { challenge, person, until: this.now() + ASKED_MS });
    return attempt;
  }

  /** The challenge of an attempt, which is good once; throws a {@link Refused} for one that is none, or is for somebody else. */
  private take(attempt: string, person: string | null): string {
    const asked = this.asked.get(attempt);
    this.asked.delete(attempt);
    if (!asked || asked.until < this.now() || asked.person !== person)
      throw new Refused(422, 'That took too long. Try again.');
    return asked.challenge;
  }

  /** What a browser is asked to make a passkey with, for somebody who has signed in. */
  async begin({ host }: Site, app: { id: string; name: string }, person: string, mail: string) {
    if (isIP(host)) throw new Refused(422, 'Passkeys need an address with a name: this one is of numbers.');
    const own = this.list(person);
    if (own.length >= MOST_EACH) throw new Refused(422, 'You have as many passkeys as there may be. Remove one first.');
    const { generateRegistrationOptions } = await webauthn();
    const options = await generateRegistrationOptions({
      rpName: app.name,
      rpID: host,
      userName: mail,
      userDisplayName: mail,
      // The same for the same person of the same app, so that a device keeps one for each.
      userID: new Uint8Array(
        createHash('sha256')
          .update(JSON.stringify([app.id, person]))
          .digest(),
      ),
      excludeCredentials: own.map(({ id }) => ({ id })),
      authenticatorSelection: { residentKey: 'required', userVerification: 'required' },
    });
    return { attempt: this.ask(options.challenge, person), options };
  }

  /** Takes a passkey that a browser has made. */
  async add(
    { host, origin }: Site,
    attempt: string,
    response: z.infer<typeof MadePasskey>,
    { person, mail, browser }: Pick<Passkey, 'person' | 'mail' | 'browser'>,
  ): Promise<void> {
    const expectedChallenge = this.take(attempt, person);
    const { verifyRegistrationResponse } = await webauthn();
    const { registrationInfo } = await verifyRegistrationResponse({
      response: response as RegistrationResponseJSON,
      expectedChallenge,
      expectedOrigin: origin,
      expectedRPID: host,
    }).catch(() => ({ registrationInfo: undefined }));
    if (!registrationInfo || this.all.has(registrationInfo.credential.id)) throw new Refused(422, WRONG);
    const { id, publicKey, counter, transports } = registrationInfo.credential;
    const key = Buffer.from(publicKey).toString('base64url');
    const at = this.now();
    const made = { id, key, counter, person, mail, host, added: at, used: at, browser: browser.slice(0, 300) };
    this.all.set(id, { ...made, ...(transports && { transports }) });
    await this.keep();
  }

  /** What a browser is asked to use a passkey with. It says nothing of who has one. */
  async askFor({ host }: Site) {
    const { generateAuthenticationOptions } = await webauthn();
    const options = await generateAuthenticationOptions({ rpID: host, userVerification: 'required' });
    return { attempt: this.ask(options.challenge, null), options };
  }

  /** The passkey that was used. Throws a {@link Refused} where it is none of this app, or was not used now and here. */
  async confirm({ host, origin }: Site, attempt: string, response: z.infer<typeof UsedPasskey>): Promise<Passkey> {
    const expectedChallenge = this.take(attempt, null);
    const known = this.all.get(response.id);
    if (!known || known.host !== host) throw new Refused(422, WRONG);
    const { verifyAuthenticationResponse } = await webauthn();
    const { id, key, counter } = known;
    const verified = await verifyAuthenticationResponse({
      response: response as AuthenticationResponseJSON,
      expectedChallenge,
      expectedOrigin: origin,
      expectedRPID: known.host,
      credential: { id, publicKey: bytesOf(key), counter },
    }).catch(() => null);
    // Somebody may have removed it meanwhile.
    if (!verified?.verified || !this.all.has(id)) throw new Refused(422, WRONG);
    Object.assign(known, { counter: verified.authenticationInfo.newCounter, used: this.now() });
    await this.keep();
    return known;
  }

  /** Removes passkeys; gives how many there were. */
  async remove(which: (p: Passkey) => boolean): Promise<number> {
    const gone = this.list().filter(which);
    for (const p of gone) this.all.delete(p.id);
    if (gone.length) await this.keep();
    return gone.length;
  }
}
