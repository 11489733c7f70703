import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { keptAddress } from '../fields/kept-file.ts';
import type { Change, RecordState } from '../records/change.ts';
import { F, hiveApp, T } from '../records/fixture.ts';
import { Records } from '../records/store.ts';
import { Device } from './device.ts';
import { contents, memoryLog, memoryStore } from './fixture.ts';
import { Host } from './host.ts';
import type { DeviceStore, HostLink } from './link.ts';
import { Replica } from './replica.ts';

const link = { kind: 'link' as const };
const PHOTO = 'f_photo000';

/** A host, and phones whose stores can be full and whose files the host can refuse for a while. */
function town() {
  const app = hiveApp({ hives: [{ id: PHOTO, name: 'Photo', type: 'picture' }] });
  const files = new Map<string, number>();
  const host = new Host(app, memoryLog(), undefined, Date.now, { sizeOf: (hash) => files.get(hash) ?? null });
  const room = { files: true };
  const wire: HostLink = {
    push: async (c) => structuredClone(await host.accept(structuredClone(c), link)),
    pull: async (since, from) => structuredClone(host.catchUp(since, link, from)),
    sendFile: async (file) => {
      if (!room.files) throw new Error('The files of this app have reached what its server keeps.');
      files.set(file.hash, file.size);
    },
  };
  const phone = (id: string) => {
    const memory = memoryStore();
    const disk = { full: false };
    const store: DeviceStore = {
      file: async () => new Blob(['x']),
      async save(u) {
        if (disk.full) throw new Error('The store is full.');
        await memory.store.save(u);
      },
    };
    let runs = 0;
    const open = () => {
      const replica = new Replica(new Records(app));
      replica.load(structuredClone([...memory.states.values()]) as RecordState[]);
      const queue = structuredClone([...memory.queue.values()]) as Change[];
      const device = new Device(`${id}${runs++}`, replica, store, wire, queue, memory.kept.at);
      const told: string[] = [];
      device.onUnkept = (why) => told.push(why);
      device.onHeld = (why) => told.push(why);
      const set = (record: string, name: string, photo?: string) =>
        device.write([
          { do: 'set', table: T.hives, record, cells: { [F.name]: name, ...(photo && { [PHOTO]: photo }) } },
        ]);
      return { device, replica, told, set };
    };
    return { ...open(), disk, again: open };
  };
  return { app, host, room, phone };
}
const photo = keptAddress({ hash: 'h'.repeat(43), type: 'image/jpeg', size: 1, name: 'p.jpg' });

describe('a file that the host does not take now', () => {
  it('waits by itself: what is behind it is sent, news come, and why it waits is said', async () => {
    const { host, room, phone } = town();
    const [a, b] = [phone('aaaa'), phone('bbbb')];
    room.files = false;
    await a.set('h1', 'With a photo', photo);
    for (let i = 0; i < 700; i++) await a.set(`n${i}`, `Behind ${i}`);
    await b.set('other', 'News');
    await b.device.sync();
    await a.device.sync();
    expect([a.device.waiting, host.replica.records.rows(T.hives).length]).toEqual([1, 701]);
    expect(a.replica.records.row(T.hives, 'other')).toBeDefined();
    expect(a.told).toEqual(['“p.jpg” waits on this device: The files of this app have reached what its server keeps.']);
    room.files = true;
    await a.device.sync();
    expect([a.device.waiting, host.replica.records.row(T.hives, 'h1')?.cells[PHOTO]]).toEqual([0, photo]);
  });
});

describe('a store that is full', () => {
  it('keeps nobody from working, and is said once', async () => {
    const { host, phone } = town();
    const a = phone('aaaa');
    a.disk.full = true;
    await a.set('h1', 'One');
    await a.set('h2', 'Two');
    await a.device.sync();
    expect(a.told).toEqual(['The store is full.']);
    expect(host.replica.records.rows(T.hives)).toHaveLength(2);
  });
  it('whenever it is full, an opening later has everything again (property)', async () => {
    const act = fc.record({
      does: fc.constantFrom('own', 'other', 'sync', 'full', 'room', 'again'),
      record: fc.constantFrom('h1', 'h2', 'h3'),
    });
    await fc.assert(
      fc.asyncProperty(fc.array(act, { minLength: 3, maxLength: 25 }), async (acts) => {
        const { host, phone } = town();
        const [a, b] = [phone('aaaa'), phone('bbbb')];
        let now: ReturnType<typeof a.again> = a;
        let n = 0;
        for (const { does, record } of acts) {
          if (does === 'own') await now.set(record, `a${++n}`);
          else if (does === 'other') {
            await b.set(record, `b${++n}`);
            await b.device.sync();
          } else if (does === 'sync') await now.device.sync();
          else if (does === 'again') {
            // What was said not to be kept, and was not sent, may be gone.
            await now.device.sync();
            now = a.again();
          } else a.disk.full = does === 'full';
        }
        await now.device.sync();
        now = a.again();
        await now.device.sync();
        expect(contents(now.replica.records)).toEqual(contents(host.replica.records));
      }),
      { numRuns: 150 },
    );
  });
});
