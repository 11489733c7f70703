import { request } from 'undici';
import { inShort } from '../core/document/in-short.ts';
import type { KeptMessage } from '../core/released/messages.ts';
import type { RelayAnswer } from '../core/released/messages-out.ts';

const LIMIT_MS = 20_000;
/** For now: it comes too often, or nobody can take it (RFC 9110, 15). */
const FOR_NOW: ReadonlySet<number> = new Set([408, 425, 429]);

/**
 * The operator’s address for text messages, which gives them to whoever sends them. It is asked by POST with JSON, once for
 * each message: `{"id": "…", "app": "…", "to": ["+44 20 7946 0000"], "words": "…"}`, with the id as `Idempotency-Key` too.
 */
export class TextRelay {
  constructor(
    private readonly url: string,
    /** What it is shown that the server asks, as `Authorization: Bearer`; empty for nothing. */
    private readonly key = '',
  ) {
    if (!URL.canParse(url) || !/^https?:$/.test(new URL(url).protocol))
      throw new Error('The address for text messages is one such as https://texts.example/send.');
  }

  /** Gives it a message. Never rejects. */
  async send(app: string, id: string, { to, body }: Pick<KeptMessage, 'to' | 'body'>): Promise<RelayAnswer> {
    try {
      const answer = await request(this.url, {
        method: 'POST',
        headers: {
          'content-type': 'application/json',
          'idempotency-key': `${app}/${id}`,
          ...(this.key && { authorization: `Bearer ${this.key}` }),
        },
        body: JSON.stringify({ id, app, to, words: body }),
        signal: AbortSignal.timeout(LIMIT_MS),
      });
      const words = await answer.body.text().catch(() => '');
      const { statusCode: status } = answer;
      if (status >= 200 && status < 300) return { taken: true };
      const forGood = status >= 400 && status < 500 && !FOR_NOW.has(status);
      return { taken: false, forGood, words: inShort(`It answered ${status}. ${words}`.trim(), 500) };
    } catch (e) {
      return { taken: false, forGood: false, words: inShort((e as Error).message, 500) };
    }
  }
}
