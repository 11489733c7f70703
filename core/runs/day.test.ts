import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { thisId } from '../document/ids.ts';
import { F, hiveApp, T } from '../records/fixture.ts';
import { DAY_LIMITS, type DayLimits } from './day.ts';
import { make, routine, RunsWorld } from './fixture.ts';
import { addUsed, usedUpTo, type Used } from './used.ts';

const HOUR = 3_600_000;
const me = thisId(T.hives);
const marks = routine('Mark', 'record changed', { how: 'added' }, [
  make.step('set', { record: me, values: [{ field: F.status, value: '"Active"' }] }),
]);
const mails = routine('Mail', 'record changed', { how: 'added' }, [
  make.step('mail', { to: '"ada@post.example"', subject: `New: {${me}.${F.name}}`, body: 'Look.' }),
]);

/** A world whose app may do little in a day. */
async function small(limits: Partial<DayLimits>, ...routines: (typeof marks)[]): Promise<RunsWorld> {
  const app = hiveApp();
  app.routines.push(...routines);
  const world = new RunsWorld(app, { ...DAY_LIMITS, ...limits });
  await world.start();
  return world;
}
const hive = (id: string) => ({ do: 'set' as const, table: T.hives, record: id, cells: { [F.name]: id } });
const active = (w: RunsWorld): number =>
  [...w.released.host.replica.records.rows(T.hives)].filter((r) => r.cells[F.status] === 'Active').length;
const use = (w: RunsWorld, of: keyof DayLimits): number => w.runs.board.day.find((d) => d.of === of)!.used;

describe('what an app may do in a day', () => {
  it('is what ended in the 24 hours up to now, to a quarter of an hour (property)', () => {
    const times = fc.array(fc.tuple(fc.integer({ min: 0, max: 80 * HOUR }), fc.integer({ min: 0, max: 9999 })));
    fc.assert(
      fc.property(times, fc.integer({ min: 0, max: 100 * HOUR }), (ends, now) => {
        const used: Used = new Map();
        for (const [at, ms] of ends) if (at <= now) addUsed(used, at, ms);
        const sumFrom = (since: number) => {
          const counted = ends.filter(([at]) => at <= now && at > since);
          return { runs: counted.length, ms: counted.reduce((n, [, ms]) => n + ms, 0) };
        };
        const got = usedUpTo(used, now);
        expect(got.runs).toBeLessThanOrEqual(sumFrom(now - 24 * HOUR - 1).runs);
        expect(got.runs).toBeGreaterThanOrEqual(sumFrom(now - 23.75 * HOUR).runs);
        expect(got.ms).toBeGreaterThanOrEqual(sumFrom(now - 23.75 * HOUR).ms);
      }),
    );
  });
  it('holds up runs that would be too many, tells before, keeps them through a stop, and begins them when it may', async () => {
    const w = await small({ runs: 5 }, marks);
    for (const id of ['a', 'b', 'c']) await w.write(hive(id));
    await w.pass(60_000);
    expect(w.said).toEqual([]);
    await w.write(hive('d'));
    await w.pass(60_000);
    expect(w.said).toEqual([expect.stringContaining('4 of the 5 runs')]);
    for (const id of ['e', 'f', 'g']) await w.write(hive(id));
    await w.pass(60_000);
    expect([active(w), use(w, 'runs')]).toEqual([5, 5]);
    expect(w.said.at(-1)).toContain('used all 5 runs');
    expect(w.runs.board.counts).toEqual({ waits: 2 });
    await w.stop();
    await w.start();
    await w.pass(HOUR);
    expect([active(w), w.runs.board.counts]).toEqual([5, { waits: 2 }]);
    await w.pass(24 * HOUR);
    expect([active(w), w.runs.board.counts]).toEqual([7, {}]);
  });
  it('begins what it held up within minutes of when it may, though nothing else happens meanwhile', async () => {
    const w = await small({ runs: 1 }, marks);
    await w.write(hive('a'));
    await w.write(hive('b'));
    await w.pass(3 * 24 * HOUR);
    const lines = w.lines.lines.map((l) => JSON.parse(l) as { do: string; at: number });
    const [first, second] = lines.filter((l) => l.do === 'ended').map((l) => l.at);
    expect((second! - first!) / HOUR).toBeGreaterThan(23.7);
    expect((second! - first!) / HOUR).toBeLessThan(24.3);
  });
  it('counts on after what is kept of runs was shortened', async () => {
    const w = await small({ runs: 3 }, marks);
    for (const id of ['a', 'b', 'c']) await w.write(hive(id));
    await w.runs.forget(['nobody at all']);
    await w.stop();
    await w.start();
    await w.write(hive('d'));
    expect([active(w), use(w, 'runs')]).toEqual([3, 3]);
  });
  it('holds up mails, which leave as soon as they may, once each and without a failure', async () => {
    const w = await small({ mails: 2 }, mails);
    for (const id of ['a', 'b', 'c', 'd']) await w.write(hive(id));
    await w.pass(HOUR);
    const sent = async () => (await w.messages.list()).filter(({ name }) => name.endsWith('.eml')).length;
    expect([await sent(), w.runs.board.counts]).toEqual([2, { retries: 2 }]);
    expect(w.runs.board.live[0]!.error).toContain('2 mails that it may in 24 hours');
    await w.stop();
    await w.start();
    await w.pass(20 * HOUR);
    expect([await sent(), w.runs.board.counts]).toEqual([2, { retries: 2 }]);
    await w.pass(5 * HOUR);
    expect([await sent(), w.runs.board.counts, w.runs.board.past.filter((p) => p.error)]).toEqual([4, {}, []]);
  });
  it('lets no run go on that has been at work for too long in all, until it may', async () => {
    const w = await small({ minutes: 0 }, marks);
    await w.write(hive('a'));
    await w.pass(HOUR);
    expect([active(w), w.runs.board.counts]).toEqual([0, { waits: 1 }]);
  });
});
