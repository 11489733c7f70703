import { describe, expect, it } from 'vitest';
import { OfflineError, OtherAppError } from '../host/link.ts';
import { VirtualClock } from '../world/clock.ts';
import { Way } from './way.ts';

function open(isFresh = false) {
  const did: string[] = [];
  /** Every stream that was opened, spoken to by the test. */
  const streams: { say(event: string, data?: unknown): void; over(): void; closed: boolean }[] = [];
  const fails: Record<string, Error | null> = { refresh: null, sync: null, sendMail: null };
  const step = (name: string) => async (): Promise<void> => {
    did.push(name);
    if (fails[name]) throw fails[name];
  };
  const clock = new VirtualClock(0);
  const way = new Way(
    {
      refresh: step('refresh'),
      sync: step('sync'),
      sendMail: step('sendMail'),
      listen: (hear, over) => {
        did.push('listen');
        const stream = { say: (event: string, data: unknown = {}) => hear(event, data), over, closed: false };
        streams.push(stream);
        return () => (stream.closed = true);
      },
      heard: (event, data) => did.push(`${event} ${String(data)}`),
      report: (online) => did.push(online ? 'online' : 'offline'),
      say: (words) => did.push(`say ${words}`),
      giveWay: async () => void did.push('gives way'),
    },
    clock,
    isFresh,
  );
  const done = (): string[] => did.splice(0);
  return { way, clock, fails, streams, done };
}

describe('the way to the host', () => {
  it('asks for a newer release first, and not while it hears of one by itself, or has just fetched it', async () => {
    const o = open();
    await o.way.connect();
    expect(o.done()).toEqual(['refresh', 'sync', 'listen', 'sendMail', 'online']);
    await o.way.connect();
    expect(o.done()).toEqual(['sync', 'sendMail', 'online']);
    const fresh = open(true);
    await fresh.way.connect();
    expect(fresh.done()[0]).toBe('sync');
  });
  it('does once more what was asked for while it was under way', async () => {
    const o = open(true);
    await Promise.all([o.way.connect(), o.way.connect()]);
    expect(o.done().filter((d) => d === 'sync')).toHaveLength(2);
  });
  it('is looked for again after any failure, and what is no fault of the network is said', async () => {
    const o = open(true);
    o.fails['sync'] = new OfflineError('none');
    await o.way.connect();
    expect(o.done()).toEqual(['sync', 'offline']);
    o.fails['sync'] = new Error('The host answered 500.');
    await o.clock.pass(1100);
    expect(o.done()).toContain('say The host answered 500.');
    o.fails['sync'] = null;
    await o.clock.pass(2100);
    expect(o.done()).toContain('online');
  });
  it('hears the news also when its mail cannot be sent', async () => {
    const o = open(true);
    o.fails['sendMail'] = new OfflineError('none');
    await o.way.connect();
    o.streams[0]!.say('news', 5);
    expect(o.done()).toEqual(['sync', 'listen', 'sendMail', 'offline', 'news 5']);
  });
  it('notices a stream that has died without a word, and not one that beats', async () => {
    const o = open(true);
    await o.way.connect();
    o.done();
    for (let i = 0; i < 8; i++) {
      await o.clock.pass(15_000);
      o.streams[0]!.say('beat');
    }
    expect(o.done()).toEqual([]);
    await o.clock.pass(60_000);
    expect(o.done()).toEqual(['offline', 'refresh', 'sync', 'listen', 'sendMail', 'online']);
    expect([o.streams[0]!.closed, o.streams.length]).toEqual([true, 2]);
  });
  it('is given up where another app is at the address', async () => {
    const o = open();
    o.fails['refresh'] = new OtherAppError('Another app is at this address now.');
    await o.way.connect();
    await o.clock.pass(60_000);
    expect(o.done()).toEqual(['refresh', 'gives way']);
  });
  it('goes on with another stream when one ends by itself, and with none when it is closed', async () => {
    const o = open(true);
    await o.way.connect();
    o.done();
    o.streams[0]!.over();
    o.streams[0]!.say('news', 1);
    await o.clock.pass(1000);
    expect(o.done()).toEqual(['offline', 'refresh', 'sync', 'listen', 'sendMail', 'online']);
    o.way.close();
    o.streams[1]!.over();
    await o.clock.pass(120_000);
    expect([o.done(), o.streams[1]!.closed]).toEqual([[], true]);
  });
  it('gives what went wrong to whoever asked for it', async () => {
    const o = open(true);
    o.fails['sync'] = new OfflineError('none');
    expect((await o.way.connect())?.message).toBe('none');
    o.fails['sync'] = null;
    expect(await o.way.connect()).toBeNull();
  });
});
