import { beforeEach, describe, expect, it } from 'vitest';
import { NOBODY, OWNER, type Who } from '../access/access.ts';
import type { AppAccess, Rule } from '../app/access-schema.ts';
import type { App } from '../app/schema.ts';
import { KEPT } from '../fields/kept-address.ts';
import { stampText } from '../host/clock.ts';
import type { Change } from '../records/change.ts';
import { F, hiveApp, T } from '../records/fixture.ts';
import { inMemory } from './fixture.ts';
import type { HistoryMessage } from './history.ts';
import type { ReleasedApp } from './released.ts';

const somebody = (person: string): Who => ({ kind: 'somebody', person, mail: `${person}@heatherfield.example` });
const [ann, tom] = [somebody('ann'), somebody('tom')];
const ALL = { match: 'all' as const, conditions: [] };
const OWN = { match: 'all' as const, conditions: [{ left: F.keeper, op: 'is' as const, right: 'person()' }] };
const rule = (id: string, more: Partial<Rule>): Rule => ({
  id,
  who: 'signed in',
  may: ['see'],
  table: T.hives,
  where: ALL,
  ...more,
});
const access = (...rules: Rule[]): AppAccess => ({ opens: 'people', mail: F.mail, roles: [], rules });

let app: App;
let host: ReleasedApp;
let at = 0;
async function does(who: Who, record: string, what: Partial<Change>, table: string = T.hives): Promise<void> {
  const stamp = stampText(1_700_000_000_000 + ++at, 0, 'test');
  const { refused } = await host.accept([{ id: `c${at}`, stamp, table, record, do: 'set', ...what } as Change], who);
  expect(refused).toEqual([]);
}
const asked = (who: Who, record = 'fern', from = 0): Promise<HistoryMessage> =>
  host.history({ table: T.hives, record, from }, who);
const said = async (who: Who): Promise<unknown[]> =>
  (await asked(who)).changes.map(({ did, by, cells }) => [
    did,
    'name' in by ? by.name : by.who,
    ...cells.map((c) => [c.was, c.is]),
  ]);

/** Ann's hive, with a weight that the maker has set and she has changed. */
async function begin(...rules: Rule[]): Promise<void> {
  app = { ...hiveApp(), people: T.keepers, access: access(...rules) };
  host = inMemory(app);
  for (const k of ['ann', 'tom'])
    await does(OWNER, k, { cells: { [F.keeperName]: k, [F.mail]: `${k}@heatherfield.example` } }, T.keepers);
  await does(OWNER, 'fern', { cells: { [F.name]: 'Fern', [F.keeper]: 'ann', [F.weight]: 20 } });
  await does(ann, 'fern', { cells: { [F.weight]: 12 } });
}
const PEOPLE = rule('p', { table: T.keepers });
const CHANGE = rule('c', { may: ['change'], where: OWN });

describe('the history of a record', () => {
  beforeEach(() => begin(rule('s', {}), CHANGE, PEOPLE, rule('h', { may: ['look back'], where: OWN })));

  it('says what changed, when and by whom, the latest first', async () => {
    expect(await said(ann)).toEqual([
      ['changed', 'ann', [20, 12]],
      ['made', 'owner', [null, 'Fern'], [null, 'ann'], [null, 20]],
    ]);
    expect((await asked(ann)).changes[0]!.at).toBe(new Date(1_700_000_000_000 + at).toISOString());
  });
  it('is for those whom a rule lets look back at the record, as it is now', async () => {
    await expect(asked(tom)).rejects.toThrow('no history of this record for you');
    await expect(asked(NOBODY)).rejects.toThrow('no history of this record for you');
    // The same words for a record that is none.
    await expect(asked(tom, 'none')).rejects.toThrow('no history of this record for you');
    await does(OWNER, 'fern', { cells: { [F.keeper]: 'tom' } });
    await expect(asked(ann)).rejects.toThrow('no history');
    expect(await said(tom)).toHaveLength(3);
  });
  it('is the maker’s of a record that was removed, and comes with its return', async () => {
    await does(OWNER, 'fern', { do: 'remove' } as Partial<Change>);
    await expect(asked(ann)).rejects.toThrow('no history');
    expect((await said(OWNER))[0]).toEqual(['removed', 'owner', ['Fern', null], ['ann', null], [12, null]]);
  });
  it('comes in parts', async () => {
    for (let i = 0; i < 130; i++) await does(ann, 'fern', { cells: { [F.weight]: 100 + i } });
    const [first, rest] = [await asked(ann), await asked(ann, 'fern', 100)];
    expect([first.all, first.changes.length, rest.changes.length]).toEqual([132, 100, 32]);
    expect(rest.changes.at(-1)!.did).toBe('made');
  });
  it('says that a file which is not kept any more cannot be put back', async () => {
    const photo = `${KEPT}${'A'.repeat(43)}?ct=image%2Fpng&size=10&name=hive.png`;
    const past = { id: 'x', stamp: stampText(1, 0, 'test'), table: T.hives, record: 'fern', do: 'set' as const };
    const { log } = (host as unknown as { ports: { log: { kept: Change[] } } }).ports;
    log.kept.push({ ...past, cells: { [F.name]: photo } });
    expect((await asked(OWNER)).changes.flatMap((c) => c.cells).filter((c) => c.gone)).toMatchObject([{ was: photo }]);
  });
});

describe('what may not be seen', () => {
  it('is no part of the history: a field that is hidden, or that no rule lets look back at', async () => {
    const but = { are: 'all but' as const, of: [F.weight] };
    await begin(rule('s', { fields: but }), CHANGE, PEOPLE, rule('h', { may: ['look back'] }));
    expect(await said(ann)).toEqual([['made', 'owner', [null, 'Fern'], [null, 'ann']]]);
    await begin(rule('s', {}), CHANGE, PEOPLE, rule('h', { may: ['look back'], fields: but }));
    expect(await said(ann)).toEqual([['made', 'owner', [null, 'Fern'], [null, 'ann']]]);
  });
  it('is who made a change, where that person is not seen', async () => {
    await begin(
      rule('s', {}),
      CHANGE,
      rule('p', { table: T.keepers, fields: { are: 'all but', of: [F.keeperName] } }),
      rule('h', { may: ['look back'] }),
    );
    expect((await said(tom))[0]).toEqual(['changed', 'somebody', [20, 12]]);
    expect((await said(OWNER))[0]).toEqual(['changed', 'ann', [20, 12]]);
  });
  it('is what a device says of who made a change', async () => {
    await begin(rule('s', {}), CHANGE, PEOPLE, rule('h', { may: ['look back'] }));
    await does(ann, 'fern', { cells: { [F.weight]: 13 }, author: 'tom', owner: true });
    expect((await said(OWNER))[0]).toEqual(['changed', 'ann', [12, 13]]);
  });
  it('is all of it, in an app that is open to whoever has its link', async () => {
    host = inMemory(hiveApp());
    await does(NOBODY, 'fern', { cells: { [F.name]: 'Fern' } });
    await expect(asked(NOBODY)).rejects.toThrow('no history');
    expect(await said(OWNER)).toEqual([['made', 'somebody', [null, 'Fern']]]);
  });
});
