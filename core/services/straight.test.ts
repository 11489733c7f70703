import { describe, expect, it } from 'vitest';
import { VirtualClock } from '../world/clock.ts';
import { goodsRequest, goodsTable, supplier } from './fixture.ts';
import { canGoStraight, goesStraight } from './goes-straight.ts';
import type { OutsideRequest } from './outside.ts';
import type { ServiceRequest, Sign } from './schema.ts';
import { straightAnswer, type FromPage } from './straight.ts';

async function ask(
  came: FromPage,
  request: Partial<ServiceRequest> = {},
  sign: Sign = { how: 'none' },
  token?: string,
) {
  const sent: OutsideRequest[] = [];
  const clock = new VirtualClock(Date.UTC(2026, 10, 30, 9));
  const table = goodsTable({ fetched: { ...goodsTable().fetched!, rows: '$.items[*]' } });
  const app = {
    tables: [table],
    services: [supplier({ sign, live: 'https://live.goods.example', requests: [goodsRequest(request)] })],
  };
  const asking = straightAnswer(
    app,
    { request: 'n_goods00000', inputs: {}, ...(token && { token }) },
    { clock, send: async (asked) => (sent.push(asked), came) },
  );
  await clock.pass(20_000);
  return { answer: await asking, sent };
}
const reply = (value: unknown, status = 200): FromPage => ({
  reply: {
    status,
    headers: [['content-type', 'application/json']],
    body: new TextEncoder().encode(JSON.stringify(value)),
    ms: 1,
    url: 'https://live.goods.example/goods',
  },
});

describe('a request that a phone asks itself', () => {
  it('goes to the address for people, with the token of whoever asks, and is taken out of like any other', async () => {
    const good = reply({ items: [{ id: 7, name: 'Veil', price: { amount: 12.5 } }] });
    const { answer, sent } = await ask(good, {}, { how: 'person' }, 'token-1');
    expect(answer?.rows['t_goods00000']).toEqual([
      { id: '7', cells: { f_number000: 7, f_name00000: 'Veil', f_price0000: 12.5 } },
    ]);
    expect(sent).toHaveLength(1);
    expect(sent[0]!.url).toBe('https://live.goods.example/goods');
    expect(sent[0]!.headers).toContainEqual(['authorization', 'Bearer token-1']);
    expect((await ask(reply({}, 404))).answer).toMatchObject({ status: 404, failure: 'not found' });
  });

  it('is left to the server where no page can ask it, and never sent twice where it changes something', async () => {
    expect((await ask({ failed: 'unreached' })).answer).toBeNull();
    const post = await ask({ failed: 'unreached' }, { method: 'POST' });
    expect(post.answer).toMatchObject({ failure: 'unknown' });
    expect(post.sent).toHaveLength(1);
    // What failed otherwise is no matter of pages.
    expect((await ask({ failed: 'too large' })).answer).toMatchObject({ failure: 'no answer' });
  });

  it('is one that needs no key', () => {
    const straight = goodsRequest({ straight: true });
    const ways: [Sign['how'], boolean][] = [
      ['none', true],
      ['person', true],
      ['bearer', false],
      ['basic', false],
    ];
    for (const [how, can] of ways) expect(goesStraight({ sign: { how } as Sign }, straight), how).toBe(can);
    expect(goesStraight({ sign: { how: 'bearer' } }, goodsRequest({ straight: true, open: true }))).toBe(true);
    expect(goesStraight({ sign: { how: 'none' } }, goodsRequest())).toBe(false);
    expect(canGoStraight({ sign: { how: 'query', name: 'k' } }, goodsRequest())).toBe(false);
  });
});
