import { mkdir, readFile, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { F, hiveApp, T } from '../core/records/fixture.ts';
import { change, KEY, TestServer } from './fixture.ts';

/** A server on which one app runs at a time. */
let t: TestServer;
beforeAll(async () => {
  t = await TestServer.start({ mostRunning: 1, shared: ['*'] });
  await mkdir(join(t.folder, 'sheets'), { recursive: true });
  await writeFile(join(t.folder, 'sheets', 'hives.csv'), 'Tag code;Name\r\nHB-1;Bramble\r\n');
});
afterAll(() => t.stop());

const release = (name: string) => t.release(name, KEY, { ...hiveApp(), id: `a_${name}00000` });
const asked = async (name: string): Promise<number> => (await t.call(`/api/apps/${name}/changes?since=0`)).status;

it('a running app goes by a new release at once', async () => {
  await release('renewed');
  const clover = () => t.push('renewed', change({ [F.tag]: 'HB-1' }));
  for (let i = 0; i < 2; i++) expect((await clover()).body['refused']).toEqual([]);
  const strict = { ...hiveApp(), id: 'a_renewed00000' };
  strict.tables.find((x) => x.id === T.hives)!.fields.find((f) => f.id === F.tag)!.unique = true;
  await t.release('renewed', KEY, strict);
  expect((await clover()).body['refused']).toMatchObject([{ reason: 'Tag code “HB-1” is taken by another hive.' }]);
});

it('an app makes room for another that is asked for, but not one that follows a file', async () => {
  await release('first');
  await release('second');
  for (const name of ['first', 'second', 'first']) expect(await asked(name), name).toBe(200);
  const mirror = (method: string) =>
    t.call(`/api/apps/first/mirrors/${T.hives}`, {
      method,
      key: KEY,
      ...(method === 'PUT' && { json: { file: 'hives.csv', sheet: null, first: 'file', create: false } }),
    });
  expect((await mirror('PUT')).status).toBe(200);
  expect(await asked('second')).toBe(503);
  expect(await readFile(join(t.folder, 'sheets', 'hives.csv'), 'utf8')).toContain('Bramble');
  // When it follows none any more, it makes room again.
  expect((await mirror('DELETE')).status).toBeLessThan(300);
  expect(await asked('second')).toBe(200);
});
