import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { AppAccess } from '../core/app/access-schema.ts';
import { hashOf } from '../core/fields/keep-file.ts';
import { keptAddress } from '../core/fields/kept-file.ts';
import { stampText } from '../core/host/clock.ts';
import { F, hiveApp, T } from '../core/records/fixture.ts';
import { KEY, OTHER, TestServer, type Call } from './fixture.ts';

/**
 * Tricks to read or write a record that its rules forbid, by every door of the server. Ines has signed in and sees her own
 * hive alone; Tom's hive holds what must reach her by no answer, and must stay as it is. `docs/people.md` lists them.
 */

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
      may: ['see', 'change', 'look back'],
      table: T.hives,
      where: { match: 'all', conditions: [{ left: F.keeper, op: 'is', right: 'person()' }] },
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
const SECRETS = ['Queen of the moor', 'TAG-4711', '987.25', 'a secret photo'];
const PHOTO = new TextEncoder().encode(SECRETS[3]!);
const HASH = hashOf(PHOTO);

let server: TestServer;
let ines = '';
let tom = '';
let odile = '';
let n = 0;
const at = (path: string): string => `/api/apps/moor${path}`;
const change = (more: Record<string, unknown>) => ({
  id: `c${++n}`,
  stamp: stampText(Date.now(), n % 1000, 'test'),
  table: T.hives,
  record: 'secret',
  do: 'set',
  cells: { [F.name]: 'Taken over' },
  ...more,
});
const as = (cookie: string, more: Record<string, string> = {}): Pick<Call, 'headers'> => ({
  headers: { cookie, ...more },
});
const push = (...changes: unknown[]): [string, Call] => ['/changes', { json: { changes }, ...as(ines) }];
const compare = (records: [string, string][], more: object = {}): [string, Call] => [
  '/compared',
  { json: { after: null, upTo: null, records, ...more }, ...as(ines) },
];
const comesAs = async (mail: string, before = ''): Promise<string> => {
  const { body } = await server.call(at('/invitations'), { json: { mails: [mail] }, key: KEY });
  const [{ token }] = body['invited'] as [{ token: string }];
  const { headers } = await server.call(at('/sign-in/invited'), { json: { token }, ...as(before) });
  return headers.getSetCookie()[0]!.split(';')[0]!;
};
/** The record as somebody has it who may see all. */
const secret = async (): Promise<unknown> => {
  const { body } = await server.call(at('/compared'), {
    json: { after: null, upTo: null, records: [] },
    ...as(odile),
  });
  return (body['states'] as { id: string }[]).find((s) => s.id === 'secret');
};
/** What comes over the live way while the record is changed by its own, until some words come or a moment has passed. */
async function heard(path: string, cookie: string, wanted?: string): Promise<string> {
  const end = new AbortController();
  const answer = await fetch(server.url + at(path), { headers: { cookie }, signal: end.signal });
  let text = `${answer.status} `;
  const reading = (async () => {
    const reader = answer.body!.pipeThrough(new TextDecoderStream()).getReader();
    for (let r = await reader.read(); !r.done; r = await reader.read()) text += r.value;
  })().catch(() => undefined);
  const own = change({ cells: { [F.name]: SECRETS[0] } });
  const written = await server.call(at('/changes'), { json: { changes: [own] }, ...as(tom) });
  expect(written.body['refused']).toEqual([]);
  const until = Date.now() + (wanted === undefined ? 300 : 10_000);
  const came = () => wanted !== undefined && text.includes(wanted);
  while (Date.now() < until && !came()) await new Promise((r) => setTimeout(r, 20));
  end.abort();
  await reading;
  return text;
}

