import { expect, it } from 'vitest';
import { preflight } from '../preflight/preflight.ts';
import { emptyApp } from './document.ts';
import { AppSchema } from './schema.ts';
import { describedAt, setUpSignInAtPage } from './sign-in-page.ts';

const described = {
  issuer: 'https://id.example',
  authorization_endpoint: 'https://id.example/authorize',
  token_endpoint: 'https://id.example/oauth/token?v=2',
  userinfo_endpoint: 'https://id.example/userinfo',
  jwks_uri: 'https://id.example/keys',
};
const setUp = (more: object = {}) => {
  const app = emptyApp('Club');
  setUpSignInAtPage(app, {
    name: 'id.example',
    client: 'club {1}',
    scope: ' openid ',
    described: { ...described, ...more },
  });
  return app;
};

it('signing in at a page is set up whole: requests, a screen, who somebody is, and nothing that stops a release', () => {
  const app = setUp();
  expect(AppSchema.parse(app)).toEqual(app);
  expect(preflight(app).filter((n) => n.workspace === 'services')).toEqual([]);
  const [service] = app.services!;
  expect(service).toMatchObject({ test: 'https://id.example', sign: { how: 'person' } });
  expect(service!.requests.map((r) => [r.method, r.path, Boolean(r.open)])).toEqual([
    ['POST', '/oauth/token?v=2', true],
    ['POST', '/oauth/token?v=2', true],
    ['GET', '/userinfo', false],
  ]);
  expect(app.signIn).toMatchObject({
    who: service!.requests[2]!.id,
    page: { authorize: described.authorization_endpoint, client: 'club {1}', scope: 'openid' },
    claims: { keys: described.jwks_uri, issuer: described.issuer, audience: 'club {1}' },
  });
  expect(app.variables!.map((v) => v.name)).toEqual(['My name', 'My mail']);
  // A name with braces is a text, not a place.
  expect(JSON.stringify(service!.requests[0]!.body)).toContain('club {{1}');
});

it('who somebody is comes from the token where nothing else tells it', () => {
  const app = setUp({ userinfo_endpoint: 'https://api.example/me' });
  expect(app.signIn!.who).toBeUndefined();
  expect(app.signIn!.claims!.facts.map((f) => f.claim)).toEqual(['name', 'email']);
  expect(setUp({ userinfo_endpoint: undefined, jwks_uri: undefined }).signIn).not.toHaveProperty('claims');
});

it('is described beside the address of a service', () => {
  expect(describedAt('https://id.example/')).toBe('https://id.example/.well-known/openid-configuration');
  expect(describedAt('https://id.example/.well-known/oauth-authorization-server')).toContain(
    'oauth-authorization-server',
  );
});
