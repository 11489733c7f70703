import { createECDH, createPublicKey, randomBytes, verify } from 'node:crypto';
import { createServer, type IncomingMessage } from 'node:http';
import type { AddressInfo } from 'node:net';
import { decrypt } from 'http_ece';
import type { Subscription } from '../core/released/web-push.ts';

/** A message as its phone could read it. */
export interface Brought {
  phone: string;
  topic: string | undefined;
  text: string;
}

/**
 * A stand-in for the push service of browsers and for the browsers behind it: it takes messages as RFC 8030 says, only
 * from the server that a phone was subscribed with (RFC 8292), and decrypts them with the keys of that phone (RFC 8291).
 */
export class PushStandIn {
  readonly brought: Brought[] = [];
  /** Statuses that it answers with next, whatever comes. */
  readonly answers: number[] = [];
  private readonly phones = new Map<string, { ecdh: ReturnType<typeof createECDH>; auth: Buffer; server: string }>();
  private readonly http = createServer((req, res) => {
    void this.take(req).then(
      (status) => res.writeHead(status).end(),
      (e: Error) => res.writeHead(400).end(e.message),
    );
  });
  url = '';

  static async start(): Promise<PushStandIn> {
    const made = new PushStandIn();
    await new Promise<void>((resolve) => made.http.listen(0, '127.0.0.1', resolve));
    made.url = `http://127.0.0.1:${(made.http.address() as AddressInfo).port}`;
    return made;
  }

  /** A browser subscribes with the key of a server. */
  subscribe(phone: string, server: string): Subscription {
    const ecdh = createECDH('prime256v1');
    const p256dh = ecdh.generateKeys('base64url');
    const auth = randomBytes(16);
    this.phones.set(phone, { ecdh, auth, server });
    return { endpoint: `${this.url}/send/${phone}`, keys: { p256dh, auth: auth.toString('base64url') } };
  }
  unsubscribe(phone: string): void {
    this.phones.delete(phone);
  }

  private async take(req: IncomingMessage): Promise<number> {
    const body: Buffer[] = [];
    for await (const part of req) body.push(part as Buffer);
    const next = this.answers.shift();
    if (next !== undefined) return next;
    const name = /^\/send\/(.+)$/.exec(req.url ?? '')?.[1] ?? '';
    const phone = this.phones.get(name);
    if (!phone || req.method !== 'POST') return 410;
    if (!this.isFrom(phone.server, req.headers.authorization ?? '')) return 403;
    if (!(Number(req.headers['ttl']) >= 0) || req.headers['content-encoding'] !== 'aes128gcm') return 400;
    const content = Buffer.concat(body);
    if (content.length > 4096) return 413;
    const text = decrypt(content, { version: 'aes128gcm', privateKey: phone.ecdh, authSecret: phone.auth.toString('base64url') });
    const topic = req.headers['topic'] as string | undefined;
    this.brought.push({ phone: name, topic, text: text.toString('utf8') });
    return 201;
  } // prettier-ignore

  /** Is a token for this service, signed with the key that the phone was subscribed with, and not for too long? */
  private isFrom(server: string, authorization: string): boolean {
    const [, token = '', key] = /^vapid t=([\w.-]+), ?k=([\w-]+)$/.exec(authorization) ?? [];
    const [head = '', claims = '', signature = ''] = token.split('.');
    if (key !== server || !signature) return false;
    const raw = Buffer.from(key, 'base64url');
    const [x, y] = [raw.subarray(1, 33), raw.subarray(33)].map((b) => b.toString('base64url'));
    const publicKey = createPublicKey({ key: { kty: 'EC', crv: 'P-256', x: x!, y: y! }, format: 'jwk' });
    const isSigned = verify(
      'sha256',
      Buffer.from(`${head}.${claims}`),
      { key: publicKey, dsaEncoding: 'ieee-p1363' },
      Buffer.from(signature, 'base64url'),
    );
    const { aud, exp, sub } = JSON.parse(Buffer.from(claims, 'base64url').toString()) as Record<string, unknown>;
    const left = Number(exp) - Date.now() / 1000;
    return isSigned && aud === this.url && left > 0 && left <= 86_400 && String(sub).startsWith('mailto:');
  }

  async close(): Promise<void> {
    this.http.closeAllConnections();
    await new Promise((resolve) => this.http.close(resolve));
  }
}
