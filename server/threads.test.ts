import { afterAll, afterEach, beforeAll, describe, expect, it, vi } from 'vitest';
import type { App } from '../core/app/schema.ts';
import { F, hiveApp } from '../core/records/fixture.ts';
import { change, KEY, OTHER, TestServer } from './fixture.ts';

/** Each app has a thread with a bound of time and memory: what one does is nobody else's trouble. */

let t: TestServer;
const said = vi.spyOn(console, 'error').mockImplementation(() => undefined);
beforeAll(async () => {
  t = await TestServer.start({ stuckMs: 1500, memory: 64 });
  await t.release('calm', OTHER, { ...hiveApp(), id: 'a_calm00000' });
  await t.push('calm', change({ [F.name]: 'Calm' }));
});
afterAll(async () => {
  await t.stop();
  said.mockRestore();
});
afterEach(() => said.mockClear());

/** Hives with a check that works as long as any may, for each record that is written. */
function slowApp(name: string): App {
  const app = { ...hiveApp(), id: `a_${name}`.padEnd(11, '0') };
  const formula = 'every x in 1..1500, y in 1..1500 satisfies x * y > 0';
  app.tables[0]!.fields.push({ id: 'f_checked0', name: 'Checked', type: 'text', check: { formula, words: 'No.' } });
  return app;
}
/** Asks the other app again and again while something is under way. Gives how often it answered meanwhile. */
async function beside<T>(work: Promise<T>): Promise<{ result: T; answers: number }> {
  const under = { way: true };
  let answers = 0;
  const done = work.finally(() => (under.way = false));
  while (under.way) {
    const { status } = await t.call('/api/apps/calm/changes?since=0');
    expect(status).toBe(200);
    answers++;
    await new Promise((resolve) => {
      setTimeout(resolve, 20);
    });
  }
  return { result: await done, answers };
}
const many = (count: number) => Array.from({ length: count }, (_, i) => change({ f_checked0: `x${i}` }));

describe('an app that works without an end', () => {
  it('is stopped, holds up no other, and starts again with all that was acknowledged', async () => {
    await t.release('slow', KEY, slowApp('slow'));
    const kept = change({ [F.name]: 'Before' });
    expect((await t.push('slow', kept)).body['accepted']).toHaveLength(1);
    const { result, answers } = await beside(t.push('slow', ...many(200)));
    expect([result.status, result.body['error']]).toEqual([
      503,
      'This app was stopped: it worked on one thing for more than 1.5 seconds. It starts again when it is asked for.',
    ]);
    // In one thread with the app that is stuck, it would answer once, afterwards.
    expect(answers).toBeGreaterThan(5);
    const { body } = await t.call('/api/apps/slow/changes?since=0');
    expect(JSON.stringify(body)).toContain('Before');
    expect(said).toHaveBeenCalledWith(expect.stringContaining('The app at “slow” was stopped'));
  });
  it('refuses for good what stopped it twice, so that what waits behind it goes on', async () => {
    await t.release('stuck', KEY, slowApp('stuck'));
    const culprit = many(200);
    for (const status of [503, 503, 422]) expect((await t.push('stuck', ...culprit)).status).toBe(status);
    expect((await t.push('stuck', change({ [F.name]: 'Behind' }))).body['accepted']).toHaveLength(1);
  });
  it('is not started again and again; a mended release starts it at once', async () => {
    await t.release('again', KEY, slowApp('again'));
    const wrong = (): Promise<number> => t.push('again', ...many(200)).then((r) => r.status);
    for (let i = 0; i < 3; i++) expect(await wrong()).toBe(503);
    const { status, body } = await t.push('again', change({ [F.name]: 'x' }));
    expect([status, body['error']]).toEqual([503, expect.stringContaining('was stopped several times')]);
    expect((await t.release('again', KEY, { ...hiveApp(), id: slowApp('again').id })).status).toBe(200);
    expect((await t.push('again', ...many(1), change({ [F.name]: 'Mended' }))).body['accepted']).toHaveLength(1);
  });
});

describe('an app that wants all the memory', () => {
  // Looking for memory that is not there takes long, on a machine with other work longer than what counts as stuck.
  beforeAll(async () => {
    await t.stop();
    t = await TestServer.start({ stuckMs: 60_000, memory: 64 });
    await t.release('calm', OTHER, { ...hiveApp(), id: 'a_calm00000' });
  });
  it('is stopped, and the others go on', async () => {
    await t.release('large', KEY, { ...hiveApp(), id: 'a_large0000' });
    const fill = async (): Promise<number> => {
      for (let i = 0; i < 100; i++) {
        const cells = (k: number) => change({ [F.name]: `${i} ${k} ${'é'.repeat(300_000)}` });
        const { status } = await t.push('large', ...[0, 1, 2, 3].map(cells));
        if (status !== 200) return status;
      }
      return 200;
    };
    const { result, answers } = await beside(fill());
    expect(result).toBe(503);
    expect(answers).toBeGreaterThan(5);
    expect(said).toHaveBeenCalledWith(expect.stringContaining('needs more memory'));
    expect((await t.push('calm', change({ [F.name]: 'Still calm' }))).body['accepted']).toHaveLength(1);
  });
});
