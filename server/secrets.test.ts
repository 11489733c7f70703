import { mkdtemp, readdir, readFile, rm, stat, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { randomBytes } from 'node:crypto';
import fc from 'fast-check';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { Secrets, secretsKey } from './secrets.ts';

let folder = '';
beforeEach(async () => {
  folder = await mkdtemp(join(tmpdir(), 'kite-secrets-'));
});
afterEach(() => rm(folder, { recursive: true, force: true }));

const key = randomBytes(32);
const secrets = (app = 'hives', by: Uint8Array = key): Secrets => new Secrets(join(folder, app), app, by);
const onDisk = (app = 'hives'): string => join(folder, app, 'secrets.json');

describe('the secrets of an app', () => {
  it('come back as they were given, whatever they are, and stand nowhere on the disk (property)', async () => {
    await fc.assert(
      fc.asyncProperty(fc.string({ unit: 'binary', minLength: 8 }), async (secret) => {
        await secrets().set('w_goods00000/test@https://a.example', secret);
        // A lone surrogate is no text that could be sent; what is kept is what is kept of it.
        expect(await secrets().get('w_goods00000/test@https://a.example')).toBe(
          Buffer.from(secret, 'utf8').toString('utf8'),
        );
        const text = await readFile(onDisk(), 'utf8');
        for (const form of [secret, Buffer.from(secret).toString('base64'), JSON.stringify(secret).slice(1, -1)])
          expect(text.includes(form)).toBe(false);
      }),
      { numRuns: 40 },
    );
  });
  it('are by service and place, can be taken away, and are nothing where none was given', async () => {
    const s = secrets();
    expect([await s.get('w_goods00000/live@https://a.example'), await s.names()]).toEqual([null, []]);
    await Promise.all([
      s.set('w_goods00000/test@https://a.example', 'a'),
      s.set('w_goods00000/live@https://a.example', 'b'),
      s.set('w_other00000/test@https://a.example', 'c'),
    ]);
    expect(await Promise.all((await s.names()).sort().map((n) => s.get(n as 'a/test@b')))).toEqual(['b', 'a', 'c']);
    await s.set('w_goods00000/test@https://a.example', null);
    expect([
      await s.get('w_goods00000/test@https://a.example'),
      await s.get('w_goods00000/live@https://a.example'),
    ]).toEqual([null, 'b']);
  });
  it('may be read by this server’s user alone, and are new in their sealing each time', async () => {
    await secrets().set('w_goods00000/test@https://a.example', 'the same');
    const first = await readFile(onDisk(), 'utf8');
    await secrets().set('w_goods00000/test@https://a.example', 'the same');
    expect(await readFile(onDisk(), 'utf8')).not.toBe(first);
    expect((await stat(onDisk())).mode & 0o777).toBe(0o600);
  });
  it('are not read in the place of another, by another app, when they were changed, nor with another key', async () => {
    const s = secrets();
    await s.set('w_goods00000/test@https://a.example', 'a');
    const kept = JSON.parse(await readFile(onDisk(), 'utf8')) as Record<string, { text: string }>;
    const put = (all: object, app = 'hives') => writeFile(onDisk(app), JSON.stringify(all));
    await put({ 'w_other00000/test@https://a.example': kept['w_goods00000/test@https://a.example'] });
    await expect(s.get('w_other00000/test@https://a.example')).rejects.toThrow('Type it in again');
    const changed = { ...kept['w_goods00000/test@https://a.example']!, text: Buffer.from('b').toString('base64') };
    await put({ 'w_goods00000/test@https://a.example': changed });
    await expect(s.get('w_goods00000/test@https://a.example')).rejects.toThrow('Type it in again');
    await secrets('moss').set('w_x000000000/test@https://a.example', 'x');
    await put(kept, 'moss');
    await expect(secrets('moss').get('w_goods00000/test@https://a.example')).rejects.toThrow('Type it in again');
    await put(kept);
    await expect(secrets('hives', randomBytes(32)).get('w_goods00000/test@https://a.example')).rejects.toThrow(
      'Type it in again',
    );
    expect(await s.get('w_goods00000/test@https://a.example')).toBe('a');
    await writeFile(onDisk(), '{');
    await expect(s.get('w_goods00000/test@https://a.example')).rejects.toThrow('damaged');
    await expect(s.set('w_goods00000/test@https://a.example', 'b')).rejects.toThrow('damaged');
  });
});

describe('the key for secrets', () => {
  it('is made once, kept for this server’s user alone, and the same afterwards', async () => {
    const first = await secretsKey(folder, undefined);
    expect([first.length, Buffer.from(await secretsKey(folder, undefined)).equals(first)]).toEqual([32, true]);
    expect([await readdir(folder), (await stat(join(folder, 'secrets.key'))).mode & 0o777]).toEqual([
      ['secrets.key'],
      0o600,
    ]);
    await writeFile(join(folder, 'secrets.key'), 'short');
    await expect(secretsKey(folder, undefined)).rejects.toThrow('secrets.key is no key');
  });
  it('may come from the environment, and then is not on the disk', async () => {
    expect(Buffer.from(await secretsKey(folder, key.toString('base64'))).equals(key)).toBe(true);
    expect(await readdir(folder)).toEqual([]);
    await expect(secretsKey(folder, 'too short')).rejects.toThrow('KITE_SECRETS_KEY is no key');
  });
});
