import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { ALL_RECORDS, beginning, ruledApp, set } from '../../core/access/plain.fixture.ts';
import type { AppAccess } from '../../core/app/access-schema.ts';
import { deviceClock } from '../../core/document/time.ts';
import { Device } from '../../core/host/device.ts';
import { Replica } from '../../core/host/replica.ts';
import { MemoryKeeper } from '../../core/phone/memory-keeper.ts';
import { F, T } from '../../core/records/fixture.ts';
import { Records } from '../../core/records/store.ts';
import { elementKinds } from '../../core/screens/kinds.ts';
import { stepKinds, triggerKinds } from '../../core/routines/kinds.ts';
import { Persona } from './persona.ts';

const access: AppAccess = {
  opens: 'people',
  mail: F.mail,
  roles: [],
  rules: [
    { id: 'u_people000', who: 'signed in', may: ['see'], table: T.keepers, where: ALL_RECORDS },
    {
      id: 'u_own000000',
      who: 'signed in',
      may: ['see', 'change'],
      table: T.hives,
      where: { match: 'all', conditions: [{ left: F.keeper, op: 'is', right: 'person()' }] },
      fields: { are: 'all but', of: [F.weight] },
    },
  ],
};

/** The maker's records, and a phone beside them. */
async function open() {
  const app = ruledApp(access);
  const records = new Records(app);
  const replica = new Replica(records);
  const device = new Device({ id: 'maker', replica, store: new MemoryKeeper() });
  await device.write(beginning());
  const refused: string[] = [];
  const keeper = new MemoryKeeper();
  const persona = new Persona({
    app: () => app,
    records,
    replica,
    device,
    file: async () => null,
    keepFile: async () => undefined,
    ports: () => ({
      clock: deviceClock,
      store: keeper,
      kinds: { elements: elementKinds, steps: stepKinds, triggers: triggerKinds },
      whole: async () => keeper,
      session: { happened: () => undefined },
      report: () => undefined,
      say: () => undefined,
      refused: (list) => refused.push(...list.map((r) => r.reason)),
      overtaken: () => undefined,
    }),
  });
  await persona.be('ines');
  const hives = (): string[] => persona.phone.records.rows(T.hives).map((r) => r.id);
  return { records, device, persona, refused, hives };
}
let o: Awaited<ReturnType<typeof open>>;
beforeEach(async () => {
  o = await open();
});
afterEach(() => o.persona.end());
const own = (): string[] =>
  o.records
    .rows(T.hives)
    .filter((r) => r.cells[F.keeper] === 'ines')
    .map((r) => r.id);

describe('the phone beside the work as one of the people', () => {
  it('has what a host sends them, and nothing else', () => {
    expect(own().length).toBeGreaterThan(0);
    expect(o.hives()).toEqual(own());
    const [hive] = o.persona.phone.records.rows(T.hives);
    expect([hive!.cells[F.weight], [...hive!.hidden!]]).toEqual([
      undefined,
      [F.weight, F.total, F.perVisit].filter((f) => hive!.hidden!.has(f)),
    ]);
    expect(hive!.hidden!.has(F.weight)).toBe(true);
    expect(o.persona.phone.app.access!.rules).toEqual([]);
  });
  it('follows what the maker changes', async () => {
    const other = o.records.rows(T.hives).find((r) => r.cells[F.keeper] !== 'ines')!;
    await o.device.write([set(T.hives, other.id, { [F.keeper]: 'ines' })]);
    await vi.waitFor(() => expect(o.hives().sort()).toEqual(own().sort()));
    await o.device.write([{ do: 'remove', table: T.hives, record: other.id }]);
    await vi.waitFor(() => expect(o.hives()).not.toContain(other.id));
  });
  it('writes to the maker’s records what the host takes, and hears what it refuses', async () => {
    const [mine] = own();
    await o.persona.phone.device.write([set(T.hives, mine!, { [F.name]: 'Named by Ines' })]);
    await vi.waitFor(() => expect(o.records.row(T.hives, mine!)!.cells[F.name]).toBe('Named by Ines'));
    await o.persona.phone.device.write([set(T.hives, 'new', { [F.name]: 'Not hers to add' })]);
    await vi.waitFor(() => expect(o.refused).toEqual(['You may not add such Hives.']));
    expect(o.records.row(T.hives, 'new')).toBeUndefined();
  });
  it('is another from one moment to the next', async () => {
    await o.persona.be('odile');
    const theirs = o.records.rows(T.hives).filter((r) => r.cells[F.keeper] === 'odile');
    expect(o.hives()).toEqual(theirs.map((r) => r.id));
    await o.persona.be(null);
    expect(o.hives()).toEqual([]);
  });
});
