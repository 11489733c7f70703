import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { Draft } from '../records/change.ts';
import { F, T, hiveApp } from '../records/fixture.ts';
import { Device } from './device.ts';
import { contents } from './fixture.ts';
import { Host } from './host.ts';
import { joined, takeBack, writeWithUndo, type Written } from './undo.ts';
import { World } from '../world/world.ts';
import { MemoryLog } from '../released/memory.ts';
import { MemoryStore } from '../world/memory.ts';
import '../world/warm.fixture.ts';

const set = (record: string, cells: Record<string, string | number | null>): Draft => ({
  do: 'set',
  table: T.hives,
  record,
  cells,
});
const raise = (record: string, by: number): Draft => ({ do: 'raise', table: T.hives, record, by: { [F.weight]: by } });
const remove = (record: string): Draft => ({ do: 'remove', table: T.hives, record });

/** Two phones of one host; the clock of the first is a day ahead where that is wanted, or so many milliseconds off. */
function town(ahead: boolean | number = false) {
  const off = typeof ahead === 'number' ? ahead : ahead ? 86_400_000 : 0;
  const world = new World({ app: hiveApp() });
  const phone = (off: number) => {
    const p = world.phone({ off, byHand: true });
    const cell = (record: string, field: string): unknown => p.cell(T.hives, record, field);
    return { device: p.device, cell, replica: p.replica, sync: () => p.device.sync() };
  };
  return { world, host: world.host, a: phone(off), b: phone(0) };
}

