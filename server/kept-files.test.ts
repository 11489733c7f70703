import { mkdtemp, readdir, rm, utimes } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { hashOf } from '../core/fields/keep-file.ts';
import { KeptFiles } from '../core/released/kept-files.ts';
import { keptAddress, PIECE_BYTES } from '../core/fields/kept-file.ts';
import { hiveApp } from '../core/records/fixture.ts';
import { HttpLink } from '../player/link.ts';
import { change, KEY, TestServer } from './fixture.ts';
import { FilesFolder } from './files-folder.ts';

const PHOTO = 'f_photo000';
const app = hiveApp({ hives: [{ id: PHOTO, name: 'Photo', type: 'picture' }] });
const content = (n: number, size = 3 * PIECE_BYTES + 17): Uint8Array<ArrayBuffer> =>
  Uint8Array.from({ length: size }, (_, i) => (i * 31 + n * 7 + (i >> 8)) % 256);
const fileOf = (bytes: Uint8Array, name = 'frame.jpg') => ({
  hash: hashOf(bytes),
  type: 'image/jpeg',
  size: bytes.length,
  name,
});

describe('files over the network', () => {
  let t: TestServer;
  beforeAll(async () => {
    t = await TestServer.start();
    await t.release('bees', KEY, app);
  });
  afterAll(() => t.stop());

  const piece = (hash: string, size: number, offset: number, bytes: Uint8Array<ArrayBuffer>) =>
    fetch(`${t.url}/api/apps/bees/files/${hash}?offset=${offset}&size=${size}`, {
      method: 'PATCH',
      headers: { 'content-type': 'application/octet-stream' },
      body: bytes,
    }).then(async (r) => ({ status: r.status, body: (await r.json()) as Record<string, unknown> }));
  const arrived = async (hash: string) => (await t.call(`/api/apps/bees/files/${hash}/arrived`)).body;

  it('arrive in pieces, go on where they stopped after a restart, and are then read whole', async () => {
    const bytes = content(1);
    const file = fileOf(bytes);
    const first = bytes.slice(0, PIECE_BYTES);
    expect((await piece(file.hash, file.size, 0, first)).body).toEqual({ offset: PIECE_BYTES, complete: false });
    // A change that names it must wait.
    const named = change({ [PHOTO]: keptAddress(file) });
    expect((await t.push('bees', named)).body).toMatchObject({ accepted: [], refused: [], wanted: [file.hash] });
    await t.restart();
    expect(await arrived(file.hash)).toEqual({ offset: PIECE_BYTES, complete: false });
    expect((await piece(file.hash, file.size, 0, first)).status).toBe(409);

    const here = globalThis.fetch;
    const requests: string[] = [];
    globalThis.fetch = (path, init) => {
      if (!String(path).startsWith('/')) return here(path, init);
      requests.push(String(path));
      return here(t.url + String(path), init);
    };
    try {
      const wire = new HttpLink('bees');
      const heard: number[] = [];
      await wire.sendFile(file, new Blob([bytes]), (n) => heard.push(n));
      expect(heard).toEqual([PIECE_BYTES, 2 * PIECE_BYTES, 3 * PIECE_BYTES, file.size]);
      // Whoever has the same file sends nothing.
      requests.length = 0;
      await wire.sendFile(file, new Blob([bytes]), () => undefined);
      expect(requests).toHaveLength(1);
      expect(await wire.file(file.hash)).toBeNull(); // no record holds it yet
      expect((await t.push('bees', named)).body).toMatchObject({ accepted: [named.id] });
      const back = await wire.file(file.hash);
      expect(new Uint8Array(await back!.arrayBuffer())).toEqual(bytes);
    } finally {
      globalThis.fetch = here;
    }
  });
  it('are saved when they are opened, whatever they hold', async () => {
    const bytes = new TextEncoder().encode('<script>alert(1)</script>');
    const file = { ...fileOf(bytes), type: 'text/html' };
    await piece(file.hash, file.size, 0, bytes);
    await t.push('bees', change({ [PHOTO]: keptAddress(file) }));
    const { headers, text } = await t.call(`/api/apps/bees/files/${file.hash}`);
    expect(text).toBe('<script>alert(1)</script>');
    expect(headers.get('content-type')).toBe('application/octet-stream');
    expect(headers.get('content-disposition')).toBe('attachment');
    expect(headers.get('x-content-type-options')).toBe('nosniff');
  });
  it('that are not what they say are refused in words, and leave nothing', async () => {
    const bytes = content(2, 1000);
    const other = hashOf(content(3, 1000));
    const answer = await piece(other, 1000, 0, bytes);
    expect([answer.status, answer.body['error']]).toEqual([422, 'What arrived is not the file that was announced.']);
    expect(await arrived(other)).toEqual({ offset: 0, complete: false });
    expect((await piece(other, 900, 0, bytes)).status).toBe(422);
    expect((await piece(other, 1000, 0, new Uint8Array(0))).status).toBe(422);
    expect((await piece(other, 21 * 1024 * 1024, 0, bytes)).body['error']).toContain('up to 20 MB');
    expect((await piece('../../release.json', 1000, 0, bytes)).status).toBeGreaterThanOrEqual(400);
    expect((await t.call('/api/apps/bees/files/..%2F..%2Frelease.json')).status).toBe(404);
    const odd = await fetch(`${t.url}/api/apps/bees/files/${other}?offset=-1&size=x`, {
      method: 'PATCH',
      headers: { 'content-type': 'application/octet-stream' },
      body: bytes,
    });
    expect(odd.status).toBe(422);
    expect((await t.call(`/api/apps/bees/files/${other}?offset=0&size=9`, { method: 'PATCH', json: {} })).status).toBe(
      415,
    );
  });
});

