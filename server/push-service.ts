import { createHash } from 'node:crypto';
import webPush from 'web-push';
import { z } from 'zod';
import type { TextPort } from '../core/document/kept-text.ts';
import { inShort } from '../core/document/in-short.ts';
import type { PushAnswer, Subscription } from '../core/released/web-push.ts';
import { NoAnswer } from '../core/services/failures.ts';
import type { Outside } from './outside.ts';

/** How this server shows push services who it is (VAPID, RFC 8292): a pair of keys, as base64url. */
const Keys = z.object({ publicKey: z.string(), privateKey: z.string() });
type Keys = z.infer<typeof Keys>;

/** So many seconds a push service keeps a message for a phone that is off. */
const TTL = 86_400;
const LIMITS = { ms: 20_000, bytes: 16 * 1024 };

/** Gives messages to the push services of browsers, encrypted for one phone each (RFC 8291). */
export class PushService {
  private constructor(
    private readonly keys: Keys,
    private readonly outside: Outside,
    /** Whom a push service may write to about this server, as `mailto:`. */
    private readonly contact: string,
  ) {}

  /** Reads the keys of this server; they are made the first time, and stay, since phones know them. */
  static async open(file: TextPort, outside: Outside, contact: string): Promise<PushService> {
    const text = await file.read();
    const keys = text ? Keys.parse(JSON.parse(text)) : webPush.generateVAPIDKeys();
    if (!text) await file.write(JSON.stringify(keys));
    return new PushService(keys, outside, contact);
  }

  /** The key by which a phone lets this server, and no other, tell it something. */
  get key(): string {
    return this.keys.publicKey;
  }

  /** Gives a message to the push service of a phone. Rejects never. */
  async send(subscription: Subscription, id: string, message: string): Promise<PushAnswer> {
    try {
      const { endpoint, method, headers, body } = webPush.generateRequestDetails(subscription, message, {
        vapidDetails: { subject: this.contact, ...this.keys },
        contentEncoding: 'aes128gcm',
        TTL,
        // Sent again before it arrived, it takes the place of the first (RFC 8030, 5.4).
        topic: createHash('sha256').update(id).digest('base64url').slice(0, 32),
      });
      const reply = await this.outside.ask({
        url: endpoint,
        method,
        headers: Object.entries(headers).map(([name, value]): [string, string] => [name, String(value)]),
        body,
        limits: LIMITS,
      });
      if (reply.status >= 200 && reply.status < 300) return { taken: true };
      // It says that the phone is not there any more, or that this can never be right (RFC 8030, 7.3).
      const gone = reply.status >= 400 && reply.status < 500 && ![408, 425, 429].includes(reply.status);
      return { taken: false, gone, words: `It answered ${reply.status}.` };
    } catch (e) {
      // An address that may not be asked, or keys that are none, will not come right.
      const gone = !(e instanceof NoAnswer) || e.sort === 'blocked';
      return { taken: false, gone, words: inShort((e as Error).message, 300) };
    }
  }
}
