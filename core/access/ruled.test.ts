import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { AppAccess, Rule } from '../app/access-schema.ts';
import { allId, thisId } from '../document/ids.ts';
import type { Cell } from '../fields/lists.ts';
import { stampText } from '../host/clock.ts';
import { Host } from '../host/host.ts';
import type { News, Receipt } from '../host/protocol.ts';
import type { Change } from '../records/change.ts';
import { F, T } from '../records/fixture.ts';
import { NOBODY, OWNER, type Who } from './access.ts';
import { asDocumented } from './documented.ts';
import {
  access,
  AFAR,
  beginning,
  CONDITIONS,
  mailOf,
  NEAR,
  personOf,
  plainFields,
  plainMay,
  ruledApp,
  signedIn,
  type Plain,
} from './plain.fixture.ts';

/** The rules of a document, held against a plain reading of them. */

const log = { append: async () => undefined };
let stamps = 0;
const stamp = (): string => stampText(Date.now() - 3_600_000 + stamps++, 0, 'aaaa');
type Cells = Record<string, Cell>;
const set = (table: string, record: string, cells: Cells, group?: string): Change => ({
  id: `c${stamps}`,
  stamp: stamp(),
  table,
  record,
  do: 'set',
  cells,
  ...(group && { group }),
});
async function begun(rules: AppAccess): Promise<Host> {
  const host = new Host(ruledApp(rules), log, asDocumented);
  await host.accept(
    beginning().map((d) => set(d.table, d.record, d.cells)),
    OWNER,
  );
  return host;
}

const plainly = (host: Host): Map<string, Plain> =>
  new Map(
    [...host.replica.all()]
      .filter((s) => host.replica.records.row(s.table, s.id))
      .map((s) => [s.id, { table: s.table, id: s.id, cells: { ...s.cells } }]),
  );
const WHO: Who[] = [
  signedIn('odile'),
  signedIn('ines'),
  signedIn('tom'),
  signedIn('tom', mailOf('ines')),
  { kind: 'somebody', person: 'tom' },
  signedIn('bramble'),
  NOBODY,
  OWNER,
];

/** What somebody is given who asks for everything. */
async function given(host: Host, who: Who): Promise<Record<string, Cells>> {
  const { states } = await host.compare({ after: null, upTo: null, records: [] }, who);
  return Object.fromEntries(states.map((s) => [s.id, filled(s.cells as Cells)]));
}
const filled = (cells: Record<string, Cell | undefined>): Cells =>
  Object.fromEntries(Object.entries(cells).filter(([, c]) => c !== null && c !== undefined)) as Cells;
function plainlyGiven(host: Host, rules: AppAccess, who: Who): Record<string, Cells> {
  const records = plainly(host);
  const out: Record<string, Cells> = {};
  for (const r of records.values()) {
    const fields = plainFields(rules, who, 'see', r, records);
    if (fields) out[r.id] = filled(Object.fromEntries(Object.entries(r.cells).filter(([f]) => fields.has(f))));
  }
  return out;
}

const isSomebody = (rules: AppAccess, who: Who, records: Map<string, Plain>): boolean =>
  who.kind === 'owner' || personOf(who, records) !== null;

