import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { hashOf } from '../fields/keep-file.ts';
import { keptAddress } from '../fields/kept-file.ts';
import { F, hiveApp, T } from '../records/fixture.ts';
import { contents } from './fixture.ts';
import { World } from '../world/world.ts';
import '../world/warm.fixture.ts';

const PHOTO = 'f_photo000';

/** A host, and phones whose stores can be full and whose files the host can refuse for a while. */
function town() {
  const world = new World({ app: hiveApp({ hives: [{ id: PHOTO, name: 'Photo', type: 'picture' }] }) });
  const phone = () => {
    const p = world.phone({ byHand: true });
    const set = (record: string, name: string, photo?: string) =>
      p.write([{ do: 'set', table: T.hives, record, cells: { [F.name]: name, ...(photo && { [PHOTO]: photo }) } }]);
    const full = (is: boolean): void => {
      p.store.broken = is ? new Error('The store is full.') : null;
    };
    return { phone: p, set, full, sync: () => p.device.sync() };
  };
  return { world, phone };
}
const content = new TextEncoder().encode('x');
const photo = keptAddress({ hash: hashOf(content), type: 'image/jpeg', size: 1, name: 'p.jpg' });

describe('a file that the host does not take now', () => {
  it('waits by itself: what is behind it is sent, news come, and why it waits is said', async () => {
    const { world, phone } = town();
    const [a, b] = [phone(), phone()];
    a.phone.store.files.set(hashOf(content), new Blob([content]));
    world.options.mostFileBytes = 0;
    world.restartHost();
    await a.set('h1', 'With a photo', photo);
    for (let i = 0; i < 700; i++) await a.set(`n${i}`, `Behind ${i}`);
    await b.set('other', 'News');
    await b.sync();
    await a.sync();
    expect([a.phone.device.waiting, world.host.replica.records.rows(T.hives).length]).toEqual([1, 701]);
    expect(a.phone.records.row(T.hives, 'other')).toBeDefined();
    expect(a.phone.said).toEqual([
      '“p.jpg” waits on this device: The files of this app have reached what its server keeps. Its operator can raise that.',
    ]);
    world.options.mostFileBytes = 1000;
    world.restartHost();
    await a.sync();
    expect([a.phone.device.waiting, world.cell(T.hives, 'h1', PHOTO)]).toEqual([0, photo]);
  });
});

describe('a store that is full', () => {
  it('keeps nobody from working, and is said once', async () => {
    const { world, phone } = town();
    const a = phone();
    a.full(true);
    await a.set('h1', 'One');
    await a.set('h2', 'Two');
    await a.sync();
    expect(a.phone.said).toEqual(['The store is full.']);
    expect(world.host.replica.records.rows(T.hives)).toHaveLength(2);
  });
  it('is said again when it is full once more, after it had room', async () => {
    const { phone } = town();
    const a = phone();
    for (const full of [true, false, true]) {
      a.full(full);
      await a.set('h1', `Full: ${full}`);
    }
    expect(a.phone.said).toEqual(['The store is full.', 'The store is full.']);
  });
  it('whenever it is full, an opening later has everything again (property)', async () => {
    const act = fc.record({
      does: fc.constantFrom('own', 'other', 'sync', 'full', 'room', 'again'),
      record: fc.constantFrom('h1', 'h2', 'h3'),
    });
    await fc.assert(
      fc.asyncProperty(fc.array(act, { minLength: 3, maxLength: 25 }), async (acts) => {
        const { world, phone } = town();
        const [a, b] = [phone(), phone()];
        let n = 0;
        for (const { does, record } of acts) {
          await world.pass(1);
          if (does === 'own') await a.set(record, `a${++n}`);
          else if (does === 'other') {
            await b.set(record, `b${++n}`);
            await b.sync();
          } else if (does === 'sync') await a.sync();
          else if (does === 'again') {
            // What was said not to be kept, and was not sent, may be gone.
            await a.sync();
            a.phone.restart();
          } else a.full(does === 'full');
        }
        await a.sync();
        a.phone.restart();
        await a.sync();
        expect(contents(a.phone.records)).toEqual(contents(world.host.replica.records));
      }),
      { numRuns: 150 },
    );
  });
});
