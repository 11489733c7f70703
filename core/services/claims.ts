import { createLocalJWKSet, jwtVerify, type JSONWebKeySet, type JWTPayload } from 'jose';
import type { Cell } from '../fields/lists.ts';
import type { Field } from '../tables/schema.ts';
import { cellOf, type ToLocal } from './cell-of.ts';
import type { Claims } from './schema.ts';

/** Signatures that only whoever has the private key can make (RFC 7518, 3.1; RFC 8037). */
const ALGORITHMS = [
  'RS256',
  'RS384',
  'RS512',
  'PS256',
  'PS384',
  'PS512',
  'ES256',
  'ES384',
  'ES512',
  'EdDSA',
  'Ed25519',
];
/** Clocks may differ by so many seconds. */
const TOLERANCE_S = 60;

/** A token is not vouched for, in words for whoever signs in. */
export class NotVouchedFor extends Error {
  override name = 'NotVouchedFor';
}

/**
 * What a token says (RFC 7519), after its signature was checked with the keys of whoever gave it (RFC 7517). `now` in ms.
 * Throws {@link NotVouchedFor}.
 */
export async function checkedClaims(token: string, how: Claims, keySet: unknown, now: number): Promise<JWTPayload> {
  try {
    const { payload } = await jwtVerify(token, createLocalJWKSet(keySet as JSONWebKeySet), {
      algorithms: ALGORITHMS,
      clockTolerance: TOLERANCE_S,
      currentDate: new Date(now),
      ...(how.issuer && { issuer: how.issuer }),
      ...(how.audience && { audience: how.audience }),
    });
    return payload;
  } catch (e) {
    throw new NotVouchedFor(
      `The service gave a token that does not hold (${inWords(e as Error)}), so nobody is signed in.`,
    );
  }
}

const WORDS: Readonly<Record<string, string>> = {
  ERR_JWS_SIGNATURE_VERIFICATION_FAILED: 'its signature is not that of the keys',
  ERR_JWKS_NO_MATCHING_KEY: 'none of the keys has signed it',
  ERR_JWKS_MULTIPLE_MATCHING_KEYS: 'it does not say which of the keys has signed it',
  ERR_JWKS_INVALID: 'the keys are no set of keys',
  ERR_JWT_EXPIRED: 'its time is over',
  ERR_JOSE_ALG_NOT_ALLOWED: 'it is signed in a way that anybody could',
};
function inWords(e: Error & { code?: string; claim?: string }): string {
  if (e.code === 'ERR_JWT_CLAIM_VALIDATION_FAILED')
    return e.claim === 'iss'
      ? 'somebody else has given it'
      : e.claim === 'aud'
        ? 'it is meant for another app'
        : e.message;
  return WORDS[e.code ?? ''] ?? 'it is no signed token';
}

/** What of a token's claims is kept, by the ids of variables; what does not fit its variable is noted and left out. */
export function factsOf(
  payload: JWTPayload,
  { facts }: Claims,
  variables: readonly Field[],
  toLocal: ToLocal,
): { facts: Record<string, Cell>; notes: string[] } {
  const out: Record<string, Cell> = {};
  const notes: string[] = [];
  for (const { claim, variable } of facts) {
    const field = variables.find((v) => v.id === variable);
    if (!field) continue;
    const value = Object.hasOwn(payload, claim) ? payload[claim] : null;
    // Times are seconds since 1970 (RFC 7519, 2: NumericDate).
    const cell = cellOf(field, isTime(field, value) ? new Date(Number(value) * 1000).toISOString() : value, toLocal);
    if (cell === undefined) notes.push(`What the token says as “${claim}” does not fit ${field.name}.`);
    else out[variable] = cell;
  }
  return { facts: out, notes };
}

const isTime = (field: Field, value: unknown): boolean =>
  (field.type === 'datetime' || field.type === 'date') && typeof value === 'number' && Number.isFinite(value);
