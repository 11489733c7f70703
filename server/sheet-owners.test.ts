import { mkdir, readdir, readFile, rename, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { F, hiveApp, T } from '../core/records/fixture.ts';
import { change, KEY, OTHER, TestServer } from './fixture.ts';

/** Two people with an app each on one host, and the files of the sheets folder. */

const CSV = 'Tag code;Name\r\nHB-1;Bramble\r\n';
let t: TestServer;
let sheets: string;
beforeAll(async () => {
  t = await TestServer.start({ shared: ['ours*.csv', 'market.xlsx'] });
  sheets = join(t.folder, 'sheets');
  await mkdir(sheets, { recursive: true });
  for (const name of ['ours.csv', 'ours 2.csv', 'private.csv', 'market.csv']) await writeFile(join(sheets, name), CSV);
  await t.release('mine', KEY);
  await t.release('theirs', OTHER, { ...hiveApp(), id: 'a_theirs0000' });
  await t.push('theirs', change({ [F.name]: 'Secret hive', [F.tag]: 'S-1' }));
});
afterAll(() => t.stop());

const list = async (app: string, key: string): Promise<string[]> =>
  ((await t.call(`/api/apps/${app}/mirrors`, { key })).body['files'] as { name: string }[]).map((f) => f.name);
const mirror = (app: string, key: string, file: string, create = false) =>
  t.call(`/api/apps/${app}/mirrors/${T.hives}`, {
    method: 'PUT',
    key,
    json: { file, sheet: null, first: 'file', create },
  });

describe('a file of the sheets folder', () => {
  it('is seen when the operator says so, and only then', async () => {
    expect(await list('mine', KEY)).toEqual(['ours 2.csv', 'ours.csv']);
    expect(await mirror('mine', KEY, 'private.csv')).toMatchObject({
      status: 404,
      body: { error: '“private.csv” is not in the sheets folder, or is not yours.' },
    });
    expect(await readFile(join(sheets, 'private.csv'), 'utf8')).toBe(CSV);
  });
  it('belongs to whoever mirrored it first: others neither see, read nor write it', async () => {
    expect(await mirror('mine', KEY, 'ours.csv')).toMatchObject({ status: 200, body: { state: 'in step' } });
    expect(await list('theirs', OTHER)).toEqual(['ours 2.csv']);
    for (const create of [false, true])
      expect((await mirror('theirs', OTHER, 'ours.csv', create)).status).toBe(create ? 409 : 404);
    expect(await readFile(join(sheets, 'ours.csv'), 'utf8')).not.toContain('Secret');
    expect(await list('mine', KEY)).toContain('ours.csv');
  });
  it('that was made from a table is its maker’s', async () => {
    expect((await mirror('theirs', OTHER, 'made.csv', true)).status).toBe(200);
    expect(await readFile(join(sheets, 'made.csv'), 'utf8')).toContain('Secret hive');
    expect(await list('mine', KEY)).not.toContain('made.csv');
    expect((await mirror('mine', KEY, 'made.csv')).status).toBe(404);
    expect(await list('theirs', OTHER)).toContain('made.csv');
  });
  it('is not made in the place of one that is there, nor of one that somebody has and that is away for now', async () => {
    expect((await mirror('mine', KEY, 'private.csv', true)).status).toBe(409);
    expect(await readFile(join(sheets, 'private.csv'), 'utf8')).toBe(CSV);
    await rename(join(sheets, 'made.csv'), join(sheets, '.away'));
    expect((await mirror('mine', KEY, 'made.csv', true)).status).toBe(409);
    await rename(join(sheets, '.away'), join(sheets, 'made.csv'));
  });
  it('stays whose it is when the server starts anew', async () => {
    await t.restart();
    expect(await list('theirs', OTHER)).toEqual(['made.csv', 'ours 2.csv']);
    expect(await list('mine', KEY)).toEqual(['ours 2.csv', 'ours.csv']);
  });
  it('is not followed to a name that is somebody else’s', async () => {
    // The file of the one is put in the place of the other's.
    await rename(join(sheets, 'ours.csv'), join(sheets, 'made.csv'));
    await new Promise((r) => {
      setTimeout(r, 1500);
    });
    const state = (await t.call('/api/apps/mine/mirrors', { key: KEY })).body['mirrors'] as { state: string }[];
    expect(state[0]!.state).toBe('gone');
  });
  it('is no path, and no path is told', async () => {
    expect((await t.call('/api/apps/mine/mirrors', { key: KEY })).text).not.toContain(t.folder);
    for (const file of ['../data/mine/release.csv', '/etc/hosts.csv', '.hidden.csv', 'no-table.json'])
      expect((await mirror('mine', KEY, file)).status, file).toBe(422);
  });
});

it('one key cannot fill the folder', async () => {
  await t.release('many', 'm'.repeat(43), { ...hiveApp(), id: 'a_many00000' });
  let last = { status: 0 };
  for (let i = 0; i < 101 && last.status !== 422; i++) {
    // The rate of requests is bounded too; here it is the files that are counted.
    if (i % 55 === 54) await t.restart();
    last = await mirror('many', 'm'.repeat(43), `f${i}.csv`, true);
  }
  expect(last).toMatchObject({ status: 422, body: { error: expect.stringContaining('At most 100 files') } });
  expect((await readdir(sheets)).filter((f) => /^f\d+\.csv$/.test(f))).toHaveLength(100);
});
