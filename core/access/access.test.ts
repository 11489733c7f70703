import { describe, expect, it } from 'vitest';
import { stampText } from '../host/clock.ts';
import type { News } from '../host/protocol.ts';
import { Host } from '../host/host.ts';
import { F, T, hiveApp } from '../records/fixture.ts';
import { NOBODY, OWNER, openToLinkHolders } from './access.ts';
import { accessWith } from './fixture.ts';
import { Records } from '../records/store.ts';

const log = { append: async () => undefined };
const change = (table: string, record: string, cells: Record<string, string>) => ({
  id: `c-${record}`,
  stamp: stampText(Date.now(), 0, 'aaaa'),
  table,
  record,
  do: 'set' as const,
  cells,
});
const keepersAreSecret = accessWith({
  mayRead: (rights, s) => rights === 'owner' || s.table !== T.keepers,
  refusal: (who, c) => (who.kind === 'nobody' && c.table === T.keepers ? 'Only the owner changes keepers.' : null),
});

describe('access stands in the path of every read and write', () => {
  it('what a person may not see never leaves the host', async () => {
    const host = new Host(hiveApp(), log, keepersAreSecret);
    const heard: News[] = [];
    host.subscribe(NOBODY, (n) => heard.push(n));
    await host.accept(
      [
        change(T.hives, 'h1', { [F.name]: 'Bramble' }),
        change(T.keepers, 'k1', { [F.keeperName]: 'Odile' }),
        change(T.hives, 'h2', { [F.name]: 'Clover' }),
      ],
      OWNER,
    );
    expect(heard.flatMap((n) => n.given?.map((s) => s.id) ?? [])).toEqual(['h1', 'h2']);
    const all = await host.compare({ after: null, upTo: null, records: [] }, NOBODY);
    expect(all.states.map((s) => s.id)).toEqual(['h1', 'h2']);
    const owner = await host.compare({ after: null, upTo: null, records: [] }, OWNER);
    expect(owner.states).toHaveLength(3);
  });
  it('one phone that leaves does not end the news of the others', async () => {
    const host = new Host(hiveApp(), log);
    const heard: string[] = [];
    const leave = host.subscribe(NOBODY, () => heard.push('the one that left'));
    host.subscribe(NOBODY, () => heard.push('the one that stayed'));
    leave();
    await host.accept([change(T.hives, 'h1', { [F.name]: 'Bramble' })], NOBODY);
    expect(heard).toEqual(['the one that stayed']);
  });
  it('what a person may not change is refused with the reason', async () => {
    const host = new Host(hiveApp(), log, keepersAreSecret);
    const receipt = await host.accept([change(T.keepers, 'k1', { [F.keeperName]: 'X' })], NOBODY);
    expect(receipt.refused[0]!.reason).toBe('Only the owner changes keepers.');
    expect(host.replica.size).toBe(0);
  });
  it('for now an app is open to whoever has its link', () => {
    const access = openToLinkHolders(new Records(hiveApp()), hiveApp);
    expect([access.isOpen, access.refusal(NOBODY, change(T.hives, 'h', {}))]).toEqual([true, null]);
    expect(access.rights(NOBODY)).toBe(access.rights(OWNER));
  });
});
