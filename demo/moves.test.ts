import { expect, it } from 'vitest';
import { NOBODY, OWNER } from '../core/access/access.ts';
import { Device } from '../core/host/device.ts';
import { OfflineError } from '../core/host/link.ts';
import { Replica } from '../core/host/replica.ts';
import { exactSum } from '../core/formula/number.ts';
import { Records } from '../core/records/store.ts';
import { completed } from '../core/records/begin.ts';
import type { Ports } from '../core/routines/asks.ts';
import { stepKinds } from '../core/routines/kinds.ts';
import { Machine } from '../core/routines/machine.ts';
import { driveRun } from '../core/routines/run.ts';
import { readMail } from '../core/mail/read-mail.ts';
import { RunsWorld } from '../core/runs/fixture.ts';
import { seededRandom } from '../core/document/ids.ts';
import { MemoryStore } from '../core/world/memory.ts';
import { makeDemo } from './heatherfield.ts';

/** Twenty people carry goods between the places of the stores, some of them without a network. */

const random = seededRandom(20);
const pick = <T>(list: readonly T[]): T => list[Math.floor(random() * list.length)]!;

it('moves of twenty phones, some offline, come to exact totals by goods and place; at four a mail says what is low, or none goes out', async () => {
  const { app, records: begun } = makeDemo(new Date('2026-12-01T08:00:00Z'));
  const w = new RunsWorld(app);
  await w.start();
  const table = (name: string) => app.tables.find((t) => t.name === name)!;
  const field = (of: string, name: string): string => table(of).fields.find((f) => f.name === name)!.id;
  const [stock, moves] = [table('Stock'), table('Moves')];
  const [code, place, quantity] = ['Goods code', 'Place', 'Quantity'].map((n) => field('Stock', n)) as [string, string, string];
  let n = 0;
  // Of many goods there is nothing yet at most places.
  const needed = ['Goods', 'Store places', 'Stock', 'Keepers'].map((t) => table(t).id);
  const some = begun.filter((r) => needed.includes(r.table) && (r.table !== stock.id || random() < 0.4));
  const bring = some.map(({ table: t, id, cells }) => ({ do: 'set' as const, table: t, record: id, cells, id: `b${n++}`, stamp: w.released.host.stamp(), brought: true as const }));
  const refused = await Promise.race([w.released.accept(bring, OWNER), w.settle().then(() => null)]);
  expect(refused?.refused ?? []).toEqual([]);
  await w.settle();
  const rows = () => w.rows(stock.id);
  const key = (c: Record<string, unknown>): string => `${String(c[code])} at ${String(c[place])}`;
  const before = new Map(rows().map((c) => [key(c), Number(c[quantity])]));
  const expected = new Map([...before].map(([k, v]) => [k, [v]]));
  const carry = app.routines.find((r) => r.name === 'Carry to another place')!;

  /** What a host said of what phones had sent: refused, or written over. */
  const said: string[] = [];
  const phones = Array.from({ length: 20 }, (_, i) => {
    const records = new Records(app, () => w.clock.now());
    const phone = { isOffline: false, records, device: null as unknown as Device };
    const link = {
      push: async (changes: never) => {
        if (phone.isOffline) throw new OfflineError();
        return structuredClone(await w.released.accept(structuredClone(changes), NOBODY));
      },
      pull: async (asked: never) => {
        if (phone.isOffline) throw new OfflineError();
        return structuredClone(await w.released.catchUp(asked, NOBODY));
      },
    };
    phone.device = new Device({ id: `phone${String(i).padStart(3, '0')}aaaa`, replica: new Replica(records), store: new MemoryStore(), link: link as never, now: () => w.clock.now() });
    phone.device.onRefused = (list) => void said.push(...list.map((r) => r.reason));
    phone.device.onOvertaken = (list) => void said.push(...list.map((o) => `overtaken ${o.record} ${o.fields.join(' ')}`));
    return phone;
  });
  const sync = async (p: (typeof phones)[number]): Promise<void> => {
    const done = p.device.sync().catch((e: unknown) => {
      if (!(e instanceof OfflineError)) throw e;
    });
    for (let i = 0; i < 4; i++) await Promise.race([done, w.settle()]);
    await done;
  };
  /** Somebody presses “Carry to another place” on a line of the stock, and says where and how many. */
  const carries = async (p: (typeof phones)[number]): Promise<void> => {
    const line = pick(p.records.rows(stock.id));
    const [from, many] = [{ ...line.cells }, 1 + Math.floor(random() * 5) / 4];
    let to = '';
    const machine = new Machine(app, p.records, stepKinds, { now: () => w.clock.now(), newId: () => `r${n++}twenty` });
    const ports = {
      question: ({ question: q }: { question: { wants: string; choices?: { value: { record: string } }[] } }) => {
        if (q.wants !== 'a choice') return String(many);
        const chosen = pick(q.choices!).value;
        to = chosen.record;
        return chosen;
      },
      write: async ({ drafts, together }: { drafts: never[]; together: boolean }) => void (await p.device.write(completed(p.records, drafts), together)),
      message: () => undefined,
    } as unknown as Ports;
    const trace = { routine: carry.id, name: carry.name, given: '', steps: [], ms: 0 };
    const ran = await driveRun(machine, carry, machine.begin(carry, line.id), trace, ports);
    expect(ran.error).toBeUndefined();
    for (const [where, amount] of [[from[place], -many], [to, many]] as const) {
      const k = key({ [code]: from[code], [place]: where });
      expected.set(k, [...(expected.get(k) ?? []), amount]);
    }
  };

  for (const p of phones) await sync(p);
  for (const p of phones.slice(0, 8)) p.isOffline = true;
  for (let i = 0; i < 110; i++) {
    await w.clock.pass(1000);
    const p = pick(phones);
    await carries(p);
    if (random() < 0.4) await sync(p);
  }
  for (const p of phones) p.isOffline = false;
  for (const _ of [1, 2]) for (const p of phones) await sync(p);
  expect(said).toEqual([]);
  const totals = (of: { cells: Record<string, unknown> }[]): [string, number][] => of.map((r): [string, number] => [key(r.cells), Number(r.cells[quantity])]).sort();
  const wanted = [...expected].map(([k, all]): [string, number] => [k, exactSum(all)!]).sort();
  expect(wanted.length).toBeGreaterThan(before.size);
  expect(totals(rows().map((cells) => ({ cells })))).toEqual(wanted);
  for (const p of phones) expect(totals(p.records.rows(stock.id) as never)).toEqual(wanted);
  expect(w.rows(moves.id).length).toBeGreaterThanOrEqual(220);

  // At four the mail has the lines that are low, and no other.
  const low = w.released.host.replica.records.rows(stock.id).filter((r) => r.get(field('Stock', 'Low')) === true);
  expect(low.length).toBeGreaterThan(0);
  const digests = async (): Promise<string[]> => {
    const all = await Promise.all((await w.messages.list()).map((m) => w.messages.read(m.name)));
    return all.filter((m) => m.includes('What runs low in the honey room'));
  };
  await w.pass(8 * 3_600_000);
  const [mail, ...more] = await digests();
  expect(more).toEqual([]);
  const { whole } = await readMail(new TextEncoder().encode(mail!));
  expect(whole.match(/ left in /g)).toHaveLength(low.length);
  // Nothing is low on the next day: no mail.
  for (const r of low) await w.set(r.id, { [quantity]: 100_000 }, stock.id);
  await w.pass(24 * 3_600_000);
  expect(await digests()).toHaveLength(1);
  // To have nothing to list is no failure.
  expect(w.ended.filter((e) => e.startsWith('What runs low, at four'))).toEqual(Array(2).fill('What runs low, at four'));
}, 120_000); // prettier-ignore
