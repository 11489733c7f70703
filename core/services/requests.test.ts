import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { CalendarDate, type Value } from '../formula/values.ts';
import { readCurl, shellWords } from './curl.ts';
import { CannotBeAsked, fill, type Filled } from './fill.ts';
import { fromPaste } from './paste.ts';
import { listAround, nameOfPlace, pathInEach, pathOf, picked } from './picks.ts';
import { readReply, statusSaid } from './reply.ts';
import { goodsRequest as request, supplier as service } from './fixture.ts';
import { ServiceSchema, type ServiceRequest } from './schema.ts';

const values = (all: Record<string, Value>) => (formula: string) => all[formula];

describe('a request that is filled in', () => {
  it('is asked at the address of the service, with each part in its place', () => {
    const filled = fill(
      service({ headers: [{ name: 'X-App', value: 'bees' }] }),
      request({
        path: '/goods/{id}/prices?unit=kg',
        query: [
          { name: 'q', value: '{words}' },
          { name: 'from', value: '{day}' },
          { name: 'most', value: '{most}' },
          { name: 'empty', value: '{nothing}' },
          { name: 'all', value: 'yes, {nothing}' },
        ],
        headers: [
          { name: 'X-Who', value: '{words}' },
          { name: 'X-None', value: '{nothing}' },
        ],
      }),
      'test',
      values({ id: 'a/b c', words: 'wax & honey', day: new CalendarDate(20_000), most: 1.5 }),
    );
    expect(filled).toEqual({
      method: 'GET',
      url: 'https://test.goods.example/v1/goods/a%2Fb%20c/prices?unit=kg&q=wax+%26+honey&from=2024-10-04&most=1.5&all=yes%2C+',
      headers: [
        ['X-App', 'bees'],
        ['X-Who', 'wax & honey'],
        ['accept', 'application/json, */*;q=0.5'],
      ],
    });
  });
  it('goes to the live address for the people who use the app, and to the only one there is', () => {
    const live = service({ live: 'https://goods.example' });
    expect(fill(live, request(), 'live', values({})).url).toBe('https://goods.example/goods');
    expect(fill(live, request(), 'test', values({})).url).toBe('https://test.goods.example/v1/goods');
    expect(fill(service(), request(), 'live', values({})).url).toBe('https://test.goods.example/v1/goods');
  });
  it('has values in JSON with their types, also nothing and lists', () => {
    const json =
      '{"name":"{name}","say":"Dear {name}","weight":"{weight}","none":"{none}","tags":["{tag}",1],"brace":"{{x}"}';
    const filled = fill(
      service(),
      request({ method: 'POST', body: { is: 'json', json } }),
      'test',
      values({ name: 'Odile "O"', weight: 0.3, tag: true, none: null }),
    );
    expect(JSON.parse(filled.body!)).toEqual({
      name: 'Odile "O"',
      say: 'Dear Odile "O"',
      weight: 0.3,
      none: null,
      tags: [true, 1],
      brace: '{x}',
    });
    expect(filled.headers).toContainEqual(['content-type', 'application/json']);
  });
  it('leaves out what is not given, and empties what is given as nothing', () => {
    const json = '{"a":"{a}","b":"{b}","list":["{a}","{c}"],"in":{"a":"{a}"}}';
    const asked = request({ method: 'PATCH', body: { is: 'json', json } });
    expect(fill(service(), asked, 'test', values({ b: null, c: 1 })).body).toBe('{"b":null,"list":[1],"in":{}}');
    const parts = ['a', 'b'].map((name) => ({ name, value: `{${name}}` }));
    const form = request({ method: 'POST', body: { is: 'form', parts } });
    expect(fill(service(), form, 'test', values({ b: null })).body).toBe('b=');
  });
  it('may be a form or text', () => {
    const parts = [
      { name: 'a b', value: '{x}' },
      { name: 'c', value: '{none}' },
    ];
    const form = request({ method: 'POST', body: { is: 'form', parts } });
    expect(fill(service(), form, 'test', values({ x: 'ü&' })).body).toBe('a+b=%C3%BC%26');
    const text = request({ method: 'POST', body: { is: 'text', type: 'text/csv', text: 'a,{x}' } });
    const filled = fill(service(), text, 'test', values({ x: 2 }));
    expect([filled.body, filled.headers.find(([n]) => n === 'content-type')]).toEqual([
      'a,2',
      ['content-type', 'text/csv'],
    ]);
  });
  it('never leaves its path, its header or its JSON, whatever it is given (property)', () => {
    const shaped = request({
      method: 'POST',
      path: '/goods/{x}/end',
      query: [{ name: 'q', value: 'a{x}' }],
      headers: [{ name: 'X-A', value: 'v{x}' }],
      body: { is: 'json', json: '{"a":"{x}","b":"-{x}-"}' },
    });
    const hostile = fc.constantFrom('..', '.', '', '../..', '%2e%2e', '?a=b', '#x', '@evil.example', '//evil.example');
    fc.assert(
      fc.property(fc.oneof(fc.string(), fc.string({ unit: 'binary' }), hostile), (x) => {
        let filled: Filled;
        try {
          filled = fill(service(), shaped, 'test', values({ x }));
        } catch (e) {
          expect(e).toBeInstanceOf(CannotBeAsked);
          return;
        }
        const url = new URL(filled.url);
        expect([url.origin, url.hash, url.username]).toEqual(['https://test.goods.example', '', '']);
        const parts = url.pathname.split('/');
        expect([parts.length, parts[1], parts[2], decodeURIComponent(parts[3]!), parts[4]]).toEqual([
          5,
          'v1',
          'goods',
          x,
          'end',
        ]);
        expect([...url.searchParams.keys()]).toEqual(['q']);
        for (const [, value] of filled.headers) expect(value).not.toMatch(/[\r\n]/);
        expect(JSON.parse(filled.body!)).toEqual({ a: x, b: `-${x}-` });
      }),
      { numRuns: 500 },
    );
  });
  it('says what is missing or cannot be', () => {
    const bad =
      (more: Partial<ServiceRequest>, of = service()) =>
      () =>
        fill(of, request(more), 'test', values({ up: '..', line: 'a\r\nb' }));
    expect(bad({ path: '/{none}' })).toThrow('A value that is part of the address is missing.');
    expect(bad({ path: '/{up}' })).toThrow('“..” cannot be part of an address.');
    expect(bad({ headers: [{ name: 'X-A', value: '{line}' }] })).toThrow('The header X-A cannot hold line breaks');
    expect(bad({ body: { is: 'json', json: '{' } })).toThrow('no JSON');
    expect(bad({}, service({ test: 'goods' }))).toThrow('missing or no address');
  });
});

