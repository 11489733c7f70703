import { describe, expect, it } from 'vitest';
import { stampText } from '../host/clock.ts';
import type { News } from '../host/protocol.ts';
import { Host } from '../host/host.ts';
import { F, T, hiveApp } from '../records/fixture.ts';
import { openToLinkHolders, type Access } from './access.ts';

const log = { append: async () => undefined };
const change = (table: string, record: string, cells: Record<string, string>) => ({
  id: `c-${record}`,
  stamp: stampText(Date.now(), 0, 'aaaa'),
  table,
  record,
  do: 'set' as const,
  cells,
});
const keepersAreSecret: Access = {
  mayRead: (who, table) => who.kind === 'owner' || table !== T.keepers,
  refusal: (who, c) => (who.kind === 'link' && c.table === T.keepers ? 'Only the owner changes keepers.' : null),
};

describe('access stands in the path of every read and write', () => {
  it('what a person may not see never leaves the host', async () => {
    const host = new Host(hiveApp(), log, keepersAreSecret);
    const heard: News[] = [];
    host.subscribe({ kind: 'link' }, (n) => heard.push(n));
    await host.accept(
      [
        change(T.hives, 'h1', { [F.name]: 'Bramble' }),
        change(T.keepers, 'k1', { [F.keeperName]: 'Odile' }),
        change(T.hives, 'h2', { [F.name]: 'Clover' }),
      ],
      { kind: 'owner' },
    );
    expect(heard.flatMap((n) => n.changes.map((c) => c.record))).toEqual(['h1', 'h2']);
    const all = host.catchUp(0, { kind: 'link' });
    expect('states' in all && all.states.map((s) => s.id)).toEqual(['h1', 'h2']);
    const later = host.catchUp(1, { kind: 'link' });
    expect('changes' in later && later.changes.map((c) => c.record)).toEqual(['h2']);
    const owner = host.catchUp(0, { kind: 'owner' });
    expect('states' in owner && owner.states).toHaveLength(3);
  });
  it('one phone that leaves does not end the news of the others', async () => {
    const host = new Host(hiveApp(), log);
    const heard: string[] = [];
    const leave = host.subscribe({ kind: 'link' }, () => heard.push('the one that left'));
    host.subscribe({ kind: 'link' }, () => heard.push('the one that stayed'));
    leave();
    await host.accept([change(T.hives, 'h1', { [F.name]: 'Bramble' })], { kind: 'link' });
    expect(heard).toEqual(['the one that stayed']);
  });
  it('what a person may not change is refused with the reason', async () => {
    const host = new Host(hiveApp(), log, keepersAreSecret);
    const receipt = await host.accept([change(T.keepers, 'k1', { [F.keeperName]: 'X' })], { kind: 'link' });
    expect(receipt.refused[0]!.reason).toBe('Only the owner changes keepers.');
    expect(host.replica.size).toBe(0);
  });
  it('for now an app is open to whoever has its link', () => {
    expect(openToLinkHolders.mayRead({ kind: 'link' }, T.keepers)).toBe(true);
    expect(openToLinkHolders.refusal({ kind: 'link' }, change(T.hives, 'h', {}))).toBeNull();
  });
});
