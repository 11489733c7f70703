import { sha256 } from '@noble/hashes/sha2.js';
import type { SignInPage } from '../core/routines/asks.ts';
import type { PhoneApi } from '../core/phone/api.ts';

/** Signing in at a page of somebody else’s (RFC 6749, 4.1), with proof that whoever comes back is who left (RFC 7636). */

const KEY = 'signing in';
/** Who takes longer to sign in begins anew. */
const MOST_MS = 30 * 60_000;

/** What is known of somebody who has left to sign in, in this tab alone. */
interface Left {
  state: string;
  verifier: string;
  back: string;
  hash: string;
  at: number;
}

const base64Url = (bytes: Uint8Array): string =>
  btoa(String.fromCharCode(...bytes))
    .replaceAll('+', '-')
    .replaceAll('/', '_')
    .replace(/=+$/, '');
const random = (): string => base64Url(crypto.getRandomValues(new Uint8Array(32)));

/** The challenge that stands for a verifier (RFC 7636, 4.2: S256). */
export const challengeOf = (verifier: string): string => base64Url(sha256(new TextEncoder().encode(verifier)));

/** Leaves the app for the page where people sign in. Throws in words where that cannot be. */
export function leaveToSignIn(page: SignInPage | undefined): void {
  if (!page) throw new Error('The app does not say where people sign in.');
  const app = /^\/a\/[a-z0-9-]+/.exec(location.pathname)?.[0];
  if (!app) throw new Error('People leave the app to sign in: release it, and try it there.');
  const left: Left = {
    state: random(),
    verifier: random(),
    // As pages of apps are called: without an end they lead on, and what is behind the address is lost.
    back: `${location.origin}${app}/`,
    hash: location.hash,
    at: Date.now(),
  };
  const url = new URL(page.authorize);
  if (url.protocol !== 'https:' && url.protocol !== 'http:') throw new Error('The page to sign in has no address.');
  const asked = {
    response_type: 'code',
    client_id: page.client,
    redirect_uri: left.back,
    ...(page.scope && { scope: page.scope }),
    state: left.state,
    code_challenge: challengeOf(left.verifier),
    code_challenge_method: 'S256',
  };
  for (const [name, value] of Object.entries(asked)) url.searchParams.set(name, value);
  sessionStorage.setItem(KEY, JSON.stringify(left));
  location.assign(url);
}

/** Takes up what somebody comes back with from the page, and says what went wrong. The address is as it was before. */
export async function comeBack(api: Pick<PhoneApi, 'cameBack'>, say: (words: string) => void): Promise<void> {
  const said = new URLSearchParams(location.search);
  const kept = sessionStorage.getItem(KEY);
  sessionStorage.removeItem(KEY);
  const left = kept ? (JSON.parse(kept) as Left) : null;
  // Neither the code nor what is said of it stays in the address.
  history.replaceState(history.state, '', location.pathname + location.hash);
  if (!left || said.get('state') !== left.state || Date.now() - left.at > MOST_MS)
    return say('This way of signing in did not begin here, or it took too long. Sign in once more.');
  const error = said.get('error');
  if (error)
    return say(
      error === 'access_denied'
        ? 'You did not sign in.'
        : `The service says: ${(said.get('error_description') ?? error).slice(0, 300)}`,
    );
  const code = said.get('code');
  if (code) await api.cameBack(code, left.verifier, left.back);
  // They are where they were.
  if (left.hash) location.hash = left.hash;
}
