import { describe, expect, it } from 'vitest';
import { NOBODY, OWNER, type AccessTo, type Who } from '../access/access.ts';
import { keepersRules } from '../access/fixture.ts';
import { stampText } from '../host/clock.ts';
import { Host } from '../host/host.ts';
import type { News } from '../host/protocol.ts';
import type { Change, RecordState } from '../records/change.ts';
import { F, hiveApp, T } from '../records/fixture.ts';
import { deviceClock } from '../document/time.ts';
import { Audiences } from './audiences.ts';

let n = 0;
const set = (table: string, record: string, cells: RecordState['cells']): Change => ({
  id: `c${++n}`,
  stamp: stampText(1_700_000_000_000 + n, 0, 'test'),
  table,
  record,
  do: 'set',
  cells,
});
const somebody = (person: string): Who => ({ kind: 'somebody', person });

function open(access?: AccessTo) {
  const host = new Host(hiveApp(), { append: async () => undefined }, access);
  const sent: { to: string[]; news: News }[] = [];
  const audiences = new Audiences(host, (to, news) => sent.push({ to, news }), deviceClock);
  const write = (...changes: Change[]) => host.accept(changes, OWNER);
  /** After what was told together has gone out. */
  const later = () => new Promise((r) => setTimeout(r, 60));
  return { host, sent, audiences, write, later };
}

describe('what happens to an app', () => {
  it('goes out at once, then together; one message for all in an open app', async () => {
    const { audiences, sent, write, later } = open();
    audiences.begin(NOBODY);
    audiences.begin(OWNER);
    await write(set(T.hives, 'h1', { [F.name]: 'One' }));
    await write(set(T.hives, 'h1', { [F.name]: 'Two' }));
    await write(set(T.hives, 'h1', { [F.name]: 'Three' }));
    expect(sent.map((m) => [m.to, m.news.at])).toEqual([[['nobody', 'owner'], 1]]);
    await later();
    expect(sent.map((m) => [m.news.at, m.news.from, m.news.changes.length])).toEqual([
      [1, 0, 1],
      [3, 1, 2],
    ]);
  });
  it('is told nobody who listens no more', async () => {
    const { audiences, sent, write, later } = open();
    audiences.begin(NOBODY);
    audiences.begin(OWNER);
    audiences.end(NOBODY);
    await write(set(T.hives, 'h1', { [F.name]: 'One' }));
    audiences.end(OWNER);
    await write(set(T.hives, 'h1', { [F.name]: 'Two' }));
    await later();
    expect(sent.map((m) => m.to)).toEqual([['owner']]);
  });
  it('is one message for those of the same rights, and for others what they may read', async () => {
    const { audiences, sent, write } = open(keepersRules);
    await write(set(T.keepers, 'odile', { [F.nearby]: true }), set(T.keepers, 'ines', {}));
    for (const who of [OWNER, somebody('odile'), somebody('ines'), NOBODY]) audiences.begin(who);
    await write(set(T.hives, 'h1', { [F.name]: 'One', [F.keeper]: 'ines' }));
    const told = sent.map((m) => [m.to, m.news.given?.map((s) => s.id) ?? []]);
    expect(told).toEqual([
      [['owner', 'somebody odile'], ['h1']],
      [['somebody ines'], ['h1']],
      // Whoever sees nothing of it does not even hear that something has happened.
    ]);
  });
  it('leads somebody whose rights change from one to the other, and them alone', async () => {
    const { audiences, sent, write, later } = open(keepersRules);
    await write(set(T.keepers, 'tom', { [F.nearby]: false }), set(T.hives, 'h1', { [F.name]: 'One' }));
    for (const who of [OWNER, somebody('tom')]) audiences.begin(who);
    await write(set(T.keepers, 'tom', { [F.nearby]: true }));
    const moved = sent.find((m) => m.news.was !== undefined)!;
    expect([moved.to, moved.news.given!.map((s) => s.id).sort()]).toEqual([['somebody tom'], ['h1', 'tom']]);
    await later();
    sent.length = 0;
    await write(set(T.hives, 'h1', { [F.name]: 'Two' }));
    expect(sent.map((m) => [m.to, m.news.view])).toEqual([[['owner', 'somebody tom'], moved.news.view]]);
  });
  it('tells nobody whose rights have changed what was about to be told before', async () => {
    const { audiences, sent, write, later } = open(keepersRules);
    await write(set(T.keepers, 'tom', { [F.nearby]: true }), set(T.hives, 'h1', { [F.name]: 'One' }));
    for (const who of [OWNER, somebody('tom')]) audiences.begin(who);
    await write(set(T.hives, 'h1', { [F.weight]: 1 }));
    await write(set(T.hives, 'h1', { [F.weight]: 2 }));
    await write(set(T.hives, 'h1', { [F.weight]: 3 }), set(T.keepers, 'tom', { [F.nearby]: false }));
    await later();
    const toTom = sent.filter((m) => m.to.includes('somebody tom'));
    expect(toTom.map((m) => [m.news.from, m.news.at, JSON.stringify(m.news).includes('"f_weight0":2')])).toEqual([
      [2, 3, false],
      [3, 6, false],
    ]);
    expect(sent.filter((m) => m.to.includes('owner')).map((m) => [m.news.from, m.news.at])).toEqual([
      [2, 3],
      [3, 6],
    ]);
  });
  it('leads those whose rights change before the others hear of it', async () => {
    const { audiences, sent, write, later } = open(keepersRules);
    await write(set(T.keepers, 'tom', { [F.nearby]: true }), set(T.hives, 'h1', { [F.name]: 'One' }));
    for (const who of [OWNER, somebody('tom')]) audiences.begin(who);
    await later();
    await write(set(T.keepers, 'tom', { [F.nearby]: false }));
    expect(sent.map((m) => [m.to, m.news.from, m.news.at, m.news.was !== undefined])).toEqual([
      [['somebody tom'], 2, 3, true],
      [['owner'], 2, 3, false],
    ]);
  });
});