describe('undo', () => {
  it('goes on in the next run of the same device, also below what was undone there', async () => {
    const { replica } = town().a;
    const run = (letters: string): Device =>
      new Device({ id: `devicename${letters}`, replica, store: new MemoryStore() });
    const first = run('aaaa');
    await first.write([set('h1', { [F.name]: 'Ash', [F.weight]: 8 })]);
    const one = await writeWithUndo(first, [set('h1', { [F.weight]: 50 })]);
    const two = await writeWithUndo(first, [set('h1', { [F.weight]: 60 })]);
    await takeBack(first, two);
    await takeBack(run('bbbb'), one);
    expect(replica.records.row(T.hives, 'h1')?.cells[F.weight]).toBe(8);
  });
  it.each([false, true])('takes back all that was written, and does it again; clock a day ahead: %s', async (ahead) => {
    const { a, b, host } = town(ahead);
    await a.device.write([set('h1', { [F.name]: 'Ash', [F.weight]: 8 }), set('h2', { [F.name]: 'Birch' })]);
    await a.sync();
    const before = contents(a.replica.records);
    const list = [
      await writeWithUndo(a.device, [set('h1', { [F.weight]: 50 }), set('h3', { [F.name]: 'New' })]),
      await writeWithUndo(a.device, [set('h1', { [F.weight]: 51 }), raise('h1', 2), raise('h3', 1)]),
      await writeWithUndo(a.device, [remove('h2')]),
    ];
    await a.sync();
    const after = contents(a.replica.records);
    const back = await takeBack(a.device, joined(list), true);
    expect(contents(a.replica.records)).toEqual(before);
    await a.sync();
    await b.sync();
    expect(contents(b.replica.records)).toEqual(before);
    expect(contents(host.replica.records)).toEqual(before);
    await takeBack(a.device, back, true);
    await a.sync();
    expect(contents(a.replica.records)).toEqual(after);
  });
  it('overwrites no field that somebody else has changed, not even one before the last change', async () => {
    const { a, b } = town();
    await a.device.write([set('h1', { [F.name]: 'Ash', [F.weight]: 8 })]);
    await a.sync();
    const written = joined([
      await writeWithUndo(a.device, [set('h1', { [F.weight]: 50 })]),
      await writeWithUndo(a.device, [set('h1', { [F.name]: 'Oak' })]),
    ]);
    await a.sync();
    await b.sync();
    await b.device.write([set('h1', { [F.weight]: 50 })]);
    await b.device.write([set('h1', { [F.weight]: 60 })]);
    await b.sync();
    await a.sync();
    await expect(takeBack(a.device, written)).rejects.toThrow('Weight of Oak was changed meanwhile.');
    expect([a.cell('h1', F.name), a.cell('h1', F.weight)]).toEqual(['Oak', 60]);
  });
  it('removes no record in which somebody else has written', async () => {
    const { a, b } = town();
    const written = await writeWithUndo(a.device, [set('h1', { [F.name]: 'Ash' })]);
    await a.sync();
    await b.sync();
    await b.device.write([set('h1', { [F.weight]: 60 })]);
    await b.sync();
    await a.sync();
    await expect(takeBack(a.device, written)).rejects.toThrow('Weight of Ash was changed meanwhile.');
    expect(a.cell('h1', F.name)).toBe('Ash');
  });
  it('says what is gone or back by somebody else', async () => {
    const { a, b } = town();
    await a.device.write([set('h1', { [F.name]: 'Ash' }), set('h2', { [F.name]: 'Birch' })]);
    const changed = await writeWithUndo(a.device, [set('h1', { [F.name]: 'Oak' })]);
    const removed = await writeWithUndo(a.device, [remove('h2')]);
    await a.sync();
    await b.sync();
    await b.device.write([remove('h1'), { do: 'restore', table: T.hives, record: 'h2', cells: { [F.name]: 'Birch' } }]);
    await b.sync();
    await a.sync();
    await expect(takeBack(a.device, changed)).rejects.toThrow('Oak was removed meanwhile.');
    await expect(takeBack(a.device, removed)).rejects.toThrow('Birch was brought back meanwhile.');
  });
  it('calls a record without a name by what it is', async () => {
    const { a, b } = town();
    const made = await writeWithUndo(a.device, [set('h1', { [F.weight]: 8 })]);
    const more = await writeWithUndo(a.device, [set('h2', { [F.weight]: 9 })]);
    await a.sync();
    await b.sync();
    await b.device.write([remove('h1'), set('h2', { [F.weight]: 10 })]);
    await b.sync();
    await a.sync();
    await expect(takeBack(a.device, made)).rejects.toThrow('A hive was removed meanwhile.');
    await expect(takeBack(a.device, more)).rejects.toThrow('Weight of Untitled hive was changed meanwhile.');
  });
  it('takes an amount back out of whatever the others have made of the figure', async () => {
    const { a, b } = town();
    await a.device.write([set('h1', { [F.name]: 'Ash', [F.weight]: 8 })]);
    const written = await writeWithUndo(a.device, [raise('h1', 5)]);
    await a.sync();
    await b.sync();
    await b.device.write([raise('h1', 2)]);
    await b.sync();
    await takeBack(a.device, written);
    await a.sync();
    await b.sync();
    expect([a.cell('h1', F.weight), b.cell('h1', F.weight)]).toEqual([10, 10]);
  });
  it.each([-60_000, 0, 60_000])(
    'takes an amount back out of a record that was removed and brought back before anything was sent; clock %s ms off',
    async (off) => {
      const { a, b, host } = town(off);
      await a.device.write([set('h1', { [F.name]: 'Ash', [F.weight]: 8 })]);
      const raisedBy = await writeWithUndo(a.device, [raise('h1', 5)]);
      const removed = await writeWithUndo(a.device, [remove('h1')]);
      await takeBack(a.device, removed);
      await takeBack(a.device, raisedBy);
      await a.sync();
      await b.sync();
      expect([a.cell('h1', F.weight), b.cell('h1', F.weight)]).toEqual([8, 8]);
      const kept = new Host(hiveApp(), new MemoryLog());
      kept.restore(...([host.snapshot().states, [], host.position, host.snapshot()] as const));
      expect(kept.replica.state('h1')!.cells[F.weight]).toBe(8);
      await b.device.write([raise('h1', 1)]);
      await b.sync();
      await a.sync();
      expect(a.cell('h1', F.weight)).toBe(9);
    },
  );
  it('goes back and forth through steps, each as often as wanted (property)', async () => {
    const step = fc.record({
      r: fc.constantFrom('h1', 'h2'),
      n: fc.integer({ min: 0, max: 9 }),
      how: fc.constantFrom('set', 'raise', 'remove'),
    });
    await fc.assert(
      fc.asyncProperty(
        fc.array(step, { minLength: 1, maxLength: 6 }),
        fc.array(fc.constantFrom('undo', 'redo', 'sync'), { maxLength: 20 }),
        async (steps, moves) => {
          const { a } = town();
          await a.device.write([
            set('h1', { [F.name]: 'Ash', [F.weight]: 8 }),
            set('h2', { [F.name]: 'Birch', [F.weight]: 1 }),
          ]);
          const views = [contents(a.replica.records)];
          const past: Written[] = [];
          const future: Written[] = [];
          for (const { r, n, how } of steps) {
            const there = a.replica.records.row(T.hives, r) !== undefined;
            if (!there) continue;
            past.push(
              await writeWithUndo(a.device, [
                how === 'set' ? set(r, { [F.weight]: n }) : how === 'raise' ? raise(r, n) : remove(r),
              ]),
            );
            views.push(contents(a.replica.records));
          }
          for (const m of moves) {
            if (m === 'sync') await a.sync();
            const [from, to] = m === 'undo' ? [past, future] : [future, past];
            const one = m === 'sync' ? undefined : from.pop();
            if (one) to.push(await takeBack(a.device, one));
            expect(contents(a.replica.records)).toEqual(views[past.length]);
          }
        },
      ),
      { numRuns: 100 },
    );
  });
  it('of any changes brings back what was before, where nobody else wrote (property)', async () => {
    const draft = fc.oneof(
      fc
        .record({ r: fc.constantFrom('h1', 'h2', 'h3'), n: fc.integer({ min: -99, max: 99 }) })
        .map(({ r, n }) => set(r, { [F.weight]: n })),
      fc.constantFrom('h1', 'h2', 'h3').map((r) => set(r, { [F.name]: `${r}!` })),
      fc
        .record({ r: fc.constantFrom('h1', 'h2'), n: fc.integer({ min: -99, max: 99 }) })
        .map(({ r, n }) => raise(r, n)),
    );
    await fc.assert(
      fc.asyncProperty(fc.array(fc.tuple(draft, fc.boolean()), { minLength: 1, maxLength: 12 }), async (drafts) => {
        const { a, host } = town();
        await a.device.write([
          set('h1', { [F.name]: 'Ash', [F.weight]: 8 }),
          set('h2', { [F.name]: 'Birch', [F.weight]: 1 }),
        ]);
        const before = contents(a.replica.records);
        const list: Written[] = [];
        for (const [d, sends] of drafts) {
          list.push(await writeWithUndo(a.device, [d]));
          if (sends) await a.sync();
        }
        const after = contents(a.replica.records);
        const back = await takeBack(a.device, joined(list));
        expect(contents(a.replica.records)).toEqual(before);
        await a.sync();
        expect(contents(host.replica.records)).toEqual(before);
        await takeBack(a.device, back);
        await a.sync();
        expect(contents(host.replica.records)).toEqual(after);
      }),
      { numRuns: 150 },
    );
  });
});
