import '../fields/typed-texts.ts';
import { exportJWK, generateKeyPair, SignJWT, UnsecuredJWT, type JWK } from 'jose';
import { beforeAll, describe, expect, it } from 'vitest';
import { serviceAnswer, type CameBack } from './answer.ts';
import { goodsRequest, supplier } from './fixture.ts';
import type { Claims } from './schema.ts';

const NOW = Date.UTC(2026, 10, 30, 12);
const CLAIMS: Claims = {
  keys: 'https://a.example/keys',
  issuer: 'https://a.example/',
  audience: 'club',
  facts: [
    { claim: 'sub', variable: 'v_number0000' },
    { claim: 'name', variable: 'v_name000000' },
    { claim: 'iat', variable: 'v_since00000' },
    { claim: 'roles', variable: 'v_points0000' },
  ],
};
const field = (id: string, type: 'text' | 'number' | 'datetime') => ({
  id,
  name: id,
  type,
  lasts: 'device',
  first: '',
});
const variables = [
  field('v_number0000', 'text'),
  field('v_name000000', 'text'),
  field('v_since00000', 'datetime'),
  field('v_points0000', 'number'),
] as never;

let keys: { privateKey: CryptoKey; publicKey: CryptoKey };
let other: typeof keys;
let jwk: JWK;
beforeAll(async () => {
  keys = await generateKeyPair('ES256');
  other = await generateKeyPair('ES256');
  jwk = { ...(await exportJWK(keys.publicKey)), kid: 'a', alg: 'ES256', use: 'sig' };
});

const token = (more: Record<string, unknown> = {}, by = keys.privateKey): Promise<string> =>
  new SignJWT({
    sub: 'M-1',
    name: 'Odile',
    iss: CLAIMS.issuer,
    aud: 'club',
    iat: NOW / 1000,
    exp: NOW / 1000 + 300,
    ...more,
  })
    .setProtectedHeader({ alg: 'ES256', kid: 'a' })
    .sign(by);

/** Signs in with a token at a service; gives what phones hear. */
async function signIn(given: string, keySet: unknown = { keys: [jwk] }, claims: Claims = CLAIMS) {
  const asked: string[] = [];
  const answer = (value: unknown): CameBack => ({
    reply: {
      status: 200,
      headers: [['content-type', 'application/json']],
      body: new TextEncoder().encode(JSON.stringify(value)),
      ms: 1,
      url: 'https://a.example/',
    },
    tries: 1,
  });
  const pick = { id: 'k_token00000', name: 'Token', path: '$.token', type: 'text' as const };
  const app = {
    tables: [],
    variables,
    services: [supplier({ sign: { how: 'bearer' }, requests: [goodsRequest({ picks: [pick] })] })],
    signIn: { enter: 'n_goods00000', token: pick.id, claims },
  };
  const came = await serviceAnswer(app, { request: 'n_goods00000', inputs: {} }, 'live', {
    send: async ({ filled, service }) => {
      asked.push(`${service.sign.how} ${filled.url}`);
      if (!filled.url.endsWith('/keys')) return answer({ token: given });
      return typeof keySet === 'object' ? answer(keySet) : { failed: { sort: 'too slow', words: 'Too slow.' } };
    },
    now: () => NOW,
    instant: () => NOW,
    toLocal: (i) => i + 3_600_000,
  });
  return { came, asked };
}

describe('what a token says', () => {
  it('is known once its signature is checked with the keys, as its variables keep it', async () => {
    const { came, asked } = await signIn(await token());
    expect(came.said).toBeNull();
    expect(came.facts).toEqual({
      v_number0000: 'M-1',
      v_name000000: 'Odile',
      v_since00000: '2026-11-30T13:00:00',
      v_points0000: null,
    });
    // No key of the service goes to where the keys are.
    expect(asked[1]).toBe('none https://a.example/keys');
    const odd = await signIn(await token({ roles: ['keeper'] }));
    expect(odd.came.facts).not.toHaveProperty('v_points0000');
    expect(odd.came.notes).toEqual(['What the token says as “roles” does not fit v_points0000.']);
  });

  const cases: [string, () => Promise<string>, RegExp][] = [
    ['somebody else has signed', () => token({}, other.privateKey), /its signature is not that of the keys/],
    [
      'nobody has signed',
      async () => new UnsecuredJWT({ sub: 'M-1' }).encode(),
      /signed in a way that anybody could|no signed token/,
    ],
    [
      'was signed with the public key as if it were a secret',
      async () =>
        new SignJWT({ sub: 'M-1' })
          .setProtectedHeader({ alg: 'HS256', kid: 'a' })
          .sign(new TextEncoder().encode(JSON.stringify(jwk))),
      /signed in a way that anybody could/,
    ],
    ['is over', () => token({ exp: NOW / 1000 - 120 }), /its time is over/],
    ['another has given', () => token({ iss: 'https://b.example/' }), /somebody else has given it/],
    ['is for another app', () => token({ aud: 'shop' }), /meant for another app/],
    ['is no token', async () => 'abc', /no signed token/],
  ];
  it.each(cases)('of one that %s is not believed, and nobody is signed in', async (_what, made, why) => {
    const { came } = await signIn(await made());
    expect(came).toMatchObject({ failure: 'not allowed', picks: {} });
    expect(came.said).toMatch(why);
    expect(came.facts).toBeUndefined();
  });

  it('is not believed where the keys cannot be had; that says nothing against the token', async () => {
    const { came } = await signIn(await token(), 'away');
    expect(came).toMatchObject({ failure: 'no answer', said: expect.stringContaining('cannot be had: Too slow.') });
    expect((await signIn(await token(), { keys: [] })).came.said).toMatch(/none of the keys has signed it/);
  });
});
