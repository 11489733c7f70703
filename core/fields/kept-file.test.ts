import { createHash } from 'node:crypto';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { hashOf, keptFile } from './keep-file.ts';
import { fileName, fileType, readKeptAddress } from './kept-address.ts';
import { keptAddress, keptIn, keptProblem, MOST_FILE_BYTES } from './kept-file.ts';

const file = { hash: hashOf(new Uint8Array([1, 2, 3])), type: 'image/jpeg', size: 3, name: 'frame 7.jpg' };

describe('the address of a kept file', () => {
  it('is a name by its content (RFC 6920), with what it says of it', () => {
    expect(keptAddress(file)).toBe(
      'ni:///sha-256;A5BYxvLAy0ksUztS5Xm0-b3YwfVW_b1MQrFnNrJsb4E?ct=image%2Fjpeg&size=3&name=frame+7.jpg'.replace(
        /sha-256;[^?]*/,
        `sha-256;${file.hash}`,
      ),
    );
    expect(readKeptAddress(keptAddress(file))).toEqual(file);
    expect([fileName(keptAddress(file)), fileType(keptAddress(file))]).toEqual(['frame 7.jpg', 'image/jpeg']);
  });
  it('has the hash that others work out too (property)', () => {
    fc.assert(
      fc.property(fc.uint8Array({ maxLength: 3000 }), (bytes) => {
        expect(hashOf(bytes)).toBe(createHash('sha256').update(bytes).digest('base64url'));
      }),
    );
  });
  it('says again what it was made of, whatever a file is called (property)', () => {
    fc.assert(
      fc.property(fc.string({ unit: 'grapheme', maxLength: 60 }), fc.nat(MOST_FILE_BYTES), (name, size) => {
        const said = { ...file, name, size };
        expect(readKeptAddress(keptAddress(said))).toEqual(said);
        expect(keptProblem(keptAddress(said))).toBeNull();
      }),
    );
  });
  it('stays short with a long name, and keeps its ending', () => {
    const long = readKeptAddress(keptAddress({ ...file, name: `${'hive '.repeat(60)}.jpeg` }))!;
    expect(long.name.length).toBeLessThanOrEqual(120);
    expect(long.name).toMatch(/^hive hive .*….*\.jpeg$/);
  });
  it.each([
    'ni:///sha-256;abc?ct=image/png&size=3',
    `ni:///sha-256;${'a'.repeat(43)}`,
    `ni:///sha-256;${'a'.repeat(43)}?ct=image/png`,
    `ni:///sha-256;${'a'.repeat(43)}?ct=<b>&size=3`,
    `ni:///sha-256;${'a'.repeat(43)}?ct=image/png&size=-3`,
    `ni:///sha-256;${'a'.repeat(42)}/?ct=image/png&size=3`,
  ])('is nothing else: %s', (text) => {
    expect(readKeptAddress(text)).toBeNull();
    expect(keptProblem(text)).toContain('no address');
  });
  it('names no file over the bound', () => {
    const large = keptAddress({ ...file, name: 'film.mp4', size: 31 * 1024 * 1024 });
    expect(keptProblem(large)).toBe('“film.mp4” has 31.0 MB; up to 20 MB are kept in a record. Choose a smaller one.');
  });
  it('gives a type that no program is misled by', () => {
    expect(keptFile(new Uint8Array(1), 'text/html; charset=x', 'a').type).toBe('application/octet-stream');
    expect(keptFile(new Uint8Array(1), 'Image/PNG', 'a').type).toBe('image/png');
  });
  it('is found in cells, each file once', () => {
    const cells = { a: keptAddress(file), b: keptAddress({ ...file, name: 'again' }), c: 'ni:///x', d: 4, e: null };
    expect(keptIn(cells).map((f) => f.hash)).toEqual([file.hash]);
  });
});