beforeAll(async () => {
  server = await TestServer.start();
  expect((await server.release('moor', KEY, { ...hiveApp(), people: T.keepers, access: ACCESS })).status).toBe(200);
  await fetch(`${server.url}${at(`/files/${HASH}?offset=0&size=${PHOTO.length}`)}`, {
    method: 'PATCH',
    headers: { 'content-type': 'application/octet-stream', 'x-owner-key': KEY },
    body: PHOTO,
  });
  const photo = keptAddress({ hash: HASH, type: 'image/png', size: PHOTO.length, name: 'photo.png' });
  const person = (record: string, more: object = {}) =>
    change({
      table: T.keepers,
      record,
      cells: { [F.keeperName]: record, [F.mail]: `${record}@moor.example`, ...more },
    });
  const { body } = await server.call(at('/changes'), {
    json: {
      changes: [
        person('odile', { [F.nearby]: true }),
        person('ines'),
        person('tom'),
        change({ record: 'own', cells: { [F.name]: 'Fern', [F.keeper]: 'ines', [F.tag]: 'F-1' } }),
        change({
          cells: {
            [F.name]: SECRETS[0],
            [F.keeper]: 'tom',
            [F.weight]: 987.25,
            [F.status]: SECRETS[1],
            [F.tag]: photo,
          },
        }),
        change({ id: 'taken', cells: { [F.name]: SECRETS[0] } }),
      ],
    },
    key: KEY,
  });
  expect(body['refused']).toEqual([]);
  ines = await comesAs('ines@moor.example');
  tom = await comesAs('tom@moor.example');
  odile = await comesAs('odile@moor.example');
});
afterAll(() => server.stop());

/** A trick, how it goes in, and what it is answered at most. */
const TRICKS: [name: string, ask: () => [string, Call], status: number][] = [
  ['all changes from the first on', () => ['/changes?since=0', as(ines)], 200],
  ['a page of all records from a place', () => ['/changes?since=0&from=3', as(ines)], 200],
  ['news of a view of somebody else', () => ['/changes?since=1&view=v_owner.0', as(ines)], 200],
  ['news from a point that is no number', () => ['/changes?since=-1', as(ines)], 422],
  ['comparing with a guessed id', () => compare([['secret', 'x']]), 200],
  ['comparing from behind a guessed id on', () => compare([], { after: 'own' }), 200],
  ['the file, by its hash', () => [`/files/${HASH}`, as(ines)], 404],
  ['whether the file is there', () => [`/files/${HASH}/arrived`, as(ines)], 200],
  ['with a header that names another person', () => ['/changes?since=0', as(ines, { 'x-person': 'tom' })], 401],
  ['without a session, with the name of a person', () => ['/changes?since=0', { headers: { 'x-person': 'tom' } }], 401],
  ['with a session made up', () => ['/changes?since=0', as(`kite_session=${'A'.repeat(43)}`)], 401],
  ['with two sessions in one cookie', () => ['/changes?since=0', as(`kite_session=x; ${ines}`)], 401],
  ['with a key that is none of this app', () => ['/outbox', { key: OTHER, ...as(ines) }], 403],
  ['mails of the app, by a session', () => ['/outbox', as(ines)], 401],
  ['who has signed in, by a session', () => ['/people', as(ines)], 401],
  ['mirrored tables, by a session', () => ['/mirrors', as(ines)], 401],
  ['writing the record', () => push(change({})), 200],
  ['removing it', () => push(change({ do: 'remove', cells: undefined })), 200],
  [
    'removing it and bringing it back as one’s own',
    () => push(change({ do: 'restore', cells: { [F.keeper]: 'ines' } })),
    200,
  ],
  [
    'adding to a figure of it',
    () => push({ ...change({ do: 'raise', by: { [F.weight]: 1 } }), cells: undefined }),
    200,
  ],
  ['making it one’s own', () => push(change({ cells: { [F.keeper]: 'ines' } })), 200],
  [
    'in one group with a change that is allowed',
    () => push(change({ record: 'own', group: 'g', cells: { [F.name]: 'Fern' } }), change({ group: 'g' })),
    200,
  ],
  ['under the id of a change that was taken', () => push(change({ id: 'taken' })), 200],
  ['as made by somebody else', () => push(change({ author: 'tom' })), 200],
  ['with a stamp from far ahead', () => push(change({ stamp: stampText(Date.now() + 1e11, 0, 'test') })), 200],
  ['under another table', () => push(change({ table: T.keepers })), 200],
  ['under a table that is none', () => push(change({ table: '__proto__' })), 200],
  ['looking back at it', () => ['/history/t_hives00/secret', as(ines)], 403],
  ['looking back at it as at one of another table', () => ['/history/t_keepers/secret', as(ines)], 403],
  ['looking back at it in a table that is none', () => ['/history/__proto__/secret', as(ines)], 403],
  [
    'looking back at it beyond a record of hers',
    () => ['/history/t_hives00/own%22%2C%22record%22%3A%22secret', as(ines)],
    403,
  ],
  ['looking back at oneself', () => ['/history/t_keepers/ines', as(ines)], 403],
  [
    'making oneself one of a role',
    () => push(change({ table: T.keepers, record: 'ines', cells: { [F.nearby]: true } })),
    200,
  ],
  [
    'taking the address of somebody else',
    () => push(change({ table: T.keepers, record: 'ines', cells: { [F.mail]: 'tom@moor.example' } })),
    200,
  ],
  [
    'releasing the app without its rules',
    () => ['', { method: 'PUT', json: { app: hiveApp(), icons: null }, ...as(ines) }],
    401,
  ],
  ['removing the app', () => ['', { method: 'DELETE', ...as(ines) }], 401],
  [
    'inviting oneself as somebody else',
    () => ['/invitations', { json: { mails: ['tom@moor.example'] }, ...as(ines) }],
    401,
  ],
  [
    'from a page elsewhere',
    () => {
      const [path, init] = push(change({}));
      return [path, { ...init, headers: { ...init.headers, origin: 'https://evil.example' } }];
    },
    403,
  ],
];

