import { randomBytes, scryptSync, timingSafeEqual } from 'node:crypto';
import { Router, type Request } from 'express';
import { exportJWK, generateKeyPair, jwtVerify, SignJWT, type JWK } from 'jose';
import { z } from 'zod';
import { problem } from './problem.ts';
import { KeptJson } from './kept-json.ts';

const Member = z.object({
  id: z.string(),
  mail: z.string(),
  name: z.string(),
  salt: z.string(),
  hash: z.string(),
  points: z.number(),
});
type Member = z.infer<typeof Member>;

/** Tokens are good for so many seconds, what renews them for thirty days. */
const TOKEN_S = 300;
const REFRESH_MS = 30 * 86_400_000;

const hashed = (password: string, salt: string): string => scryptSync(password, salt, 32).toString('hex');

/** People who have signed up, and their tokens: JWT signed with a key of this run (RFC 7519, ES256). */
export class Members {
  /** Grows when all tokens of before are ended. */
  private generation = 0;
  private readonly renewals = new Map<string, { member: string; until: number }>();

  private constructor(
    private readonly kept: KeptJson<Member>,
    private readonly keys: { privateKey: CryptoKey; publicKey: CryptoKey; jwk: JWK },
  ) {}

  static async open(folder: string): Promise<Members> {
    const { privateKey, publicKey } = await generateKeyPair('ES256');
    const jwk = { ...(await exportJWK(publicKey)), kid: 'stand-in', alg: 'ES256', use: 'sig' };
    return new Members(await KeptJson.open(folder, 'members', Member.array()), { privateKey, publicKey, jwk });
  }

  get keySet(): { keys: JWK[] } {
    return { keys: [this.keys.jwk] };
  }

  byMail(mail: string): Member | undefined {
    return this.kept.list.find((m) => m.mail === mail.toLowerCase());
  }

  async add(mail: string, password: string, name: string): Promise<Member> {
    const salt = randomBytes(16).toString('hex');
    const id = `M-${String(this.kept.list.length + 1).padStart(4, '0')}`;
    const member = { id, mail: mail.toLowerCase(), name, salt, hash: hashed(password, salt), points: 0 };
    this.kept.list.push(member);
    await this.kept.save();
    return member;
  }

  matches(member: Member, password: string): boolean {
    return timingSafeEqual(Buffer.from(hashed(password, member.salt), 'hex'), Buffer.from(member.hash, 'hex'));
  }

  /** New tokens; `seconds` is how long the first is good. */
  async tokens(member: Member, seconds = TOKEN_S): Promise<object> {
    const token = await new SignJWT({ name: member.name, generation: this.generation })
      .setProtectedHeader({ alg: 'ES256', kid: 'stand-in' })
      .setSubject(member.id)
      .setIssuedAt()
      .setExpirationTime(Math.floor(Date.now() / 1000) + seconds)
      .sign(this.keys.privateKey);
    const renewal = randomBytes(24).toString('base64url');
    this.renewals.set(renewal, { member: member.id, until: Date.now() + REFRESH_MS });
    return { access_token: token, token_type: 'Bearer', expires_in: seconds, refresh_token: renewal };
  }

  /** Who a member is, said to one app (OpenID Connect Core 1.0, 2). */
  idToken(member: Member, issuer: string, audience: string): Promise<string> {
    return new SignJWT({ name: member.name, email: member.mail })
      .setProtectedHeader({ alg: 'ES256', kid: 'stand-in' })
      .setSubject(member.id)
      .setIssuer(issuer)
      .setAudience(audience)
      .setIssuedAt()
      .setExpirationTime(Math.floor(Date.now() / 1000) + TOKEN_S)
      .sign(this.keys.privateKey);
  }

  /** Whoever may have new tokens by this; it is good once. */
  renews(renewal: string): Member | null {
    const known = this.renewals.get(renewal);
    this.renewals.delete(renewal);
    return known && known.until > Date.now() ? (this.kept.list.find((m) => m.id === known.member) ?? null) : null;
  }

