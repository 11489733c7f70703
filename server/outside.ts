import { lookup as lookUp } from 'node:dns/promises';
import type { LookupFunction } from 'node:net';
import type { Readable, Transform } from 'node:stream';
import { createBrotliDecompress, createGunzip, createInflate } from 'node:zlib';
import { Agent, request } from 'undici';
import { failureOf, NoAnswer } from '../core/services/failures.ts';
import type { OutsideReply, OutsideRequest } from '../core/services/outside.ts';
import {
  AddressRefused,
  checkPublic,
  type NamedHosts,
  readOutsideAddress,
} from '../core/services/outside-addresses.ts';

/** The addresses of a name. */
export type Resolve = (host: string) => Promise<string[]>;
const resolveAll: Resolve = async (host) => (await lookUp(host, { all: true, verbatim: true })).map((a) => a.address);

const MOST_REDIRECTS = 5;
/** What may not be set by an app: it belongs to the connection, or says who asks. */
const OWN_HEADERS = new Set([
  'host',
  'connection',
  'content-length',
  'transfer-encoding',
  'upgrade',
  'expect',
  'keep-alive',
  'te',
  'trailer',
  'proxy-authorization',
  'proxy-connection',
  'accept-encoding',
]);

/**
 * Asks other people's systems for apps. A name is looked up here, its addresses are checked, and the connection goes to
 * the very address that was checked, so no second look-up can lead elsewhere. Every redirect is checked like the first
 * address. Answers are bounded in time and size, also when they are packed.
 */
export class Outside {
  /** For hosts that must be public, and for those that the operator has named: they share no connection. */
  private readonly checked: Agent;
  private readonly free: Agent;

  constructor(
    private readonly named: NamedHosts,
    resolve: Resolve = resolveAll,
  ) {
    this.checked = agent(resolve, checkPublic);
    this.free = agent(resolve, () => undefined);
  }

  /** Asks; any status is an answer. Rejects with a {@link NoAnswer}. */
  async ask(asked: OutsideRequest): Promise<OutsideReply> {
    const began = performance.now();
    const signal = AbortSignal.timeout(asked.limits.ms);
    try {
      return { ...(await this.follow(asked, signal)), ms: performance.now() - began };
    } catch (e) {
      for (let inner: unknown = e; inner; inner = (inner as { cause?: unknown }).cause)
        if (inner instanceof AddressRefused) throw new NoAnswer('blocked', inner.message);
      throw failureOf(e);
    }
  }

  private async follow(asked: OutsideRequest, signal: AbortSignal): Promise<Omit<OutsideReply, 'ms'>> {
    let url = readOutsideAddress(asked.url, this.named);
    let { method, body } = asked;
    let headers = asked.headers.filter(([name]) => !OWN_HEADERS.has(name.toLowerCase()));
    for (let redirects = 0; ; redirects++) {
      const answer = await this.once(url, method, headers, body, signal);
      const to = answer.headers['location'];
      if (![301, 302, 303, 307, 308].includes(answer.statusCode) || typeof to !== 'string')
        return {
          status: answer.statusCode,
          headers: Object.entries(answer.headers).flatMap(([name, value]) =>
            (Array.isArray(value) ? value : [value ?? '']).map((v): [string, string] => [name, v]),
          ),
          body: await whole(answer.body, String(answer.headers['content-encoding'] ?? ''), asked.limits.bytes),
          url: url.href,
        };
      // Nobody reads what comes with it.
      answer.body.on('error', () => undefined).destroy();
      if (redirects === MOST_REDIRECTS) throw new NoAnswer('redirects');
      const next = readOutsideAddress(new URL(to, url).href, this.named);
      // As pages do it (Fetch Standard, 4.4): what was sent goes along only where that is asked for.
      if (answer.statusCode === 303 || (answer.statusCode < 303 && method === 'POST')) {
        method = 'GET';
        body = undefined;
        headers = headers.filter(([name]) => !/^content-/i.test(name));
      }
      // Who asks, and with which secret, is told to the host that was meant alone.
      if (next.origin !== url.origin)
        headers = headers.filter(
          ([name]) => !/^(authorization|cookie)$/i.test(name) && !asked.secret?.has(name.toLowerCase()),
        );
      url = next;
    }
  }

  private async once(
    url: URL,
    method: string,
    headers: readonly (readonly [string, string])[],
    body: OutsideRequest['body'],
    signal: AbortSignal,
  ) {
    return request(url, {
      dispatcher: this.named.has(url) ? this.free : this.checked,
      method: method as 'GET',
      headers: [...headers.flat(), 'accept-encoding', 'identity'],
      body: body ?? null,
      signal,
    });
  }

  async close(): Promise<void> {
    await Promise.all([this.checked.destroy(), this.free.destroy()]);
  }
}

/** Makes connections to the addresses of names, once `check` has passed all of them. */
function agent(resolve: Resolve, check: (host: string, addresses: readonly string[]) => void): Agent {
  const lookup: LookupFunction = (host, options, done) => {
    resolve(host)
      .then((addresses) => {
        check(host, addresses);
        const found = addresses.map((address) => ({ address, family: address.includes(':') ? 6 : 4 }));
        if (options.all) done(null, found);
        else done(null, found[0]!.address, found[0]!.family);
      })
      .catch((e: NodeJS.ErrnoException) => done(e, ''));
  };
  return new Agent({ connect: { lookup, timeout: 10_000 }, maxHeaderSize: 32 * 1024, keepAliveTimeout: 1000 });
}

const UNPACKED: Record<string, () => Transform> = {
  gzip: createGunzip,
  'x-gzip': createGunzip,
  deflate: createInflate,
  br: createBrotliDecompress,
};

/** All of an answer, unpacked. Rejects when it has more than so many bytes, packed or not. */
async function whole(body: Readable, packed: string, most: number): Promise<Uint8Array> {
  const coding = packed.trim().toLowerCase();
  const unpack = UNPACKED[coding];
  if (coding && coding !== 'identity' && !unpack) {
    body.on('error', () => undefined).destroy();
    throw new NoAnswer('unreadable');
  }
  const parts: Buffer[] = [];
  let size = 0;
  const unpacker = unpack?.();
  if (unpacker) {
    body.on('error', (e) => unpacker.destroy(e));
    body.pipe(unpacker);
  }
  try {
    for await (const part of (unpacker ?? body) as AsyncIterable<Buffer>) {
      size += part.length;
      if (size > most) throw new NoAnswer('too large');
      parts.push(part);
    }
  } catch (e) {
    body.on('error', () => undefined).destroy();
    if (unpacker && /^(Z_|ERR_BROTLI|ERR__ERROR)/.test(String((e as NodeJS.ErrnoException).code)))
      throw new NoAnswer('unreadable');
    throw e;
  }
  return Buffer.concat(parts);
}
