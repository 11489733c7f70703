import type { Draft } from '../records/change.ts';
import { F, hiveApp, T } from '../records/fixture.ts';
import type { Network } from './network.ts';
import { World } from './world.ts';

const NETWORKS: Network[] = ['on', 'on', 'on', 'slow', 'off', 'answers lost', 'twice'];

/** A world of six phones in which so many things have happened by chance: edits, networks, openings, time. */
export async function worldAfter(seed: number, acts: number): Promise<World> {
  const world = new World({ app: hiveApp(), seed });
  for (let i = 0; i < 6; i++) world.phone({ off: (i - 3) * 60_000 });
  await world.settle();
  const { random } = world;
  for (let i = 0; i < acts; i++) {
    const phone = random.of(world.phones);
    const record = `h${random.below(20)}`;
    const act = random.below(10);
    if (act < 6) await phone.write([edit(record, random.below(4), i)]);
    else if (act < 7) phone.network = random.of(NETWORKS);
    else if (act < 8) phone.restart();
    else await world.pass(random.below(4000));
  }
  return world;
}

function edit(record: string, what: number, i: number): Draft {
  const table = T.hives;
  if (what === 3) return { do: 'raise', table, record, by: { [F.weight]: 1 } };
  return { do: 'set', table, record, cells: what === 2 ? { [F.weight]: i } : { [F.name]: `name ${i}` } };
}
