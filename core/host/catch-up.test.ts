import { expect, it } from 'vitest';
import { F, hiveApp, T } from '../records/fixture.ts';
import { stampText } from './clock.ts';
import { memoryLog } from './fixture.ts';
import { Host } from './host.ts';

const link = { kind: 'link' as const };
const name = (record: string, n: number) => ({
  id: `c${n}`,
  stamp: stampText(1_700_000_000_000 + n, 0, 'device'),
  table: T.hives,
  record,
  do: 'set' as const,
  cells: { [F.name]: `Name ${n}` },
});

it('a device that comes back is sent what it has not, and no record a second time', async () => {
  const host = new Host(hiveApp(), memoryLog());
  await host.accept([name('h1', 1), name('h2', 2), name('h3', 3)], link);
  const since = (n: number): unknown => {
    const answer = host.catchUp(n, link);
    return 'changes' in answer ? answer.changes.map((c) => c.record) : 'all records';
  };
  expect([since(1), since(2), since(3)]).toEqual([['h2', 'h3'], ['h3'], []]);
  // What it has never been sent, or says wrongly, is all of it.
  expect([since(0), since(4)]).toEqual(['all records', 'all records']);
});
