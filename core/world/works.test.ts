import '../../kinds/given/all.ts';
import { describe, expect, it } from 'vitest';
import { thisId } from '../document/ids.ts';
import { F, hiveApp, T } from '../records/fixture.ts';
import { HOUR, make, MINUTE, routine, where } from '../runs/fixture.ts';
import { World } from './world.ts';
import './warm.fixture.ts';

/** Phones and the routines of their server in one world, by one clock. */

const me = thisId(T.hives);
const put = (field: string, value: string) => make.step('set', { record: me, values: [{ field, value }] });

function worldWith(...routines: ReturnType<typeof routine>[]): World {
  const app = hiveApp();
  app.zone = 'UTC';
  app.routines.push(...routines);
  return new World({ app, works: true });
}

describe('a world whose server works', () => {
  it('starts what a phone’s change starts, and every phone sees what came of it', async () => {
    const world = worldWith(routine('Weigh', 'record changed', { how: 'added' }, [put(F.weight, '12.5')]));
    const [odile, tom] = [world.phone(), world.phone()];
    await world.pass(MINUTE);
    await odile.write([{ do: 'set', table: T.hives, record: 'oak', cells: { [F.name]: 'Oak' } }]);
    await world.pass(MINUTE);
    for (const p of [odile, tom]) expect(p.cell(T.hives, 'oak', F.weight)).toBe(12.5);
    expect(world.runs!.now.past).toHaveLength(1);
  });

  it('holds by its clock, over stops of the server, for what a phone without a network wrote meanwhile', async () => {
    const held = make.step('hold', { when: where(`${me}.${F.status}`, 'is', '"Retired"'), time: 'duration("PT48H")', late: [put(F.tag, '"late"')] }); // prettier-ignore
    const world = worldWith(routine('Hold', 'record changed', { how: 'added' }, [held, put(F.weight, '1')]));
    const phone = world.phone();
    await world.pass(MINUTE);
    for (const record of ['oak', 'elm']) await phone.write([{ do: 'set', table: T.hives, record, cells: { [F.name]: record } }]); // prettier-ignore
    await world.pass(MINUTE);
    expect([...world.runs!.now.live.values()].map((r) => r.stands)).toEqual(['holds', 'holds']);
    phone.network = 'off';
    await phone.write([{ do: 'set', table: T.hives, record: 'oak', cells: { [F.status]: 'Retired' } }]);
    world.restartHost(true);
    await world.pass(20 * HOUR);
    phone.network = 'on';
    await world.pass(HOUR);
    expect(phone.cell(T.hives, 'oak', F.weight)).toBe(1);
    world.restartHost();
    await world.pass(30 * HOUR);
    expect([phone.cell(T.hives, 'elm', F.tag), phone.cell(T.hives, 'oak', F.tag)]).toEqual(['late', null]);
    expect(world.runs!.now.live.size).toBe(0);
  });

  it('mails at its time, once', async () => {
    const mail = make.step('mail', { to: '"keeper@example.org"', subject: 'At four', body: 'Look.' });
    const world = worldWith(routine('Digest', 'clock', { each: 'day', time: '16:00' }, [mail], { given: null }));
    await world.pass(3 * HOUR);
    expect((await world.released.outbox()).messages).toHaveLength(0);
    await world.pass(2 * HOUR);
    expect((await world.released.outbox()).messages).toHaveLength(1);
    await world.pass(24 * HOUR);
    expect((await world.released.outbox()).messages).toHaveLength(2);
  });
});
