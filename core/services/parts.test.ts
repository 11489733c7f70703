import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { VirtualClock } from '../world/clock.ts';
import { askService } from './asking.ts';
import { fill } from './fill.ts';
import { goodsRequest, supplier } from './fixture.ts';
import { givenTo } from './given.ts';
import type { OutsideRequest } from './outside.ts';
import { contentAddress, contentOf, isContent, nameOfAnswer, partsBody } from './parts.ts';

const bytes = fc.uint8Array({ maxLength: 200 });
const input = (id: string, type: 'text' | 'picture' | 'file', optional = false) => ({
  id,
  name: id,
  type,
  ...(optional && { optional: true as const }),
});
const request = goodsRequest({
  method: 'POST',
  inputs: [input('v_words00000', 'text'), input('v_photo00000', 'picture'), input('v_paper00000', 'file', true)],
  body: {
    is: 'parts',
    parts: [
      { name: 'words', value: 'It says: {v_words00000}' },
      { name: 'photo', value: '{v_photo00000}' },
      { name: 'paper', value: '{v_paper00000}' },
    ],
  },
});
const filled = (inputs: Record<string, string>) =>
  fill(
    supplier(),
    request,
    'test',
    givenTo(request, inputs, () => 0),
  );

describe('a request in parts', () => {
  it('is read by any reader of forms as it was meant, byte by byte (property)', async () => {
    const name = fc.string({ minLength: 1, maxLength: 20 }).filter((s) => !/[\p{C}]/u.test(s));
    await fc.assert(
      fc.asyncProperty(bytes, name, fc.string({ unit: 'binary', maxLength: 60 }), async (content, called, words) => {
        const file = contentAddress(content, 'image/png', `${called}.png`);
        expect(isContent(file)).toBe(true);
        expect(contentOf(file)).toEqual(content);
        const { body, type } = await partsBody([
          { name: 'words', text: words },
          { name: 'photo', file },
        ]);
        const form = await new Response(body as BodyInit, { headers: { 'content-type': type } }).formData();
        // Ends of lines are those of forms (RFC 7578, 4.4 by HTML).
        expect(form.get('words')).toBe(words.replace(/\r\n|\r|\n/g, '\r\n'));
        const photo = form.get('photo') as File;
        expect([photo.type, photo.name]).toEqual(['image/png', `${called}.png`]);
        expect(new Uint8Array(await photo.arrayBuffer())).toEqual(content);
      }),
      { numRuns: 60 },
    );
  });

  it('has the files of its inputs, leaves out what is not given, and says which file is missing', () => {
    const photo = contentAddress(new Uint8Array([1, 2, 3]), 'image/png', 'a.png');
    expect(filled({ v_words00000: 'broken', v_photo00000: photo }).parts).toEqual([
      { name: 'words', text: 'It says: broken' },
      { name: 'photo', file: photo },
    ]);
    expect(() => filled({ v_words00000: 'broken' })).toThrow('v_photo00000 is missing.');
    const elsewhere = 'https://a.example/photo.png';
    expect(() => filled({ v_words00000: 'broken', v_photo00000: elsewhere })).toThrow(
      'The file of v_photo00000 is not here.',
    );
  });

  it('is sent with the type that says where its parts end, whatever the app says of its type', async () => {
    const sent: OutsideRequest[] = [];
    const photo = contentAddress(new Uint8Array([1, 2, 3]), 'image/jpeg', '');
    const asked = { ...filled({ v_words00000: 'broken', v_photo00000: photo }) };
    asked.headers = [...asked.headers, ['Content-Type', 'application/json']];
    await askService(supplier({ sign: { how: 'bearer' } }), asked, 'test', false, {
      send: async (r) => {
        sent.push(r);
        return { status: 200, headers: [], body: new Uint8Array(), ms: 1, url: r.url };
      },
      secret: async () => 'token-1234',
      clock: new VirtualClock(0),
      random: () => 0,
    });
    const [{ headers, body }] = sent as [OutsideRequest];
    const types = headers.filter(([name]) => name.toLowerCase() === 'content-type').map(([, value]) => value);
    expect(types).toEqual([expect.stringMatching(/^multipart\/form-data; boundary=/)]);
    expect(headers).toContainEqual(['authorization', 'Bearer token-1234']);
    const form = await new Response(body as BodyInit, { headers: { 'content-type': types[0]! } }).formData();
    // Services go by the ending of a name.
    expect((form.get('photo') as File).name).toBe('photo.jpg');
    expect('parts' in sent[0]!).toBe(false);
  });
});

describe('the name of a file that comes', () => {
  it.each([
    [`attachment; filename="plan a.pdf"`, 'https://a.example/x', 'plan a.pdf'],
    [`attachment; filename=plan.pdf; size=3`, 'https://a.example/x', 'plan.pdf'],
    [`inline; filename="a.pdf"; filename*=UTF-8''%C3%A4.pdf`, 'https://a.example/x', 'ä.pdf'],
    [`attachment; filename="../../etc/pass\\"wd"`, 'https://a.example/x', 'pass"wd'],
    [`attachment; filename*=UTF-8''%E0%A4%A`, 'https://a.example/x', '%E0%A4%A'],
    ['', 'https://a.example/files/a%20b.png?x=1', 'a b.png'],
    ['', 'https://a.example', ''],
    ['', 'https://a.example/photo', ''],
  ])('of %s at %s is %s', (said, url, name) => {
    expect(nameOfAnswer(said ? [['Content-Disposition', said]] : [], url)).toBe(name);
  });
  it('is never a way to another folder (property)', () => {
    fc.assert(
      fc.property(fc.string({ unit: 'binary' }), (name) => {
        const said = nameOfAnswer([['content-disposition', `attachment; filename="${name}"`]], 'https://a.example/');
        expect(said).not.toMatch(/[/\\\p{C}]/u);
      }),
    );
  });
});