describe('tricks to read or write what rules forbid', () => {
  it.each(TRICKS)('%s', async (_name, ask, status) => {
    const before = await secret();
    const [path, init] = ask();
    const answer = await server.call(at(path), init);
    expect([answer.status, answer.text]).toEqual([status, expect.any(String)]);
    for (const hidden of [...SECRETS, HASH, 'tom@']) expect(answer.text).not.toContain(hidden);
    // What was written was refused, and nothing of the group was taken.
    if (path === '/changes' && init.json && status === 200) expect(answer.body['accepted']).toEqual([]);
    expect(await secret()).toEqual(before);
  });
  it('looking back at a record of hers, for what it was when it was not', async () => {
    const { text } = await server.call(at('/history/t_hives00/own'), as(ines));
    expect(text).toContain('Fern');
    // She may not see addresses of others, nor who holds the key by name.
    expect(text).not.toContain('tom@');
    expect(JSON.parse(text)).toMatchObject({ changes: [{ by: { who: 'owner' } }] });
  });
  it('the live way, also under the view of somebody else', async () => {
    for (const path of ['/live', '/live?view=v_owner.0', '/live?person=tom']) {
      const text = await heard(path, ines);
      for (const hidden of [...SECRETS, 'secret']) expect(text).not.toContain(hidden);
    }
    // The same ear hears it with the rights for it: the trick would have been noticed.
    expect(await heard('/live', tom, SECRETS[0])).toContain(SECRETS[0]);
  });
  it('a session that was there before signing in, and one that has ended', async () => {
    const fixed = `kite_session=${'F'.repeat(43)}`;
    const own = await comesAs('tom@moor.example', fixed);
    expect(own).not.toBe(fixed);
    expect((await server.call(at('/changes?since=0'), as(fixed))).status).toBe(401);
    await server.call(at('/session'), { method: 'DELETE', ...as(own) });
    expect((await server.call(at('/changes?since=0'), as(own))).status).toBe(401);
  });
  it('a record that is hidden is refused in the words for one that is not there', async () => {
    const refusal = async (more: Record<string, unknown>) => {
      const [path, init] = push(change(more));
      const { body } = await server.call(at(path), init);
      return (body['refused'] as { reason: string; state: unknown }[]).map((r) => [r.reason, r.state]);
    };
    for (const more of [{}, { do: 'remove', cells: undefined }, { cells: { [F.keeper]: 'ines' } }])
      expect(await refusal(more)).toEqual(await refusal({ ...more, record: 'nowhere' }));
  });
});
