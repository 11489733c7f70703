import { expect, it } from 'vitest';
import { ALL_RECORDS } from '../../core/access/plain.fixture.ts';
import type { AppAccess } from '../../core/app/access-schema.ts';
import { stampText } from '../../core/host/clock.ts';
import { Replica } from '../../core/host/replica.ts';
import { F, hiveApp, T } from '../../core/records/fixture.ts';
import { Records } from '../../core/records/store.ts';
import { Seeing } from './seeing.ts';

const NEAR = 'r_near00000';
const access: AppAccess = {
  opens: 'people',
  mail: F.mail,
  roles: [
    { id: NEAR, name: 'Near', where: { match: 'all', conditions: [{ left: F.nearby, op: 'holds', right: '' }] } },
  ],
  rules: [
    { id: 'u_all000000', who: NEAR, may: ['see', 'add', 'change', 'remove'], table: T.hives, where: ALL_RECORDS },
    {
      id: 'u_own000000',
      who: 'signed in',
      may: ['see', 'change'],
      table: T.hives,
      where: { match: 'all', conditions: [{ left: F.keeper, op: 'is', right: 'person()' }] },
      fields: { are: 'all but', of: [F.weight] },
    },
  ],
};

function seeing(): Seeing {
  const app = { ...hiveApp(), people: T.keepers, access };
  const records = new Records(app);
  const replica = new Replica(records);
  let n = 0;
  const put = (table: string, id: string, cells: Record<string, string | number | boolean>) => ({
    table,
    id,
    cells,
    stamp: stampText(1, n++, 'test'),
  });
  replica.load([
    put(T.keepers, 'ines', { [F.keeperName]: 'Ines', [F.mail]: 'ines@h.example' }),
    put(T.keepers, 'odile', { [F.keeperName]: 'Odile', [F.mail]: 'odile@h.example', [F.nearby]: true }),
    ...Array.from({ length: 100 }, (_, i) => put(T.hives, `h${i}`, { [F.name]: `Hive ${i}` })),
    put(T.hives, 'fern', { [F.name]: 'Fern', [F.keeper]: 'ines', [F.weight]: 3 }),
  ]);
  return new Seeing(records, replica, () => app);
}
const hivesOf = (people: (string | null)[]) =>
  seeing()
    .whatSee(people)
    .tables.find((t) => t.id === T.hives)!;

it('says of each record by which rule somebody sees it, what is hidden, and what they could do', () => {
  const { people } = seeing().whatSee(['ines']);
  expect(people).toEqual([{ roles: [], mayOpen: true }]);
  const { all, of, records } = hivesOf(['ines']);
  expect([all, of]).toEqual([101, [{ seen: 1, adds: false }]]);
  // What is seen comes first, also where it is the last of a long table.
  expect(records[0]).toMatchObject({
    title: 'Fern',
    of: [{ rules: ['u_own000000'], hidden: ['Weight'], removes: false }],
  });
  expect(records[0]!.of[0]!.changes).not.toContain('Weight');
  expect(records[1]!.of[0]).toEqual({ rules: [], hidden: [], changes: [], removes: false });
  expect(records).toHaveLength(60);
});

it('puts two people beside each other, with what is otherwise for them first; nobody in particular too', () => {
  const { of, records } = hivesOf(['ines', 'odile']);
  expect(of).toEqual([
    { seen: 1, adds: false },
    { seen: 101, adds: true },
  ]);
  expect(records.every((r) => r.of[0]!.rules.join() !== r.of[1]!.rules.join())).toBe(true);
  const nobody = seeing().whatSee([null, 'odile']);
  expect(nobody.people).toEqual([
    { roles: [], mayOpen: false },
    { roles: ['Near'], mayOpen: true },
  ]);
});
