import { accepted, call, change, onVictim, push, release, type Findings } from './server.ts';

const COUNT = 3000;
const PHONES = 40;

/** Thousands of notices, and phones that come back all at once to hear them, beside an app that goes on. */
export const notices = (): Promise<Findings> =>
  onVictim('notices', async (victim, wrong) => {
    await release(victim.url, 'loud');
    await release(victim.url, 'calm');
    const people = ['Ann', 'Bo', 'Nobody', 'Ann'];
    /** The last of four is a stranger, who says only afterwards that they are Ann. */
    const isStranger = (i: number): boolean => i % 4 === 3;
    const listen = (i: number, signal: AbortSignal): Promise<Response | null> =>
      fetch(
        `${victim.url}/api/apps/loud/live?person=${people[i % 4]}&device=phone-${i}&heard=2020-01-01T00:00:00.000Z`,
        { signal, headers: { 'x-forwarded-for': `10.77.0.${i}` } },
      ).catch(() => null);
    for (let i = 0; i < PHONES; i++)
      if (!isStranger(i)) {
        const stop = new AbortController();
        await listen(i, stop.signal);
        stop.abort();
      }
    let taken = 0;
    for (let i = 0; i < COUNT; i += 50) {
      const answers = await Promise.all(
        Array.from({ length: 50 }, (_, k) =>
          call(victim.url, '/api/apps/loud/mail', {
            json: {
              id: `notice-${String(i + k).padStart(6, '0')}`,
              kind: 'notice',
              to: [(i + k) % 3 ? 'Ann' : 'Bo'],
              subject: 'News',
              body: `No. ${i + k}`,
            },
          }),
        ),
      );
      taken += answers.filter((a) => a.status === 200).length;
    }
    if (taken < COUNT) wrong.push(`${COUNT - taken} notices were not taken`);
    const heard: number[] = [];
    const stop = new AbortController();
    const phones = Array.from({ length: PHONES }, async (_, i) => {
      const answer = await listen(i, stop.signal);
      if (answer?.status !== 200) return void wrong.push(`a phone was answered ${answer?.status}`);
      let told = 0;
      const reader = answer.body!.pipeThrough(new TextDecoderStream()).getReader();
      for (let text = ''; ;) {
        const { value, done } = await reader.read().catch(() => ({ value: undefined, done: true }));
        if (done) break;
        text += value;
        told = text.split('event: notice').length - 1;
        heard[i] = told;
      }
      return undefined;
    });
    const waits: number[] = [];
    for (let i = 0; i < 60; i++) {
      const started = performance.now();
      if (!accepted(await push(victim.url, 'calm', [change(`c${i}`)])).length)
        wrong.push('the app beside them stopped');
      waits.push(performance.now() - started);
      await new Promise((resolve) => {
        setTimeout(resolve, 100);
      });
    }
    stop.abort();
    await Promise.all(phones);
    for (let i = 0; i < PHONES; i++) {
      const wanted = i % 4 >= 2 ? 0 : 100;
      if ((heard[i] ?? 0) !== wanted) wrong.push(`phone ${i} was told ${heard[i]} of ${wanted} notices`);
    }
    if (victim.ended) wrong.push('the server ended');
    if (/EMFILE/.test(victim.said)) wrong.push('it had too many files open');
    waits.sort((a, b) => a - b);
    if (waits.at(-1)! > 3000) wrong.push(`a change of another app took ${Math.round(waits.at(-1)!)} ms`);
    return {
      notices: COUNT,
      'phones at once': PHONES,
      'slowest change beside them, ms': Math.round(waits.at(-1)!),
      'MB at most': Math.round(await victim.memory()),
    };
  });
