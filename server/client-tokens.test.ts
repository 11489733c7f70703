import { describe, expect, it } from 'vitest';
import type { OutsideReply, OutsideRequest } from '../core/services/outside.ts';
import { ClientTokens } from './client-tokens.ts';

const SIGN = { how: 'client' as const, tokens: 'https://a.example/token', scope: 'read orders' };

/** A place that gives tokens, each another, good for a hundred seconds. */
function giving(
  answer: (n: number) => [status: number, body: string] = (n) => [200, `{"access_token":"t${n}","expires_in":100}`],
) {
  const asked: OutsideRequest[] = [];
  let now = 0;
  const tokens = new ClientTokens(
    async (request): Promise<OutsideReply> => {
      asked.push(request);
      const [status, body] = answer(asked.length);
      return { status, headers: [], body: new TextEncoder().encode(body), ms: 1, url: request.url };
    },
    () => now,
  );
  const get = (whose = 'app', secret = 'me&co:k:ey') => tokens.get(whose, SIGN, secret);
  return { tokens, get, asked, pass: (ms: number) => void (now += ms) };
}

describe('a token for the app itself', () => {
  it('is asked for with its id and key, once for all who wait, and again before it ends', async () => {
    const { get, asked, pass } = giving();
    expect(await Promise.all([get(), get(), get()])).toEqual(['t1', 't1', 't1']);
    expect(asked).toHaveLength(1);
    expect(asked[0]).toMatchObject({
      method: 'POST',
      url: SIGN.tokens,
      body: 'grant_type=client_credentials&scope=read+orders',
    });
    expect(asked[0]!.headers[0]).toEqual([
      'authorization',
      `Basic ${Buffer.from('me%26co:k%3Aey').toString('base64')}`,
    ]);
    expect(asked[0]!.secret!.has('authorization')).toBe(true);
    pass(89_000);
    expect(await get()).toBe('t1');
    pass(2000);
    expect(await get()).toBe('t2');
  });
  it('is another for another app or key, and after the service has refused it', async () => {
    const { get, tokens } = giving();
    expect([await get(), await get('other'), await get('app', 'me:new'), await get()]).toEqual([
      't1',
      't2',
      't3',
      't1',
    ]);
    tokens.forget('t1');
    expect(await get()).toBe('t4');
  });
  it('that cannot be had is told in words, and asked for again the next time', async () => {
    for (const answer of [
      [401, '{}'],
      [200, 'no JSON'],
      [200, '{"token":"x"}'],
      [302, ''],
    ] as [number, string][]) {
      const { get, asked } = giving(() => answer);
      await expect(get()).rejects.toThrow('gives the app no token');
      await expect(get()).rejects.toThrow('gives the app no token');
      expect(asked).toHaveLength(2);
    }
    await expect(giving().get('app', 'without a colon')).rejects.toThrow('no token');
  });
});
