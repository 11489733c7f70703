import { strToU8, zipSync } from 'fflate';
import { describe, expect, it } from 'vitest';
import { readZip } from './read.ts';

const csvOf = (paths: readonly string[]): Uint8Array =>
  strToU8(`Name,Photo\r\n${paths.map((p, i) => `n${i},${p}\r\n`).join('')}`);

describe('a zip with files beside its tables', () => {
  it('gives each cell its file, and makes a file that many name once', async () => {
    const photo = new Uint8Array(3).fill(7);
    const zip = zipSync({ 't.csv': csvOf(['t files/a.png', 't files/a.png', 'other/a.png']), 't files/a.png': photo });
    const [sheet] = await readZip('t.zip', zip);
    const cells = sheet!.rows.slice(1).map((r) => r[1]!);
    expect(cells).toEqual([
      'data:image/png;name=a.png;base64,BwcH',
      'data:image/png;name=a.png;base64,BwcH',
      'other/a.png',
    ]);
    expect(sheet!.odd ?? []).toEqual([]);
  });
  it('that few bytes name again and again gives as many as can come, and says of the others that they keep their path', async () => {
    const paths = Array.from({ length: 600 }, () => 't files/a.png');
    const zip = zipSync({ 't.csv': csvOf(paths), 't files/a.png': new Uint8Array(900_000) });
    expect(zip.length).toBeLessThan(20_000);
    const [sheet] = await readZip('t.zip', zip);
    const cells = sheet!.rows.slice(1).map((r) => r[1]!);
    const given = cells.filter((c) => c.startsWith('data:'));
    expect(given.reduce((n, c) => n + c.length, 0)).toBeLessThanOrEqual(300 * 1024 * 1024);
    expect(given.length).toBeGreaterThan(200);
    expect(cells.slice(given.length).every((c) => c === 't files/a.png')).toBe(true);
    expect(sheet!.odd).toHaveLength(600 - given.length);
    expect(sheet!.odd![0]!.reason).toContain('the cell keeps its path');
  });
  it('whose files lie upon one another is refused', async () => {
    const zip = zipSync(
      { 'a.csv': strToU8('A\r\n1\r\n'), 'b.csv': strToU8(`A\r\n${'1\r\n'.repeat(3000)}`) },
      { level: 0 },
    );
    // Every entry of the list at the end names the long file (APPNOTE.TXT, 4.3.12): as often as its length allows.
    const list = zip.lastIndexOf(0x50, zip.length - 60);
    const end = zip.subarray(zip.length - 22);
    const entry = zip.subarray(zip.length - 22 - 51, zip.length - 22);
    expect([list > 0, entry[0], entry[1]]).toEqual([true, 0x50, 0x4b]);
    const many = 40;
    const begin = zip.length - 22 - 2 * 51;
    const made = new Uint8Array(begin + many * 51 + 22);
    made.set(zip.subarray(0, begin));
    for (let i = 0; i < many; i++) made.set(entry, begin + i * 51);
    const tail = new DataView(made.buffer, begin + many * 51);
    made.set(end, begin + many * 51);
    tail.setUint16(8, many, true);
    tail.setUint16(10, many, true);
    tail.setUint32(12, many * 51, true);
    await expect(readZip('t.zip', made)).rejects.toThrow('its files lie upon one another');
  });
});
