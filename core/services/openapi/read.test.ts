import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { RequestSchema } from '../schema.ts';
import { Description } from './read.ts';

const doc = (paths: object, more: object = {}): string =>
  JSON.stringify({
    openapi: '3.1.0',
    info: { title: 'Goods', version: '1' },
    servers: [{ url: 'https://a.example/v1/' }],
    paths,
    ...more,
  });
const json = (schema: object) => ({ description: 'x', content: { 'application/json': { schema } } });
const read = (text: string): Description => Description.read(text, 'The description', 'https://b.example/openapi.json');
const take = (text: string, key: string) => {
  const d = read(text);
  const made = d.take(d.operations.find((o) => o.key === key)!);
  const name = (id: string): string => made.request.inputs.find((i) => `{${i.id}}` === id)?.name ?? id;
  return {
    ...made,
    path: made.request.path.replace(/\{v_\w+\}/g, (m) => `{${name(m)}}`),
    query: made.request.query.map((q) => [q.name, name(q.value)]),
    inputs: made.request.inputs.map((i) => [i.name, i.type, Boolean(i.optional), i.test]),
    fields: made.answer.fields.map((f) => [f.name, f.type, f.pick]),
    key: made.answer.fields.find((f) => f.id === made.answer.key)?.name,
  };
};

const Good = {
  type: 'object',
  required: ['id'],
  properties: {
    id: { type: 'string', readOnly: true },
    name: { type: 'string' },
    price: { type: ['number', 'null'] },
    state: { enum: ['new', 'used'] },
    made: { type: 'string', format: 'date-time' },
    photo_url: { type: 'string', format: 'uri' },
    size: { type: 'object', properties: { height: { type: 'integer' } } },
    parts: { type: 'array', items: { $ref: '#/components/schemas/Good' } },
    parent: { $ref: '#/components/schemas/Good' },
  },
};
const GOODS = doc(
  {
    '/goods': {
      parameters: [{ name: 'tenant', in: 'query', required: true, schema: { type: 'string' } }],
      get: {
        summary: 'List goods',
        tags: ['Goods'],
        parameters: [
          { name: 'q', in: 'query', schema: { type: 'string' }, example: 'wax' },
          { name: 'page', in: 'query', schema: { type: 'integer' } },
          { name: 'X-Trace', in: 'header', schema: { type: 'string' } },
          { name: 'Authorization', in: 'header', schema: { type: 'string' } },
          { name: 'filter', in: 'query', schema: { type: 'object', properties: { a: {} } } },
          { $ref: 'other.yaml#/Parameter' },
        ],
        responses: {
          200: json({
            type: 'object',
            properties: {
              total: { type: 'integer' },
              items: { type: 'array', items: { $ref: '#/components/schemas/Good' } },
            },
          }),
        },
      },
      post: {
        operationId: 'addGood',
        requestBody: json({ $ref: '#/components/schemas/Good' }),
        responses: { 201: json({ $ref: '#/components/schemas/Good' }) },
        security: [],
      },
      head: {},
    },
    '/goods/{good-id}': {
      get: {
        responses: {
          200: json({ allOf: [{ $ref: '#/components/schemas/Good' }, { properties: { extra: { type: 'boolean' } } }] }),
        },
      },
      delete: { responses: {}, security: [{ mtls: [] }] },
    },
  },
  {
    security: [{ k: [] }],
    components: {
      schemas: { Good },
      securitySchemes: { k: { type: 'apiKey', in: 'header', name: 'X-Key' }, mtls: { type: 'mutualTLS' } },
    },
  },
);

