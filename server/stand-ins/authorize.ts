import { createHash, randomBytes } from 'node:crypto';
import { Router, urlencoded } from 'express';
import helmet from 'helmet';
import { z } from 'zod';
import type { Members } from './members.ts';

/** A code is good once, for a minute. */
const CODE_MS = 60_000;

const Asked = z.object({
  response_type: z.literal('code'),
  client_id: z.string().min(1).max(300),
  redirect_uri: z.url(),
  state: z.string().min(1).max(500),
  scope: z.string().max(500).optional(),
  code_challenge: z.string().regex(/^[\w-]{43}$/),
  code_challenge_method: z.literal('S256'),
});
type Asked = z.infer<typeof Asked>;

const escaped = (text: string): string => text.replace(/[&<>"']/g, (c) => `&#${c.charCodeAt(0)};`);

/** The page itself: plain, and without scripts. */
const page = (said: string, asked: Asked): string => `<!doctype html>
<html lang="en"><meta charset="utf-8"><meta name="viewport" content="width=device-width"><link rel="icon" href="data:,"><title>Sign in at the stand-in</title>
<body style="font: 16px system-ui; max-width: 22rem; margin: 3rem auto; padding: 0 1rem">
<h1 style="font-size: 1.4rem">Heatherfield supplier (stand-in)</h1>
<p>${escaped(said || `Sign in to let “${asked.client_id}” know who you are.`)}</p>
<form method="post" style="display: grid; gap: .8rem">
${Object.entries(asked)
  .map(([name, value]) => `<input type="hidden" name="${name}" value="${escaped(String(value))}">`)
  .join('\n')}
<label>Mail <input name="mail" type="email" autocomplete="username" style="display: block; width: 100%"></label>
<label>Password <input name="password" type="password" autocomplete="current-password" style="display: block; width: 100%"></label>
<button name="answer" value="yes">Sign in</button>
<button name="answer" value="no">Do not sign in</button>
</form></body></html>`;

/**
 * A page where members sign in for an app (RFC 6749, 4.1), with proof of who left (RFC 7636), and tokens for the code that
 * the app comes back with; it says how it works as OpenID Connect Discovery 1.0 has it.
 */
export function authorizeRoutes(members: Members, url: () => string): Router {
  const routes = Router();
  const codes = new Map<string, Asked & { member: string; until: number }>();
  const form = urlencoded({ extended: false, limit: '20kb' });
  routes.get(
    '/.well-known/openid-configuration',
    (_req, res) =>
      void res.json({
        issuer: url(),
        authorization_endpoint: `${url()}/authorize`,
        token_endpoint: `${url()}/tokens/by-code`,
        userinfo_endpoint: `${url()}/me`,
        jwks_uri: `${url()}/keys`,
        response_types_supported: ['code'],
        code_challenge_methods_supported: ['S256'],
        grant_types_supported: ['authorization_code', 'refresh_token'],
        subject_types_supported: ['public'],
        id_token_signing_alg_values_supported: ['ES256'],
      }),
  );
  // The form leads back to the app, wherever that is.
  routes.use('/authorize', helmet({ contentSecurityPolicy: false }));
  routes.get('/authorize', (req, res) => {
    const asked = Asked.safeParse(req.query);
    if (!asked.success)
      return void res
        .status(400)
        .type('text')
        .send(`The app asks wrongly: ${z.prettifyError(asked.error)}`);
    return void res.type('html').send(page('', asked.data));
  });
  routes.post('/authorize', form, (req, res) => {
    const given = req.body as Record<string, string>;
    const asked = Asked.safeParse(given);
    if (!asked.success) return void res.status(400).type('text').send('The app asks wrongly.');
    const back = new URL(asked.data.redirect_uri);
    back.searchParams.set('state', asked.data.state);
    if (given['answer'] === 'no') {
      back.searchParams.set('error', 'access_denied');
      return void res.redirect(303, back.href);
    }
    const member = members.byMail(given['mail'] ?? '');
    if (!member || !members.matches(member, given['password'] ?? ''))
      return void res.status(401).type('html').send(page('The mail address or the password is not right.', asked.data));
    const code = randomBytes(24).toString('base64url');
    codes.set(code, { ...asked.data, member: member.mail, until: Date.now() + CODE_MS });
    back.searchParams.set('code', code);
    return void res.redirect(303, back.href);
  });
  routes.post('/tokens/by-code', form, async (req, res) => {
    const given = req.body as Record<string, string | undefined>;
    const refused = (error: string, words: string): void =>
      void res.status(400).json({ error, error_description: words });
    if (given['grant_type'] === 'refresh_token') {
      const member = members.renews(given['refresh_token'] ?? '');
      if (!member) return refused('invalid_grant', 'This can no longer be renewed.');
      return void res.json(await members.tokens(member));
    }
    if (given['grant_type'] !== 'authorization_code') return refused('unsupported_grant_type', 'Bring a code.');
    const code = given['code'] ?? '';
    const known = codes.get(code);
    codes.delete(code);
    if (!known || known.until < Date.now()) return refused('invalid_grant', 'The code is not known, or too old.');
    if (known.redirect_uri !== given['redirect_uri'] || known.client_id !== given['client_id'])
      return refused('invalid_grant', 'The code was given for another app.');
    const challenge = createHash('sha256')
      .update(given['code_verifier'] ?? '')
      .digest('base64url');
    if (challenge !== known.code_challenge) return refused('invalid_grant', 'Whoever comes back is not who left.');
    const member = members.byMail(known.member)!;
    const id = await members.idToken(member, url(), known.client_id);
    return void res.json({ ...(await members.tokens(member)), id_token: id });
  });
  return routes;
}
