import '../fields/typed-texts.ts';
import { describe, expect, it } from 'vitest';
import type { Table } from '../tables/schema.ts';
import { serviceAnswer, AskedMessage, type CameBack, type Outgoing } from './answer.ts';
import { exactJson } from './exact-json.ts';
import { goodsRequest, goodsTable, supplier } from './fixture.ts';
import { linkTo } from './links.ts';
import { pageAddress } from './paging.ts';
import type { ServiceRequest } from './schema.ts';
import fc from 'fast-check';

const HOUR = 3_600_000;

/** Asks a request of a supplier who answers as the test says. */
async function ask(
  request: Partial<ServiceRequest>,
  answer: object | string | CameBack,
  {
    message = {},
    tables = [],
    status = 200,
    headers = [],
  }: { message?: Partial<AskedMessage>; tables?: Table[]; status?: number; headers?: [string, string][] } = {},
) {
  const sent: Outgoing[] = [];
  const app = { tables, services: [supplier({ requests: [goodsRequest(request)] })] };
  const came = await serviceAnswer(app, { request: 'n_goods00000', inputs: {}, ...message }, 'test', {
    send: async (asked) => {
      sent.push(asked);
      if (typeof answer === 'object' && 'failed' in answer) return answer as CameBack;
      const text = typeof answer === 'string' ? answer : JSON.stringify(answer);
      const type: [string, string] = ['content-type', typeof answer === 'string' ? 'text/plain' : 'application/json'];
      const body = new TextEncoder().encode(text);
      return { reply: { status, headers: [type, ...headers], body, ms: 1, url: asked.filled.url }, tries: 1 };
    },
    now: () => Date.UTC(2026, 10, 30, 9),
    toLocal: (instant) => instant + HOUR,
  });
  return { came, sent };
}

describe('what a service answers', () => {
  it('is taken out by paths, as the types of picks keep it', async () => {
    const pick = (id: string, type: string, path: string) => ({ id, name: id, type, path }) as never;
    const { came } = await ask(
      {
        picks: [
          pick('k_total000', 'number', '$.total'),
          pick('k_token000', 'text', '$.token'),
          pick('k_until000', 'datetime', '$.until'),
          pick('k_day00000', 'date', '$.until'),
          pick('k_names000', 'text', '$.items[*].name'),
          pick('k_bad00000', 'number', '$.token'),
          pick('k_gone0000', 'text', '$.nowhere'),
        ],
      },
      { total: 12.5, token: 'abc', until: '2026-11-30T23:30:00Z', items: [{ name: 'Wax' }, { name: 'Frame' }] },
    );
    expect(came.picks).toEqual({
      k_total000: 12.5,
      k_token000: 'abc',
      k_until000: '2026-12-01T00:30:00',
      k_day00000: '2026-12-01',
      k_names000: ['Wax', 'Frame'],
      k_bad00000: null,
      k_gone0000: null,
    });
    expect(came.notes).toEqual(['1 value of k_bad00000 does not fit its type.']);
    expect([came.status, came.said, came.failure]).toEqual([200, null, undefined]);
  });

  it('becomes records, each by its key; what does not fit, has no key or comes twice is said', async () => {
    const items = [
      { id: 7, name: 'Wax', price: { amount: '2.50' }, tags: ['a', 'b'], note: null },
      { id: 8, name: 'Frame', price: { amount: 'on request' } },
      { name: 'No number' },
      { id: 7, name: 'Wax again' },
    ];
    const { came } = await ask({}, { items }, { tables: [goodsTable()] });
    expect(came.rows).toEqual({
      t_goods00000: [
        { id: '7', cells: { f_number000: 7, f_name00000: 'Wax again' } },
        { id: '8', cells: { f_number000: 8, f_name00000: 'Frame' } },
      ],
    });
    expect(came.notes).toEqual([
      '1 record without a key is left out.',
      '1 record has a key that another one has, too.',
      '1 value of Price does not fit its type and is left empty.',
    ]);
  });

  it('keeps a value that says nothing apart from one that is not there', async () => {
    const { came } = await ask(
      {},
      { items: [{ id: 1, name: null, price: { amount: 3 } }] },
      { tables: [goodsTable()] },
    );
    expect(came.rows['t_goods00000']![0]!.cells).toEqual({ f_number000: 1, f_name00000: null, f_price0000: 3 });
  });

  it('is a refusal in words, with what the service says itself', async () => {
    const { came } = await ask({}, { detail: 'The quantity is too large.' }, { status: 422 });
    expect(came).toMatchObject({ status: 422, failure: 'refused', notes: ['The quantity is too large.'] });
    expect(came.said).toContain('refuses what was sent');
    const sorts = await Promise.all(
      [401, 403, 404, 409, 429, 500].map(async (s) => (await ask({}, {}, { status: s })).came.failure),
    );
    expect(sorts).toEqual(['not signed in', 'not allowed', 'not found', 'changed', 'too often', 'broken']);
    const none = await ask({}, { failed: { sort: 'too slow', words: 'It took too long.' } });
    expect(none.came).toMatchObject({ status: 0, failure: 'no answer', said: 'It took too long.' });
    const text = await ask({}, '<html>', { tables: [goodsTable()] });
    expect(text.came).toMatchObject({ status: 200, failure: 'broken' });
  });

  it('is not asked with what is missing or does not fit', async () => {
    const inputs = [{ id: 'v_most00000', name: 'Most', type: 'number' as const }];
    for (const [given, said] of [
      [{}, 'Most is missing.'],
      [{ v_most00000: 'many' }, 'is not a number for Most'],
    ] as const) {
      const { came, sent } = await ask({ inputs }, {}, { message: { inputs: given } });
      expect([came.said, came.failure, sent.length]).toEqual([expect.stringContaining(said), 'not asked', 0]);
    }
    expect((await ask({}, {}, { message: { request: 'n_other00000' } })).came.failure).toBe('not asked');
  });
});

