import { describe, expect, it } from 'vitest';
import type { App } from '../app/schema.ts';
import { hiveApp } from '../records/fixture.ts';
import type { AskedMessage, ServiceAnswer } from '../services/answer.ts';
import { goodsRequest, supplier } from '../services/fixture.ts';
import { VirtualClock } from '../world/clock.ts';
import { SignedIn, type Vault } from './signed-in.ts';

const pick = (id: string, name: string, type: 'text' | 'number' = 'text') => ({ id, name, type, path: '$' });
const answer = (more: Partial<ServiceAnswer> = {}): ServiceAnswer => ({
  status: 200,
  said: null,
  picks: {},
  rows: {},
  notes: [],
  next: null,
  ...more,
});
const REFUSED = answer({ status: 401, said: 'No.', failure: 'not signed in' });

function club(more: Partial<NonNullable<App['signIn']>> = {}): App {
  const request = (id: string, extra = {}) => goodsRequest({ id, name: id, ...extra });
  return {
    ...hiveApp(),
    services: [
      supplier({
        sign: { how: 'person' },
        requests: [
          request('n_enter00000', {
            open: true,
            picks: [
              pick('k_token00000', 'Token'),
              pick('k_renew00000', 'Renewal'),
              pick('k_secs000000', 'Seconds', 'number'),
            ],
          }),
          request('n_renew00000', {
            open: true,
            picks: [pick('k_token20000', 'Token'), pick('k_renew20000', 'Renewal')],
          }),
          request('n_orders0000'),
          request('n_who0000000', { picks: [pick('k_name000000', 'Name')] }),
          request('n_leave00000'),
        ],
      }),
    ],
    signIn: {
      enter: 'n_enter00000',
      token: 'k_token00000',
      renewal: 'k_renew00000',
      seconds: 'k_secs000000',
      renew: {
        request: 'n_renew00000',
        input: 'v_renewal000',
        token: 'k_token20000',
        renewal: 'k_renew20000',
        seconds: 'k_secs000000',
      },
      who: 'n_who0000000',
      leave: 'n_leave00000',
      facts: [{ pick: 'k_name000000', variable: 'v_name000000' }],
      screen: 's_enter00000',
      open: ['s_open000000'],
      stays: true,
      ...more,
    },
  };
}

/** A service whose tokens are good for 300 seconds; `valid` is the one that it takes now. */
function signing(app = club(), kept: unknown = null) {
  const clock = new VirtualClock(1_000_000);
  const asked: AskedMessage[] = [];
  const said: string[] = [];
  const known: unknown[] = [];
  let changes = 0;
  let cleared = 0;
  const service = { valid: 't1', issued: 1, renews: true, down: false, slow: false };
  let vaulted: unknown = kept;
  const vault: Vault = { get: async () => vaulted, put: async (v) => void (vaulted = v) };
  const tokens = (token: string, renewal: string): ServiceAnswer => {
    const [a, b] = service.issued > 1 ? ['k_token20000', 'k_renew20000'] : ['k_token00000', 'k_renew00000'];
    // What the host has checked of the token.
    const facts = app.signIn?.claims ? { facts: { v_number0000: `M-${service.issued}` } } : {};
    return answer({ picks: { [a]: token, [b]: renewal, k_secs000000: 300 }, ...facts });
  };
  const inside = new SignedIn({
    app: () => app,
    clock,
    vault,
    asks: async (m) => {
      asked.push(m);
      if (service.slow) await new Promise<void>((r) => clock.after(500, r));
      if (service.down) throw new Error('The host cannot be reached.');
      if (m.request === 'n_enter00000') return m.inputs['v_password00'] === 'right' ? tokens('t1', 'r1') : REFUSED;
      if (m.request === 'n_renew00000') {
        if (!service.renews || m.inputs['v_renewal000'] !== `r${service.issued}`) return REFUSED;
        service.issued++;
        service.valid = `t${service.issued}`;
        return tokens(service.valid, `r${service.issued}`);
      }
      if (m.token !== service.valid) return REFUSED;
      return m.request === 'n_who0000000'
        ? answer({ picks: { k_name000000: 'Odile' } })
        : answer({ picks: { x: m.token } });
    },
    changed: () => changes++,
    know: (facts) => known.push(facts),
    clear: async () => void cleared++,
    say: (words) => said.push(words),
  });
  const enter = (password = 'right') => inside.ask({ request: 'n_enter00000', inputs: { v_password00: password } });
  const orders = () => inside.ask({ request: 'n_orders0000', inputs: {} });
  const count = (request: string): number => asked.filter((m) => m.request === request).length;
  return {
    inside,
    enter,
    orders,
    asked,
    count,
    service,
    clock,
    said,
    known,
    vaulted: () => vaulted,
    changes: () => changes,
    cleared: () => cleared,
  };
}

