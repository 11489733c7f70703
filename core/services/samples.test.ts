import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { answered } from './asking.ts';
import { goodsRequest } from './fixture.ts';
import { goodSample, keepSample, MOST_SAMPLE_LETTERS, replyOf, sampleFrom } from './samples.ts';
import { RequestSchema, type Sample } from './schema.ts';
import type { CameBack } from './answer.ts';

const json = (value: unknown, status = 200) => sampleFrom({ status, headers: [], read: { is: 'json', value } })!;
const read = (s: Omit<Sample, 'id' | 'name'>): unknown => {
  const { read } = answered(
    replyOf({ ...s, id: 'x_sample0000', name: 'Good' }) as Extract<CameBack, { reply: object }>,
  );
  return read.is === 'json' ? read.value : read;
};

describe('a sample of an answer', () => {
  it('reads as the answer did, whatever JSON that is (property)', () => {
    fc.assert(
      fc.property(fc.jsonValue({ maxDepth: 4 }), (value) => {
        const plain = JSON.parse(JSON.stringify(value)) as unknown;
        const sample = json(plain);
        if (!/token|secret|pass|jwt|auth|key|session|cookie|[\w-]{8,}\.[\w-]{8,}\./i.test(sample.body))
          expect(read(sample)).toEqual(plain);
        const kept = goodsRequest();
        keepSample(kept, sample);
        expect(RequestSchema.safeParse(kept).success).toBe(true);
      }),
    );
  });

  it('has nothing in it that lets somebody in', () => {
    const token = `${'a'.repeat(20)}.${'b'.repeat(20)}.${'c'.repeat(20)}`;
    const sample = json({
      access_token: 'bees-like-sun',
      token_type: 'Bearer',
      refreshToken: ['one-more'],
      user: { password: 'hidden-word', note: token, name: 'Ines' },
      expires_in: 300,
    });
    for (const secret of ['bees-like-sun', 'one-more', 'hidden-word', token]) expect(sample.body).not.toContain(secret);
    expect(read(sample)).toMatchObject({ token_type: 'Bearer', user: { name: 'Ines' }, expires_in: 300 });
  });

  it('of a long answer is its beginning, and says so; what cannot be shortened or is a file is none', () => {
    const items = Array.from({ length: 5000 }, (_, id) => ({ id, name: `Good ${id}` }));
    const sample = json({ items, total: 5000 });
    expect(sample.cut).toBe(true);
    expect(sample.body.length).toBeLessThanOrEqual(MOST_SAMPLE_LETTERS);
    const { items: kept, total } = read(sample) as { items: unknown[]; total: number };
    expect([total, kept]).toEqual([5000, items.slice(0, kept.length)]);
    expect(kept.length).toBeGreaterThan(100);
    expect(json({ text: 'x'.repeat(MOST_SAMPLE_LETTERS) })).toBeNull();
    expect(
      sampleFrom({ status: 200, headers: [], read: { is: 'file', type: 'image/png', content: new Uint8Array(3) } }),
    ).toBeNull();
    const text = sampleFrom({
      status: 500,
      headers: [['Content-Type', 'text/plain']],
      read: { is: 'text', text: 'x'.repeat(70_000) },
    })!;
    expect([text.type, text.body.length, text.cut]).toEqual(['text/plain', MOST_SAMPLE_LETTERS, true]);
  });

  it('takes the place of one of the same status; the good one stands for the service', () => {
    const request = goodsRequest();
    keepSample(request, json({ detail: 'No.' }, 422));
    const first = keepSample(request, json([1]));
    expect(keepSample(request, json([2]))).toBe(first);
    for (const status of [500, 401, 404, 403, 429, 409]) keepSample(request, json({}, status));
    expect(request.samples).toHaveLength(6);
    expect(goodSample(request)?.body).toBe('[2]');
    expect(request.samples!.map((s) => s.status)).toEqual(request.samples!.map((s) => s.status).toSorted());
    const one = goodsRequest();
    keepSample(one, json([3]));
    keepSample(one, json({}, 401));
    expect(goodSample(one)?.body).toBe('[3]');
  });
});
