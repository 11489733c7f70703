import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { NOBODY } from '../access/access.ts';
import type { Change, Draft } from '../records/change.ts';
import { exactSum } from '../formula/number.ts';
import { F, T, hiveApp } from '../records/fixture.ts';
import { stampText } from './clock.ts';
import { Counts } from './counts.ts';
import { KnownIds } from './known-ids.ts';
import { World } from '../world/world.ts';
import '../world/warm.fixture.ts';

/** Amounts that many phones add to one figure. */

const link = NOBODY;
const NOON = Date.UTC(2026, 10, 25, 12);

/** A host, and phones that add to the weights of its hives. */
function town(app = hiveApp()) {
  const world = new World({ app });
  const phone = () => {
    const p = world.phone({ byHand: true });
    const write = async (draft: Draft): Promise<Change[]> => {
      await world.pass(1);
      return p.write([draft]);
    };
    return {
      phone: p,
      get told() {
        return { refused: p.refused, overtaken: p.overtaken.flatMap((o) => o.fields) };
      },
      hear: () => p.hear(),
      again: () => p.restart(),
      raise: (by: number, record = 'h1') => write({ do: 'raise', table: T.hives, record, by: { [F.weight]: by } }),
      set: (weight: number, record = 'h1') =>
        write({ do: 'set', table: T.hives, record, cells: { [F.weight]: weight } }),
      device: () => p.device,
      sync: () => p.sync(),
      weight: (record = 'h1'): unknown => p.cell(T.hives, record, F.weight),
    };
  };
  return {
    world,
    log: world.log,
    phone,
    host: () => world.host,
    /** The answers of the host are lost, or are not. */
    loses: (are: boolean): void => {
      for (const p of world.phones) p.network = are ? 'answers lost' : 'on';
    },
    weight: (record = 'h1'): unknown => world.cell(T.hives, record, F.weight),
    /** Starts the host again, from its log or from a snapshot with the log behind it. */
    restart: (folds: boolean) => world.restartHost(folds),
  };
}