const cells: Record<string, fc.Arbitrary<Cells>> = {
  [T.hives]: fc.record(
    {
      [F.name]: fc.constantFrom('x', 'y', null),
      [F.weight]: fc.constantFrom(1, 30),
      [F.status]: fc.constantFrom('Active', 'Retired', null),
      [F.keeper]: fc.constantFrom('odile', 'ines', 'tom', null),
    },
    { requiredKeys: [] },
  ) as fc.Arbitrary<Cells>,
  [T.visits]: fc.record(
    { [F.hiveTag]: fc.constantFrom('a', 'b', null), [F.fed]: fc.constantFrom(1, 9) },
    { requiredKeys: [] },
  ) as fc.Arbitrary<Cells>,
  [T.keepers]: fc.record(
    {
      [F.keeperName]: fc.constantFrom('n', 'm'),
      [F.mail]: fc.constantFrom(mailOf('odile'), mailOf('tom'), null),
      [F.nearby]: fc.boolean(),
    },
    { requiredKeys: [] },
  ) as fc.Arbitrary<Cells>,
};
const change = fc
  .constantFrom(
    [T.hives, 'bramble'],
    [T.hives, 'clover'],
    [T.hives, 'h3'],
    [T.visits, 'v1'],
    [T.visits, 'v2'],
    [T.visits, 'v3'],
    [T.keepers, 'ines'],
    [T.keepers, 'tom'],
    [T.keepers, 'k4'],
  )
  .chain(([table, record]) =>
    fc.record({
      table: fc.constant(table!),
      record: fc.constant(record!),
      cells: fc.oneof(
        { weight: 8, arbitrary: cells[table!]!.filter((c) => Object.keys(c).length > 0) },
        { weight: 1, arbitrary: fc.constant(null) },
      ),
    }),
  );
const push = fc.record({
  who: fc.nat(WHO.length - 1),
  group: fc.boolean(),
  changes: fc.array(change, { minLength: 1, maxLength: 3 }),
});

describe('rules', () => {
  it('give everybody exactly what a plain reading of them gives (property)', async () => {
    await fc.assert(
      fc.asyncProperty(access, async (rules) => {
        const host = await begun(rules);
        for (const who of WHO) expect(await given(host, who)).toEqual(plainlyGiven(host, rules, who));
      }),
      { numRuns: Number(process.env['RUNS'] ?? 150) },
    );
  });

  it('let through exactly what a plain reading of them lets through, one after the other and in one turn (property)', async () => {
    await fc.assert(
      fc.asyncProperty(
        access,
        fc.array(push, { minLength: 1, maxLength: 5 }),
        fc.boolean(),
        async (rules, pushes, together) => {
          const host = await begun(rules);
          const records = plainly(host);
          const gone = new Set<string>();
          // What is written to a record that is gone has no part in rules.
          const removed = new Set<string>();
          for (const p of pushes)
            p.changes = p.changes.filter((c) => {
              if (c.cells === null) removed.add(c.record);
              return c.cells === null || !removed.has(c.record);
            });
          const expected: boolean[] = [];
          const sent = pushes.map(({ who, group, changes }, n) => ({
            who: WHO[who]!,
            units: group ? [changes] : changes.map((c) => [c]),
            changes: changes.map((c): Change => {
              const made = set(c.table, c.record, c.cells ?? {}, group ? `g${n}` : undefined);
              if (c.cells) return made;
              const { cells: _cells, do: _do, ...rest } = made as Extract<Change, { do: 'set' }>;
              return { ...rest, do: 'remove' };
            }),
          }));
          for (const { who, units } of sent)
            for (const unit of units) {
              const trial = new Map(records);
              const lost = new Set(gone);
              const may = unit.every((c) => {
                // What is gone stays gone, and is removed again without a word.
                const ok =
                  c.cells === null && lost.has(c.record) && isSomebody(rules, who, trial)
                    ? true
                    : plainMay(rules, who, c, trial) && (c.cells === null || !lost.has(c.record));
                if (c.cells === null) {
                  trial.delete(c.record);
                  lost.add(c.record);
                } else {
                  const was = trial.get(c.record);
                  trial.set(c.record, { table: c.table, id: c.record, cells: { ...was?.cells, ...c.cells } });
                }
                return ok;
              });
              for (const _ of unit) expected.push(may);
              if (!may) continue;
              for (const [id, r] of trial) records.set(id, r);
              for (const id of records.keys()) if (!trial.has(id)) records.delete(id);
              for (const id of lost) gone.add(id);
            }
          const receipts: Receipt[] = [];
          /** Nobody is told more than they may see then, not even of what they wrote. */
          const tells = (receipt: Receipt, who: Who): void => {
            const may = plainlyGiven(host, rules, who);
            for (const state of [...receipt.refused.flatMap((r) => r.state ?? []), ...(receipt.given ?? [])])
              expect(may[state.id]).toMatchObject(filled(state.cells as Cells));
          };
          if (together) receipts.push(...(await Promise.all(sent.map((x) => host.accept(x.changes, x.who)))));
          else
            for (const { changes, who } of sent) {
              const receipt = await host.accept(changes, who);
              tells(receipt, who);
              receipts.push(receipt);
            }
          const taken = sent.flatMap((s, i) => s.changes.map((c) => receipts[i]!.accepted.includes(c.id)));
          expect(taken).toEqual(expected);
        },
      ),
      { numRuns: Number(process.env['RUNS'] ?? 250) },
    );
  });
});

