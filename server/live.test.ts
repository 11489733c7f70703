import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { F, hiveApp } from '../core/records/fixture.ts';
import { change, TestServer } from './fixture.ts';

let t: TestServer;
beforeAll(async () => {
  t = await TestServer.start();
});
afterAll(() => t.stop());

/** Listens as a phone does. Gives where the hello says the host stands, and the numbers of all news since. */
async function listen(name: string) {
  const end = new AbortController();
  const stream = await fetch(`${t.url}/api/apps/${name}/live`, { signal: end.signal });
  const reader = stream.body!.pipeThrough(new TextDecoderStream()).getReader();
  const heard: { event: string; from: number; at: number }[] = [];
  const reading = (async () => {
    let text = '';
    try {
      for (let r = await reader.read(); !r.done; r = await reader.read()) {
        text += r.value;
        const events = text.split('\n\n');
        text = events.pop()!;
        for (const e of events) {
          const [, event, data] = /^event: (.*)\ndata: (.*)$/m.exec(e) ?? [];
          if (event) heard.push({ event, ...(JSON.parse(data!) as { from: number; at: number }) });
        }
      }
    } catch {
      // It was ended by the test.
    }
  })();
  return {
    heard,
    stop: async () => {
      end.abort();
      await reading;
    },
  };
}

describe('what a phone is told', () => {
  it('begins exactly where the host stood when it began to listen, while others write', async () => {
    await t.release('busy', undefined, { ...hiveApp(), id: 'a_busy00000' });
    let written = 0;
    const write = () => {
      const n = written++;
      return t.push('busy', { ...change({ [F.name]: `n${n}` }), record: `r${n}`, id: `b-${n}` });
    };
    for (let round = 0; round < 40; round++) {
      // Nobody listens before: the app begins to tell because of this phone.
      const under = [write(), write(), write()];
      await new Promise((r) => setTimeout(r, round % 5));
      const [phone] = await Promise.all([listen('busy'), ...under]);
      // What the hello does not tell to have happened comes as news, without another change to hint at a gap. News from
      // before it may still come behind it, and are known to be old.
      const known = (): number => Math.max(...phone.heard.map((h) => h.at ?? 0));
      await expect.poll(known, { timeout: 3000, interval: 10 }).toBe(written);
      const [hello, ...news] = phone.heard.filter((h) => h.event !== 'beat');
      expect(hello!.event).toBe('hello');
      news.reduce((at, n) => {
        expect(n.from).toBeLessThanOrEqual(at);
        return Math.max(at, n.at);
      }, hello!.at);
      await phone.stop();
    }
  });
});
