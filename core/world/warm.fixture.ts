import { OWNER } from '../access/access.ts';
import { keepersRules } from '../access/fixture.ts';
import { ElementMaker } from '../app/make.ts';
import { F, hiveApp, T } from '../records/fixture.ts';
import { allKinds } from '../session/fixture.ts';
import { World } from './world.ts';

/**
 * For tests on a world: all that phones fetch late is fetched once before, since fetching takes time that no clock of a
 * world counts. What comes after needs no time, however slow the machine is.
 */
const app = hiveApp({ hives: [{ id: 'f_photo000', name: 'Photo', type: 'picture' }] });
const steps = [new ElementMaker().step('notify', { to: '"Ines"', title: 'Warm' })];
app.routines = [{ id: 'r_warm00000', name: 'Warm', given: null, steps }];
const world = new World({ app, kinds: allKinds, access: keepersRules });
const phone = world.phone({ who: OWNER });
await phone.phone.beUsedBy('Ines');
const late = await phone.phone.late();
await Promise.all([late.files(), late.runs(), late.openVariables(), late.sendMail(async () => undefined)]);
const photo = await phone.phone.keepFile(new Blob(['warm']), 'warm.txt');
await phone.write([{ do: 'set', table: T.hives, record: 'h1', cells: { [F.name]: 'Warm', f_photo000: photo } }]);
await phone.device.sync();
await phone.phone.session.runNow(app.routines[0]!, null);
await import('../phone/notices.ts');
for (let i = 0; i < 100 && !phone.effects.some((e) => e.do === 'notice'); i++) {
  await world.pass(1000);
  await new Promise((resolve) => setTimeout(resolve, 5));
}
if (!phone.effects.some((e) => e.do === 'notice')) throw new Error('What phones fetch late has not come.');
