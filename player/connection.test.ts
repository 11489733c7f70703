import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { OfflineError } from '../core/host/link.ts';
import { Connection } from './connection.ts';
import { OtherAppError } from './link.ts';

/** A stream as a browser has it, spoken to by the test. */
class Stream extends EventTarget {
  readyState = 1;
  close(): void {
    this.readyState = 2;
  }
  say(event: string, data: unknown = {}): void {
    this.dispatchEvent(Object.assign(new Event(event), { data: JSON.stringify(data) }));
  }
}

function open(isFresh = false) {
  const did: string[] = [];
  const streams: Stream[] = [];
  const fails: Record<string, Error | null> = { refresh: null, sync: null, sendMail: null };
  const step = (name: string) => async (): Promise<void> => {
    did.push(name);
    if (fails[name]) throw fails[name];
  };
  const connection = new Connection(
    {
      refresh: step('refresh'),
      sync: step('sync'),
      sendMail: step('sendMail'),
      live: () => {
        did.push('live');
        const source = new Stream();
        streams.push(source);
        return {
          source: source as unknown as EventSource,
          events: { news: (data) => did.push(`news ${String(data)}`) },
        };
      },
      report: (online) => did.push(online ? 'online' : 'offline'),
      say: (words) => did.push(`say ${words}`),
      giveWay: async () => void did.push('gives way'),
    },
    isFresh,
  );
  const done = (): string[] => did.splice(0);
  return { connection, fails, streams, done };
}

beforeEach(() => void vi.useFakeTimers());
afterEach(() => void vi.useRealTimers());

describe('the way to the host', () => {
  it('asks for a newer release first, and not while it hears of one by itself, or has just fetched it', async () => {
    const o = open();
    await o.connection.connect();
    expect(o.done()).toEqual(['refresh', 'sync', 'live', 'sendMail', 'online']);
    await o.connection.connect();
    expect(o.done()).toEqual(['sync', 'sendMail', 'online']);
    const fresh = open(true);
    await fresh.connection.connect();
    expect(fresh.done()[0]).toBe('sync');
  });
  it('does once more what was asked for while it was under way', async () => {
    const o = open(true);
    await Promise.all([o.connection.connect(), o.connection.connect()]);
    expect(o.done().filter((d) => d === 'sync')).toHaveLength(2);
  });
  it('is looked for again after any failure, and what is no fault of the network is said', async () => {
    const o = open(true);
    o.fails['sync'] = new OfflineError('none');
    await o.connection.connect();
    expect(o.done()).toEqual(['sync', 'offline']);
    o.fails['sync'] = new Error('The host answered 500.');
    await vi.advanceTimersByTimeAsync(1100);
    expect(o.done()).toContain('say The host answered 500.');
    o.fails['sync'] = null;
    await vi.advanceTimersByTimeAsync(2100);
    expect(o.done()).toContain('online');
  });
  it('hears the news also when its mail cannot be sent', async () => {
    const o = open(true);
    o.fails['sendMail'] = new OfflineError('none');
    await o.connection.connect();
    o.streams[0]!.say('news', 5);
    expect(o.done()).toEqual(['sync', 'live', 'sendMail', 'offline', 'news 5']);
  });
  it('notices a stream that has died without a word, and not one that beats', async () => {
    const o = open(true);
    await o.connection.connect();
    o.done();
    for (let i = 0; i < 8; i++) {
      await vi.advanceTimersByTimeAsync(15_000);
      o.streams[0]!.say('beat');
    }
    expect(o.done()).toEqual([]);
    await vi.advanceTimersByTimeAsync(60_000);
    expect(o.done()).toEqual(['offline', 'refresh', 'sync', 'live', 'sendMail', 'online']);
    expect([o.streams[0]!.readyState, o.streams.length]).toEqual([2, 2]);
  });
  it('is given up where another app is at the address', async () => {
    const o = open();
    o.fails['refresh'] = new OtherAppError(410, 'Another app is at this address now.');
    await o.connection.connect();
    await vi.advanceTimersByTimeAsync(60_000);
    expect(o.done()).toEqual(['refresh', 'gives way']);
  });
});
