import { describe, expect, it } from 'vitest';
import { VirtualClock } from '../world/clock.ts';
import { MemoryRuns } from '../runs/lines.ts';
import { MessagesOut, recipientsOf, type RelayAnswer } from './messages-out.ts';

const HOUR = 3_600_000;

/** An outbox and a relay that answers as it is told. */
async function world(outbox: string[], lines = new MemoryRuns()) {
  const clock = new VirtualClock(Date.parse('2026-12-01T08:00:00Z'));
  const sent: string[] = [];
  const refused: string[] = [];
  const at: number[] = [];
  const w = { clock, sent, refused, at, lines, outbox, answer: { taken: true } as RelayAnswer };
  const out = new MessagesOut({
    clock,
    lines,
    ids: async () => [...outbox],
    read: async (id) => `To: Ada <ada@post.example>,\r\n tom@post.example\r\nSubject: ${id}\r\n\r\nTo: x`,
    to: recipientsOf,
    relay: async (_eml, to) => {
      at.push(clock.now());
      if (w.answer.taken) sent.push(to.join(' '));
      return w.answer;
    },
    refused: async (id, words) => void refused.push(`${id}: ${words}`),
    say: () => undefined,
  });
  await out.open();
  return { ...w, out, set: (answer: RelayAnswer) => (w.answer = answer) };
}

describe('mails that go out', () => {
  it('are those that come from when a relay is named, each once, also after a start', async () => {
    const w = await world(['old']);
    await w.clock.settle();
    expect(w.sent).toEqual([]);
    w.outbox.push('new');
    w.out.add('new');
    w.out.add('new');
    await w.clock.settle();
    expect(w.sent).toEqual(['ada@post.example tom@post.example']);
    const again = await world(w.outbox, w.lines);
    await again.clock.settle();
    expect(again.sent).toEqual([]);
  });
  it('wait where the relay is busy, with growing pauses, and are given up in words after two days', async () => {
    const w = await world([]);
    w.set({ taken: false, forGood: false, words: 'Busy' });
    w.out.add('m');
    await w.clock.pass(10 * 60_000);
    expect(w.at.map((t) => (t - w.at[0]!) / 60_000)).toEqual([0, 1, 3, 7]);
    await w.clock.pass(60 * HOUR);
    expect(w.refused).toEqual(['m: Busy']);
    const tries = w.at.length;
    await w.clock.pass(60 * HOUR);
    expect(w.at).toHaveLength(tries);
  });
  it('that are refused for good are told at once, and go on when the relay is there again', async () => {
    const w = await world([]);
    w.set({ taken: false, forGood: true, words: 'No such mailbox' });
    w.out.add('m');
    await w.clock.settle();
    w.set({ taken: true });
    w.out.add('n');
    await w.clock.settle();
    expect([w.refused, w.sent.length]).toEqual([['m: No such mailbox'], 1]);
  });
});
