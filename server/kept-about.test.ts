import { unzipSync } from 'fflate';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { ALL_RECORDS } from '../core/access/plain.fixture.ts';
import type { AppAccess } from '../core/app/access-schema.ts';
import { hashOf } from '../core/fields/keep-file.ts';
import { keptAddress } from '../core/fields/kept-file.ts';
import { stampText } from '../core/host/clock.ts';
import { F, hiveApp, T } from '../core/records/fixture.ts';
import { KEY, OTHER, TestServer } from './fixture.ts';

/** People see the names of all, and of hives their own without the weight, which is for the holder of the key. */
const access: AppAccess = {
  opens: 'people',
  mail: F.mail,
  roles: [],
  rules: [
    {
      id: 'u_names0000',
      who: 'signed in',
      may: ['see'],
      table: T.keepers,
      where: ALL_RECORDS,
      fields: { are: 'only', of: [F.keeperName] },
    },
    {
      id: 'u_own000000',
      who: 'signed in',
      may: ['see'],
      table: T.hives,
      where: { match: 'all', conditions: [{ left: F.keeper, op: 'is', right: 'person()' }] },
      fields: { are: 'all but', of: [F.weight] },
    },
  ],
};
const PHOTO = new TextEncoder().encode('a photo of mine');
const HASH = hashOf(PHOTO);
let server: TestServer;
let n = 0;
const at = (path: string): string => `/api/apps/bees${path}`;
const set = (table: string, record: string, cells: Record<string, unknown>) => ({
  id: `c${++n}`,
  stamp: stampText(Date.now(), n, 'test'),
  table,
  record,
  do: 'set',
  cells,
});
const comes = async (mail: string): Promise<string> => {
  const { body } = await server.call(at('/invitations'), { json: { mails: [mail] }, key: KEY });
  const [{ token }] = body['invited'] as [{ token: string }];
  const { headers } = await server.call(at('/sign-in/invited'), { json: { token } });
  return headers.getSetCookie()[0]!.split(';')[0]!;
};
/** The files of an answer, as texts by their names. */
async function zipOf(path: string, headers: Record<string, string>): Promise<Record<string, string>> {
  const answer = await fetch(server.url + at(path), { headers });
  expect([answer.status, answer.headers.get('content-type')]).toEqual([200, 'application/zip']);
  expect(answer.headers.get('cache-control')).toBe('no-store');
  const files = unzipSync(new Uint8Array(await answer.arrayBuffer()));
  return Object.fromEntries(Object.entries(files).map(([name, bytes]) => [name, new TextDecoder().decode(bytes)]));
}

beforeAll(async () => {
  server = await TestServer.start();
  await server.release('bees', KEY, { ...hiveApp(), people: T.keepers, access });
  await fetch(`${server.url}${at(`/files/${HASH}?offset=0&size=${PHOTO.length}`)}`, {
    method: 'PATCH',
    headers: { 'content-type': 'application/octet-stream', 'x-owner-key': KEY },
    body: PHOTO,
  });
  const photo = keptAddress({ hash: HASH, type: 'image/png', size: PHOTO.length, name: '../my/photo.png' });
  const changes = [
    set(T.keepers, 'ines', { [F.keeperName]: 'Ines', [F.mail]: 'ines@h.example', [F.nearby]: true }),
    set(T.keepers, 'tom', { [F.keeperName]: 'Tom', [F.mail]: 'tom@h.example' }),
    set(T.hives, 'fern', { [F.name]: 'Fern', [F.keeper]: 'ines', [F.weight]: 7.25, [F.tag]: photo }),
    set(T.hives, 'moss', { [F.name]: 'Moss', [F.keeper]: 'tom' }),
    set(T.hives, 'named', { [F.name]: 'ines@h.example' }),
    set(T.hives, 'gone', { [F.name]: 'Gone', [F.keeper]: 'ines' }),
  ];
  const { body } = await server.call(at('/changes'), { json: { changes }, key: KEY });
  expect(body['refused']).toEqual([]);
  const removed = { ...set(T.hives, 'gone', {}), do: 'remove', cells: undefined };
  await server.call(at('/changes'), { json: { changes: [removed] }, key: KEY });
});
afterAll(() => server.stop());

it('gives people what is kept about them, as far as they may see it, with files and sessions', async () => {
  const cookie = await comes('ines@h.example');
  const zip = await zipOf('/mine', { cookie, 'user-agent': 'A phone' });
  // The name of a file leads out of no folder.
  const [file] = Object.keys(zip).filter((name) => name !== 'kept.json');
  expect(file).toMatch(/^files\/1 [^/\\]+\.png$/);
  expect(zip[file!]).toBe('a photo of mine');
  const kept = JSON.parse(zip['kept.json']!) as { tables: unknown; sessions: { mail: string }[] };
  expect(kept.tables).toEqual([
    { name: 'Hives', records: [{ Name: 'Fern', 'Tag code': file, Keeper: 'ines' }] },
    { name: 'Keepers', records: [{ Name: 'Ines' }] },
  ]);
  expect(kept.sessions).toMatchObject([{ mail: 'ines@h.example' }]);
  expect(zip['kept.json']).not.toMatch(/7\.25|Moss|Gone|tom@/);
});

it('gives the holder of the key all that is kept about somebody, also by their address', async () => {
  const zip = await zipOf('/people/ines/kept', { 'x-owner-key': KEY });
  const kept = JSON.parse(zip['kept.json']!) as { tables: { name: string; records: Record<string, unknown>[] }[] };
  const hives = kept.tables.find((t) => t.name === 'Hives')!.records;
  expect(hives.map((h) => h['Name']).sort()).toEqual(['Fern', 'ines@h.example']);
  expect(hives.find((h) => h['Name'] === 'Fern')).toMatchObject({ Weight: 7.25 });
  expect(kept.tables.find((t) => t.name === 'Keepers')!.records).toEqual([
    { Name: 'Ines', Mail: 'ines@h.example', 'Lives nearby': true },
  ]);
});

it('gives nobody what is kept about others', async () => {
  const tom = await comes('tom@h.example');
  const zip = await zipOf('/mine', { cookie: tom });
  expect(Object.keys(zip)).toEqual(['kept.json']);
  expect(zip['kept.json']).not.toMatch(/Fern|ines/);
  const refused = async (path: string, init: object) => (await server.call(at(path), init)).status;
  expect(await refused('/mine', {})).toBe(401);
  expect(await refused('/mine', { headers: { 'x-person': 'ines' } })).toBe(401);
  expect(await refused('/mine', { headers: { cookie: tom, 'x-person': 'ines' } })).toBe(401);
  expect(await refused('/people/ines/kept', { headers: { cookie: tom } })).toBe(401);
  expect(await refused('/people/ines/kept', { key: OTHER })).toBe(403);
  expect(await refused('/people/nobody/kept', { key: KEY })).toBe(404);
});