describe('a long list', () => {
  const items = [{ id: 1 }, { id: 2 }];
  const input = { id: 'v_page00000', name: 'Page', type: 'number' as const, optional: true as const };
  const asked = { inputs: [input], query: [{ name: 'page', value: '{v_page00000}' }] };
  const tables = [goodsTable()];

  it('comes in pages by number, and ends where a page has no records', async () => {
    const paging = { by: 'page' as const, input: input.id, first: 1 };
    const first = await ask({ ...asked, paging }, { items }, { tables });
    expect([first.sent[0]!.filled.url, first.came.next]).toEqual([expect.stringContaining('?page=1'), 2]);
    const second = await ask({ ...asked, paging }, { items: [] }, { tables, message: { page: 2, before: 2 } });
    expect([second.sent[0]!.filled.url, second.came.next]).toEqual([expect.stringContaining('?page=2'), null]);
  });
  it('comes from a place on, or behind a mark that the service gives', async () => {
    const offset = { by: 'offset' as const, input: input.id };
    expect(
      (await ask({ ...asked, paging: offset }, { items }, { tables, message: { before: 40, page: 40 } })).came.next,
    ).toBe(42);
    const mark = { by: 'mark' as const, input: 'v_page00000', at: '$.next' };
    expect((await ask({ ...asked, paging: mark }, { items, next: 9 }, { tables })).came.next).toBe(9);
    expect((await ask({ ...asked, paging: mark }, { items, next: null }, { tables })).came.next).toBeNull();
  });
  it('comes by addresses of the service, which change no more than the query', async () => {
    const by = { paging: { by: 'link' as const }, query: [{ name: 'tenant', value: 'bees' }] };
    const link: [string, string] = [
      'Link',
      '</v1/goods?page=9>; rel="last", </v1/goods?page=2&tenant=other>; rel=next',
    ];
    const first = await ask(by, { items }, { tables, headers: [link] });
    expect(first.came.next).toBe('/v1/goods?page=2&tenant=other');
    const second = await ask(by, { items }, { tables, message: { page: first.came.next!, before: 2 } });
    expect(second.sent[0]!.filled.url).toBe('https://test.goods.example/v1/goods?tenant=bees&page=2');
    for (const page of [
      '/v1/secrets',
      'https://else.example/v1/goods?page=2',
      '//else.example/v1/goods',
      'http://test.goods.example/v1/goods',
    ]) {
      const refused = await ask(by, { items }, { tables, message: { page } });
      expect([refused.came.failure, refused.sent.length]).toEqual(['not asked', 0]);
    }
    const at = { paging: { by: 'address' as const, at: "$['@odata.nextLink']" } };
    expect((await ask(at, { items, '@odata.nextLink': 'goods?$skip=2' }, { tables })).came.next).toBe('goods?$skip=2');
  });
  it('finds a relation among links (RFC 8288)', () => {
    const header = (value: string): [string, string][] => [['Link', value]];
    expect(linkTo(header('<a>; title="x, <b>; rel=next"; rel="prev first", <c>;rel="up next"'), 'next')).toBe('c');
    expect(linkTo(header('<a>; rel=last'), 'next')).toBeNull();
    expect(pageAddress('https://a.example/x?q=1', '?q=2', ['q'])).toBe('https://a.example/x?q=1');
  });
});

