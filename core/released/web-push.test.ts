import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { VirtualClock } from '../world/clock.ts';
import { MemoryRuns } from '../runs/lines.ts';
import { WebPush, type Note, type PushAnswer, type Subscriber } from './web-push.ts';

const DAY = 86_400_000;
const START = Date.parse('2026-12-01T08:00:00Z');
const keys = { p256dh: 'p'.repeat(87), auth: 'a'.repeat(22) };
const phone = (name: string, person: string, session?: string): Omit<Subscriber, 'since'> => ({
  person,
  ...(session && { session }),
  subscription: { endpoint: `https://push.example/${name}`, keys },
});

/** Phones with a push service that answers as it is told. */
function world(lines = new MemoryRuns(), clock = new VirtualClock(START), notes: Note[] = []) {
  const w = {
    clock,
    lines,
    notes,
    sent: [] as string[],
    said: [] as string[],
    answer: (_endpoint: string): PushAnswer => ({ taken: true }),
    mayBeTold: (_s: Subscriber) => true,
  };
  const push = new WebPush({
    clock,
    lines,
    notes: async () => w.notes,
    mayBeTold: (s) => w.mayBeTold(s),
    push: async ({ subscription }, message) => {
      const answer = w.answer(subscription.endpoint);
      const { id } = JSON.parse(message) as Note;
      w.sent.push(`${subscription.endpoint.slice(21)} ${id}${answer.taken ? '' : ' not taken'}`);
      return answer;
    },
    say: (words) => void w.said.push(words),
  });
  return Object.assign(w, { push });
}
const note = (id: string, at = START): Note => ({ id, title: 'Swarm', words: 'At the school', at });

describe('phones where the app is closed', () => {
  it('are told what is for their person, each once, and nothing of before they said so', async () => {
    const w = world();
    await w.push.add(phone('ines', 'Ines'));
    await w.push.add(phone('tom', 'Tom'));
    w.push.tell(note('old', START - 1), ['Ines']);
    w.push.tell(note('a'), ['Ines', 'Odile']);
    w.push.tell(note('a'), ['Ines']);
    await w.clock.settle();
    w.push.tell(note('a'), ['Ines']);
    await w.clock.settle();
    expect(w.sent).toEqual(['ines a']);
  });
  it('are told after a stop what was not told before, and not again what was', async () => {
    const w = world();
    await w.push.add(phone('ines', 'Ines'));
    w.push.tell(note('a'), ['Ines']);
    await w.clock.settle();
    // The stop came between the notice and the phone.
    const again = world(w.lines, w.clock, [note('a'), note('b')]);
    await again.push.open();
    await w.clock.settle();
    expect(again.sent).toEqual(['ines b']);
    const third = world(w.lines, w.clock, [note('a'), note('b')]);
    await third.push.open();
    await w.clock.settle();
    expect(third.sent).toEqual([]);
  });
  it('are those of whoever uses them now: a phone is one person’s', async () => {
    const w = world();
    await w.push.add(phone('shared', 'Ines'));
    await w.clock.pass(1000);
    await w.push.add(phone('shared', 'Tom'));
    w.push.tell(note('a', w.clock.now()), ['Ines']);
    w.push.tell(note('b', START), ['Tom']);
    w.push.tell(note('c', w.clock.now()), ['Tom']);
    await w.clock.settle();
    expect(w.sent).toEqual(['shared c']);
  });
  it('that are gone, or of people who may not be told, are forgotten, also on the disk', async () => {
    const w = world();
    await w.push.add(phone('gone', 'Ines'));
    await w.push.add(phone('out', 'Tom', 'session1'));
    w.answer = (e) => (e.endsWith('gone') ? { taken: false, gone: true, words: '410' } : { taken: true });
    w.mayBeTold = (s) => s.session === undefined;
    w.push.tell(note('a'), ['Ines', 'Tom']);
    await w.clock.settle();
    expect(w.sent).toEqual(['gone a not taken']);
    const again = world(w.lines, w.clock);
    await again.push.open();
    again.push.tell(note('b'), ['Ines', 'Tom']);
    await w.clock.settle();
    expect(again.sent).toEqual([]);
  });
  it('are tried again with growing pauses while their service is away, and not after a day', async () => {
    const w = world();
    await w.push.add(phone('ines', 'Ines'));
    const at: number[] = [];
    w.answer = () => {
      at.push((w.clock.now() - START) / 1000);
      return { taken: false, gone: false, words: 'It answered 503.' };
    };
    w.push.tell(note('a'), ['Ines']);
    await w.clock.pass(220_000);
    expect(at).toEqual([0, 30, 90, 210]);
    expect(w.said).toHaveLength(1);
    await w.clock.pass(2 * DAY);
    const tries = at.length;
    await w.clock.pass(2 * DAY);
    expect(at).toHaveLength(tries);
    expect(at.at(-1)! * 1000).toBeLessThanOrEqual(DAY);
  });
  it('of somebody who is erased leave every line', async () => {
    const w = world();
    await w.push.add(phone('ines', 'Ines@post.example'));
    await w.push.add(phone('tom', 'tom@post.example'));
    w.push.tell(note('a'), ['Ines@post.example', 'tom@post.example']);
    await w.clock.settle();
    await w.push.forget(['ines@post.example', 'Ines']);
    expect(w.lines.lines.join('\n')).not.toMatch(/ines/i);
    expect(w.lines.lines.join('\n')).toContain('tom');
  });
  it('are ten for one person: the one that came first goes', async () => {
    const w = world();
    for (let i = 0; i < 12; i++) await w.push.add(phone(`p${i}`, 'Ines'));
    w.push.tell(note('a'), ['Ines']);
    await w.clock.settle();
    expect(w.sent.toSorted()).toEqual(Array.from({ length: 10 }, (_, i) => `p${i + 2} a`).toSorted());
  });
  it('get messages that fit into what push services take, whatever is in them', async () => {
    await fc.assert(
      fc.asyncProperty(fc.string({ unit: 'binary', maxLength: 2000 }), fc.string({ unit: 'binary', maxLength: 6000 }), async (title, words) => {
        const w = world();
        let bytes = 0;
        const push = new WebPush({
          clock: w.clock, lines: w.lines, notes: async () => [], mayBeTold: () => true, say: () => undefined,
          push: async (_s, message) => {
            bytes = new TextEncoder().encode(message).length;
            return { taken: true };
          },
        });
        await push.add(phone('ines', 'Ines'));
        push.tell({ id: 'm'.repeat(60), title, words, at: START }, ['Ines']);
        await w.clock.settle();
        expect(bytes).toBeGreaterThan(0);
        expect(bytes).toBeLessThan(3900);
      }),
      { numRuns: 60 },
    ); // prettier-ignore
  });
});