describe('a pasted line', () => {
  it('is divided as shells do it', () => {
    for (const [line, words] of [
      [`a 'b c' "d \\"e\\" $f" g\\ h`, ['a', 'b c', 'd "e" $f', 'g h']],
      ['a \\\n  -b ^\r\n c', ['a', '-b', 'c']],
      [`$'x\\'y\\n\\u00fc''z'`, ["x'y\nüz"]],
      [`'' ""`, ['', '']],
    ] as const)
      expect(shellWords(line), line).toEqual(words);
    expect(() => shellWords("a 'b")).toThrow('not closed');
  });
  it('comes back as it was quoted (property)', () => {
    const quoted = (w: string): string => `'${w.replaceAll("'", `'\\''`)}'`;
    fc.assert(
      fc.property(fc.array(fc.string({ unit: 'binary' })), (words) => {
        expect(shellWords(words.map(quoted).join(' '))).toEqual(words);
      }),
    );
  });
  it('is a request, with what was left out and why', () => {
    const pasted = readCurl(
      `curl -sS --compressed -XPOST 'https://goods.example/v1/orders?dry=1' -H 'Content-Type: application/json' -H 'X-Empty;' \\
        --data-raw '{"good":"{wax}","n":2}' -k -F 'photo=@hive.png' --max-time 5 -u me:secret`,
    );
    expect(pasted).toEqual({
      method: 'POST',
      url: 'https://goods.example/v1/orders?dry=1',
      headers: [['Content-Type', 'application/json']],
      body: '{"good":"{wax}","n":2}',
      user: 'me:secret',
      leftOut: ['taking any certificate: it must be valid', 'the part photo of a form with files'],
    });
    expect(readCurl('curl -G goods.example/a -d q=1 --data-urlencode "r=a b"')).toMatchObject({
      method: 'GET',
      url: 'http://goods.example/a?q=1&r=a+b',
      body: null,
    });
    expect(readCurl(`curl --json '{"a":1}' https://goods.example`)).toMatchObject({ method: 'POST', body: '{"a":1}' });
    for (const [line, words] of [
      ['wget https://goods.example', 'does not begin with “curl”'],
      ['curl -H', 'Something is missing behind “-H”'],
      ['curl -s', 'names no address'],
      ['curl -X TRACE https://goods.example', 'TRACE'],
      ["curl 'https://", 'not closed'],
    ])
      expect(() => readCurl(line!), line).toThrow(words);
  });
  it('becomes a service and a request that ask the same, its secret apart', () => {
    const line = `curl 'https://api.goods.example/v1/orders?page=1&api_key=k1' -H 'Accept: application/json' -H 'User-Agent: x' -d '{"a":"{b}","n":1}'`;
    const { service: s, request: r, secret, leftOut } = fromPaste(line);
    expect([s.name, s.test, s.sign, secret, leftOut]).toEqual([
      'Goods',
      'https://api.goods.example',
      { how: 'query', name: 'api_key' },
      'k1',
      ['the header User-Agent'],
    ]);
    expect(r.name).toBe('Add orders');
    const whole = { ...s, id: 'w_goods00000', requests: [{ ...r, id: 'n_orders0000' }] };
    expect(ServiceSchema.safeParse(whole).error).toBeUndefined();
    expect(JSON.stringify(whole)).not.toContain('k1');
    const filled = fill(whole, whole.requests[0]!, 'test', () => 'no place is here');
    expect([filled.url, JSON.parse(filled.body!)]).toEqual([
      'https://api.goods.example/v1/orders?page=1',
      { a: '{b}', n: 1 },
    ]);
    expect(fromPaste("curl https://a.example -H 'Authorization: Bearer t1' -H 'X-Api-Key: k2'")).toMatchObject({
      service: { sign: { how: 'bearer' } },
      secret: 't1',
      request: { headers: [] },
      leftOut: ['a second secret: an app signs in one way'],
    });
    expect(fromPaste("curl https://a.example -H 'authorization: Basic bWU6cHc='")).toMatchObject({ secret: 'me:pw' });
    expect(fromPaste('https://data.goods.example/list.json')).toMatchObject({
      service: { name: 'Goods', test: 'https://data.goods.example' },
      request: { method: 'GET', path: '/list.json', name: 'Get list' },
      secret: null,
    });
    expect(fromPaste('data.goods.example/list').service.test).toBe('https://data.goods.example');
    expect(fromPaste("curl https://a.example -d 'a=1&b=%7B'").request.body).toEqual({
      is: 'form',
      parts: [
        { name: 'a', value: '1' },
        { name: 'b', value: '{{' },
      ],
    });
  });
});

