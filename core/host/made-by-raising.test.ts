import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { Change } from '../records/change.ts';
import { exactSum } from '../formula/number.ts';
import { F, hiveApp, T } from '../records/fixture.ts';
import { keyedId } from '../records/keyed-id.ts';
import { World } from '../world/world.ts';
import '../world/warm.fixture.ts';

/** Records that begin by adding to them: totals that many phones write without knowing of one another. */

const keysOf = (name: string) => ({ [F.tag]: name, [F.status]: 'Strong' });
const idOf = (name: string): string => keyedId(T.hives, keysOf(name));
type Phone = ReturnType<World['phone']>;

async function add(world: World, p: Phone, by: number, name = 'A'): Promise<Change[]> {
  await world.pass(1);
  return p.write([{ do: 'raise', table: T.hives, record: idOf(name), by: { [F.weight]: by }, makes: keysOf(name) }]);
}
const weightOf = (at: World | Phone, name = 'A'): unknown => at.cell(T.hives, idOf(name), F.weight);
const town = (app = hiveApp()) => {
  const world = new World({ app });
  return { world, phone: () => world.phone({ byHand: true }) };
};

describe('a record that is made by adding to it', () => {
  it('is the same in whatever order its values are named, and another for others', () => {
    const a = keyedId(T.hives, { [F.tag]: 'A', [F.status]: 'Strong' });
    expect(keyedId(T.hives, { [F.status]: 'Strong', [F.tag]: 'A' })).toBe(a);
    expect(keyedId(T.visits, { [F.status]: 'Strong', [F.tag]: 'A' })).not.toBe(a);
    expect(keyedId(T.hives, { [F.tag]: 'A', [F.status]: 'Weak' })).not.toBe(a);
  });
  it('is one, with the amounts of all who made it, and begins with its values and defaults once', async () => {
    const app = hiveApp();
    app.tables[0]!.fields.find((f) => f.id === F.name)!.default = '"Begun"';
    app.tables[0]!.fields.find((f) => f.id === F.weight)!.default = '7';
    const { world, phone } = town(app);
    const [a, b] = [phone(), phone()];
    await add(world, a, 5);
    await add(world, b, 2);
    expect([weightOf(a), weightOf(b)]).toEqual([5, 2]);
    for (const p of [a, b]) await p.sync();
    await a.write([{ do: 'set', table: T.hives, record: idOf('A'), cells: { [F.name]: 'Named' } }]);
    await add(world, b, 1);
    for (const p of [a, b, a]) await p.sync();
    expect([weightOf(a), weightOf(b), weightOf(world)]).toEqual([8, 8, 8]);
    expect(world.cell(T.hives, idOf('A'), F.name)).toBe('Named');
    expect(world.cell(T.hives, idOf('A'), F.tag)).toBe('A');
    expect(world.host.replica.records.rows(T.hives)).toHaveLength(1);
  });
  it('is refused where its values do not fit, and leaves nothing behind', async () => {
    const app = hiveApp();
    app.tables[0]!.fields.find((f) => f.id === F.weight)!.least = 0;
    const { world, phone } = town(app);
    const a = phone();
    await add(world, a, -3);
    await a.sync();
    expect(a.refused.map((r) => r.reason)).toEqual(['Weight is at least 0.']);
    expect([weightOf(a), world.host.replica.records.rows(T.hives).length]).toEqual([null, 0]);
    await a.write([
      { do: 'raise', table: T.hives, record: 'kx', by: { [F.weight]: 1 }, makes: { [F.visited]: 'never' } },
    ]);
    await a.sync();
    expect(a.refused).toHaveLength(2);
    expect(a.records.row(T.hives, 'kx')).toBeUndefined();
  });
  it('comes back empty where it was removed before, and what was added before that is said to be overtaken', async () => {
    const { world, phone } = town();
    const [a, b, c] = [phone(), phone(), phone()];
    await add(world, a, 5);
    for (const p of [a, b, c]) await p.sync();
    await add(world, c, 100);
    await world.pass(10);
    await a.write([{ do: 'remove', table: T.hives, record: idOf('A') }]);
    for (const p of [a, b]) await p.sync();
    await add(world, b, 3);
    expect(weightOf(b)).toBe(3);
    await add(world, a, 4);
    for (const p of [b, a, c, b, a]) await p.sync();
    expect([weightOf(world), weightOf(a), weightOf(b)]).toEqual([7, 7, 7]);
    expect(world.cell(T.hives, idOf('A'), F.tag)).toBe('A');
    expect(c.overtaken.flatMap((o) => o.fields)).toEqual([F.weight]);
    world.restartHost(false);
    expect(weightOf(world)).toBe(7);
    world.restartHost(true);
    expect(weightOf(world)).toBe(7);
  });
  it('comes to the sum of all amounts, whoever makes it, in what order and how often they are sent (property)', async () => {
    const act = fc.record({
      phone: fc.nat(3),
      does: fc.constantFrom('raise', 'raise', 'raise', 'sync', 'sync', 'again', 'restart', 'fold'),
      by: fc.integer({ min: -9999, max: 9999 }).map((n) => n / 100),
      lost: fc.boolean(),
      name: fc.constantFrom('A', 'B'),
    });
    await fc.assert(
      fc.asyncProperty(fc.array(act, { minLength: 4, maxLength: 40 }), fc.boolean(), async (acts, live) => {
        const { world, phone } = town();
        const phones = ['a', 'b', 'c', 'd'].map(() => phone());
        if (live) for (const p of phones) p.hear();
        const made: { name: string; by: number }[] = [];
        for (const { phone: n, does, by, lost, name } of acts) {
          const p = phones[n]!;
          if (does === 'raise') {
            await add(world, p, by, name);
            made.push({ name, by });
          } else if (does === 'again') p.restart();
          else if (does === 'sync') {
            p.network = lost ? 'answers lost' : 'on';
            await p.sync();
            p.network = 'on';
          } else world.restartHost(does === 'fold');
        }
        for (const _ of [1, 2]) for (const p of phones) await p.sync();
        for (const name of ['A', 'B']) {
          const own = made.filter((m) => m.name === name).map((m) => m.by);
          const expected = own.length ? exactSum(own) : null;
          for (const at of [world, ...phones]) expect(weightOf(at, name)).toBe(expected);
        }
        const names = new Set(made.map((m) => m.name));
        expect(world.host.replica.records.rows(T.hives)).toHaveLength(names.size);
        for (const p of phones) expect(p.device.waiting).toBe(0);
      }),
      { numRuns: 100 },
    );
  });
});
