import '../../kinds/given/all.ts';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { thisId } from '../document/ids.ts';
import { allOf } from '../document/queries.ts';
import { hiveApp, F, T } from '../records/fixture.ts';
import type { RunLine } from '../runs/lines.ts';
import { DAY, HOUR, make, MINUTE, routine, where } from '../runs/fixture.ts';
import { World } from './world.ts';
import './warm.fixture.ts';

/** Weeks that pass in a leap bring the same as weeks that pass minute by minute. */

const DUE = 'f_due00000';
const SOON = 'f_soon0000';
const AGE = 'f_age00000';
const me = thisId(T.hives);
const put = (field: string, value: string) => make.step('set', { record: me, values: [{ field, value }] });
const start = Date.UTC(2026, 10, 25, 12);

/** What may be among the routines of an app: each by another way in which the server looks at the time. */
const routines = {
  'at a time of the day': () =>
    routine('Digest', 'clock', { each: 'day', time: '16:00' }, [make.step('mail', { to: '"keeper@example.org"', subject: 'At four', body: 'Look.' })], { given: null }), // prettier-ignore
  'for each record, every hour': () =>
    routine('Each', 'clock', { each: 'hours', every: 1, for: { ...allOf(T.hives), where: where(F.weight, "under", "20") } }, [put(F.weight, `${me}.${F.weight} + 1`)]), // prettier-ignore
  'at a date of a record, which it moves': () =>
    routine('Due', 'date reached', { table: T.hives, field: DUE, way: 'on' }, [put(DUE, `${me}.${DUE} + duration("PT7H13M")`), put(F.tag, `string(${me}.${AGE})`)]), // prettier-ignore
  'before a date that is there when time has passed': () =>
    routine('Soon', 'date reached', { table: T.hives, field: SOON, way: 'before', many: 1, unit: 'hours' }, [put(F.tag, '"soon"')]), // prettier-ignore
  'when it becomes so by the time': () =>
    routine('Over', 'record becomes', { where: where(`${me}.${DUE}`, 'under', 'now()') }, [put(F.weight, '1')]),
  'holds for what becomes so by the time': () =>
    routine('Hold', 'record changed', { how: 'added' }, [make.step('hold', { when: where(`${me}.${DUE}`, 'under', 'now()'), time: 'duration("PT30H")', late: [put(F.tag, '"late"')] }), put(F.weight, '2')]), // prettier-ignore
  'waits for a while': () =>
    routine('Wait', 'record changed', { how: 'added' }, [make.step('wait', { time: 'duration("PT5H17M")' }), put(F.weight, '3')]), // prettier-ignore
} as const;
type Sort = keyof typeof routines;

interface Write {
  after: number;
  record: string;
  due: number;
}

/** A world in which all this happens, and the time passes by `pass`. */
async function worldAfter(
  sorts: readonly Sort[],
  writes: readonly Write[],
  pass: (world: World, ms: number) => Promise<void>,
) {
  const app = hiveApp({
    hives: [
      { id: DUE, name: 'Due', type: 'datetime' },
      { id: SOON, name: 'Soon', type: 'formula', formula: `if ${DUE} < now() then ${DUE} + duration("PT3H") else null` },
      { id: AGE, name: 'Age', type: 'formula', formula: `(now() - date and time("2026-01-01T00:00:00")).hours` },
    ],
  }); // prettier-ignore
  app.zone = 'UTC';
  app.routines.push(...sorts.map((s) => routines[s]()));
  const begun: string[] = [];
  const world = new World({
    app,
    works: true,
    hears: (what) => {
      if (what.did !== 'run') return;
      const line: RunLine = what.line;
      if (line.do !== 'begins') return;
      const name = app.routines.find((r) => r.id === line.start.routine)!.name;
      begun.push(`${new Date(line.at).toISOString()} ${name} ${line.start.given?.record ?? ''}`);
    },
  });
  const phone = world.phone();
  await pass(world, MINUTE);
  for (const w of writes) {
    await pass(world, w.after);
    const due = new Date(world.clock.now() + w.due).toISOString().slice(0, 16);
    await phone.write([{ do: 'set', table: T.hives, record: w.record, cells: { [F.name]: w.record, [F.weight]: 7, [DUE]: `${due}:00` } }]); // prettier-ignore
  }
  await pass(world, start + 3 * DAY - world.clock.now());
  const cells = world.host.replica.records
    .rows(T.hives)
    .map((r) => [r.id, r.get(F.weight), r.get(F.tag), String(r.cells[DUE]).slice(0, 16)])
    .sort();
  const mails = (await world.released.outbox()).messages.length;
  const log = world.log.kept.length;
  await world.end();
  return { begun, cells, mails, log };
}