describe('a folder of files', () => {
  let folder: string;
  beforeAll(async () => {
    folder = await mkdtemp(join(tmpdir(), 'kite-files-'));
  });
  afterAll(() => rm(folder, { recursive: true, force: true }));
  const day = 24 * 3_600_000;

  it('lets go, after a day, of what no record holds and of what stopped arriving', async () => {
    const files = new KeptFiles(new FilesFolder(join(folder, 'a')), 1e9);
    const path = (bytes: Uint8Array): string => join(folder, 'a', hashOf(bytes));
    const [used, loose, fresh, half] = [0, 1, 2, 3].map((n) => content(n, 500));
    for (const b of [used!, loose!, fresh!]) await files.take(hashOf(b), 500, 0, b);
    await files.take(hashOf(half!), 500, 0, half!.slice(0, 100));
    const old = new Date(Date.now() - 2 * day);
    for (const b of [used!, loose!]) await utimes(path(b), old, old);
    await utimes(`${path(half!)}.part`, old, old);
    await files.sweep(async (hash, drop) => (hash === hashOf(used!) ? undefined : drop()));
    // What stopped arriving goes when the files are counted.
    await new KeptFiles(new FilesFolder(join(folder, 'a')), 1e9).take(hashOf(content(90, 5)), 5, 0, content(90, 5));
    await rm(path(content(90, 5)));
    expect((await readdir(join(folder, 'a'))).sort()).toEqual([hashOf(used!), hashOf(fresh!)].sort());
    expect(await files.arrival(hashOf(loose!))).toEqual({ offset: 0, complete: false });
    expect(await files.arrival(hashOf(used!))).toEqual({ offset: 500, complete: true });
  });
  it('is bounded, in bytes and in what arrives at once', async () => {
    const small = new KeptFiles(new FilesFolder(join(folder, 'b')), 1200);
    const [a, b, c] = [4, 5, 6].map((n) => content(n, 500));
    await small.take(hashOf(a!), 500, 0, a!);
    await small.take(hashOf(b!), 500, 0, b!);
    await expect(small.take(hashOf(c!), 500, 0, c!)).rejects.toThrow('have reached what its server keeps');
    // Counted again from what is there.
    await expect(new KeptFiles(new FilesFolder(join(folder, 'b')), 1200).take(hashOf(c!), 500, 0, c!)).rejects.toThrow(
      'reached',
    );
  });
  it('gives nobody all the places for files on their way, and gives up those that stopped', async () => {
    let now = Date.now();
    const many = new KeptFiles(new FilesFolder(join(folder, 'c')), 1e9, () => now, { all: 30, each: 20 });
    const begin = (n: number, by: string) => {
      const bytes = content(n, 500);
      return many.take(hashOf(bytes), 500, 0, bytes.slice(0, 1), by);
    };
    for (let n = 0; n < 20; n++) await begin(100 + n, 'stranger');
    await expect(begin(150, 'stranger')).rejects.toThrow('Too many files are on their way');
    // Others go on, and what is on its way arrives.
    const honest = content(4, 500);
    await many.take(hashOf(honest), 500, 0, honest.slice(0, 10), 'honest');
    expect(await many.take(hashOf(honest), 500, 10, honest.slice(10), 'honest')).toEqual({
      offset: 500,
      complete: true,
    });
    now += 11 * 60_000;
    expect(await begin(150, 'stranger')).toEqual({ offset: 1, complete: false });
    expect((await readdir(join(folder, 'c'))).filter((f) => f.endsWith('.part'))).toHaveLength(1);
  });
  it('counts what is announced, and takes nothing larger than that', async () => {
    const files = new KeptFiles(new FilesFolder(join(folder, 'e')), 1500);
    const all = [1, 2, 3, 4, 5, 6].map((n) => content(200 + n, 500));
    // Six begin at once where three have room.
    const began = await Promise.allSettled(all.map((b) => files.take(hashOf(b), 500, 0, b.slice(0, 10))));
    expect(began.filter((x) => x.status === 'fulfilled')).toHaveLength(3);
    const small = new KeptFiles(new FilesFolder(join(folder, 'f')), 1500);
    const [grown] = all;
    await small.take(hashOf(grown!), 20, 0, grown!.slice(0, 10));
    await expect(small.take(hashOf(grown!), 500, 10, grown!.slice(10))).rejects.toThrow('was announced with 20 bytes');
  });
  it('keeps its bound while files that end to arrive make room for nobody', async () => {
    const size = PIECE_BYTES;
    const files = new KeptFiles(new FilesFolder(join(folder, 'g')), 2 * size + 100);
    let arriving = true;
    const whole = [300, 301].map((n) => content(n, size));
    for (const bytes of whole) await files.take(hashOf(bytes), size, 0, bytes.slice(0, 10));
    const two = Promise.all(whole.map((bytes) => files.take(hashOf(bytes), size, 10, bytes.slice(10)))).finally(
      () => (arriving = false),
    );
    // Others begin at every moment in which these two are written, read and counted.
    const others: Promise<unknown>[] = [];
    // oxlint-disable-next-line no-unmodified-loop-condition -- it changes while the loop waits
    for (let n = 400; arriving; n++) {
      const begin = content(n, 10);
      others.push(files.take(hashOf(begin), size, 0, begin));
      await new Promise(setImmediate);
    }
    await two;
    const began = await Promise.allSettled(others);
    expect(began.length).toBeGreaterThan(2);
    expect(began.filter((x) => x.status === 'fulfilled')).toEqual([]);
  });
  it('takes the same file from two at once as one', async () => {
    const files = new KeptFiles(new FilesFolder(join(folder, 'd')), 1e9);
    const bytes = content(7, 600);
    const took = await Promise.allSettled(
      [0, 0, 300, 300].map((at) => files.take(hashOf(bytes), 600, at, bytes.slice(at, at + 300))),
    );
    expect(took.filter((x) => x.status === 'fulfilled').length).toBeGreaterThanOrEqual(2);
    expect(await files.arrival(hashOf(bytes))).toEqual({ offset: 600, complete: true });
  });
});
