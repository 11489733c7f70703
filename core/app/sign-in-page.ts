import { z } from 'zod';
import { newId } from '../document/ids.ts';
import { asWords } from '../records/words.ts';
import type { ServiceRequest } from '../services/schema.ts';
import { ElementMaker } from './make.ts';
import type { App } from './schema.ts';
import { addRequest, addService } from './services.ts';
import { addClaim, addFacts, addRoutine, addScreenToSignIn } from './sign-in.ts';

/** What a service says of how people sign in at its page (OpenID Connect Discovery 1.0, 3; RFC 8414). */
export const SignInDescription = z.object({
  authorization_endpoint: z.url(),
  token_endpoint: z.url(),
  userinfo_endpoint: z.url().optional(),
  jwks_uri: z.url().optional(),
  issuer: z.string().max(1000).optional(),
});
export type SignInDescription = z.infer<typeof SignInDescription>;

/** Where a service describes that, from its address. */
export const describedAt = (address: string): string =>
  /\/\.well-known\//.test(address) ? address : `${address.replace(/\/+$/, '')}/.well-known/openid-configuration`;

const pick = (name: string, path: string, type: 'text' | 'number' = 'text'): ServiceRequest['picks'][number] => ({
  id: newId('k'),
  name,
  path,
  type,
});
const input = (name: string): ServiceRequest['inputs'][number] => ({ id: newId('v'), name, type: 'text' });

/** The path of an address, as a request has it. */
function pathOf(address: string, base: string): string {
  const { origin, pathname, search } = new URL(address);
  if (origin !== base) throw new Error('Where tokens are given and who somebody is told are at different addresses.');
  return asWords(pathname + search);
}

/**
 * Sets up signing in at a page of a service: the requests that give tokens for a code, and new ones; a screen with the
 * button that leads there; and, where the service tells of them, who somebody is. Throws in words.
 */
export function setUpSignInAtPage(
  app: App,
  { name, client, scope, described }: { name: string; client: string; scope: string; described: SignInDescription },
): void {
  const base = new URL(described.token_endpoint).origin;
  const service = addService(app, { name, test: base, sign: { how: 'person' } });
  const tokens = [
    pick('Access token', "$['access_token']"),
    pick('Refresh token', "$['refresh_token']"),
    pick('Expires in', "$['expires_in']", 'number'),
  ] as const;
  const proof = pick('ID token', "$['id_token']");
  const path = pathOf(described.token_endpoint, base);
  const [code, verifier, back] = [input('Code'), input('Proof'), input('Where they are back')];
  const enter = addRequest(service, {
    name: 'Tokens for a code',
    method: 'POST',
    path,
    inputs: [code, verifier, back],
    picks: [...tokens, ...(described.jwks_uri ? [proof] : [])],
    open: true,
    body: {
      is: 'form',
      parts: [
        { name: 'grant_type', value: 'authorization_code' },
        { name: 'code', value: `{${code.id}}` },
        { name: 'code_verifier', value: `{${verifier.id}}` },
        { name: 'redirect_uri', value: `{${back.id}}` },
        { name: 'client_id', value: asWords(client) },
      ],
    },
  });
  const renewal = input('Refresh token');
  const anew = tokens.map((p) => ({ ...p, id: newId('k') }));
  const renew = addRequest(service, {
    name: 'New tokens',
    method: 'POST',
    path,
    inputs: [renewal],
    picks: anew,
    open: true,
    body: {
      is: 'form',
      parts: [
        { name: 'grant_type', value: 'refresh_token' },
        { name: 'refresh_token', value: `{${renewal.id}}` },
        { name: 'client_id', value: asWords(client) },
      ],
    },
  });
  const told = described.userinfo_endpoint && new URL(described.userinfo_endpoint).origin === base;
  const who = told
    ? addRequest(service, {
        name: 'Who somebody is',
        path: pathOf(described.userinfo_endpoint!, base),
        picks: [pick('Name', "$['name']"), pick('Mail', "$['email']")],
      })
    : null;
  const make = new ElementMaker();
  const leads = addRoutine(app, 'Sign in', [make.step('sign in')]);
  const facts = who ? addFacts(app, who.picks) : [];
  const screen = addScreenToSignIn(app, [
    make.text(asWords('Sign in'), 'title'),
    make.button(asWords(`Sign in with ${name}`), { do: 'routine', routine: leads.id }, { look: 'main', width: 'fill' }),
  ]);
  app.signIn = {
    enter: enter.id,
    token: tokens[0].id,
    renewal: tokens[1].id,
    seconds: tokens[2].id,
    renew: {
      request: renew.id,
      input: renewal.id,
      token: anew[0]!.id,
      renewal: anew[1]!.id,
      seconds: anew[2]!.id,
    },
    ...(who && { who: who.id }),
    page: {
      authorize: described.authorization_endpoint,
      client,
      ...(scope.trim() && { scope: scope.trim() }),
      code: code.id,
      verifier: verifier.id,
      back: back.id,
    },
    ...(described.jwks_uri && {
      claims: {
        keys: described.jwks_uri,
        pick: proof.id,
        audience: client,
        ...(described.issuer && { issuer: described.issuer }),
        facts: [],
      },
    }),
    facts,
    screen,
    open: [],
    stays: true,
  };
  // What nobody else tells of them the token does.
  if (!who && described.jwks_uri) for (const claim of ['name', 'email']) addClaim(app, claim);
  addRoutine(app, 'Sign out', [make.step('sign out')]);
}
