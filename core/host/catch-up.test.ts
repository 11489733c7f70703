import { expect, it } from 'vitest';
import { NOBODY } from '../access/access.ts';
import { F, hiveApp, T } from '../records/fixture.ts';
import { stampText } from './clock.ts';

import { Host } from './host.ts';
import { MemoryLog } from '../released/memory.ts';

const link = NOBODY;
const name = (record: string, n: number) => ({
  id: `c${n}`,
  stamp: stampText(1_700_000_000_000 + n, 0, 'device'),
  table: T.hives,
  record,
  do: 'set' as const,
  cells: { [F.name]: `Name ${n}` },
});

it('a device that comes back is sent what it has not, and no record a second time', async () => {
  const host = new Host(hiveApp(), new MemoryLog());
  await host.accept([name('h1', 1), name('h2', 2), name('h3', 3)], link);
  const since = async (n: number): Promise<unknown> => {
    const answer = await host.catchUp({ since: n }, link);
    return 'changes' in answer ? answer.changes.map((c) => c.record) : 'all records';
  };
  expect(await Promise.all([1, 2, 3].map(since))).toEqual([['h2', 'h3'], ['h3'], []]);
  // What it has never been sent, or says wrongly, is all of it.
  expect(await Promise.all([0, 4].map(since))).toEqual(['all records', 'all records']);
});
