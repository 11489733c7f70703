import PostalMime from 'postal-mime';
import { readFile, stat } from 'node:fs/promises';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { AppAccess } from '../core/app/access-schema.ts';
import { MemoryText } from '../core/document/kept-text.ts';
import { stampText } from '../core/host/clock.ts';
import { hashOf } from '../core/fields/keep-file.ts';
import { keptAddress } from '../core/fields/kept-file.ts';
import { F, hiveApp, T } from '../core/records/fixture.ts';
import { KEY, OTHER, TestServer, type Call } from './fixture.ts';
import { SignIns } from './sign-ins.ts';

/** Signing in from outside: guessed, replayed, fixed, forged, raced; and every door without it. */

const ALL = { match: 'all' as const, conditions: [] };
const ACCESS: AppAccess = {
  opens: 'people',
  mail: F.mail,
  roles: [
    {
      id: 'r_near00000',
      name: 'Near',
      where: { match: 'all', conditions: [{ left: F.nearby, op: 'holds', right: '' }] },
    },
  ],
  rules: [
    { id: 'u_seeall000', who: 'r_near00000', may: ['see', 'add', 'change', 'remove'], table: T.hives, where: ALL },
    {
      id: 'u_seeown000',
      who: 'signed in',
      may: ['see', 'change'],
      table: T.hives,
      where: { match: 'all', conditions: [{ left: F.keeper, op: 'is', right: 'person()' }] },
      fields: { are: 'all but', of: [F.weight] },
    },
    {
      id: 'u_people000',
      who: 'signed in',
      may: ['see'],
      table: T.keepers,
      where: ALL,
      fields: { are: 'only', of: [F.keeperName] },
    },
  ],
};
const appWith = (access: AppAccess | undefined = ACCESS) => ({
  ...hiveApp(),
  people: T.keepers,
  ...(access && { access }),
});
const INES = 'ines@heatherfield.example';
const TOM = 'tom@heatherfield.example';

let server: TestServer;
let n = 0;
const set = (table: string, record: string, cells: Record<string, unknown>) => ({
  id: `c${++n}`,
  stamp: stampText(Date.now(), n % 1000, 'test'),
  table,
  record,
  do: 'set',
  cells,
});
const at = (path: string): string => `/api/apps/bees${path}`;
const cookieOf = (headers: Headers): string => headers.getSetCookie()[0]?.split(';')[0] ?? '';
const as = (cookie: string): Pick<Call, 'headers'> => ({ headers: { cookie } });
const outbox = async (): Promise<string[]> => {
  const { body } = await server.call(at('/outbox'), { key: KEY });
  return (body as unknown as { eml?: string }[]).map((m) => m.eml ?? '');
};

/** Asks for a code, and reads it in the outbox. */
async function codeFor(mail: string): Promise<{ attempt: string; code: string }> {
  const { body } = await server.call(at('/sign-in'), { json: { mail } });
  for (let i = 0; i < 100; i++) {
    const [found] = (await outbox()).filter((m) => m.includes(`To: ${mail}`));
    const code = found && /Subject: (\d{6})/.exec(found)?.[1];
    if (code) return { attempt: String(body['attempt']), code };
    await new Promise((r) => setTimeout(r, 20));
  }
  throw new Error('No code came.');
}
async function signIn(mail: string): Promise<string> {
  const { attempt, code } = await codeFor(mail);
  const answer = await server.call(at('/sign-in/code'), { json: { attempt, code } });
  expect(answer.status).toBe(200);
  return cookieOf(answer.headers);
}
async function invite(mail: string): Promise<string> {
  const { body } = await server.call(at('/invitations'), { json: { mails: [mail] }, key: KEY });
  const [{ token }] = body['invited'] as [{ token: string }];
  return cookieOf((await server.call(at('/sign-in/invited'), { json: { token } })).headers);
}
const recordsFor = async (cookie: string): Promise<{ id: string; cells: Record<string, unknown> }[]> => {
  const { body } = await server.call(at('/compared'), {
    json: { after: null, upTo: null, records: [] },
    ...as(cookie),
  });
  return body['states'] as { id: string; cells: Record<string, unknown> }[];
};

