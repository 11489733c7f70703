import { beforeEach, describe, expect, it } from 'vitest';
import { MemoryMessages } from './memory.ts';
import { Outbox } from './outbox.ts';

let port = new MemoryMessages();
beforeEach(() => (port = new MemoryMessages()));
const open = (mostBytes?: number, most?: number) => new Outbox(port, Date.now, mostBytes, most);
const notice = (id: string, at: string, to = 'ines'): string =>
  JSON.stringify({ id, kind: 'notice', to: [to], subject: id, body: '', at });

describe('an outbox', () => {
  it('keeps a message once, also when it comes twice at the same time, and after a new start', async () => {
    const box = open();
    expect(
      (await Promise.all([box.add('m-00001', 'eml', 'a'), box.add('m-00001', 'eml', 'a')])).filter(Boolean),
    ).toHaveLength(1);
    expect(await open().add('m-00001', 'eml', 'a')).toBe(false);
    expect((await port.list()).map((m) => m.name)).toEqual(['m-00001.eml']);
  });
  it('is bounded in bytes and in messages, whoever fills it and however many at once', async () => {
    const bytes = open(1000);
    const tried = await Promise.allSettled([1, 2, 3, 4].map((n) => bytes.add(`m-0000${n}`, 'eml', 'x'.repeat(400))));
    expect(tried.map((t) => t.status)).toEqual(['fulfilled', 'fulfilled', 'rejected', 'rejected']);
    await expect(open(1000).add('m-00009', 'eml', 'x'.repeat(400))).rejects.toThrow('outbox of this app is full');
    port = new MemoryMessages();
    const many = open(1e6, 2);
    await many.add('m-00001', 'eml', 'a');
    await many.add('m-00002', 'eml', 'b');
    await expect(many.add('m-00003', 'eml', 'c')).rejects.toThrow('full');
  });
  it('lets go of messages that went out long ago where there is no room, the oldest first, and of no others', async () => {
    let now = 1e12;
    const box = new Outbox(new MemoryMessages(() => now), () => now, 1e6, 3);
    for (const id of ['m-00001', 'm-00002']) await box.add(id, 'eml', 'a');
    now += 61 * 86_400_000;
    await box.add('m-00003', 'eml', 'c');
    const both = await Promise.all([box.add('m-00004', 'eml', 'd'), box.add('m-00004', 'eml', 'd')]);
    expect(both.filter(Boolean)).toHaveLength(1);
    expect((await box.newest()).messages.map((m) => m.id)).toEqual(['m-00002', 'm-00003', 'm-00004']);
    await box.add('m-00005', 'eml', 'e');
    await expect(box.add('m-00006', 'eml', 'f')).rejects.toThrow('full');
    expect(box.mailsOfDay).toBe(3);
  });
  it('lists nothing, and tells no notice, that is still being written', async () => {
    const box = open();
    await box.add('m-00001', 'eml', 'a');
    let written = (): void => undefined;
    const keep = port.keep.bind(port);
    port.keep = async (name, text) => {
      await new Promise<void>((resolve) => (written = resolve));
      await keep(name, text);
    };
    const at = new Date().toISOString();
    const coming = box.add('notice-1', 'json', notice('notice-1', at));
    await new Promise((r) => setTimeout(r, 5));
    expect((await box.newest()).messages.map((m) => m.id)).toEqual(['m-00001']);
    expect(await box.notices('ines', '2020-01-01T00:00:00Z')).toEqual([]);
    written();
    await coming;
    expect((await box.newest()).messages).toHaveLength(2);
    expect(await box.notices('ines', '2020-01-01T00:00:00Z')).toHaveLength(1);
  });
  it('lists the newest, fewer where they are large, and says how many older ones there are', async () => {
    const box = open();
    for (let n = 0; n < 5; n++) await box.add(`m-0000${n}`, 'eml', String(n).repeat(5_000_000));
    const { messages, more } = await box.newest();
    expect(messages.map((m) => m.id)).toEqual(['m-00003', 'm-00004']);
    expect(more).toBe(3);
  });
  it('tells a person the latest notices that are for them, of any number that is kept', async () => {
    for (let n = 0; n < 300; n++)
      await port.keep(
        `notice-${n}.json`,
        notice(`notice-${n}`, new Date(Date.now() + n).toISOString(), n % 2 ? 'ines' : 'bo'),
      );
    await port.keep('damaged.json', '{"id":');
    const box = open();
    const found = await box.notices('ines', new Date(Date.now() - 60_000).toISOString());
    expect(found).toHaveLength(100);
    expect(found.at(-1)!.id).toBe('notice-299');
    expect(new Set(found.flatMap((m) => m.to))).toEqual(new Set(['ines']));
  });
});
