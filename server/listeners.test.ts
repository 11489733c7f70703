import { mkdtemp, readFile, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { Listeners } from './listeners.ts';

let folder = '';
beforeEach(async () => {
  folder = await mkdtemp(join(tmpdir(), 'kite-listeners-'));
});
afterEach(() => rm(folder, { recursive: true }));
const path = (): string => join(folder, 'listeners.json');
const open = (): Listeners => new Listeners(path(), (p, text) => writeFile(p, text));

describe('who listens', () => {
  it('is known since the device first said so, also to a server that was started again', async () => {
    const first = open();
    const own = await first.listens('Wren', 'secret one');
    await new Promise((resolve) => {
      setTimeout(resolve, 5);
    });
    const other = await first.listens('Wren', 'secret two');
    expect([own.devices, other.devices, other.since > own.since]).toEqual([1, 2, true]);
    expect(await first.listens('Wren', 'secret one')).toEqual({ since: own.since, devices: 2 });
    expect(await open().listens('Wren', 'secret two')).toEqual({ since: other.since, devices: 2 });
    expect((await open().listens('Lark', 'secret one')).devices).toBe(1);
    // The secret itself is nowhere.
    expect(await readFile(path(), 'utf8')).not.toContain('secret');
  });
  it('is bounded: of very many devices of one person the first go, and hear nothing of before when they come again', async () => {
    const all = open();
    const first = await all.listens('Wren', 'd0');
    await new Promise((resolve) => {
      setTimeout(resolve, 5);
    });
    for (let i = 1; i <= 30; i++) expect((await all.listens('Wren', `d${i}`)).devices).toBeLessThanOrEqual(20);
    expect((await all.listens('Wren', 'd0')).since > first.since).toBe(true);
  });
  it('begins anew where what was kept cannot be read', async () => {
    await writeFile(path(), '{"Wren": 7');
    expect((await open().listens('Wren', 'one')).devices).toBe(1);
    await writeFile(path(), '{"Wren": {"x": 7}}');
    expect((await open().listens('Wren', 'one')).devices).toBe(1);
  });
});