describe('amounts', () => {
  it('of a phone that was offline and of another come together', async () => {
    const t = town();
    const [a, b] = [t.phone(), t.phone()];
    await a.set(8);
    for (const p of [a, b, a]) await p.sync();
    await a.raise(5);
    await b.raise(2);
    await b.sync();
    expect([a.weight(), b.weight()]).toEqual([13, 10]);
    for (const p of [a, b]) await p.sync();
    expect([a.weight(), b.weight(), t.weight()]).toEqual([15, 15, 15]);
  });
  it('add up as decimals, and refuse a sum that cannot be kept exactly', async () => {
    const t = town();
    const a = t.phone();
    await a.set(0.1);
    await a.raise(0.2);
    await a.sync();
    expect([a.weight(), t.weight()]).toEqual([0.3, 0.3]);
    await expect(a.raise(1e17 + 16)).rejects.toThrow('more digits than can be kept exactly');
    expect(a.weight()).toBe(0.3);
  });
  it('are refused as anything else is: for a record that went, for a limit, for what is no number', async () => {
    const app = hiveApp();
    app.tables[0]!.fields.find((f) => f.id === F.weight)!.least = 0;
    const t = town(app);
    const [a, b] = [t.phone(), t.phone()];
    await a.set(5);
    await a.sync();
    await b.sync();
    await a.raise(-3);
    await b.raise(-3);
    await a.sync();
    await b.sync();
    expect(b.told.refused.map((r) => r.reason)).toEqual(['Weight is at least 0.']);
    expect([a.weight(), b.weight(), t.weight()]).toEqual([2, 2, 2]);
    await a.device().write([{ do: 'remove', table: T.hives, record: 'h1' }]);
    await a.sync();
    await b.raise(1);
    await b.sync();
    expect(b.told.refused.at(-1)!.reason).toContain('was removed meanwhile');
    const bad = (c: object) =>
      t.host().accept(
        [
          {
            id: `x${Math.random()}`,
            stamp: stampText(NOON, 1, 'made'),
            table: T.hives,
            record: 'h2',
            ...c,
          } as Change,
        ],
        link,
      );
    await bad({ do: 'set', cells: { [F.name]: 'H2' } });
    expect((await bad({ do: 'raise', by: { [F.name]: 1 } })).refused[0]!.reason).toContain('keeps no number');
    expect((await bad({ do: 'raise', record: 'none', by: { [F.weight]: 1 } })).refused).toHaveLength(1);
    // Nobody but the host says what was counted.
    await bad({
      do: 'set',
      cells: { [F.weight]: 1 },
      amounts: { [F.weight]: { by: 99, at: stampText(NOON, 9, 'made') } },
    });
    await bad({ do: 'raise', stamp: stampText(NOON, 10, 'made'), by: { [F.weight]: 1 } });
    expect(t.weight('h2')).toBe(2);
  });
  it('of one group count together against a limit, and are taken or refused as one', async () => {
    const app = hiveApp();
    app.tables[0]!.fields.find((f) => f.id === F.weight)!.least = 0;
    const t = town(app);
    const a = t.phone();
    await a.set(5);
    await a.sync();
    const lower = { do: 'raise' as const, table: T.hives, record: 'h1', by: { [F.weight]: -3 } };
    await a.device().write([lower, lower], true);
    await a.sync();
    expect([a.told.refused.length, a.weight(), t.weight()]).toEqual([2, 5, 5]);
    await a.device().write(
      [
        { do: 'set', table: T.hives, record: 'new', cells: { [F.name]: 'New' } },
        { ...lower, record: 'new', by: { [F.weight]: 4 } },
      ],
      true,
    );
    await a.sync();
    expect([a.weight('new'), t.weight('new')]).toEqual([4, 4]);
  });
  it('are said to their person where somebody has set the figure later', async () => {
    const t = town();
    const [a, b] = [t.phone(), t.phone()];
    await a.set(8);
    for (const p of [a, b]) await p.sync();
    await a.raise(5);
    await b.set(20);
    await b.sync();
    await a.sync();
    expect([a.weight(), t.weight(), a.told.overtaken]).toEqual([20, 20, [F.weight]]);
  });
  it('are off the figure that was set later also where only the news says so, and that is told once', async () => {
    for (const lost of [true, false]) {
      const t = town();
      const [a, b] = [t.phone(), t.phone()];
      await a.set(8);
      for (const p of [a, b]) await p.sync();
      a.hear();
      await a.raise(5);
      await a.raise(3);
      await b.set(20);
      await b.sync();
      await t.world.pass(50);
      t.loses(lost);
      await a.sync();
      t.loses(false);
      await a.sync();
      expect([a.weight(), t.weight(), a.device().waiting, a.told.overtaken]).toEqual([20, 20, 0, [F.weight, F.weight]]);
    }
  });
  it('that the log could not keep are not counted, and are when they are sent again', async () => {
    const t = town();
    const [a, b] = [t.phone(), t.phone()];
    await a.set(8);
    await a.sync();
    await b.sync();
    await a.raise(5);
    t.log.fail = true;
    await expect(a.device().sync()).rejects.toThrow('disk full');
    t.log.fail = false;
    await b.raise(0);
    await b.sync();
    expect(t.weight()).toBe(8);
    await a.sync();
    await a.raise(1);
    await a.sync();
    expect([a.weight(), t.weight()]).toEqual([14, 14]);
  });
});