beforeAll(async () => {
  server = await TestServer.start();
  expect((await server.release('bees', KEY, appWith())).status).toBe(200);
  const records = [
    set(T.keepers, 'odile', { [F.keeperName]: 'Odile', [F.mail]: 'odile@heatherfield.example', [F.nearby]: true }),
    set(T.keepers, 'ines', { [F.keeperName]: 'Ines', [F.mail]: INES }),
    set(T.keepers, 'tom', { [F.keeperName]: 'Tom', [F.mail]: TOM }),
    set(T.hives, 'bramble', { [F.name]: 'Bramble', [F.keeper]: 'ines', [F.weight]: 20, [F.tag]: 'a' }),
    set(T.hives, 'clover', { [F.name]: 'Clover', [F.keeper]: 'tom', [F.weight]: 30, [F.tag]: 'b' }),
  ];
  const { body } = await server.call(at('/changes'), { json: { changes: records }, key: KEY });
  expect(body['refused']).toEqual([]);
});
afterAll(() => server.stop());

describe('an app for its people alone', () => {
  it('opens no door to its records, document or files without a session', async () => {
    const doors: [string, Call][] = [
      ['/app', {}],
      ['/changes', {}],
      ['/changes', { json: { changes: [set(T.hives, 'x', { [F.name]: 'X' })] } }],
      ['/compared', { json: { after: null, upTo: null, records: [] } }],
      ['/live?person=ines', {}],
      ['/asked', { json: {} }],
      ['/subscription', {}],
      ['/subscription/ended', { json: { endpoint: 'https://push.example/x' } }],
      ['/mail', { json: { id: 'm_abcdefgh', to: [INES], subject: 's', body: 'b' } }],
      [`/files/${'a'.repeat(64)}`, {}],
      [`/files/${'a'.repeat(64)}/arrived`, {}],
      ['/sessions', {}],
      ['/sessions/all', { method: 'DELETE' }],
    ];
    for (const cookie of ['', 'kite_session=', `kite_session=${'x'.repeat(43)}`, 'kite_session=ines; person=ines'])
      for (const [path, init] of doors) {
        const { status, text } = await server.call(at(path), { ...init, headers: { cookie, 'x-person': 'ines' } });
        expect([path, status]).toEqual([path, 401]);
        expect(text).not.toContain('Bramble');
      }
    for (const path of ['/people', '/outbox']) expect((await server.call(at(path))).status).toBe(401);
    expect((await server.call(at('/people'), { key: OTHER })).status).toBe(403);
    expect((await server.call(at('/invitations'), { json: { mails: [INES] }, key: OTHER })).status).toBe(403);
    // Its page, which holds nothing of it, is open.
    expect((await server.call('/a/bees/', { accept: 'text/html' })).status).toBe(200);
  });

  it('gives whoever has signed in what the rules give, field by field', async () => {
    const ines = await signIn(INES);
    const seen = await recordsFor(ines);
    expect(Object.fromEntries(seen.map((s) => [s.id, s.cells]))).toEqual({
      odile: { [F.keeperName]: 'Odile' },
      ines: { [F.keeperName]: 'Ines' },
      tom: { [F.keeperName]: 'Tom' },
      bramble: { [F.name]: 'Bramble', [F.keeper]: 'ines', [F.tag]: 'a' },
    });
    const push = async (cookie: string, ...changes: unknown[]) =>
      (await server.call(at('/changes'), { json: { changes }, ...as(cookie) })).body;
    expect(await push(ines, set(T.hives, 'bramble', { [F.name]: 'Bramble 2' }))).toMatchObject({ refused: [] });
    for (const [record, cells, words] of [
      ['clover', { [F.name]: 'Mine' }, 'You may not add such Hives.'],
      ['bramble', { [F.weight]: 1 }, 'You may not change Weight of this hive.'],
      ['bramble', { [F.keeper]: 'tom' }, 'You may not change this hive so.'],
    ] as const) {
      const { refused } = await push(ines, set(T.hives, record, cells));
      expect(refused).toMatchObject([{ reason: words }]);
      expect(JSON.stringify(refused)).not.toContain('Clover');
    }
    expect(await push(ines, set(T.keepers, 'ines', { [F.nearby]: true }))).toMatchObject({ accepted: [] });
    expect((await server.call(at('/app'), as(ines))).status).toBe(200);
  });

  it('answers alike whether an address is known or not', async () => {
    const [known, unknown] = [
      await server.call(at('/sign-in'), { json: { mail: TOM } }),
      await server.call(at('/sign-in'), { json: { mail: 'nobody@else.example' } }),
    ];
    expect([unknown.status, Object.keys(unknown.body)]).toEqual([known.status, Object.keys(known.body)]);
    const wrong = async (attempt: unknown) =>
      (await server.call(at('/sign-in/code'), { json: { attempt, code: '000000' } })).text;
    expect(await wrong(unknown.body['attempt'])).toBe(await wrong(known.body['attempt']));
    await new Promise((r) => setTimeout(r, 100));
    expect((await outbox()).some((m) => m.includes('nobody@else.example'))).toBe(false);
  });

  it('takes a code once, from the device that asked for it, a few times at most', async () => {
    const { attempt, code } = await codeFor('odile@heatherfield.example');
    const other = (await server.call(at('/sign-in'), { json: { mail: TOM } })).body['attempt'];
    const tries = async (a: unknown, c: string) =>
      (await server.call(at('/sign-in/code'), { json: { attempt: a, code: c } })).status;
    expect(await tries(other, code)).toBe(422);
    expect(await tries('', code)).toBe(422);
    const both = await Promise.all([tries(attempt, code), tries(attempt, code)]);
    expect(both.sort()).toEqual([200, 422]);
    expect(await tries(attempt, code)).toBe(422);
  });

  it('invites by mail, with words of the maker and a link that signs in', async () => {
    const json = { mails: [TOM], words: ' Welcome to the club! ' };
    expect((await server.call(at('/invitations'), { json, key: OTHER })).status).toBe(403);
    expect((await outbox()).some((m) => m.includes('You are invited'))).toBe(false);
    await server.call(at('/invitations'), { json, key: KEY });
    const [mail] = (await outbox()).filter((m) => m.includes('You are invited'));
    expect(mail).toContain(`To: ${TOM}`);
    const text = (await PostalMime.parse(mail!)).text?.replace(/\r/g, '');
    expect(text).toMatch(/^Welcome to the club!\n\nOpen /);
    const link = /http:\S+#invited=\S+/.exec(text!)![0];
    const [address, token] = link.split('/#invited=') as [string, string];
    expect(address).toMatch(new RegExp(`^http://127\\.0\\.0\\.1:\\d+/a/`));
    expect((await server.call(at('/sign-in/invited'), { json: { token } })).status).toBe(200);
    expect((await server.call(at('/sign-in/invited'), { json: { token } })).status).toBe(422);
  });
  it('invites by a link that works once', async () => {
    const { body } = await server.call(at('/invitations'), { json: { mails: [TOM, 'no@body.example'] }, key: KEY });
    expect(body['error']).toContain('no@body.example');
    const tom = await invite(TOM);
    expect((await recordsFor(tom)).map((s) => s.id)).toContain('clover');
    const again = await server.call(at('/invitations'), { json: { mails: [TOM] }, key: KEY });
    const [{ token }] = again.body['invited'] as [{ token: string }];
    const use = () => server.call(at('/sign-in/invited'), { json: { token } });
    const uses = await Promise.all([use(), use(), use()]);
    expect(uses.map((u) => u.status).sort()).toEqual([200, 422, 422]);
  });

  it('invites with a role, which whoever comes has at once; by nobody but the holder of the key', async () => {
    const ask = (role: string, more: Call = { key: KEY }) =>
      server.call(at('/invitations'), { json: { mails: [TOM], role }, ...more });
    const unknown = await ask('r_none000000');
    expect([unknown.status, unknown.body['error']]).toEqual([422, 'This role cannot be given by an invitation.']);
    const tom = await invite(TOM);
    expect((await ask('r_near00000', as(tom))).status).toBe(401);
    expect((await recordsFor(tom)).map((s) => s.id)).not.toContain('bramble');
    const { body } = await ask('r_near00000');
    // Invited alone nobody has a role.
    expect((await recordsFor(tom)).map((s) => s.id)).not.toContain('bramble');
    const [{ token }] = body['invited'] as [{ token: string }];
    const near = cookieOf((await server.call(at('/sign-in/invited'), { json: { token } })).headers);
    expect((await recordsFor(near)).map((s) => s.id)).toContain('bramble');
    await server.call(at('/changes'), { json: { changes: [set(T.keepers, 'tom', { [F.nearby]: null })] }, key: KEY });
    expect((await recordsFor(near)).map((s) => s.id)).not.toContain('bramble');
  });

  it('lets several people be signed in in one browser, of whom one uses it', async () => {
    const jar = new Map<string, string>();
    const browser = async (path: string, init: Call = {}) => {
      const cookie = [...jar].map(([k, v]) => `${k}=${v}`).join('; ');
      const answer = await server.call(at(path), { ...init, headers: { ...init.headers, cookie } });
      for (const line of answer.headers.getSetCookie()) {
        const [, key, value] = /^(\w+)=([^;]*)/.exec(line)!;
        if (value) jar.set(key!, value);
        else jar.delete(key!);
        expect(line).toContain('HttpOnly; SameSite=Strict');
      }
      return answer;
    };
    const comes = async (mail: string, beside: boolean) => {
      const { body } = await server.call(at('/invitations'), { json: { mails: [mail] }, key: KEY });
      const [{ token }] = body['invited'] as [{ token: string }];
      await browser('/sign-in/invited', { json: { token, beside } });
    };
    const here = async () =>
      (await browser('/session')).body as { who: { person: string }; others?: { person: string }[] };
    await comes(INES, false);
    await comes(TOM, true);
    expect(await here()).toMatchObject({ who: { person: 'tom' }, others: [{ person: 'ines' }] });
    // Each gets what is theirs, and nothing is sent as somebody else.
    expect((await browser('/changes?since=0', { headers: { 'x-person': 'ines' } })).status).toBe(401);
    expect((await browser('/session/switch', { json: { person: 'ines' } })).status).toBe(200);
    expect(await here()).toMatchObject({ who: { person: 'ines' }, others: [{ person: 'tom' }] });
    expect((await browser('/session/switch', { json: { person: 'odile' } })).status).toBe(404);
    // One signs out: the other is still there, and goes on.
    await browser('/session', { method: 'DELETE' });
    expect(await here()).toEqual({ who: null, others: [{ person: 'tom', mail: TOM }] });
    await browser('/session/switch', { json: { person: 'tom' } });
    expect((await here()).who.person).toBe('tom');
    // Whoever signs in without that takes the place of whoever is there.
    await comes(INES, false);
    expect(await here()).toEqual({ who: { person: 'ines', mail: INES } });
  });

  it('ends sessions: signing out, one by one by their person, all by the holder of the key', async () => {
    const [one, two, other] = [await invite(TOM), await invite(TOM), await invite(INES)];
    const status = async (cookie: string) => (await server.call(at('/app'), as(cookie))).status;
    const { body } = await server.call(at('/sessions'), as(one));
    const sessions = body['sessions'] as { id: string; mail: string; isThis: boolean }[];
    expect(sessions.every((s) => s.mail === TOM)).toBe(true);
    expect(sessions.filter((s) => s.isThis)).toHaveLength(1);
    // Nobody ends those of others.
    const ines = (
      (await server.call(at('/sessions'), as(other))).body['sessions'] as { id: string; isThis: boolean }[]
    ).find((s) => s.isThis)!;
    expect((await server.call(at(`/sessions/${ines.id}`), { method: 'DELETE', ...as(one) })).status).toBe(404);
    expect(await status(other)).toBe(200);
    await server.call(at('/session'), { method: 'DELETE', ...as(one) });
    expect([await status(one), await status(two)]).toEqual([401, 200]);
    expect((await server.call(at('/sessions/all'), { method: 'DELETE', ...as(two) })).status).toBe(200);
    expect([await status(two), await status(other)]).toEqual([401, 200]);
    expect((await server.call(at('/sessions/all'), { method: 'DELETE', key: KEY })).status).toBe(200);
    expect(await status(other)).toBe(401);
  });

  it('lets nobody in any more who is taken out of the table, or whose address is another now', async () => {
    const tom = await invite(TOM);
    const own = async (...changes: unknown[]) => server.call(at('/changes'), { json: { changes }, key: KEY });
    await own(set(T.keepers, 'tom', { [F.mail]: 'tom@new.example' }));
    expect((await server.call(at('/app'), as(tom))).status).toBe(403);
    expect(await recordsFor(tom)).toEqual([]);
    expect(
      (await server.call(at('/mail'), { json: { id: 'm_abcdefgh', to: [INES], subject: '', body: '' }, ...as(tom) }))
        .status,
    ).toBe(403);
    await own(set(T.keepers, 'tom', { [F.mail]: TOM }));
    expect((await server.call(at('/app'), as(tom))).status).toBe(200);
  });

  it('keeps sessions over a restart, and only the hashes of their tokens', async () => {
    const ines = await invite(INES);
    await server.restart();
    expect((await server.call(at('/session'), as(ines))).body).toMatchObject({ who: { mail: INES, person: 'ines' } });
    const path = join(server.folder, 'data/bees/sign-ins.json');
    expect(await readFile(path, 'utf8')).not.toContain(ines.split('=')[1]);
    expect((await stat(path)).mode & 0o777).toBe(0o600);
  });

  it('gives the token to its own app alone, unseen by scripts and not for other sites', async () => {
    const { body } = await server.call(at('/invitations'), { json: { mails: [INES] }, key: KEY });
    const [{ token }] = body['invited'] as [{ token: string }];
    const { headers } = await server.call(at('/sign-in/invited'), { json: { token } });
    expect(headers.getSetCookie()[0]).toMatch(
      /^kite_session=[\w-]{43}; Path=\/api\/apps\/bees; Max-Age=\d+; HttpOnly; SameSite=Strict$/,
    );
    // A session of one app is none of another.
    await server.release('wasps', OTHER, { ...appWith(), id: 'a_other0000' });
    expect((await server.call('/api/apps/wasps/app', as(cookieOf(headers)))).status).toBe(401);
    // A page elsewhere that makes a browser send it is refused before anything is read.
    const forged = await server.call(at('/session'), {
      method: 'DELETE',
      headers: { cookie: cookieOf(headers), origin: 'https://evil.example' },
    });
    expect(forged.status).toBe(403);
    expect((await server.call(at('/app'), as(cookieOf(headers)))).status).toBe(200);
  });
});