describe('an OpenAPI description', () => {
  it('says what can be asked, what for, and how it is signed', () => {
    const d = read(GOODS);
    expect([d.name, d.address]).toEqual(['Goods', 'https://a.example/v1']);
    expect(d.operations.map((o) => [o.key, o.name, o.need, o.sign, o.unsigned])).toEqual([
      ['GET /goods', 'List goods', 'list', { how: 'header', name: 'X-Key' }, null],
      ['POST /goods', 'Add good', 'add', null, null],
      ['GET /goods/{good-id}', 'Get goods', 'one', { how: 'header', name: 'X-Key' }, null],
      ['DELETE /goods/{good-id}', 'Remove goods', 'remove', null, expect.stringContaining('mtls')],
    ]);
    expect(d.leftOut).toEqual([expect.stringContaining('HEAD /goods')]);
  });

  it('gives a list with its inputs, pages and records, and tells what is left out', () => {
    const made = take(GOODS, 'GET /goods');
    expect(made.query).toEqual([
      ['tenant', 'Tenant'],
      ['q', 'Q'],
      ['page', 'Page'],
    ]);
    expect(made.inputs).toEqual([
      ['Tenant', 'text', false, undefined],
      ['Q', 'text', true, 'wax'],
      ['Page', 'number', true, undefined],
      ['X trace', 'text', true, undefined],
    ]);
    expect(made.request.paging).toMatchObject({ by: 'page', first: 1 });
    expect(made.leftOut).toEqual(['filter: a list or object as a value', expect.stringContaining('elsewhere')]);
    expect([made.answer.holds, made.answer.at, made.key]).toEqual(['list', "$['items'][*]", 'Id']);
    expect(made.fields.slice(0, 7)).toEqual([
      ['Id', 'text', "$['id']"],
      ['Name', 'text', "$['name']"],
      ['Price', 'number', "$['price']"],
      ['State', 'choice', "$['state']"],
      ['Made', 'datetime', "$['made']"],
      ['Photo url', 'picture', "$['photo_url']"],
      ['Size height', 'number', "$['size']['height']"],
    ]);
    expect(made.answer.leftOut).toContain('Parts');
  });

  it('gives bodies whose values are inputs, in JSON and in forms, without what the service fills in', () => {
    const { request } = take(GOODS, 'POST /goods');
    const body = JSON.parse((request.body as { json: string }).json) as Record<string, unknown>;
    expect(Object.keys(body)).toEqual(['name', 'price', 'state', 'made', 'photo_url', 'size', 'parent']);
    const form = doc({
      '/a': {
        post: {
          requestBody: {
            content: {
              'application/x-www-form-urlencoded': {
                schema: { properties: { a: { type: 'integer' } }, required: ['a'] },
              },
            },
          },
        },
      },
    });
    const made = take(form, 'POST /a');
    expect([made.request.body?.is, made.inputs]).toEqual(['form', [['A', 'number', false, undefined]]]);
  });

  it('has a place in the path for every name in braces, and one record behind it', () => {
    const made = take(GOODS, 'GET /goods/{good-id}');
    expect([made.path, made.answer.holds, made.answer.at]).toEqual(['/goods/{Good id}', 'one', '$']);
    expect(made.fields).toContainEqual(['Extra', 'yesno', "$['extra']"]);
  });

  it('is read as YAML and as Swagger 2.0, and what is none is said', () => {
    const yaml =
      'swagger: "2.0"\ninfo: {title: Old, version: "1"}\nhost: old.example\nbasePath: /x\nschemes: [https]\npaths:\n  /p:\n    get:\n      responses:\n        200:\n          schema: {type: array, items: {type: object, properties: {n: {type: integer}}}}\n';
    const d = read(yaml);
    expect([d.address, d.operations[0]!.need]).toEqual(['https://old.example/x', 'list']);
    expect(d.take(d.operations[0]!).answer.fields.map((f) => f.name)).toEqual(['N']);
    for (const [text, said] of [
      ['{"a":1}', 'is no OpenAPI'],
      ['{"openapi":"3.0.0"', 'no JSON'],
      ['{"openapi":"3.0.0"}', 'no paths'],
      ['a: [1', 'neither JSON nor YAML'],
    ] as const)
      expect(() => read(text)).toThrow(said);
  });

  it('has an address that is relative to where it came from, and one with variables', () => {
    const at = (url: string, variables: object = {}): string =>
      read(doc({}, { servers: [{ url, variables }] })).address;
    expect(at('/v2')).toBe('https://b.example/v2');
    expect(at('https://{region}.a.example', { region: { default: 'eu' } })).toBe('https://eu.a.example');
    expect(Description.read(doc({}, { servers: [] }), 'x').address).toBe('');
  });

  it('never stops on odd documents, and gives requests that fit the app (property)', () => {
    const odd: fc.Arbitrary<unknown> = fc.letrec((tie) => ({
      schema: fc.oneof(
        fc.constant({ $ref: '#/components/schemas/A' }),
        fc.constant({ $ref: '#/nowhere' }),
        fc.constant({ $ref: 'http://else.example/x' }),
        fc.constant(null),
        fc.record({
          type: fc.constantFrom('string', 'integer', 'boolean', 'nonsense', ['string', 'null']),
          enum: fc.option(fc.array(fc.string())),
        }),
        fc.record({ type: fc.constant('array'), items: tie('schema') }),
        fc.record({ properties: fc.dictionary(fc.string(), tie('schema'), { maxKeys: 4 }), required: fc.anything() }),
        fc.record({ oneOf: fc.array(tie('schema'), { maxLength: 3 }) }),
        fc.record({ allOf: fc.array(tie('schema'), { maxLength: 3 }) }),
      ),
    })).schema!;
    fc.assert(
      fc.property(odd, odd, fc.string(), fc.anything({ maxDepth: 2 }), (a, b, name, extra) => {
        const text = doc(
          {
            [`/x/{${name}}`]: {
              get: {
                summary: name,
                parameters: [{ name, in: 'query', schema: a }, extra],
                responses: { 200: json(a as object) },
                security: extra,
              },
              post: { requestBody: json(b as object), responses: extra },
            },
          },
          { components: { schemas: { A: b, securitySchemes: extra } } },
        );
        const d = read(text);
        for (const o of d.operations) {
          const { request, answer } = d.take(o);
          expect(RequestSchema.safeParse({ ...request, id: 'n_made000000' }).error?.issues ?? []).toEqual([]);
          expect(answer.fields.every((f) => f.name)).toBe(true);
        }
      }),
      { numRuns: 1000 },
    );
  });

  it('sends files in parts, and answers with files', () => {
    const form = (photo: object) => ({
      '/claims': {
        post: {
          summary: 'Claim',
          requestBody: {
            content: {
              'multipart/form-data': {
                schema: {
                  type: 'object',
                  required: ['photo'],
                  properties: { words: { type: 'string' }, photo, paper: { type: 'string', format: 'binary' } },
                },
              },
            },
          },
          responses: { 200: { description: 'x', content: { 'application/pdf': {} } } },
        },
      },
    });
    for (const photo of [{ type: 'string', format: 'binary' }, { contentMediaType: 'image/png' }]) {
      const { request, inputs, answer, leftOut } = take(doc(form(photo)), 'POST /claims');
      expect(inputs).toEqual([
        ['Words', 'text', true, undefined],
        ['Photo', 'picture', false, undefined],
        ['Paper', 'file', true, undefined],
      ]);
      expect(request.body).toEqual({
        is: 'parts',
        parts: ['words', 'photo', 'paper'].map((name, i) => ({ name, value: `{${request.inputs[i]!.id}}` })),
      });
      expect(answer.file).toBe('file');
      expect(leftOut).toEqual([]);
    }
  });
});
