import { hiveApp } from '../core/records/fixture.ts';
import { accepted, allRecords, call, change, push, release, onVictim, type Findings } from './server.ts';

/** Apps that want all the time or all the memory, beside one that goes on. */
export const greedy = (): Promise<Findings> =>
  onVictim('greedy', async (victim, wrong) => {
    await release(victim.url, 'calm');
    const formula = 'every x in 1..1500, y in 1..1500 satisfies x * y > 0';
    const slow = { ...hiveApp(), id: 'a_slow00000' };
    slow.tables[0]!.fields.push({ id: 'f_check000', name: 'Check', type: 'text', check: { formula, words: 'No.' } });
    await release(victim.url, 'slow', slow);
    await release(victim.url, 'large', { ...hiveApp(), id: 'a_large0000' });
    const kept = change('before');
    if (!accepted(await push(victim.url, 'slow', [kept])).length) wrong.push('a first change is not taken');

    const waits: number[] = [];
    const going = { on: true };
    const calm = (async () => {
      while (going.on) {
        const started = performance.now();
        if (!accepted(await push(victim.url, 'calm', [change(`c${waits.length}`)])).length)
          wrong.push('the app beside them does not go on');
        waits.push(performance.now() - started);
        await new Promise((resolve) => {
          setTimeout(resolve, 25);
        });
      }
    })();
    const busy = Array.from({ length: 1000 }, (_, i) => change(`s${i}`, { f_check000: `x${i}` }));
    const time = await push(victim.url, 'slow', busy);
    if (time.status !== 503) wrong.push(`an endless app is answered with ${time.status}`);
    let memory = 200;
    for (let i = 0; i < 700 && memory === 200; i++) {
      const cells = { f_name000: `${i} ${'é'.repeat(390_000)}` };
      memory = (
        await push(
          victim.url,
          'large',
          [0, 1, 2, 3, 4].map((k) => change(`l${i}x${k}`, cells)),
        )
      ).status;
    }
    if (memory !== 503) wrong.push(`an app that takes all the memory is answered with ${memory}`);
    going.on = false;
    await calm;
    if (!(await allRecords(victim.url, 'slow')).has('before')) wrong.push('what was acknowledged before is gone');
    if ((await call(victim.url, '/api/apps/large/app')).status !== 200) wrong.push('the large app is not served');
    if (victim.ended) wrong.push('the server ended');
    waits.sort((a, b) => a - b);
    return {
      'asked beside them': waits.length,
      'slowest of 20 in 21, ms': Math.round(waits[Math.floor(waits.length * 0.95)]!),
      'slowest, ms': Math.round(waits.at(-1)!),
      'MB at most': Math.round(await victim.memory()),
    };
  });