it('come to the same wherever, in what order and how often they are sent, whatever starts again (property)', async () => {
  const act = fc.record({
    phone: fc.nat(2),
    does: fc.constantFrom('raise', 'raise', 'raise', 'set', 'sync', 'sync', 'again', 'restart', 'fold'),
    by: fc.integer({ min: -9999, max: 9999 }).map((n) => n / 100),
    lost: fc.boolean(),
    record: fc.constantFrom('h1', 'h2'),
  });
  await fc.assert(
    fc.asyncProperty(fc.array(act, { minLength: 4, maxLength: 40 }), fc.boolean(), async (acts, live) => {
      const t = town();
      const phones = ['a', 'b', 'c'].map(() => t.phone());
      for (const r of ['h1', 'h2']) await phones[0]!.set(8, r);
      for (const p of phones) await p.sync();
      if (live) for (const p of phones) p.hear();
      const made: { record: string; stamp: string; by?: number; to?: number }[] = [
        { record: 'h1', stamp: '', to: 8 },
        { record: 'h2', stamp: '', to: 8 },
      ];
      for (const { phone, does, by, lost, record } of acts) {
        const p = phones[phone]!;
        if (does === 'raise') made.push({ record, stamp: (await p.raise(by, record))[0]!.stamp, by });
        else if (does === 'set') made.push({ record, stamp: (await p.set(by, record))[0]!.stamp, to: by });
        else if (does === 'again') p.again();
        else if (does === 'sync') {
          t.loses(lost);
          await p.sync();
          t.loses(false);
        } else t.restart(does === 'fold');
      }
      for (const _ of [1, 2]) for (const p of phones) await p.sync();
      for (const record of ['h1', 'h2']) {
        const own = made.filter((m) => m.record === record).sort((a, b) => (a.stamp < b.stamp ? -1 : 1));
        const last = own.findLastIndex((m) => m.to !== undefined);
        const expected = exactSum([own[last]!.to!, ...own.slice(last + 1).map((m) => m.by!)]);
        expect(t.weight(record)).toBe(expected);
        for (const p of phones) expect(p.weight(record)).toBe(expected);
      }
      for (const p of phones) expect(p.device().waiting).toBe(0);
    }),
    { numRuns: 300 },
  );
});

describe('a figure with very many amounts', () => {
  const at = (n: number): string => stampText(NOON + n, 0, 'aaaa');
  it('takes each once in any order, also what was taken together (property)', () => {
    fc.assert(
      fc.property(
        fc.uniqueArray(fc.nat(200), { minLength: 1, maxLength: 60 }),
        fc.array(fc.nat(59), { maxLength: 30 }),
        (order, twice) => {
          const counts = new Counts(4);
          const known = new Set<number>();
          const sent = [...order, ...twice.flatMap((i) => order[i] ?? [])];
          for (const n of sent) {
            counts.take('r', 'f', { by: n / 10, at: at(n) }, known.has(n), { cell: 1, stamp: '' });
            known.add(n);
          }
          expect(counts.take('r', 'f', { by: 0, at: at(999) }, false, { cell: 1, stamp: '' })).toBe(
            exactSum([1, ...order.map((n) => n / 10)]),
          );
          expect(counts.snapshot().get('r')!['f']!.later.length).toBeLessThanOrEqual(5);
        },
      ),
    );
  });
  it('is set only after what was taken together', () => {
    const counts = new Counts(4);
    for (let n = 1; n <= 9; n++) counts.take('r', 'f', { by: 1, at: at(n) }, false, { cell: 0, stamp: '' });
    expect(counts.take('r', 'f', { to: 50, at: at(1) }, false, { cell: 0, stamp: '' })).toBeUndefined();
    expect(counts.take('r', 'f', { to: 50, at: at(8) }, false, { cell: 0, stamp: '' })).toBe(51);
  });
  it('refuses in words an amount that may have been counted and forgotten', async () => {
    const ids = new KnownIds(2);
    for (const n of [1, 2, 3, 4]) ids.add(`c${n}`, at(n));
    expect([ids.has('c1'), ids.has('c4'), ids.forgotten]).toEqual([false, true, at(2)]);
    const t = town();
    const a = t.phone();
    await a.set(8);
    await a.sync();
    t.host().restore([], [], 0, { forgotten: at(500) });
    await a.raise(5);
    await a.sync();
    expect(a.told.refused[0]!.reason).toContain('not known whether it was counted');
  });
});
