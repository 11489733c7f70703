// @vitest-environment jsdom
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { challengeOf, comeBack, leaveToSignIn } from './sign-in-page.ts';

const page = { authorize: 'https://id.example/authorize?tenant=1', client: 'club', scope: 'openid' };
const at = (path: string): void => history.replaceState({ at: 3 }, '', path);
/** jsdom goes nowhere: where it was to go is told. */
function leave(): URL {
  let to = '';
  vi.stubGlobal('location', {
    origin: location.origin,
    pathname: location.pathname,
    hash: location.hash,
    assign: (url: URL) => (to = String(url)),
  });
  leaveToSignIn(page);
  vi.unstubAllGlobals();
  return new URL(to);
}
const back = async (query: string) => {
  at(`/a/club${query}`);
  const came: string[][] = [];
  const said: string[] = [];
  await comeBack({ cameBack: async (...all) => void came.push(all) }, (words) => said.push(words));
  return { came, said };
};

beforeEach(() => at('/a/club#/s_orders0000'));
afterEach(() => sessionStorage.clear());

describe('signing in at a page', () => {
  it('proves who comes back as RFC 7636 has it', () => {
    // Appendix B.
    expect(challengeOf('dBjftJeZ4CVP-mB92K27uhbUJU1p1r_wW1gFWFOEjXk')).toBe(
      'E9Melhoa2OwvFrEMTJguCHaoeK1t8URWbuGJSstw-cM',
    );
  });

  it('leaves with what the page needs, and comes back to where somebody was with the code and the proof', async () => {
    const url = leave();
    const asked = Object.fromEntries(url.searchParams);
    expect(asked).toMatchObject({
      tenant: '1',
      response_type: 'code',
      client_id: 'club',
      redirect_uri: `${location.origin}/a/club/`,
      scope: 'openid',
      code_challenge_method: 'S256',
    });
    const { came, said } = await back(`?code=c1&state=${asked['state']}`);
    expect(said).toEqual([]);
    expect(came).toEqual([['c1', expect.any(String), `${location.origin}/a/club/`]]);
    expect(challengeOf(came[0]![1]!)).toBe(asked['code_challenge']);
    expect(url.href).not.toContain(came[0]![1]);
    // The code is gone from the address, and what was kept is good once.
    expect(location.search).toBe('');
    expect(location.hash).toBe('#/s_orders0000');
    expect((await back(`?code=c1&state=${asked['state']}`)).came).toEqual([]);
  });

  it('takes nothing that did not begin here, and says what the page says', async () => {
    expect(await back('?code=c1&state=x')).toEqual({ came: [], said: [expect.stringContaining('did not begin here')] });
    leave();
    expect((await back('?code=c1&state=x')).came).toEqual([]);
    const denied = leave().searchParams.get('state');
    expect((await back(`?error=access_denied&state=${denied}`)).said).toEqual(['You did not sign in.']);
    const other = leave().searchParams.get('state');
    expect((await back(`?error=server_error&error_description=Closed&state=${other}`)).said).toEqual([
      'The service says: Closed',
    ]);
    const late = leave().searchParams.get('state');
    vi.spyOn(Date, 'now').mockReturnValue(Date.now() + 31 * 60_000);
    expect((await back(`?code=c1&state=${late}`)).came).toEqual([]);
    vi.restoreAllMocks();
  });

  it('is not done where the app is not released, or says no page', () => {
    at('/apps/x');
    expect(() => leaveToSignIn(page)).toThrow('release it');
    at('/a/club');
    expect(() => leaveToSignIn(undefined)).toThrow('does not say where');
    expect(() => leaveToSignIn({ ...page, authorize: 'javascript:alert(1)' })).toThrow('no address');
  });
});
