import { describe, expect, it } from 'vitest';
import type { Query } from '../document/pieces.ts';
import { allOf } from '../document/queries.ts';
import { LiveQuery } from '../records/live-query.ts';
import { compileQuery } from '../records/query.ts';
import type { Changes } from '../records/changes.ts';
import { Records } from '../records/store.ts';
import type { AskedMessage, ServiceAnswer } from '../services/answer.ts';
import { goodsTable } from '../services/fixture.ts';
import type { Table } from '../tables/schema.ts';
import { VirtualClock } from '../world/clock.ts';
import { MemoryStore } from '../world/memory.ts';
import { Fetched } from './fetched.ts';

const GOODS = 't_goods00000';
const one = { request: 'n_good000000', input: 'v_id00000000', at: '$' };
const goods = (fresh = 60): Table => {
  const table = goodsTable();
  return { ...table, fetched: { ...table.fetched!, fresh, one } };
};
/** What is mine: each leads to a good by its number. */
const favourites: Table = {
  id: 't_favourites',
  name: 'Favourites',
  one: 'favourite',
  fields: [
    { id: 'f_good000000', name: 'Good number', type: 'number' },
    {
      id: 'f_link000000',
      name: 'Good',
      type: 'link',
      link: { kind: 'matched', table: GOODS, from: 'f_good000000', to: 'f_number000', backName: 'Favourites' },
    },
  ],
  titleField: null,
  pictureField: null,
};

const searched: Query = { ...allOf(GOODS), asks: { values: [], search: 'v_search0000' } };
const row = (n: number, name = `Good ${n}`) => ({ id: String(n), cells: { f_number000: n, f_name00000: name } });
const answer = (numbers: number[], more: Partial<ServiceAnswer> = {}): ServiceAnswer => ({
  status: 200,
  said: null,
  picks: {},
  rows: { [GOODS]: numbers.map((n) => row(n)) },
  notes: [],
  next: null,
  ...more,
});

/** A phone that fetches, with a service that answers when the test says so. */
function fetching(table = goods(), store = new MemoryStore(), clock = new VirtualClock(1_000_000)) {
  const records = new Records({ tables: [table, favourites] });
  const waiting: {
    message: AskedMessage;
    answer(a: ServiceAnswer): Promise<void>;
    fail(why: string): Promise<void>;
  }[] = [];
  const asked: AskedMessage[] = [];
  const settle = async (): Promise<void> => {
    for (let i = 0; i < 20; i++) await Promise.resolve();
  };
  const fetched = new Fetched({
    records,
    store,
    clock,
    asks: (message) =>
      new Promise((resolve, reject) => {
        asked.push(message);
        waiting.push({
          message,
          answer: (a) => (resolve(a), settle()),
          fail: (why) => (reject(new Error(why)), settle()),
        });
      }),
  });
  records.fetcher = fetched;
  /** A list as a screen shows it: it hears what changes, and looks again. */
  const list = (query: Query) => {
    const live = new LiveQuery(compileQuery(records, query, []), []);
    let search = '';
    records.watch(LiveQuery.keys(live.query));
    records.subscribe((_tables: ReadonlySet<string>, changes: Changes) => {
      if (live.changed(changes)) look();
    });
    const look = (count = 20): string[] => live.part(0, count, search).rows.map((r) => r.id);
    return {
      look,
      type: (words: string) => ((search = words), look()),
      state: () => live.fetchState(),
    };
  };
  const take = (n = 0) => waiting.splice(n, 1)[0]!;
  return { records, fetched, list, asked, take, waiting, settle, clock, store };
}