describe('files of records', () => {
  it('are for whoever may read a record that holds them, and kept by no browser; scripts of the app are kept as before', async () => {
    const bytes = new TextEncoder().encode('a photo');
    const hash = hashOf(bytes);
    const put = await fetch(`${server.url}${at(`/files/${hash}?offset=0&size=${bytes.length}`)}`, {
      method: 'PATCH',
      headers: { 'content-type': 'application/octet-stream', 'x-owner-key': KEY },
      body: bytes,
    });
    expect(put.status).toBe(200);
    const address = keptAddress({ hash, type: 'image/png', size: bytes.length, name: 'photo.png' });
    await server.call(at('/changes'), { json: { changes: [set(T.hives, 'clover', { [F.tag]: address })] }, key: KEY });
    const [tom, ines] = [await invite(TOM), await invite(INES)];
    const got = await server.call(at(`/files/${hash}`), as(tom));
    expect([got.status, got.text, got.headers.get('cache-control')]).toEqual([200, 'a photo', 'no-store']);
    expect((await server.call(at(`/files/${hash}`), as(ines))).status).toBe(404);
    expect((await server.call(at(`/files/${hash}`))).status).toBe(401);
    expect((await server.call('/assets/worker-abc.js')).headers.get('cache-control')).toContain('immutable');
  });
});

