import { beforeEach, describe, expect, it } from 'vitest';
import { OWNER, type Who } from '../access/access.ts';
import { approvalOf, beginWithApproval, canNeedApproval, STATES, type Approval } from '../app/approval.ts';
import { readApp } from '../app/document.ts';
import type { App, Element } from '../app/schema.ts';
import { addScreensFor, screensThere } from '../app/screens-for.ts';
import { thisId } from '../document/ids.ts';
import { walkElements } from '../document/walk.ts';
import { stampText } from '../host/clock.ts';
import { preflight, stops } from '../preflight/preflight.ts';
import { completed } from '../records/begin.ts';
import { F, hiveApp, T } from '../records/fixture.ts';
import type { Cells } from '../records/store.ts';
import { inMemory } from './fixture.ts';
import type { ReleasedApp } from './released.ts';

const somebody = (person: string): Who => ({ kind: 'somebody', person, mail: `${person}@heatherfield.example` });
const [ann, tom, odile] = ['ann', 'tom', 'odile'].map(somebody) as [Who, Who, Who];
let app: App;
let by: Approval;
let host: ReleasedApp;
let at = 0;
/** Writes as somebody; gives why it was refused, or null. */
async function write(who: Who, record: string, cells: Cells, table: string = T.hives): Promise<string | null> {
  const stamp = stampText(1_700_000_000_000 + ++at, 0, 'test');
  const { refused } = await host.accept([{ id: `c${at}`, stamp, table, record, do: 'set', cells }], who);
  return refused[0]?.reason ?? null;
}
const seenBy = (who: Who): string[] => {
  const { access } = host.host;
  const all = [...access.allSeen!(access.rights(who))].filter((s) => s.table === T.hives);
  return all.map((s) => s.id).sort();
};

beforeEach(async () => {
  app = hiveApp();
  for (const t of app.tables) addScreensFor(app, t.id);
  by = beginWithApproval(app, T.hives)!;
  host = inMemory(app);
  const approves = app.tables.find((t) => t.id === T.keepers)!.fields.at(-1)!.id;
  for (const k of ['ann', 'tom', 'odile'])
    await write(
      OWNER,
      k,
      { [F.keeperName]: k, [F.mail]: `${k}@heatherfield.example`, [approves]: k === 'odile' },
      T.keepers,
    );
  await write(OWNER, 'old', { [F.name]: 'Old', [F.keeper]: 'tom' });
});

describe('records that need approval', () => {
  it('are a document that can be released, and are found again', () => {
    expect(readApp(structuredClone(app))).toEqual(app);
    expect(stops(preflight(app))).toBe(false);
    expect(approvalOf(app.tables.find((t) => t.id === T.hives)!)).toEqual(by);
    // It is asked for once.
    expect(canNeedApproval(app).map((t) => t.table.id)).toEqual([]);
  });
  it('wait, and are seen by their own and those who approve, until they are accepted', async () => {
    const mine = { [F.name]: 'Fern', [F.keeper]: 'ann', [by.state.id]: STATES.waiting };
    expect(await write(ann, 'fern', mine)).toBeNull();
    expect([ann, tom, odile].map(seenBy)).toEqual([['fern', 'old'], ['old'], ['fern', 'old']]);
    expect(await write(odile, 'fern', { [by.state.id]: STATES.back, [by.reply.id]: 'Which apiary?' })).toBeNull();
    expect([ann, tom].map(seenBy)).toEqual([['fern', 'old'], ['old']]);
    expect(await write(ann, 'fern', { [F.tag]: 'HB-1', [by.state.id]: STATES.waiting })).toBeNull();
    expect(await write(odile, 'fern', { [by.state.id]: STATES.accepted })).toBeNull();
    expect([ann, tom, odile].map(seenBy)).toEqual([
      ['fern', 'old'],
      ['fern', 'old'],
      ['fern', 'old'],
    ]);
  });
  it('are accepted by nobody else, at no stage', async () => {
    const own = { [F.name]: 'Fern', [F.keeper]: 'ann' };
    // Added as accepted, without a state, for somebody else, or with the words of who approves.
    expect(await write(ann, 'n1', { ...own, [by.state.id]: STATES.accepted })).not.toBeNull();
    expect(await write(ann, 'n2', own)).not.toBeNull();
    expect(await write(ann, 'n3', { ...own, [F.keeper]: 'tom', [by.state.id]: STATES.waiting })).not.toBeNull();
    const withWords = { ...own, [by.state.id]: STATES.waiting, [by.reply.id]: 'Fine!' };
    expect(await write(ann, 'n4', withWords)).not.toBeNull();
    expect(await write(ann, 'fern', { ...own, [by.state.id]: STATES.waiting })).toBeNull();
    for (const state of [STATES.accepted, null]) {
      expect(await write(ann, 'fern', { [by.state.id]: state })).not.toBeNull();
      expect(await write(tom, 'fern', { [by.state.id]: state })).not.toBeNull();
    }
    expect(await write(ann, 'fern', { [by.reply.id]: 'Fine!' })).not.toBeNull();
    expect(await write(ann, 'fern', { [F.keeper]: 'tom' })).not.toBeNull();
    await write(odile, 'fern', { [by.state.id]: STATES.accepted });
    // What was accepted is changed by those who approve alone, also what was there before.
    expect(await write(ann, 'fern', { [F.name]: 'Other' })).not.toBeNull();
    expect(await write(ann, 'fern', { [by.state.id]: STATES.waiting })).not.toBeNull();
    expect(await write(tom, 'old', { [F.name]: 'Other' })).not.toBeNull();
    expect(await write(odile, 'old', { [F.name]: 'Other' })).toBeNull();
  });
  it('are approved by those alone who are let: nobody makes themselves one of them', async () => {
    const approves = app.tables.find((t) => t.id === T.keepers)!.fields.at(-1)!;
    expect(approves.name).toBe('Approves');
    expect(await write(ann, 'ann', { [F.keeperName]: 'Ann F.' }, T.keepers)).toBeNull();
    expect(await write(ann, 'ann', { [approves.id]: true }, T.keepers)).not.toBeNull();
    expect(preflight(app).filter((n) => n.severity === 'stops')).toEqual([]);
  });
  it('theirs are accepted at once: what a record begins with says so', () => {
    const { records } = host.host.replica;
    const said = (record: string): unknown => {
      records.beUsedBy(`${record}@heatherfield.example`, { table: T.keepers, record });
      const [draft] = completed(records, [{ do: 'set', table: T.hives, record: 'fresh', cells: { [F.name]: 'New' } }]);
      return (draft as { cells: Cells }).cells[by.state.id];
    };
    expect([said('ann'), said('odile')]).toEqual([STATES.waiting, STATES.accepted]);
  });
  it('have a list of what waits, open to the role, and buttons on the screen of the record', () => {
    const list = app.screens.find((s) => s.name === 'To approve')!;
    expect(list.roles).toEqual([app.access!.roles[0]!.id]);
    expect(app.tabs.some((t) => t.screen === list.id)).toBe(true);
    const detail = app.screens.find((s) => s.id === screensThere(app).get(T.hives)!.detail)!;
    const words: string[] = [];
    walkElements<Element>([detail.root], (e) => void (e.kind === 'button' && words.push(e.words)));
    expect(words).toEqual(expect.arrayContaining(['Accept', 'Send back', 'Submit again']));
    expect(JSON.stringify(list.root)).toContain(thisId(T.hives));
  });
});