const leap = (world: World, ms: number): Promise<void> => world.pass(ms);
async function byTheMinute(world: World, ms: number): Promise<void> {
  for (let left = ms; left > 0; left -= MINUTE) await world.pass(Math.min(left, MINUTE));
}

const write: fc.Arbitrary<Write> = fc.record({
  after: fc.nat(20 * 60).map((m) => m * MINUTE),
  record: fc.constantFrom('oak', 'elm', 'ash'),
  due: fc.integer({ min: -90, max: 30 * 60 }).map((m) => m * MINUTE),
});

describe('time that leaps', () => {
  it.each([
    ...(Object.keys(routines) as Sort[]).map((s) => [s]),
    ['waits for a while', 'holds for what becomes so by the time'] as Sort[],
  ])('brings what passing by the minute does: %s', async (...sorts) => {
    const writes = [
      { after: 10 * MINUTE, record: 'oak', due: 2 * HOUR + 11 * MINUTE },
      { after: 3 * HOUR, record: 'elm', due: 26 * HOUR },
      { after: 0, record: 'ash', due: -HOUR },
    ];
    const leapt = await worldAfter(sorts, writes, leap);
    const passed = await worldAfter(sorts, writes, byTheMinute);
    expect(leapt).toEqual(passed);
    expect(leapt.begun.length).toBeGreaterThan(1);
  });

  it('looks every minute at what becomes so by the time, though another waits for something sooner', async () => {
    const ended: string[] = [];
    const app = hiveApp({ hives: [{ id: DUE, name: 'Due', type: 'datetime' }] });
    app.zone = 'UTC';
    app.routines.push(routines['waits for a while'](), routines['holds for what becomes so by the time']());
    const world = new World({
      app,
      works: true,
      hears: (what) => {
        if (what.did !== 'run' || what.line.do !== 'ended') return;
        ended.push(new Date(world.clock.now()).toISOString().slice(11, 16));
      },
    });
    const phone = world.phone();
    await world.pass(10_000);
    // It was looked a moment ago.
    await phone.write([{ do: 'set', table: T.hives, record: 'oak', cells: { [DUE]: '2026-11-25T14:30:00' } }]);
    await world.pass(DAY);
    expect(ended).toEqual(['14:30', '17:17']);
    await world.end();
  });

  it('brings what passing by the minute does, whatever happens together (property)', async () => {
    // What goes by the time alone is looked at every minute, and which second of it depends on what came before.
    const withinAMinute = (begun: readonly string[]) => begun.map((b) => b.replace(/^\S+ /, '')).sort();
    await fc.assert(
      fc.asyncProperty(
        fc.subarray(Object.keys(routines) as Sort[], { minLength: 1 }),
        fc.array(write, { minLength: 1, maxLength: 4 }),
        async (sorts, writes) => {
          const leapt = await worldAfter(sorts, writes, leap);
          const passed = await worldAfter(sorts, writes, byTheMinute);
          expect(withinAMinute(leapt.begun)).toEqual(withinAMinute(passed.begun));
          expect(leapt.mails).toBe(passed.mails);
        },
      ),
      { numRuns: 10 },
    );
  }, 120_000);
});