describe('numbers of JSON', () => {
  it('are never bent: what JavaScript cannot hold becomes its digits', () => {
    expect(exactJson('{"id":12345678901234567890,"n":-0.1234567890123456789,"t":"12345678901234567890"}')).toEqual({
      id: '12345678901234567890',
      n: '-0.1234567890123456789',
      t: '12345678901234567890',
    });
    expect(exactJson('[9007199254740992, 1.0000000000000000, 1e400, 100000000000000000000]')).toEqual([
      9007199254740992,
      1,
      Infinity,
      100000000000000000000,
    ]);
  });
  it('are as they were written for any that JavaScript writes (property)', () => {
    fc.assert(
      fc.property(fc.jsonValue(), (value) => {
        const text = JSON.stringify([value, '1234567890123456']);
        expect(exactJson(text)).toEqual(JSON.parse(text));
      }),
    );
  });

  it('is a file where it is picked as one, with its type and name', async () => {
    const whole = { id: 'k_whole0000', name: 'File', path: '$', type: 'file' as const };
    const { came } = await ask({ picks: [whole] }, 'Number;Name', {
      headers: [['content-disposition', 'attachment; filename="goods.csv"']],
    });
    expect(came).toMatchObject({ said: null, status: 200 });
    expect(came.picks['k_whole0000']).toBe(`data:text/plain;name=goods.csv;base64,${btoa('Number;Name')}`);
    // Of what is JSON the whole can be a file as well, beside what is in it.
    const name = { id: 'k_name00000', name: 'Name', path: '$.name', type: 'text' as const };
    const both = await ask({ picks: [whole, name] }, { name: 'Wax' });
    expect(both.came.picks['k_name00000']).toBe('Wax');
    expect(both.came.picks['k_whole0000']).toMatch(/^data:application\/json;base64,/);
    const refused = await ask({ picks: [whole] }, 'no', { status: 404 });
    expect(refused.came).toMatchObject({ failure: 'not found', picks: {} });
  });

  it('says which input is missing or does not fit, so that it stands at its field', async () => {
    const inputs = [
      { id: 'v_words00000', name: 'Words', type: 'text' as const },
      { id: 'v_day0000000', name: 'Day', type: 'date' as const, optional: true as const },
    ];
    const none = await ask({ inputs }, {});
    expect(none.came).toMatchObject({ failure: 'not asked', problems: { v_words00000: 'Words is missing.' } });
    const odd = await ask({ inputs }, {}, { message: { inputs: { v_words00000: 'a', v_day0000000: 'soon' } } });
    expect(Object.keys(odd.came.problems!)).toEqual(['v_day0000000']);
  });

  it('takes the files of inputs beside what they are given', async () => {
    const photo = { id: 'v_photo00000', name: 'Photo', type: 'picture' as const };
    const message = {
      inputs: { v_photo00000: 'ni:///sha-256;x' },
      files: { v_photo00000: 'data:image/png;base64,AAAA' },
    };
    const { sent } = await ask(
      { method: 'POST', inputs: [photo], body: { is: 'parts', parts: [{ name: 'p', value: '{v_photo00000}' }] } },
      {},
      { message },
    );
    expect(sent[0]!.filled.parts).toEqual([{ name: 'p', file: 'data:image/png;base64,AAAA' }]);
    expect(AskedMessage.safeParse({ request: 'n_goods00000', ...message }).success).toBe(true);
    const bad = { request: 'n_goods00000', inputs: {}, files: { v_photo00000: 'https://a.example/x.png' } };
    expect(AskedMessage.safeParse(bad).success).toBe(false);
  });
});
