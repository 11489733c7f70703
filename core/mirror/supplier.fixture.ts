import { OWNER } from '../access/access.ts';
import type { App } from '../app/schema.ts';
import { keepInStep } from '../app/services.ts';
import { MemoryText } from '../document/kept-text.ts';
import { stampText } from '../host/clock.ts';
import { Host } from '../host/host.ts';
import type { Change } from '../records/change.ts';
import type { Cell } from '../fields/lists.ts';
import { hiveApp } from '../records/fixture.ts';
import { serviceAnswer, type CameBack, type Outgoing } from '../services/answer.ts';
import { goodsRequest, goodsTable, supplier } from '../services/fixture.ts';
import type { ServiceRequest } from '../services/schema.ts';
import type { Table } from '../tables/schema.ts';
import { VirtualClock } from '../world/clock.ts';
import { InStep } from './in-step.ts';
import { asFetched } from './service-step.ts';
import type { MirrorStatus } from './state.ts';

export const GOODS = 't_goods00000';
export const NUMBER = 'f_number000';
export const NAME = 'f_name00000';
export const PRICE = 'f_price0000';

const input = (id: string, type: 'text' | 'number', optional: boolean) => ({
  id,
  name: id,
  type,
  ...(optional && { optional: true as const }),
});
const ID = input('v_id0000000', 'number', false);
const BODY = [input('v_name00000', 'text', true), input('v_price0000', 'number', true)];
const JSON_BODY = { is: 'json' as const, json: '{ "name": "{v_name00000}", "price": { "amount": "{v_price0000}" } }' };

const request = (id: string, more: Partial<ServiceRequest>): ServiceRequest => goodsRequest({ ...more, id, name: id });
const one = '$';
const values = [
  { input: 'v_name00000', field: NAME },
  { input: 'v_price0000', field: PRICE },
];

/** An app of hives that keeps the goods of a supplier in step. */
export function appInStep(more: Partial<Table['inStep']> = {}): App {
  const table = goodsTable({
    fetched: {
      request: 'n_goods00000',
      rows: '$.items[*]',
      key: NUMBER,
      fresh: 60,
      one: { request: 'n_one000000', input: ID.id, at: one },
      adds: { request: 'n_add000000', values, at: one },
      changes: { request: 'n_change000', values: [{ input: ID.id, field: NUMBER }, ...values], at: one },
      removes: { request: 'n_remove000', input: ID.id },
    },
  });
  keepInStep(table, 15);
  Object.assign(table.inStep!, more);
  return {
    ...hiveApp(),
    tables: [...hiveApp().tables, table],
    services: [
      supplier({
        requests: [
          goodsRequest({
            inputs: [input('v_page00000', 'number', true)],
            query: [{ name: 'page', value: '{v_page00000}' }],
            paging: { by: 'page', input: 'v_page00000', first: 1 },
          }),
          request('n_one000000', { path: '/goods/{v_id0000000}', inputs: [ID] }),
          request('n_add000000', { method: 'POST', inputs: BODY, body: JSON_BODY }),
          request('n_change000', {
            method: 'PATCH',
            path: '/goods/{v_id0000000}',
            inputs: [ID, ...BODY],
            body: JSON_BODY,
          }),
          request('n_remove000', { method: 'DELETE', path: '/goods/{v_id0000000}', inputs: [ID] }),
        ],
      }),
    ],
  };
}

export interface Good {
  id: number;
  name: string | null;
  price: { amount: number | null };
}

/** A supplier in memory: pages of three, one, add, change, remove. */
export class Supplier {
  readonly goods = new Map<number, Good>();
  readonly asked: string[] = [];
  /** Answers in place of the supplier where it gives something. */
  fault: (method: string, path: string) => CameBack | null = () => null;
  /** It knows nothing of pages, and gives everything each time. */
  pageless = false;
  private next = 1;

  add(name: string | null, amount: number | null): Good {
    const good = { id: this.next++, name, price: { amount } };
    this.goods.set(good.id, good);
    return good;
  }