  forget(member: Member): void {
    for (const [renewal, known] of this.renewals) if (known.member === member.id) this.renewals.delete(renewal);
  }

  /** Who asks, by their token; null where there is none that is good. */
  async of(req: Request): Promise<Member | null> {
    const token = /^bearer (.+)$/i.exec(req.get('authorization') ?? '')?.[1];
    if (!token) return null;
    try {
      const { payload } = await jwtVerify(token, this.keys.publicKey);
      if (payload['generation'] !== this.generation) return null;
      return this.kept.list.find((m) => m.id === payload.sub) ?? null;
    } catch {
      return null;
    }
  }

  /** Ends all tokens, as if their time were over; with `renewals`, what renews them too. */
  endTokens(renewals: boolean): void {
    this.generation++;
    if (renewals) this.renewals.clear();
  }
}

const SignUp = z.object({
  mail: z.email().max(254),
  password: z.string().min(8).max(200),
  name: z.string().trim().min(1).max(100),
});
const SignIn = z.object({
  mail: z.string().max(254),
  password: z.string().max(200),
  seconds: z.number().int().min(1).max(3600).optional(),
});
/** `email` as OpenID Connect calls it, beside what the service itself does. */
const profile = ({ id, mail, name, points }: Member): object => ({ id, mail, email: mail, name, points });

/** Sign up, sign in, new tokens, who am I, sign out. */
export function memberRoutes(members: Members): Router {
  const routes = Router();
  // A fault on request: tokens end before their time, and with ?renewals=1 nobody can renew them.
  routes.post('/faults/end-tokens', (req, res) => {
    members.endTokens(req.query['renewals'] === '1');
    res.status(204).end();
  });
  routes.get('/keys', (_req, res) => void res.json(members.keySet));
  routes.post('/members', async (req, res) => {
    const asked = SignUp.safeParse(req.body);
    if (!asked.success)
      return void res
        .status(422)
        .json(problem(422, 'Some fields are not right.', { errors: fieldErrors(asked.error) }));
    const { mail, password, name } = asked.data;
    if (members.byMail(mail))
      return void res.status(409).json(
        problem(409, 'Somebody has signed up with this mail address.', {
          errors: [{ pointer: '#/mail', detail: 'Somebody has signed up with it.' }],
        }),
      );
    return void res.status(201).json(profile(await members.add(mail, password, name)));
  });
  routes.post('/tokens', async (req, res) => {
    const asked = SignIn.safeParse(req.body);
    const member = asked.success ? members.byMail(asked.data.mail) : undefined;
    if (!asked.success || !member || !members.matches(member, asked.data.password))
      return void res.status(401).json(problem(401, 'The mail address or the password is not right.'));
    return void res.json(await members.tokens(member, asked.data.seconds));
  });
  routes.post('/tokens/renewed', async (req, res) => {
    const { refresh_token: renewal, seconds } = (req.body ?? {}) as { refresh_token?: unknown; seconds?: unknown };
    const member = typeof renewal === 'string' ? members.renews(renewal) : null;
    if (!member) return void res.status(401).json(problem(401, 'This can no longer be renewed. Sign in again.'));
    return void res.json(await members.tokens(member, typeof seconds === 'number' ? seconds : undefined));
  });
  routes.get('/me', async (req, res) => {
    const member = await members.of(req);
    return void (member ? res.json(profile(member)) : res.status(401).json(problem(401, 'Sign in first.')));
  });
  routes.delete('/tokens', async (req, res) => {
    const member = await members.of(req);
    if (member) members.forget(member);
    return void res.status(204).end();
  });
  return routes;
}

/** Each field that is not right, as RFC 9457 shows it by example. */
export const fieldErrors = (error: z.ZodError): { pointer: string; detail: string }[] =>
  error.issues.map((i) => ({ pointer: `#/${i.path.join('/')}`, detail: i.message }));