describe('an app that changes who may do what', () => {
  it('begins anew when rules come or go, and phones of before get no more than they may', async () => {
    const open = { ...appWith(), id: 'a_changes00' } as Partial<ReturnType<typeof appWith>>;
    delete open.access;
    expect((await server.release('moor', KEY, open)).status).toBe(200);
    await server.push('moor', set(T.hives, 'h1', { [F.name]: 'Open' }));
    expect((await server.call('/api/apps/moor/changes?since=0')).text).toContain('Open');
    await server.release('moor', KEY, { ...open, access: ACCESS });
    expect((await server.call('/api/apps/moor/changes?since=1')).status).toBe(401);
    await server.release('moor', KEY, { ...open, access: { ...ACCESS, opens: 'anybody' } });
    const { body } = await server.call('/api/apps/moor/changes?since=1');
    expect(body).toEqual({ compare: true });
    const compared = await server.call('/api/apps/moor/compared', {
      json: { after: null, upTo: null, records: [['h1', 'x']] },
    });
    expect(compared.body).toMatchObject({ states: [], forget: ['h1'] });
    await server.release('moor', KEY, open);
    const again = await server.call('/api/apps/moor/changes?since=1&view=v_old.0');
    expect(again.text).toContain('Open');
  });
});

describe('people who sign in where everybody may', () => {
  it('are made a record, once, and are not let in before they are approved', async () => {
    const access: AppAccess = { ...ACCESS, opens: 'signed in', approved: F.nearby };
    await server.release('heath', KEY, { ...appWith(access), id: 'a_heath0000' });
    const path = (p: string): string => `/api/apps/heath${p}`;
    const come = async (): Promise<string> => {
      const { body } = await server.call(path('/invitations'), { json: { mails: ['new@people.example'] }, key: KEY });
      const [{ token }] = body['invited'] as [{ token: string }];
      return cookieOf((await server.call(path('/sign-in/invited'), { json: { token } })).headers);
    };
    const [first, second] = [await come(), await come()];
    const refused = await server.call(path('/app'), as(first));
    expect([refused.status, refused.body['error']]).toEqual([
      403,
      'You have signed in. You can use the app as soon as somebody lets you in.',
    ]);
    const { body } = await server.call(path('/session'), as(first));
    const { person } = body['who'] as { person: string };
    expect((await server.call(path('/session'), as(second))).body['who']).toMatchObject({ person });
    await server.call(path('/changes'), {
      json: { changes: [set(T.keepers, person, { [F.nearby]: true })] },
      key: KEY,
    });
    expect((await server.call(path('/app'), as(second))).status).toBe(200);
  });
});

