import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { hashOf } from '../fields/keep-file.ts';
import { keptAddress } from '../fields/kept-file.ts';
import { readKeptAddress } from '../fields/kept-address.ts';
import { F, hiveApp, T } from '../records/fixture.ts';
import { NOBODY, OWNER, type AccessTo } from '../access/access.ts';
import { accessWith } from '../access/fixture.ts';
import { contents } from './fixture.ts';
import { NeverTakenError, OfflineError, type Sending } from './link.ts';
import { World } from '../world/world.ts';
import '../world/warm.fixture.ts';

const PHOTO = 'f_photo000';
const app = hiveApp({ hives: [{ id: PHOTO, name: 'Photo', type: 'picture' }] });
const link = NOBODY;

const photo = (n: number): { address: string; hash: string; bytes: Uint8Array<ArrayBuffer> } => {
  const bytes = Uint8Array.from({ length: 40 + n }, (_, i) => (i * 13 + n) % 256);
  const hash = hashOf(bytes);
  return { bytes, hash, address: keptAddress({ hash, type: 'image/jpeg', size: bytes.length, name: `p${n}.jpg` }) };
};

/** A world of phones whose way to the host breaks as often as it is told. */
function place(access?: AccessTo) {
  const world = new World({ app, ...(access && { access }) });
  const sent: string[] = [];
  const way = { breaks: 0, full: false, forgets: false };
  const phone = () => {
    const p = world.phone({ byHand: true });
    const { wire, device, store } = p;
    device.connect({
      push: (changes) => wire.push(changes),
      pull: (asked) => wire.pull(asked),
      sendFile: async (file, content, heard) => {
        if (way.full) throw new NeverTakenError('This is too much.');
        if (way.breaks-- > 0) throw new OfflineError();
        if (!way.forgets) await wire.sendFile(file, content, heard);
        sent.push(file.hash);
      },
    });
    const seen: (Sending | null)[] = [];
    device.onSending = (s) => seen.push(s);
    const take = (n: number, record: string) => {
      const { hash, bytes, address } = photo(n);
      store.files.set(hash, new Blob([bytes]));
      return device.write([{ do: 'set', table: T.hives, record, cells: { [F.name]: record, [PHOTO]: address } }]);
    };
    return { device, replica: p.replica, kept: store.files, told: p.refused, seen, take };
  };
  /** Gives the host a file. */
  const has = async (n: number): Promise<void> => {
    const { hash, bytes } = photo(n);
    await world.files.write(hash, 0, bytes);
    await world.files.makeWhole(hash);
  };
  return { world, host: world.host, files: world.files, sent, way, phone, has };
}