  send = async (asked: Outgoing): Promise<CameBack> => {
    const { method, url, body } = asked.filled;
    const { pathname, searchParams } = new URL(url);
    this.asked.push(`${method} ${pathname}${searchParams.size ? `?${searchParams}` : ''}`);
    const fault = this.fault(method, pathname);
    if (fault) return fault;
    const given = body ? (JSON.parse(String(body)) as { name?: string; price?: { amount?: number } }) : {};
    const id = Number(/\/goods\/(\d+)$/.exec(pathname)?.[1] ?? 0);
    const good = this.goods.get(id);
    if (method === 'POST') {
      if (given.name === 'refused') return reply(422, { detail: 'No such name.' });
      return reply(201, this.add(given.name ?? null, given.price?.amount ?? null));
    }
    if (!id) {
      if (this.pageless) return reply(200, { items: [...this.goods.values()] });
      const page = Number(searchParams.get('page') ?? 1);
      return reply(200, { items: [...this.goods.values()].slice(3 * page - 3, 3 * page) });
    }
    if (!good) return reply(404, { detail: 'No such good.' });
    if (method === 'DELETE') this.goods.delete(id);
    else if (method === 'PATCH') {
      if ('name' in given) good.name = given.name ?? null;
      if (given.price && 'amount' in given.price) good.price.amount = given.price.amount ?? null;
    }
    return reply(200, good);
  };
}

/** An answer in JSON. */
export const reply = (status: number, value: unknown): CameBack => ({
  reply: {
    status,
    headers: [['content-type', 'application/json']],
    body: new TextEncoder().encode(JSON.stringify(value)),
    ms: 1,
    url: 'https://test.goods.example/v1/',
  },
  tries: 1,
});

/** A host with a table that is kept in step with a supplier in memory. */
export class Trial {
  readonly clock = new VirtualClock(Date.UTC(2026, 10, 30, 9));
  readonly supplier = new Supplier();
  readonly host: Host;
  readonly text = new MemoryText();
  /** What was sent again though it had been sent before. */
  readonly again: string[] = [];
  inStep!: InStep;
  private n = 0;

  constructor(public app: App = appInStep()) {
    this.host = new Host(app, { append: async () => {} }, undefined, () => this.clock.now());
  }

  async start(): Promise<void> {
    this.inStep = new InStep(
      this.text,
      () => this.app,
      this.host,
      (message, again) => {
        if (again) this.again.push(message.once ?? '');
        return serviceAnswer(asFetched(this.app), message, 'live', {
          send: this.supplier.send,
          now: () => this.clock.now(),
          toLocal: (instant) => instant,
        });
      },
      () => {},
      this.clock,
    );
    await this.inStep.start();
    await this.settled();
  }

  /** Lets so much time pass that changes are told to the service, and waits until they are. */
  async told(): Promise<void> {
    await this.clock.pass(1500);
    // What is told may lead to a look at everything.
    await this.mirror.settled();
    await this.mirror.settled();
    await this.clock.settle();
  }

  /** Looks at everything once. */
  async settled(): Promise<void> {
    await this.mirror.look();
  }
  get mirror() {
    return this.inStep.get(GOODS);
  }
  get status(): MirrorStatus {
    return this.mirror.now;
  }

  async change(change: Partial<Change> & { record: string }): Promise<void> {
    const stamp = stampText(this.clock.now() + 10 + this.n, this.n, 'test');
    const full = { do: 'set', table: GOODS, id: `t${this.n++}`, stamp, cells: {}, ...change };
    const receipt = await this.host.accept([full as Change], OWNER);
    if (receipt.refused.length > 0) throw new Error(receipt.refused[0]!.reason);
  }

  /** The records here, by key, as the supplier would tell them. */
  here(): [Cell, Cell, Cell][] {
    return this.host.replica.records
      .rows(GOODS)
      .map((r): [Cell, Cell, Cell] => [r.cells[NUMBER] ?? null, r.cells[NAME] ?? null, r.cells[PRICE] ?? null])
      .toSorted((a, b) => Number(a[0]) - Number(b[0]));
  }
  there(): [Cell, Cell, Cell][] {
    return [...this.supplier.goods.values()].map((g) => [g.id, g.name, g.price.amount]);
  }
  recordOf(name: string): string {
    return this.host.replica.records.rows(GOODS).find((r) => r.cells[NAME] === name)!.id;
  }
}
