import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { F, T, hiveApp } from '../records/fixture.ts';
import type { Cell } from '../fields/lists.ts';
import { World } from '../world/world.ts';
import '../world/warm.fixture.ts';

/** Phones whose clocks are some minutes off: a person never loses an edit that they made with the earlier one in view. */

const MINUTE = 60_000;

/** A host and phones on one time, each phone so many minutes off. */
function town() {
  const world = new World({ app: hiveApp() });
  /** Did a value ever stand on the host? */
  const stood = (value: string): boolean =>
    world.log.kept.some((c) => c.do === 'set' && Object.values(c.cells).some((cell) => String(cell) === value));
  const phone = (off: number) => {
    const p = world.phone({ off: off * MINUTE, byHand: true });
    return {
      device: p.device,
      set: (cells: Record<string, Cell>) => p.write([{ do: 'set', table: T.hives, record: 'h1', cells }]),
      cell: (field: string): unknown => p.cell(T.hives, 'h1', field),
      get overtaken(): string[] {
        return p.overtaken.flatMap((o) => o.fields);
      },
    };
  };
  const cell = (field: string): unknown => world.cell(T.hives, 'h1', field);
  return { world, phone, cell, stood };
}

describe('a phone that is some minutes slow', () => {
  it('sends an edit of a cell that was written later than the rest of its record', async () => {
    const { world, phone, cell } = town();
    const a = phone(0);
    await a.set({ [F.name]: 'Bramble' });
    await a.device.sync();
    await world.pass(3 * MINUTE);
    await a.set({ [F.weight]: 12 });
    await a.device.sync();
    const fresh = phone(-2);
    await fresh.device.sync();
    expect(fresh.cell(F.weight)).toBe(12);
    expect(await fresh.set({ [F.weight]: 20 })).toHaveLength(1);
    await fresh.device.sync();
    expect([fresh.cell(F.weight), cell(F.weight)]).toEqual([20, 20]);
  });
  it('is told when a cell was changed elsewhere with a later stamp, and what stands', async () => {
    const { phone, cell, world } = town();
    const [fast, slow] = [phone(5), phone(-2)];
    await fast.set({ [F.name]: 'Bramble', [F.weight]: 1 });
    await fast.device.sync();
    await slow.device.sync();
    await world.pass(1);
    await fast.set({ [F.weight]: 12 });
    await world.pass(MINUTE);
    await slow.set({ [F.weight]: 20, [F.name]: 'Thorn' });
    await fast.device.sync();
    await slow.device.sync();
    expect([slow.cell(F.weight), slow.cell(F.name)]).toEqual([12, 'Thorn']);
    expect(slow.overtaken).toEqual([F.weight]);
    // What it has seen it may change.
    await slow.set({ [F.weight]: 20 });
    await slow.device.sync();
    expect([cell(F.weight), slow.overtaken]).toEqual([20, [F.weight]]);
  });
});

it('a clock any minutes off never loses an edit in silence', async () => {
  const act = fc.record({
    phone: fc.nat(2),
    field: fc.constantFrom(F.name, F.weight, F.status),
    does: fc.constantFrom('edit', 'edit', 'sync', 'fresh'),
    later: fc.nat(4),
  });
  await fc.assert(
    fc.asyncProperty(
      fc.tuple(fc.integer({ min: -9, max: 9 }), fc.integer({ min: -9, max: 9 }), fc.integer({ min: -9, max: 9 })),
      fc.array(act, { minLength: 3, maxLength: 30 }),
      async (offs, acts) => {
        const { world, phone, cell, stood } = town();
        const phones = offs.map((off) => phone(off));
        const edits: { value: string; field: string; by: ReturnType<typeof phone>; seen: unknown }[] = [];
        let n = 0;
        for (const { phone: p, field, does, later } of acts) {
          await world.pass(later * MINUTE);
          const by = phones[p]!;
          if (does === 'sync') await by.device.sync();
          else if (does === 'fresh') await (phones[p] = phone(offs[p]!)).device.sync();
          else {
            const value = field === F.weight ? ++n : `v${++n}`;
            edits.push({ value: String(value), field, by, seen: by.cell(field) });
            const [made] = await by.set({ [field]: value });
            // What was typed is seen at once and waits to be sent.
            expect(made).toMatchObject({ cells: { [field]: value } });
            expect(by.cell(field)).toBe(value);
          }
        }
        for (const _ of [1, 2]) for (const p of phones) await p.device.sync();
        for (const f of [F.name, F.weight, F.status]) {
          for (const p of phones) expect(p.cell(f)).toBe(cell(f));
          // The edit that stands may be any of those that nobody made with it in view, and no other.
          const stands = String(cell(f));
          expect(edits.filter((e) => e.field === f && String(e.seen) === stands && phones.includes(e.by))).toEqual([]);
          // Of an edit that never stood on the host, its person is told. (One that did came to all as news.)
          const led = new Set<string>();
          for (let e = edits.find((x) => x.value === stands && x.field === f); e;) {
            led.add(e.value);
            const { seen } = e;
            e = edits.find((x) => x.value === String(seen) && x.field === f);
          }
          for (const p of phones) {
            const last = edits.findLast((e) => e.by === p && e.field === f);
            if (last && !led.has(last.value) && !stood(last.value)) expect(p.overtaken).toContain(f);
          }
        }
      },
    ),
    { numRuns: 150 },
  );
});
