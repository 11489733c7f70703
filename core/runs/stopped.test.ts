import { expect, it } from 'vitest';
import { thisId } from '../document/ids.ts';
import { F, T } from '../records/fixture.ts';
import { HOUR, make, routine, RunsWorld, where } from './fixture.ts';

const me = thisId(T.hives);
const holding = () =>
  RunsWorld.of(
    routine('Held', 'record changed', { how: 'added' }, [
      make.step('hold', { when: where(`${me}.${F.status}`, 'is', '"Retired"'), time: 'duration("P30D")', late: [] }),
      make.step('add', { table: T.visits, values: [{ field: F.hiveTag, value: '"went on"' }] }),
    ]),
  );
const tags = (w: RunsWorld): unknown[] => w.rows(T.visits).map((c) => c[F.hiveTag]);

it('a run that holds goes on also where the host is stopped after what it waited for came, at any moment', async () => {
  const ends = new Set<string>();
  for (let moment = 1; moment <= 14; moment++) {
    const w = await holding();
    await w.set('oak', { [F.name]: 'Oak' });
    w.killAfter = moment;
    await Promise.race([w.set('oak', { [F.status]: 'Retired' }), w.settle()]);
    w.killAfter = Infinity;
    if (w.killed) await w.start();
    await w.settle();
    const came = w.cell('oak', F.status) === 'Retired';
    expect([moment, tags(w)]).toEqual([moment, came ? ['went on'] : []]);
    ends.add(`${w.killed} ${came}`);
  }
  expect(ends.size).toBeGreaterThan(1);
});

it('one whose routine is held up goes on when that goes on, also after a stop in between', async () => {
  const w = await holding();
  await w.set('oak', { [F.name]: 'Oak' });
  const paused = w.runs.pause('', true);
  await w.settle();
  await paused;
  await w.set('oak', { [F.status]: 'Retired' });
  expect(tags(w)).toEqual([]);
  w.kill();
  await w.start();
  expect(tags(w)).toEqual([]);
  const goesOn = w.runs.pause('', false);
  await w.settle();
  await goesOn;
  expect(tags(w)).toEqual(['went on']);
});

it('hundreds that hold are looked at in parts, and those alone go on whose time has come', async () => {
  const w = await holding();
  const ids = Array.from({ length: 450 }, (_, i) => `h${i}`);
  await w.write(...ids.map((id) => ({ do: 'set' as const, table: T.hives, record: id, cells: { [F.name]: id } })));
  expect(w.runs.board.counts).toEqual({ holds: 450 });
  // The change is on the disk, and nobody has noticed it.
  w.runs.waits.close();
  await w.write(...['h3', 'h444'].map((id) => ({ do: 'set' as const, table: T.hives, record: id, cells: { [F.status]: 'Retired' } })));
  w.kill();
  await w.start();
  await w.pass(HOUR);
  expect(tags(w)).toEqual(['went on', 'went on']);
  expect(w.runs.board.counts).toEqual({ holds: 448 });
}); // prettier-ignore
