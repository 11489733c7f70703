import { z } from 'zod';
import { NoAnswer } from '../core/services/failures.ts';
import type { OutsideReply, OutsideRequest } from '../core/services/outside.ts';
import type { Sign } from '../core/services/schema.ts';

type ClientSign = Extract<Sign, { how: 'client' }>;

const Answer = z.object({
  access_token: z.string().min(1).max(16_000),
  expires_in: z.coerce.number().min(0).max(31_536_000).optional(),
});

/** Nothing is said of how long a token is good: then it is got anew after so long. */
const USUAL_S = 300;
const EARLY_MS = 20_000;
const LIMITS = { ms: 15_000, bytes: 100_000 };

const encoded = (text: string): string => new URLSearchParams({ t: text }).toString().slice(2);

/**
 * Tokens that services give to apps themselves (RFC 6749, 4.4). Each is kept in memory until shortly before its end, and got
 * once for all who wait.
 */
export class ClientTokens {
  private readonly known = new Map<string, { token: string; until: number }>();
  private readonly getting = new Map<string, Promise<string>>();

  constructor(
    private readonly send: (request: OutsideRequest) => Promise<OutsideReply>,
    private readonly now: () => number = Date.now,
  ) {}

  /** A token; `whose` names the app and service that it is for. `secret` is `id:key`. Rejects with a {@link NoAnswer}. */
  get(whose: string, sign: ClientSign, secret: string): Promise<string> {
    const key = JSON.stringify([whose, sign.tokens, sign.scope ?? '', secret]);
    const known = this.known.get(key);
    if (known && known.until > this.now()) return Promise.resolve(known.token);
    let getting = this.getting.get(key);
    if (!getting) {
      getting = this.fetched(key, sign, secret).finally(() => this.getting.delete(key));
      this.getting.set(key, getting);
    }
    return getting;
  }

  /** The service does not take a token any more. */
  forget(token: string): void {
    for (const [key, known] of this.known) if (known.token === token) this.known.delete(key);
  }

  private async fetched(key: string, { tokens, scope }: ClientSign, secret: string): Promise<string> {
    const at = secret.indexOf(':');
    if (at < 0) throw new NoAnswer('no token');
    const [id, password] = [secret.slice(0, at), secret.slice(at + 1)];
    const reply = await this.send({
      method: 'POST',
      url: tokens,
      // Both are encoded like a form before they are joined (RFC 6749, 2.3.1).
      headers: [
        ['authorization', `Basic ${Buffer.from(`${encoded(id)}:${encoded(password)}`).toString('base64')}`],
        ['content-type', 'application/x-www-form-urlencoded'],
        ['accept', 'application/json'],
      ],
      secret: new Set(['authorization']),
      body: new URLSearchParams({ grant_type: 'client_credentials', ...(scope && { scope }) }).toString(),
      limits: LIMITS,
    });
    let answer: z.infer<typeof Answer> | null = null;
    try {
      answer = reply.status < 300 ? Answer.parse(JSON.parse(Buffer.from(reply.body).toString('utf8'))) : null;
    } catch {
      // Told below.
    }
    if (!answer) throw new NoAnswer('no token');
    const life = (answer.expires_in ?? USUAL_S) * 1000;
    this.known.set(key, { token: answer.access_token, until: this.now() + life - Math.min(EARLY_MS, life / 10) });
    return answer.access_token;
  }
}
