import fc from 'fast-check';
import { expect, it } from 'vitest';
import { OWNER } from '../access/access.ts';
import { thisId } from '../document/ids.ts';
import type { Change } from '../records/change.ts';
import { F, T } from '../records/fixture.ts';
import { make, MINUTE, routine, RunsWorld, where } from './fixture.ts';

const me = thisId(T.hives);
const note = (value: string) => make.step('add', { table: T.visits, values: [{ field: F.hiveTag, value }] });

/** Routines of all sorts: writes, sums that many write, mails, several at once, holds, waits, the clock, one that starts another. */
const routines = () => [
    routine('Added', 'record changed', { how: 'added', where: where(F.tag, 'is', 'null') }, [
      note(`"added " + ${me}.${F.name}`),
      make.step('mail', { to: '"a@example.org"', subject: `Added {${me}.${F.name}}`, body: 'x' }),
      make.step('raise', { record: me, values: [{ field: F.weight, value: '1' }] }),
      make.step('wait', { time: 'duration("PT5M")' }),
      note(`"waited " + ${me}.${F.name}`),
    ]),
    routine('Renamed', 'record changed', { how: 'changed', fields: [F.name] }, [
      note(`"renamed " + ${me}.${F.name}`),
    make.step('mail', { to: '"b@example.org"', subject: 'Renamed', body: 'x' }),
    make.step('hold', {
        when: where(`${me}.${F.status}`, 'is', '"Retired"'),
        time: 'duration("PT2H")',
        late: [note('"late"')],
      }),
      note(`"held " + ${me}.${F.name}`),
    ]),
    routine('Heavy', 'record becomes', { where: where(F.weight, 'over', '0') }, [note(`"heavy " + ${me}.${F.name}`)]),
    routine('Hourly', 'clock', { each: 'hours', every: 1, missed: 'each' }, [note('"hour"')], { given: null }),
    routine('Chained', 'record changed', { table: T.visits, how: 'added' }, [
      make.step('raise', { record: thisId(T.visits), values: [{ field: F.fed, value: '1' }] }),
    ], { given: T.visits }),
]; // prettier-ignore

type Act = { do: 'name' | 'retire'; hive: number } | { do: 'pass'; minutes: number };
const actArb: fc.Arbitrary<Act> = fc.oneof(
  { weight: 3, arbitrary: fc.record({ do: fc.constantFrom('name' as const, 'retire' as const), hive: fc.nat(2) }) },
  { weight: 1, arbitrary: fc.record({ do: fc.constant('pass' as const), minutes: fc.constantFrom(1, 6, 61, 125) }) },
);

/** Plays acts on a host that is killed at some of what it does on its disk, and started again each time. */
async function played(acts: readonly Act[], kills: readonly number[]): Promise<unknown> {
  const w = await RunsWorld.of(...routines());
  const left = [...kills];
  const arm = (): void => void (w.killAfter = left.shift() ?? Infinity);
  const again = async (): Promise<void> => {
    while (w.killed) {
      arm();
      await w.start();
    }
  };
  arm();
  let names = 0;
  let serial = 0;
  for (const act of acts) {
    if (act.do === 'pass') {
      for (let i = 0; i < act.minutes; i++) {
        await w.pass(MINUTE);
        await again();
      }
      continue;
    }
    const cells: Record<string, string> = act.do === 'name' ? { [F.name]: `n${++names}` } : { [F.status]: 'Retired' };
    const change: Change = { do: 'set', table: T.hives, record: `hive${act.hive}`, cells, id: `c${++serial}`, stamp: w.released.host.stamp() }; // prettier-ignore
    w.log.isLong = serial % 2 === 0;
    const answers = { acknowledged: false };
    while (!answers.acknowledged) {
      await again();
      const taken = w.released.accept([change], OWNER).then(() => (answers.acknowledged = true));
      await Promise.race([taken, w.settle()]);
      await w.settle();
    }
    await again();
  }
  for (let i = 0; i < 30; i++) {
    await w.pass(6 * MINUTE);
    await again();
  }
  const sorted = (list: unknown[]): unknown[] => list.map((x) => JSON.stringify(x)).sort();
  return {
    visits: sorted(w.rows(T.visits)),
    hives: sorted(w.rows(T.hives)),
    mails: sorted(await w.mails()),
    left: w.runs.now.live.size,
    failed: w.ended.filter((e) => e.includes(':')),
  };
}

it('runs cut anywhere and gone on with come to what runs do that were not cut (property)', async () => {
  await fc.assert(
    fc.asyncProperty(
      fc.array(actArb, { minLength: 1, maxLength: 6 }),
      fc.array(fc.integer({ min: 1, max: 40 }), { maxLength: 4 }),
      async (acts, kills) => {
        const whole = await played(acts, []);
        expect(whole).toMatchObject({ left: 0, failed: [] });
        expect(await played(acts, kills)).toEqual(whole);
      },
    ),
    { numRuns: 15 },
  );
}, 240_000);
