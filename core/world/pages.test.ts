import { expect, it } from 'vitest';
import { OWNER, type Who } from '../access/access.ts';
import { keepersRules } from '../access/fixture.ts';
import { F, hiveApp, T } from '../records/fixture.ts';
import { World } from './world.ts';
import './warm.fixture.ts';

const ines: Who = { kind: 'somebody', person: 'ines' };

it('many records are compared part by part, and only what is different travels', async () => {
  const sent: number[] = [];
  const world = new World({
    app: hiveApp(),
    access: keepersRules,
    spy: (what, value, who) => {
      if (what === 'compared' && who.person === 'ines') sent.push((value as { states: unknown[] }).states.length);
    },
  });
  const owner = world.phone({ who: OWNER });
  await owner.write([{ do: 'set', table: T.keepers, record: 'ines', cells: { [F.keeperName]: 'Ines' } }]);
  const hive = (n: number, cells = {}) => ({
    do: 'set' as const,
    table: T.hives,
    record: `h${n}`,
    cells: { [F.name]: `Hive ${n}`, [F.status]: n % 2 ? 'Active' : 'Retired', ...cells },
  });
  await owner.write(Array.from({ length: 12_400 }, (_, n) => hive(n)));
  await world.pass(1000);
  const phone = world.phone({ who: ines });
  await world.pass(1000);
  // 6,200 active ones and herself, in pages.
  expect(phone.replica.size).toBe(6201);
  expect(sent).toEqual([5000, 1201]);
  sent.length = 0;
  phone.network = 'off';
  await owner.write([
    hive(1, { [F.name]: 'New name' }),
    hive(2, { [F.status]: 'Active' }),
    hive(3, { [F.status]: null }),
  ]);
  await world.pass(1000);
  // The host knows nothing of what this phone had.
  world.restartHost();
  phone.network = 'on';
  await world.pass(30_000);
  expect(sent.reduce((a, b) => a + b, 0)).toBe(2);
  expect([phone.cell(T.hives, 'h1', F.name), phone.cell(T.hives, 'h2', F.status)]).toEqual(['New name', 'Active']);
  expect(phone.records.row(T.hives, 'h3')).toBeUndefined();
  expect(phone.replica.size).toBe(6201);
});