describe('an answer', () => {
  const bytes = (text: string): Uint8Array => new TextEncoder().encode(text);
  it('is read by its media type, and else by what it is', () => {
    expect(readReply('application/json; charset=utf-8', bytes('{"a":1}'))).toEqual({ is: 'json', value: { a: 1 } });
    expect(readReply('application/problem+json', bytes('7'))).toEqual({ is: 'json', value: 7 });
    expect(readReply('', bytes(' {"a":1}'))).toEqual({ is: 'json', value: { a: 1 } });
    expect(readReply('application/json', bytes('<p>'))).toEqual({ is: 'text', text: '<p>' });
    expect(readReply('text/plain; charset=iso-8859-1', Uint8Array.of(0xfc))).toEqual({ is: 'text', text: 'ü' });
    expect(readReply('text/plain; charset=zebra', bytes('12'))).toEqual({ is: 'text', text: '12' });
    expect(readReply('image/png', bytes('x'))).toEqual({ is: 'file', type: 'image/png', content: bytes('x') });
  });
  it('says by its status what went wrong and what to do', () => {
    expect([statusSaid(200), statusSaid(304)]).toEqual([null, null]);
    expect(statusSaid(429, [['Retry-After', '7']])).toBe('The service is asked too often. Try again in 7 seconds.');
    for (const status of [400, 401, 403, 404, 405, 409, 413, 415, 418, 422, 429, 500, 503])
      expect(statusSaid(status), String(status)).toMatch(/\.$/);
  });
  it('has a path for each place, which leads back to it (property)', () => {
    fc.assert(
      fc.property(fc.jsonValue(), (answer) => {
        const walk = (value: unknown, at: (string | number)[]): void => {
          expect(picked(answer, pathOf(at))).toEqual([value]);
          if (Array.isArray(value)) value.forEach((x, i) => walk(x, [...at, i]));
          else if (typeof value === 'object' && value !== null)
            for (const [k, x] of Object.entries(value)) walk(x, [...at, k]);
        };
        walk(answer, []);
      }),
      { numRuns: 200 },
    );
  });
  it('has picks in each element of a list, with names by themselves', () => {
    const answer = { data: { items: [{ unitPrice: 1.5 }, { unitPrice: 2 }] } };
    const at = ['data', 'items', 0, 'unitPrice'];
    expect([pathOf(at), picked(answer, pathInEach(at)), listAround(at), listAround(['data'])]).toEqual([
      "$['data']['items'][0]['unitPrice']",
      [1.5, 2],
      ['data', 'items'],
      null,
    ]);
    expect([at, ['a', 'valid_until'], ['x', 3], [], ['--']].map(nameOfPlace)).toEqual([
      'Unit price',
      'Valid until',
      'X',
      'Answer',
      'Value',
    ]);
    expect(() => picked(answer, '$[')).toThrow('“$[” is no path');
  });
});
