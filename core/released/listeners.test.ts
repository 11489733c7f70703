import { beforeEach, describe, expect, it } from 'vitest';
import { Listeners } from './listeners.ts';
import { MemoryText } from '../document/kept-text.ts';

let port = new MemoryText();
beforeEach(() => (port = new MemoryText()));
let time = 0;
const open = (): Listeners => new Listeners(port, () => (time += 5));

describe('who listens', () => {
  it('is known since the device first said so, also to a server that was started again', async () => {
    const first = open();
    const own = await first.listens('Wren', 'secret one');
    const other = await first.listens('Wren', 'secret two');
    expect([own.devices, other.devices, other.since > own.since]).toEqual([1, 2, true]);
    expect(await first.listens('Wren', 'secret one')).toEqual({ since: own.since, devices: 2 });
    expect(await open().listens('Wren', 'secret two')).toEqual({ since: other.since, devices: 2 });
    expect((await open().listens('Lark', 'secret one')).devices).toBe(1);
    // The secret itself is nowhere.
    expect(port.text).not.toContain('secret');
  });
  it('is kept together where many come at once, and before any of them is answered', async () => {
    let writes = 0;
    const text = port;
    port = Object.assign(new MemoryText(), {
      write: async (kept: string) => {
        writes++;
        await new Promise((r) => setTimeout(r, 5));
        await text.write(kept);
      },
    });
    const all = open();
    await Promise.all(
      Array.from({ length: 40 }, async (_, i) => {
        await all.listens(`P${i}`, `d${i}`);
        expect(Object.keys(JSON.parse(text.text) as object)).toContain(`P${i}`);
      }),
    );
    expect(writes).toBeLessThanOrEqual(2);
  });
  it('is bounded: of very many devices of one person the first go, and hear nothing of before when they come again', async () => {
    const all = open();
    const first = await all.listens('Wren', 'd0');
    for (let i = 1; i <= 30; i++) expect((await all.listens('Wren', `d${i}`)).devices).toBeLessThanOrEqual(20);
    expect((await all.listens('Wren', 'd0')).since > first.since).toBe(true);
  });
  it('begins anew where what was kept cannot be read', async () => {
    port.text = '{"Wren": 7';
    expect((await open().listens('Wren', 'one')).devices).toBe(1);
    port.text = '{"Wren": {"x": 7}}';
    expect((await open().listens('Wren', 'one')).devices).toBe(1);
  });
});
