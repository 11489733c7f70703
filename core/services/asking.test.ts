import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { VirtualClock } from '../world/clock.ts';
import { answered, askService, mayRepeat, type AskingPorts } from './asking.ts';
import { failureOf, NoAnswer } from './failures.ts';
import type { OutsideReply, OutsideRequest } from './outside.ts';
import { fill } from './fill.ts';
import { goodsRequest as request, supplier } from './fixture.ts';
import type { Service, Sign } from './schema.ts';

const service = (sign: Sign = { how: 'none' }): Service =>
  supplier({ test: 'https://goods.example', headers: [{ name: 'Authorization', value: 'of the app' }], sign });
const reply = (status: number, body = '{}', headers: [string, string][] = []): OutsideReply => ({
  status,
  headers: [['content-type', 'application/json'], ...headers],
  body: new TextEncoder().encode(body),
  ms: 5,
  url: 'https://goods.example/goods',
});

/** A world in which a service answers as the test says, on a clock that goes by itself. */
function asking(
  answers: (OutsideReply | NoAnswer | ((r: OutsideRequest) => OutsideReply))[],
  secret: string | null = null,
) {
  const clock = new VirtualClock(0);
  const sent: { at: number; request: OutsideRequest }[] = [];
  const ports: AskingPorts = {
    send: async (r) => {
      sent.push({ at: clock.now(), request: r });
      const answer = answers.length > 1 ? answers.shift()! : answers[0]!;
      if (answer instanceof NoAnswer) throw answer;
      return typeof answer === 'function' ? answer(r) : answer;
    },
    secret: async () => secret,
    clock,
    random: () => 0.5,
  };
  const ask = async (s = service(), r = request()) => {
    const filled = fill(s, r, 'test', () => null);
    const going = askService(s, filled, 'test', mayRepeat(r), ports).then(answered);
    going.catch(() => undefined);
    for (let i = 0; i < 40; i++) await clock.pass(500);
    return going;
  };
  return { ask, sent };
}