describe('what is kept of signing in', () => {
  const MINUTE = 60_000;
  const begun = async (file = new MemoryText()) => {
    const clock = { now: 1_800_000_000_000 };
    const open = () => SignIns.open(file, () => clock.now);
    return { clock, open, signIns: await open() };
  };
  it('codes end after ten minutes, five wrong ones, and many an hour', async () => {
    const { clock, signIns } = await begun();
    const { attempt, code } = signIns.begin('a@b.example', true);
    clock.now += 10 * MINUTE + 1;
    expect(() => signIns.confirm(attempt, code!)).toThrow('too old');
    const next = signIns.begin('A@b.example ', true);
    const wrong = next.code === '000000' ? '000001' : '000000';
    for (let i = 0; i < 5; i++) expect(() => signIns.confirm(next.attempt, wrong)).toThrow('does not fit');
    expect(() => signIns.confirm(next.attempt, next.code!)).toThrow('does not fit');
    for (let i = 0; i < 3; i++) signIns.begin('a@b.example', true);
    expect(() => signIns.begin('a@b.example', true)).toThrow('Too many codes were asked for');
    clock.now += 61 * MINUTE;
    const last = signIns.begin('a@b.example', true);
    expect(signIns.confirm(last.attempt, ` ${last.code!.slice(0, 3)} ${last.code!.slice(3)}`)).toBe('a@b.example');
  });
  it('no more than so many tries are made at an address in an hour, however many codes are asked for', async () => {
    const { signIns } = await begun();
    let refused = 0;
    for (let i = 0; i < 5; i++) {
      const { attempt } = signIns.begin('a@b.example', true);
      for (let k = 0; k < 5; k++)
        try {
          signIns.confirm(attempt, 'never');
        } catch (e) {
          if (/Too many codes were tried/.test((e as Error).message)) refused++;
        }
    }
    expect(refused).toBe(10);
  });
  it('sessions end by time and by rest, and their tokens are replaced', async () => {
    const { clock, open, signIns } = await begun();
    const token = await signIns.start('p1', 'a@b.example', 'Browser');
    expect(await signIns.rotate(token)).toBeNull();
    clock.now += 25 * 60 * MINUTE;
    const next = (await signIns.rotate(token))!;
    expect([signIns.of(token)?.person, signIns.of(next)?.person]).toEqual(['p1', 'p1']);
    // The token of before replaces nothing, and is good for a moment.
    expect(await signIns.rotate(token)).toBeNull();
    clock.now += 3 * MINUTE;
    expect([signIns.of(token), signIns.of(next)?.person]).toEqual([null, 'p1']);
    expect((await open()).of(next)?.person).toBe('p1');
    clock.now += 46 * 24 * 60 * MINUTE;
    expect(signIns.of(next)).toBeNull();
    const used = await signIns.start('p1', 'a@b.example', 'Browser');
    for (let day = 0; day < 181; day++) {
      clock.now += 24 * 60 * MINUTE;
      signIns.of(used);
    }
    expect(signIns.of(used)).toBeNull();
  });
  it('invitations end after two weeks, and the newest of an address counts', async () => {
    const { clock, signIns } = await begun();
    const [old] = await signIns.invite(['a@b.example']);
    const [fresh] = await signIns.invite(['A@b.example']);
    await expect(signIns.take(old!)).rejects.toThrow('used already');
    expect(signIns.invited()).toHaveLength(1);
    clock.now += 15 * 24 * 60 * MINUTE;
    expect(signIns.invited()).toEqual([]);
    await expect(signIns.take(fresh!)).rejects.toThrow('too old');
  });
});