const ALL = CONDITIONS[0]!.where;
const rules = (...list: (Partial<Rule> & Pick<Rule, 'table'>)[]): AppAccess => ({
  opens: 'people',
  mail: F.mail,
  roles: [
    { id: NEAR, name: 'Near', where: { match: 'all', conditions: [{ left: F.nearby, op: 'holds', right: '' }] } },
    { id: AFAR, name: 'Afar', where: { match: 'all', conditions: [] } },
  ],
  rules: list.map((r, i) => ({ id: `u_rule000${i}`, who: 'signed in', may: ['see'], where: ALL, ...r })),
});

describe('conditions in which something is missing hold for nothing', () => {
  const sees = async (r: AppAccess): Promise<string[]> => Object.keys(await given(await begun(r), signedIn('ines')));
  const hives = (left: string, right = 'true', more = {}): AppAccess =>
    rules({ table: T.hives, where: { match: 'all', conditions: [{ left, op: 'is', right, ...more }] } });
  it.each([
    ['one that is not filled in', hives(F.status, '')],
    ['one that is left out for now', hives(F.status, 'null', { whileFilled: true })],
    ['a field that is gone', hives('f_gone00000')],
    ['a formula that cannot be read', hives('1 +')],
    ['chance', hives('random number()', 'random number()')],
    ['a table that is gone', rules({ table: 't_gone00000' })],
    ['a role that is gone', rules({ table: T.hives, who: 'r_gone00000' })],
    [
      'one among groups',
      rules({
        table: T.hives,
        where: {
          match: 'any',
          conditions: [],
          groups: [{ match: 'all', conditions: [{ left: '', op: 'is', right: '' }] }],
        },
      }),
    ],
  ])('%s', async (_, r) => {
    expect(await sees(r)).toEqual([]);
  });
  it('a formula field that asks who uses the app', async () => {
    const app = ruledApp(hives('f_mine00000'));
    app.tables[0]!.fields.push({ id: 'f_mine00000', name: 'Mine', type: 'formula', formula: `${F.keeper} = person()` });
    const host = new Host(app, log, asDocumented);
    await host.accept(
      [set(T.keepers, 'ines', { [F.mail]: mailOf('ines') }), set(T.hives, 'h', { [F.keeper]: 'ines' })],
      OWNER,
    );
    expect(await given(host, signedIn('ines'))).toEqual({});
  });
  it('a role that asks who uses the app is nobody’s', async () => {
    const r = rules({ table: T.hives, who: NEAR });
    r.roles[0]!.where = { match: 'all', conditions: [{ left: thisId(T.keepers), op: 'is', right: 'person()' }] };
    expect(await sees(r)).toEqual([]);
  });
});

