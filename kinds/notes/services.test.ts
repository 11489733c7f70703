import { describe, expect, it } from 'vitest';
import { preflight } from '../../core/preflight/preflight.ts';
import { hiveApp } from '../../core/records/fixture.ts';
import { goodsRequest, goodsTable, supplier } from '../../core/services/fixture.ts';
import type { Table } from '../../core/tables/schema.ts';
import type { Service } from '../../core/services/schema.ts';

const notes = (more: Partial<Service>, change: Partial<ReturnType<typeof hiveApp>> = {}): string[] =>
  preflight({ ...hiveApp(), services: [supplier({ requests: [goodsRequest()], ...more })], ...change })
    .filter((n) => n.workspace === 'services' || /fetched/.test(n.said))
    .map((n) => `${n.severity} ${n.said}`);

describe('services before a release', () => {
  it('are asked at addresses, by requests whose places are whole', () => {
    expect(notes({})).toEqual([]);
    expect(notes({ test: 'somewhere' })).toEqual(['stops Supplier has no address.']);
    expect(notes({ live: 'ftp://a.example' })).toEqual(['stops The address of Supplier for people is none.']);
    expect(notes({ sign: { how: 'client', tokens: '' } })).toEqual(['stops Supplier gets its tokens from no address.']);
    const input = { id: 'v_words00000', name: 'Words', type: 'text' as const };
    const asks = (more: object) => notes({ requests: [goodsRequest({ inputs: [input], ...more })] });
    for (const whole of [
      { path: '/goods/{v_words00000}' },
      { body: { is: 'json', json: '{"a":["{v_words00000}",{"b":"{{x}"}]}' } },
      { body: { is: 'form', parts: [{ name: 'a', value: '{v_words00000}' }] } },
    ])
      expect(asks(whole)).toEqual([]);
    for (const broken of [
      { path: '/goods/{v_gone000000}' },
      { query: [{ name: 'q', value: '{v_gone000000}' }] },
      { headers: [{ name: 'X-A', value: 'a {v_gone000000}' }] },
      { body: { is: 'json', json: '{"a":{"b":"{v_gone000000}"}}' } },
      { body: { is: 'text', type: 'text/plain', text: '{v_gone000000}' } },
    ])
      expect(asks(broken), JSON.stringify(broken)).toEqual([expect.stringContaining('stops Get goods: ')]);
  });
  it('check tokens with keys that have an address', () => {
    const signIn = (keys: string) => ({
      enter: 'n_goods00000',
      token: 'k_token00000',
      facts: [],
      screen: 's_enter00000',
      open: [],
      stays: true,
      claims: { keys, facts: [] },
    });
    const ofKeys = (address: string) => notes({}, { signIn: signIn(address) }).filter((n) => n.includes('keys'));
    expect(ofKeys('https://a.example/keys')).toEqual([]);
    expect(ofKeys('')).toEqual(['stops The keys that tokens are checked with have no address.']);
  });
  it('answer the tables that are fetched', () => {
    const tables = (request: string) => ({
      tables: [...hiveApp().tables, goodsTable({ fetched: { ...goodsTable().fetched!, request } })],
    });
    expect(notes({}, tables('n_goods00000'))).toEqual([]);
    expect(notes({}, tables('n_gone000000'))).toEqual([
      'stops Goods is fetched by a request that is not there any more.',
    ]);
  });
  it('are given all they need where a table is kept in step with them', () => {
    const input = { id: 'v_shop000000', name: 'Shop', type: 'text' as const };
    const { fresh: _fresh, ...source } = goodsTable().fetched!;
    const kept = (service: Partial<Service>, more: Partial<NonNullable<Table['inStep']>> = {}) =>
      notes(
        { requests: [goodsRequest({ inputs: [input] })], ...service },
        {
          tables: [
            ...hiveApp().tables,
            { ...goodsTable({ inStep: { ...source, every: 5, inputs: {}, ...more } }), fetched: undefined },
          ],
        },
      );
    expect(kept({}, { inputs: { v_shop000000: 'A' } })).toEqual([]);
    expect(kept({})).toEqual(['stops Goods cannot be fetched: Get goods needs Shop.']);
    expect(kept({}, { inputs: { v_shop000000: 'A' }, request: 'n_gone000000' })).toEqual([
      'stops Goods is fetched by a request that is not there any more.',
    ]);
    expect(kept({ sign: { how: 'person' } }, { inputs: { v_shop000000: 'A' } })).toEqual([
      expect.stringContaining('stops Goods are kept in step by the server, which has nobody’s token'),
    ]);
    const adds = { request: 'n_goods00000', values: [] };
    expect(kept({}, { inputs: { v_shop000000: 'A' }, adds })).toEqual([
      expect.stringContaining('look What is added to Goods stays in the app alone'),
    ]);
  });
});