describe('a service', () => {
  it('is answered for with all there is to see', async () => {
    const { ask } = asking([reply(200, '[1]', [['etag', '"a"']])]);
    expect(await ask()).toEqual({
      status: 200,
      said: null,
      headers: [
        ['content-type', 'application/json'],
        ['etag', '"a"'],
      ],
      read: { is: 'json', value: [1] },
      bytes: 3,
      ms: 5,
      url: 'https://goods.example/goods',
      tries: 1,
    });
    expect((await asking([reply(404)]).ask()).said).toContain('nothing at this address');
  });
  it('is signed in its way, with what the app has put there itself giving way', async () => {
    for (const [sign, secret, seen] of [
      [{ how: 'header', name: 'X-Key' }, 'k1', ['X-Key', 'k1']],
      [{ how: 'bearer' }, 't1', ['authorization', 'Bearer t1']],
      [{ how: 'basic' }, 'me:pässword', ['authorization', `Basic ${Buffer.from('me:pässword').toString('base64')}`]],
    ] as const) {
      const { ask, sent } = asking([reply(200)], secret);
      await ask(service(sign));
      const { headers, secret: names } = sent[0]!.request;
      expect(headers).toContainEqual(seen);
      expect(headers.filter(([n]) => n.toLowerCase() === seen[0].toLowerCase())).toHaveLength(1);
      expect([...names!]).toEqual([seen[0].toLowerCase()]);
    }
    const { ask, sent } = asking([reply(200)], 'k&1');
    await ask(service({ how: 'query', name: 'key' }));
    expect(sent[0]!.request.url).toBe('https://goods.example/goods?key=k%261');
  });
  it('is not asked without its key, nor with one that cannot be sent', async () => {
    for (const secret of [null, '', 'a\r\nX-Evil: 1', 'ключ']) {
      const { ask, sent } = asking([reply(200)], secret);
      await expect(ask(service({ how: 'bearer' })), String(secret)).rejects.toMatchObject({ sort: 'unsigned' });
      expect(sent).toEqual([]);
    }
  });
  it('is asked again after growing rests where that does no harm', async () => {
    const { ask, sent } = asking([new NoAnswer('cut off'), reply(503), reply(200)]);
    expect((await ask()).tries).toBe(3);
    expect(sent.map((s) => s.at)).toEqual([0, 300, 900]);
    const posts = asking([new NoAnswer('cut off'), reply(200)]);
    await expect(posts.ask(service(), request({ method: 'POST' }))).rejects.toMatchObject({ sort: 'cut off' });
    expect(posts.sent).toHaveLength(1);
    const keyed = asking([reply(502), reply(200)]);
    const key = { name: 'Idempotency-Key', value: 'a' };
    expect((await keyed.ask(service(), request({ method: 'POST', headers: [key] }))).tries).toBe(2);
  });
  it('is asked as long as there is time, waits as long as it says, and not for ever', async () => {
    const waits = asking([reply(429, '{}', [['Retry-After', '2']]), reply(200)]);
    expect((await waits.ask()).tries).toBe(2);
    expect(waits.sent.map((s) => s.at)).toEqual([0, 2000]);
    expect(waits.sent[1]!.request.limits.ms).toBe(13_000);
    const long = asking([reply(429, '{}', [['Retry-After', '60']])]);
    expect((await long.ask()).said).toContain('60 seconds');
    expect(long.sent).toHaveLength(1);
    // It has two seconds in all, and the service wants three.
    const short = asking([reply(503, '{}', [['Retry-After', '3']])]);
    await short.ask({ ...service(), limits: { seconds: 2, megabytes: 1 } });
    expect(short.sent).toHaveLength(1);
    const down = asking([new NoAnswer('refused')]);
    await expect(down.ask()).rejects.toMatchObject({ sort: 'refused' });
    expect(down.sent).toHaveLength(3);
    for (const sort of ['blocked', 'certificate', 'too large', 'not found'] as const) {
      const never = asking([new NoAnswer(sort)]);
      await expect(never.ask()).rejects.toMatchObject({ sort });
      expect(never.sent, sort).toHaveLength(1);
    }
  });
  it('that gives back what it was sent tells no secret, in whatever form (property)', async () => {
    const signs = fc.constantFrom<Sign>(
      { how: 'bearer' },
      { how: 'basic' },
      { how: 'header', name: 'X-Key' },
      { how: 'query', name: 'key' },
    );
    const secrets = fc
      .string({
        minLength: 8,
        maxLength: 40,
        unit: fc.integer({ min: 0x21, max: 0x7e }).map((c) => String.fromCharCode(c)),
      })
      .map((s) => `me:${s}`);
    await fc.assert(
      fc.asyncProperty(signs, secrets, async (sign, secret) => {
        const echo = (r: OutsideRequest): OutsideReply => ({
          ...reply(400, JSON.stringify({ asked: r, again: [secret, encodeURIComponent(secret), btoa(secret)] })),
          headers: [['x-asked', r.headers.map(([, v]) => v).join()]],
          url: r.url,
        });
        const answer = JSON.stringify(await asking([echo], secret).ask(service(sign)));
        const alone = secret.slice(3);
        for (const form of [
          secret,
          alone,
          encodeURIComponent(secret),
          btoa(secret),
          btoa(alone),
          JSON.stringify(alone).slice(1, -1),
        ])
          expect(answer.includes(form), `${sign.how}: ${form}`).toBe(false);
      }),
      { numRuns: 60 },
    );
  });
});

it('an error of the network is told by its sort, and nothing of the inside', () => {
  const coded = (code: string, cause?: unknown): Error => Object.assign(new Error('/secret/path', { cause }), { code });
  for (const [error, sort] of [
    [coded('ENOTFOUND'), 'not found'],
    [coded('ECONNREFUSED'), 'refused'],
    [coded('CERT_HAS_EXPIRED'), 'certificate'],
    [coded('DEPTH_ZERO_SELF_SIGNED_CERT'), 'certificate'],
    [coded('UND_ERR_HEADERS_TIMEOUT'), 'too slow'],
    [coded('X', coded('ECONNREFUSED')), 'refused'],
    [Object.assign(new Error('late'), { name: 'TimeoutError' }), 'too slow'],
    [coded('ECONNRESET'), 'cut off'],
    ['odd', 'cut off'],
  ] as const) {
    expect(failureOf(error).sort).toBe(sort);
    expect(failureOf(error).message).not.toContain('secret');
  }
});
