import { describe, expect, it } from 'vitest';
import { NOBODY, OWNER, type AccessTo, type Who } from '../core/access/access.ts';
import { keepersRules } from '../core/access/fixture.ts';
import { stampText } from '../core/host/clock.ts';
import { Host } from '../core/host/host.ts';
import type { News } from '../core/host/protocol.ts';
import type { Change, RecordState } from '../core/records/change.ts';
import { F, hiveApp, T } from '../core/records/fixture.ts';
import { Broadcasts, type Message } from './broadcast.ts';

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
  const sent: Message[] = [];
  const broadcasts = new Broadcasts(host, (m) => sent.push(m));
  const said = (m: Message): News =>
    JSON.parse(/^event: news\ndata: (.*)\n\n$/.exec(new TextDecoder().decode(m.message))![1]!);
  const write = (...changes: Change[]) => host.accept(changes, OWNER);
  /** After what was told together has gone out. */
  const later = () => new Promise((r) => setTimeout(r, 60));
  return { host, sent, broadcasts, said, write, later };
}

describe('what happens to an app', () => {
  it('goes out at once, then together; one message for all in an open app', async () => {
    const { broadcasts, sent, said, write, later } = open();
    broadcasts.begin(NOBODY);
    broadcasts.begin(OWNER);
    await write(set(T.hives, 'h1', { [F.name]: 'One' }));
    await write(set(T.hives, 'h1', { [F.name]: 'Two' }));
    await write(set(T.hives, 'h1', { [F.name]: 'Three' }));
    expect(sent.map((m) => [m.to, m.at])).toEqual([[['nobody', 'owner'], 1]]);
    await later();
    expect(sent.map((m) => [m.at, said(m).from, said(m).changes.length])).toEqual([
      [1, 0, 1],
      [3, 1, 2],
    ]);
  });
  it('is told nobody who listens no more', async () => {
    const { broadcasts, sent, write, later } = open();
    broadcasts.begin(NOBODY);
    broadcasts.begin(OWNER);
    broadcasts.end(NOBODY);
    await write(set(T.hives, 'h1', { [F.name]: 'One' }));
    broadcasts.end(OWNER);
    await write(set(T.hives, 'h1', { [F.name]: 'Two' }));
    await later();
    expect(sent.map((m) => m.to)).toEqual([['owner']]);
  });
  it('is one message for those of the same rights, and for others what they may read', async () => {
    const { broadcasts, sent, said, write } = open(keepersRules);
    await write(set(T.keepers, 'odile', { [F.nearby]: true }), set(T.keepers, 'ines', {}));
    for (const who of [OWNER, somebody('odile'), somebody('ines'), NOBODY]) broadcasts.begin(who);
    await write(set(T.hives, 'h1', { [F.name]: 'One', [F.keeper]: 'ines' }));
    const told = sent.map((m) => [m.to, said(m).given?.map((s) => s.id) ?? []]);
    expect(told).toEqual([
      [['owner', 'somebody odile'], ['h1']],
      [['somebody ines'], ['h1']],
      [['nobody'], []],
    ]);
  });
  it('leads somebody whose rights change from one to the other, and them alone', async () => {
    const { broadcasts, sent, said, write, later } = open(keepersRules);
    await write(set(T.keepers, 'tom', { [F.nearby]: false }), set(T.hives, 'h1', { [F.name]: 'One' }));
    for (const who of [OWNER, somebody('tom')]) broadcasts.begin(who);
    await write(set(T.keepers, 'tom', { [F.nearby]: true }));
    const moved = sent.find((m) => said(m).was !== undefined)!;
    expect([
      moved.to,
      said(moved)
        .given!.map((s) => s.id)
        .sort(),
    ]).toEqual([['somebody tom'], ['h1', 'tom']]);
    await later();
    sent.length = 0;
    await write(set(T.hives, 'h1', { [F.name]: 'Two' }));
    expect(sent.map((m) => [m.to, m.view])).toEqual([[['owner', 'somebody tom'], moved.view]]);
  });
});