describe('whoever signs in with the maker’s service', () => {
  it('asks with their token, which no routine ever sees; closed screens open, and what is known of them is told', async () => {
    const s = signing();
    expect([s.inside.screenFor('s_hives00000'), s.inside.screenFor('s_open000000')]).toEqual([
      's_enter00000',
      's_open000000',
    ]);
    expect(await s.orders()).toMatchObject({ said: 'Sign in first.', failure: 'not signed in' });
    expect(s.asked).toEqual([]);
    expect((await s.enter('wrong')).said).toBe('No.');
    expect([s.inside.isIn, s.changes()]).toEqual([false, 0]);
    const entered = await s.enter();
    expect(Object.keys(entered.picks)).toEqual(['k_secs000000']);
    expect([s.inside.screenFor('s_hives00000'), s.changes()]).toEqual(['s_hives00000', 1]);
    expect(s.known).toEqual([[{ variable: 'v_name000000', cell: 'Odile' }]]);
    expect((await s.orders()).picks).toEqual({ x: 't1' });
    // Requests that need no token get none.
    expect(s.asked.find((m) => m.request === 'n_enter00000')!.token).toBeUndefined();
  });

  it('is known by what their token says, from each token anew, until they sign out', async () => {
    const claims = { keys: 'https://a.example/keys', facts: [{ claim: 'sub', variable: 'v_number0000' }] };
    const s = signing(club({ claims, facts: [] }));
    await s.enter();
    expect(s.known).toEqual([[{ variable: 'v_number0000', cell: 'M-1' }]]);
    s.service.valid = 'another';
    await s.orders();
    expect(s.known.at(-1)).toEqual([{ variable: 'v_number0000', cell: 'M-2' }]);
    await s.inside.out();
    expect(s.known.at(-1)).toEqual([{ variable: 'v_number0000', cell: null }]);
  });

  it('comes back from a page with a code, and is in; a refusal is said', async () => {
    const page = {
      authorize: 'https://a.example/',
      client: 'club',
      code: 'v_password00',
      verifier: 'v_proof',
      back: 'v_back',
    };
    const s = signing(club({ page }));
    await s.inside.cameBack('wrong', 'proof', 'https://b.example/a/club');
    expect([s.inside.isIn, s.said]).toEqual([false, ['No.']]);
    await s.inside.cameBack('right', 'proof', 'https://b.example/a/club');
    expect(s.inside.isIn).toBe(true);
    expect(s.asked[1]!.inputs).toEqual({ v_password00: 'right', v_proof: 'proof', v_back: 'https://b.example/a/club' });
  });

  it('is renewed once under 50 waiting requests, after one refusal', async () => {
    const s = signing();
    await s.enter();
    s.service.valid = 'another';
    s.service.slow = true;
    const all = Promise.all(Array.from({ length: 50 }, () => s.orders()));
    for (let i = 0; i < 20; i++) await s.clock.pass(250);
    const answers = await all;
    expect(answers.every((a) => a.picks['x'] === 't2')).toBe(true);
    expect(s.count('n_renew00000')).toBe(1);
  });

  it('is renewed before the token ends, by what the answer says or by the token itself', async () => {
    const s = signing();
    await s.enter();
    await s.clock.pass(260_000);
    await s.orders();
    expect(s.count('n_renew00000')).toBe(0);
    await s.clock.pass(15_000);
    expect((await s.orders()).picks).toEqual({ x: 't2' });
    expect(s.count('n_renew00000')).toBe(1);
    expect(s.inside.left).toBe(300_000);
  });

  it('is told when it cannot be renewed, and signs in again; without a way to the host nobody is signed out', async () => {
    const s = signing();
    await s.enter();
    s.service.valid = 'another';
    s.service.down = true;
    await expect(s.orders()).rejects.toThrow('cannot be reached');
    expect([s.inside.isIn, s.said]).toEqual([true, []]);
    s.service.down = false;
    s.service.renews = false;
    expect(await s.orders()).toMatchObject({ failure: 'not signed in' });
    expect([s.inside.isIn, s.vaulted(), s.said.length, s.changes()]).toEqual([false, null, 1, 2]);
    expect(s.said[0]).toContain('what you typed is still here');
    s.service.valid = 't1';
    await s.enter();
    expect((await s.orders()).picks).toEqual({ x: 't1' });
  });

  it('stays signed in when the app is opened again, where that is wanted', async () => {
    const s = signing();
    await s.enter();
    const again = signing(club(), s.vaulted());
    await again.inside.open();
    expect((await again.orders()).picks).toEqual({ x: 't1' });
    const brief = signing(club({ stays: false }));
    await brief.enter();
    expect([brief.inside.isIn, brief.vaulted()]).toEqual([true, null]);
    const odd = signing(club(), { token: 7 });
    await odd.inside.open();
    expect(odd.inside.isIn).toBe(false);
  });

  it('signs out: the service is told, and nothing of theirs is left', async () => {
    const s = signing();
    await s.enter();
    await s.inside.out();
    expect(s.asked.at(-1)).toMatchObject({ request: 'n_leave00000', token: 't1' });
    expect([s.inside.isIn, s.vaulted(), s.cleared()]).toEqual([false, null, 1]);
    expect(s.known.at(-1)).toEqual([{ variable: 'v_name000000', cell: null }]);
    expect(s.inside.screenFor('s_hives00000')).toBe('s_enter00000');
  });

  it('has a token that can be ended by hand, and is renewed then', async () => {
    const s = signing();
    await s.enter();
    await s.inside.expire();
    expect((await s.orders()).picks).toEqual({ x: 't2' });
  });
});