describe('people', () => {
  it('are who they are by their record and the address by which they signed in, whatever case it is in', async () => {
    const host = await begun(rules({ table: T.hives }));
    const may = async (who: Who): Promise<boolean> => Object.keys(await given(host, who)).length > 0;
    expect(await may(signedIn('ines', 'INES@heatherfield.example '))).toBe(true);
    expect(await may(signedIn('ines', 'tom@heatherfield.example'))).toBe(false);
    expect(await may(signedIn('ines', ''))).toBe(false);
    await host.accept([set(T.keepers, 'ines', { [F.mail]: null })], OWNER);
    expect(await may(signedIn('ines'))).toBe(false);
    expect(await may(signedIn('ines', ''))).toBe(false);
  });
  it('wait until they are approved, and are nobody again when they are not', async () => {
    const host = await begun({ ...rules({ table: T.hives }), approved: F.nearby });
    expect(await given(host, signedIn('ines'))).toEqual({});
    expect(host.access.refusal(signedIn('ines'), set(T.hives, 'h9', {}))).toBe('Sign in to do this.');
    await host.accept([set(T.keepers, 'ines', { [F.nearby]: true })], OWNER);
    expect(Object.keys(await given(host, signedIn('ines')))).toEqual(['bramble', 'clover']);
  });
  it('cannot be another by the letters of an id', async () => {
    const host = await begun(rules({ table: T.hives, where: CONDITIONS[2]!.where }));
    for (const id of ['x","ines"],"', '"],"ines"]', '[],"ines"', 'odile ines']) {
      await host.accept([set(T.keepers, id, { [F.mail]: 'x@x.example' })], OWNER);
      expect(await given(host, signedIn(id, 'x@x.example'))).toEqual({});
    }
  });
  it('of the same roles share a view, unless a rule asks who they are', async () => {
    const shared = await begun(rules({ table: T.hives }));
    expect(shared.viewOf(signedIn('ines'))).toBe(shared.viewOf(signedIn('tom')));
    expect(shared.viewOf(signedIn('ines'))).not.toBe(shared.viewOf(signedIn('odile')));
    const own = await begun(rules({ table: T.hives, where: CONDITIONS[2]!.where }));
    expect(own.viewOf(signedIn('ines'))).not.toBe(own.viewOf(signedIn('tom')));
  });
  it('who made a change is set by the host', async () => {
    const kept: Change[] = [];
    const app = ruledApp(rules({ table: T.keepers, may: ['add', 'change'] }));
    const host = new Host(app, { append: async (c) => void kept.push(...c) }, asDocumented);
    await host.accept([set(T.keepers, 'ines', { [F.mail]: mailOf('ines') })], OWNER);
    await host.accept([{ ...set(T.keepers, 'ines', { [F.keeperName]: 'I' }), author: 'tom' }], signedIn('ines'));
    expect(kept.map((c) => c.author)).toEqual([undefined, 'ines']);
  });
});

it('rules that change alone count at once, for records that were asked of just before too', async () => {
  const app = ruledApp(rules({ table: T.hives }));
  const now = Date.now();
  const host = new Host(app, log, asDocumented, () => now);
  await host.accept(
    [set(T.keepers, 'ines', { [F.mail]: mailOf('ines') }), set(T.hives, 'h', { [F.name]: 'H' })],
    OWNER,
  );
  const mayRead = (): boolean => host.access.mayRead(host.access.rights(signedIn('ines')), host.replica.state('h')!);
  expect(mayRead()).toBe(true);
  host.setApp({ ...app, access: { ...app.access!, rules: [] } });
  expect(mayRead()).toBe(false);
});

describe('rules that read other records', () => {
  it('are asked again when those change, of whatever table, and tell who listens', async () => {
    const r = rules({
      table: T.hives,
      where: {
        match: 'all',
        conditions: [{ left: `count(${allId(T.visits)}[${F.fed} > 0])`, op: 'over', right: '2' }],
      },
    });
    const host = await begun(r);
    const told: News[] = [];
    host.subscribe(signedIn('ines'), (news) => told.push(news));
    expect(await given(host, signedIn('ines'))).toEqual({});
    await host.accept([set(T.visits, 'v3', { [F.fed]: 1 })], OWNER);
    expect(told.at(-1)!.given?.map((s) => s.id)).toEqual(['bramble', 'clover']);
    expect(Object.keys(await given(host, signedIn('ines')))).toEqual(['bramble', 'clover']);
    await host.accept([set(T.visits, 'v3', { [F.fed]: 0 })], OWNER);
    expect(told.at(-1)!.forget).toEqual(['bramble', 'clover']);
    expect(await given(host, signedIn('ines'))).toEqual({});
  });
});