describe('a photo in a record', () => {
  it('is not asked for by a change that is refused whatever its files are', async () => {
    const { host, phone, sent } = place();
    const a = phone();
    await a.take(1, 'h1');
    const [change] = a.device.queue;
    const wrong = { ...change!, cells: { [PHOTO]: photo(1).address, [F.weight]: 'heavy' } } as typeof change;
    const answer = await host.accept([wrong!], link);
    expect([answer.wanted, answer.refused.length, sent]).toEqual([undefined, 1, []]);
    const shut = place(accessWith({ refusal: () => 'Not yours.' })).host;
    const refused = await shut.accept([change!], link);
    expect([refused.wanted, refused.refused.map((r) => r.reason)]).toEqual([undefined, ['Not yours.']]);
  });
  it('reaches the host before the change that names it, and once for all who have the same', async () => {
    const { host, sent, phone } = place();
    const [a, b] = [phone(), phone()];
    await a.take(1, 'h1');
    await b.take(1, 'h2');
    await a.device.sync();
    await b.device.sync();
    await a.device.sync();
    expect(sent).toEqual([photo(1).hash]);
    expect(contents(a.replica.records)).toEqual(contents(host.replica.records));
    expect(host.replica.records.rows(T.hives)).toHaveLength(2);
    expect(a.seen).toEqual([
      { name: 'p1.jpg', sent: 0, of: 41, more: 0 },
      { name: 'p1.jpg', sent: 0, of: 41, more: 0 },
      { name: 'p1.jpg', sent: 41, of: 41, more: 0 },
      null,
    ]);
  });
  it('keeps nothing else waiting', async () => {
    const { host, way, phone } = place();
    const a = phone();
    way.breaks = 1;
    await a.take(1, 'h1');
    await a.device.write([{ do: 'set', table: T.hives, record: 'h2', cells: { [F.name]: 'Clover' } }]);
    await expect(a.device.sync()).rejects.toThrow(OfflineError);
    expect(host.replica.records.rows(T.hives).map((r) => r.id)).toEqual(['h2']);
    expect([a.device.waiting, a.seen.at(-1)]).toEqual([1, null]);
    await a.device.sync();
    expect([a.device.waiting, host.replica.records.rows(T.hives).length]).toEqual([0, 2]);
  });
  it('that is not on the phone any more, or never taken, is set aside in words; what belongs to it too', async () => {
    const { host, way, phone } = place();
    const a = phone();
    await a.take(1, 'h1');
    a.kept.clear();
    await a.device.sync();
    expect(a.told.map((t) => t.reason)).toEqual([
      '“p1.jpg” is not on this device any more. It stays on this device and reaches no other.',
    ]);
    way.full = true;
    const p = photo(2);
    a.kept.set(p.hash, new Blob([p.bytes]));
    await a.device.write(
      [
        { do: 'set', table: T.hives, record: 'h3', cells: { [PHOTO]: p.address } },
        { do: 'set', table: T.hives, record: 'h4', cells: { [F.name]: 'beside' } },
      ],
      true,
    );
    await a.device.sync();
    expect(a.told.slice(1).map((t) => t.change.record)).toEqual(['h3', 'h4']);
    expect([a.device.waiting, host.replica.size]).toEqual([0, 0]);
  });
  it('that the host asks for again and again is tried later', async () => {
    const { way, phone } = place();
    const a = phone();
    await a.take(1, 'h1');
    way.forgets = true;
    await a.device.sync();
    expect(a.device.waiting).toBe(1);
  });
  it('is asked for by its content, whatever size is said; and only in fields that hold files', async () => {
    const { host, has } = place();
    await has(1);
    const base = { stamp: '0loyw3v2w-0000-test', table: T.hives, do: 'set' as const };
    const lies = photo(1).address.replace('size=41', 'size=42');
    const receipt = await host.accept(
      [
        { ...base, id: 'c1', record: 'h1', cells: { [PHOTO]: lies } },
        { ...base, id: 'c2', record: 'h2', cells: { [F.name]: photo(2).address } },
        { ...base, id: 'c3', record: 'h3', cells: { [PHOTO]: 'ni:///sha-256;nothing' } },
      ],
      link,
    );
    expect(receipt.wanted).toEqual([photo(1).hash]);
    expect(receipt.accepted).toEqual(['c2']);
    expect(receipt.refused.map((r) => r.reason)).toEqual(['This is no address of a kept file.']);
  });
  it('is read by those who may read a record that holds it, as long as one does', async () => {
    const owner = OWNER;
    const access = accessWith({ mayRead: (rights) => rights === 'owner' });
    const { host, has, world } = place(access);
    const { hash, address } = photo(1);
    await has(1);
    const base = { table: T.hives, record: 'h1' };
    await host.accept(
      [{ ...base, id: 'c1', stamp: '0loyw3v2w-0000-test', do: 'set', cells: { [PHOTO]: address } }],
      owner,
    );
    expect([host.mayReadFile(owner, hash), host.mayReadFile(link, hash), host.usesFile(hash)]).toEqual([
      true,
      false,
      true,
    ]);
    await host.accept([{ ...base, id: 'c2', stamp: '0loyw3v2x-0000-test', do: 'remove' }], owner);
    expect([host.mayReadFile(owner, hash), host.usesFile(hash)]).toEqual([false, false]);
    await host.accept(
      [{ ...base, id: 'c3', stamp: '0loyw3v2y-0000-test', do: 'restore', cells: { [PHOTO]: address } }],
      owner,
    );
    expect(host.usesFile(hash)).toBe(true);
    world.restartHost(true);
    expect(world.host.usesFile(hash)).toBe(true);
  });
  it('is on the host whenever a record there names it, however often the way breaks (property)', async () => {
    const act = fc.oneof(
      fc.record({
        do: fc.constant('take' as const),
        n: fc.nat(4),
        who: fc.nat(1),
        record: fc.constantFrom('h1', 'h2'),
      }),
      fc.record({ do: fc.constant('sync' as const), who: fc.nat(1) }),
      fc.record({ do: fc.constant('break' as const), times: fc.nat(3) }),
    );
    await fc.assert(
      fc.asyncProperty(fc.array(act, { maxLength: 20 }), async (acts) => {
        const { host, files, way, phone } = place();
        const phones = [phone(), phone()];
        const holds = (): void => {
          for (const s of host.replica.all()) {
            const file = readKeptAddress(s.cells[PHOTO]);
            if (file) expect(files.sizeOf(file.hash)).toBe(file.size);
          }
        };
        const sync = async (who: number): Promise<void> => {
          await phones[who]!.device.sync().catch((e: unknown) => expect(e).toBeInstanceOf(OfflineError));
          holds();
        };
        for (const a of acts) {
          if (a.do === 'take') await phones[a.who]!.take(a.n, a.record);
          else if (a.do === 'break') way.breaks = a.times;
          else await sync(a.who);
        }
        way.breaks = 0;
        for (const who of [0, 1, 0, 1]) await sync(who);
        for (const p of phones) {
          expect([p.device.waiting, p.told]).toEqual([0, []]);
          expect(contents(p.replica.records)).toEqual(contents(host.replica.records));
        }
      }),
      { numRuns: 150 },
    );
  });
});