describe('a list of a fetched table', () => {
  it('asks once, and shows what comes in its order', async () => {
    const { list, take, asked, settle } = fetching();
    const shown = list(allOf(GOODS));
    expect(shown.look()).toEqual([]);
    await settle();
    expect([shown.state()!.asking, asked.length]).toEqual([true, 1]);
    await take().answer(answer([3, 1, 2]));
    expect(shown.look()).toEqual(['3', '1', '2']);
    expect(shown.state()).toMatchObject({ asking: false, said: null, more: false, at: 1_000_000 });
    await settle();
    expect(asked.length).toBe(1);
  });

  it('asks for what is typed when somebody rests, and a late answer replaces nothing newer', async () => {
    const { list, take, asked, clock, settle } = fetching();
    const shown = list(searched);
    shown.look();
    await settle();
    await take().answer(answer([1, 2, 3]));
    for (const words of ['h', 'ho', 'w', 'wa', 'wax']) {
      expect(shown.type(words)).toEqual(['1', '2', '3']);
      await clock.pass(words === 'w' ? 400 : 100);
    }
    await clock.pass(300);
    await settle();
    // Only the words at which they rested.
    expect(asked.slice(1).map((m) => m.inputs['v_search0000'])).toEqual(['w', 'wax']);
    await take(1).answer(answer([7]));
    expect(shown.look()).toEqual(['7']);
    await take(0).answer(answer([8, 9]));
    expect(shown.look()).toEqual(['7']);
    // What was asked before is there at once.
    expect(shown.type('w')).toEqual(['8', '9']);
  });

  it('comes in pages as people scroll, each asked for once', async () => {
    const { list, take, asked, settle } = fetching();
    const shown = list(allOf(GOODS));
    shown.look();
    await settle();
    await take().answer(answer([1, 2], { next: 2 }));
    shown.look(2);
    shown.look(2);
    await settle();
    expect(asked[1]).toMatchObject({ page: 2, before: 2 });
    expect(asked.length).toBe(2);
    await take().answer(answer([2, 3], { next: null }));
    expect(shown.look()).toEqual(['1', '2', '3']);
    await settle();
    expect(asked.length).toBe(2);
  });

  it('is fresh for its time, and asked for again after it or when people pull', async () => {
    const { list, take, asked, clock, settle, fetched } = fetching(goods(60));
    const shown = list(allOf(GOODS));
    shown.look();
    await settle();
    await take().answer(answer([1]));
    await clock.pass(59_000);
    list(allOf(GOODS)).look();
    await settle();
    expect(asked.length).toBe(1);
    await clock.pass(2000);
    shown.look();
    await settle();
    expect(asked.length).toBe(2);
    await take().answer(answer([2]));
    fetched.refresh();
    await settle();
    expect(asked.length).toBe(3);
    expect(shown.look()).toEqual(['2']);
  });

  it('that never counts as fresh is asked for at each opening, and not without end', async () => {
    const { list, take, asked, clock, settle } = fetching(goods(0));
    const shown = list(allOf(GOODS));
    shown.look();
    await settle();
    await take().answer(answer([1]));
    for (let i = 0; i < 5; i++) {
      await clock.pass(5000);
      shown.look();
      await settle();
    }
    expect(asked.length).toBe(1);
    list(allOf(GOODS)).look();
    await settle();
    expect(asked.length).toBe(2);
  });

  it('says why nothing came, rests, and tries again when there is a way', async () => {
    const { list, take, asked, settle, fetched, clock } = fetching();
    const shown = list(allOf(GOODS));
    shown.look();
    await settle();
    await take().fail('The host cannot be reached.');
    expect(shown.state()).toMatchObject({ asking: false, said: 'The host cannot be reached.' });
    shown.look();
    await clock.pass(1000);
    await settle();
    expect(asked.length).toBe(1);
    fetched.retry();
    await settle();
    expect(asked.length).toBe(2);
    await take().answer(answer([], { said: 'The service refuses.', notes: ['Too many.'], rows: {} }));
    expect(shown.state()!.said).toBe('The service refuses. It says: Too many.');
  });

  it('is there without a network, with its age; so is each record of it', async () => {
    const before = fetching();
    before.list(allOf(GOODS)).look();
    await before.settle();
    await before.take().answer(answer([4, 5]));
    await before.settle();
    const clock = new VirtualClock(9_000_000);
    const later = fetching(goods(), before.store, clock);
    const shown = later.list(allOf(GOODS));
    shown.look();
    await later.settle();
    await later.take().fail('The host cannot be reached.');
    expect(shown.look()).toEqual(['4', '5']);
    expect(shown.state()).toMatchObject({ at: 1_000_000, said: 'The host cannot be reached.' });
    const alone = fetching(goods(), before.store, clock);
    expect(alone.fetched.one(GOODS, '5').asking).toBe(true);
    await alone.settle();
    expect(alone.records.row(GOODS, '5')!.get('f_name00000')).toBe('Good 5');
  });
});

describe('a single record', () => {
  it('is asked for by its key where a link leads to it, once', async () => {
    const { records, asked, take, settle, clock } = fetching();
    records.set('t_favourites', 'r_mine000000', { f_good000000: 5 });
    const name = (): unknown => {
      const good = records.row('t_favourites', 'r_mine000000')!.get('f_link000000');
      return good && (good as { get(f: string): unknown }).get('f_name00000');
    };
    expect([name(), name()]).toEqual([null, null]);
    await settle();
    expect(asked).toEqual([{ request: 'n_good000000', inputs: { v_id00000000: '5' } }]);
    await take().answer(answer([5]));
    expect(name()).toBe('Good 5');
    records.set('t_favourites', 'r_mine000000', { f_good000000: 6 });
    name();
    await settle();
    await take().answer(answer([]));
    name();
    await clock.pass(1000);
    await settle();
    expect(asked.length).toBe(2);
  });
});