it('rules that ask what time it is are asked again as it passes', async () => {
  let now = Date.UTC(2026, 5, 1, 12);
  const recent = { left: F.when, op: 'over' as const, right: 'today() - duration("P2D")' };
  const r = rules({ table: T.visits, where: { match: 'all', conditions: [recent] } });
  const host = new Host(ruledApp(r), log, asDocumented, () => now);
  const early = (c: Change): Change => ({ ...c, stamp: stampText(now - 60_000 + stamps++, 0, 'aaaa') });
  await host.accept(
    [
      early(set(T.keepers, 'ines', { [F.mail]: mailOf('ines') })),
      early(set(T.visits, 'v1', { [F.when]: '2026-05-31' })),
    ],
    OWNER,
  );
  const told: News[] = [];
  host.subscribe(signedIn('ines'), (news) => told.push(news));
  expect(Object.keys(await given(host, signedIn('ines')))).toEqual(['v1']);
  now += 3 * 86_400_000;
  host.tick();
  await host.pause(async () => undefined);
  expect(told.at(-1)!.forget).toEqual(['v1']);
  expect(await given(host, signedIn('ines'))).toEqual({});
});

describe('changes', () => {
  it('may write the fields that are open both before and after', async () => {
    const r = rules(
      { table: T.hives, may: ['see'] },
      { table: T.hives, may: ['change'], where: CONDITIONS[1]!.where, fields: { are: 'only', of: [F.name, F.status] } },
      {
        table: T.hives,
        may: ['change'],
        where: { match: 'all', conditions: [{ left: F.status, op: 'is', right: '"Retired"' }] },
        fields: { are: 'only', of: [F.weight, F.status] },
      },
    );
    const host = await begun(r);
    const said = async (cells: Cells): Promise<string | undefined> =>
      (await host.accept([set(T.hives, 'bramble', cells)], signedIn('ines'))).refused[0]?.reason;
    expect(await said({ [F.status]: 'Retired', [F.weight]: 1 })).toBe('You may not change Weight of this hive.');
    expect(await said({ [F.status]: 'Retired', [F.name]: 'X' })).toBe('You may not change Name of this hive.');
    expect(await said({ [F.status]: 'Retired' })).toBeUndefined();
    expect(await said({ [F.weight]: 1 })).toBeUndefined();
  });
  it('that were taken are taken again when their answer was lost, by whoever sent them alone', async () => {
    const host = await begun(rules({ table: T.hives, may: ['see', 'change'], where: CONDITIONS[2]!.where }));
    // To give a hive away is not allowed; to leave it as it is, is.
    const away = set(T.hives, 'bramble', { [F.keeper]: 'tom' });
    expect((await host.accept([away], signedIn('ines'))).refused[0]!.reason).toBe('You may not change this hive so.');
    const kept = set(T.hives, 'bramble', { [F.weight]: 21 });
    expect((await host.accept([kept], signedIn('ines'))).accepted).toEqual([kept.id]);
    await host.accept([set(T.hives, 'bramble', { [F.keeper]: 'tom' })], OWNER);
    expect((await host.accept([kept], signedIn('ines'))).accepted).toEqual([kept.id]);
    expect((await host.accept([kept], signedIn('odile'))).refused[0]!.reason).toBe('You may not add such Hives.');
  });
  it('are asked about anew when another one comes with an id that was taken, or the same one later', async () => {
    const host = await begun(rules({ table: T.hives, may: ['see', 'change'], where: CONDITIONS[2]!.where }));
    const first = set(T.hives, 'bramble', { [F.weight]: 21 });
    const refused = async (c: Change): Promise<string | undefined> =>
      (await host.accept([c], signedIn('ines'))).refused[0]?.reason;
    expect(await refused(first)).toBeUndefined();
    // A hive of somebody else, a field to give it away, and all that with what looks like the stamp of before.
    const other = set(T.hives, 'clover', { [F.weight]: 99 });
    expect(await refused({ ...other, id: first.id })).toBe('You may not add such Hives.');
    expect(await refused({ ...first, cells: { [F.keeper]: 'tom' } } as Change)).toBe(
      'You may not change this hive so.',
    );
    await host.accept([set(T.hives, 'bramble', { [F.keeper]: 'tom' })], OWNER);
    const again = { ...first, stamp: stamp(), sent: first.stamp } as Change;
    expect(await refused(again)).toBe('You may not add such Hives.');
    expect(host.replica.state('clover')!.cells[F.weight]).toBe(3);
    expect(host.replica.state('bramble')!.cells[F.weight]).toBe(21);
  });
  it('that were taken are known after the host began anew', async () => {
    const r = rules({ table: T.hives, may: ['see', 'change'], where: CONDITIONS[2]!.where });
    const kept: Change[] = [];
    const open = (): Host => new Host(ruledApp(r), { append: async (c) => void kept.push(...c) }, asDocumented);
    const host = open();
    await host.accept(
      [set(T.keepers, 'ines', { [F.mail]: mailOf('ines') }), set(T.hives, 'h', { [F.keeper]: 'ines', [F.weight]: 1 })],
      OWNER,
    );
    const mine = set(T.hives, 'h', { [F.weight]: 2 });
    await host.accept([mine], signedIn('ines'));
    await host.accept([set(T.hives, 'h', { [F.keeper]: 'tom' })], OWNER);
    const next = open();
    next.restore([], kept.slice(), kept.length);
    expect((await next.accept([mine], signedIn('ines'))).accepted).toEqual([mine.id]);
    expect((await next.accept([set(T.hives, 'h', { [F.weight]: 3 })], signedIn('ines'))).accepted).toEqual([]);
  });
  it('are judged by what comes of them: what was written later elsewhere stands', async () => {
    // Whoever sets the weight of an active hive says so with its status; a hive that was retired meanwhile is left alone.
    const r = rules({ table: T.hives, may: ['change'], where: CONDITIONS[1]!.where });
    const host = await begun(r);
    const early = set(T.hives, 'clover', { [F.status]: 'Active', [F.weight]: 99 });
    await host.accept([set(T.hives, 'clover', { [F.status]: 'Retired' })], OWNER);
    expect((await host.accept([early], signedIn('ines'))).accepted).toEqual([]);
    expect(host.replica.state('clover')!.cells[F.weight]).toBe(3);
  });
  it('of amounts are judged by the sum', async () => {
    const r = rules({
      table: T.hives,
      may: ['see', 'change'],
      where: { match: 'all', conditions: [{ left: F.weight, op: 'under', right: '25' }] },
    });
    const host = await begun(r);
    const raise = (by: number): Change => ({
      id: `c${stamps}`,
      stamp: stamp(),
      table: T.hives,
      record: 'bramble',
      do: 'raise',
      by: { [F.weight]: by },
    });
    const [first, second] = [raise(4), raise(4)];
    const receipt = await host.accept([first, second], signedIn('ines'));
    expect(receipt.accepted).toEqual([first.id]);
    expect(receipt.refused[0]!.reason).toBe('You may not change this hive so.');
  });
  it('to fields that are closed are named', async () => {
    const r = rules({ table: T.hives, may: ['see', 'change', 'add'], fields: { are: 'all but', of: [F.weight] } });
    const host = await begun(r);
    const said = async (c: Change): Promise<string | undefined> =>
      (await host.accept([c], signedIn('ines'))).refused[0]?.reason;
    expect(await said(set(T.hives, 'bramble', { [F.name]: 'B', [F.weight]: 1 }))).toBe(
      'You may not change Weight of this hive.',
    );
    expect(await said(set(T.hives, 'new', { [F.name]: 'B', [F.weight]: 1 }))).toBe(
      'You may not fill in Weight of this hive.',
    );
    expect(await said(set(T.hives, 'new', { [F.name]: 'B', [F.weight]: null }))).toBeUndefined();
    const { cells: _cells, ...removal } = set(T.hives, 'new', {}) as Extract<Change, { do: 'set' }>;
    expect(await said({ ...removal, do: 'remove' })).toBe('You may not remove this hive.');
  });
});
