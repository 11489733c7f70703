import { expect, it } from 'vitest';
import { thisId } from '../document/ids.ts';
import { F, T } from '../records/fixture.ts';
import { goodsRequest, supplier } from '../services/fixture.ts';
import { make, routine, RunsWorld } from './fixture.ts';

const me = thisId(T.hives);
const INPUT = 'v_name000000';
const ANSWERED: RunsWorld['answers'] = (asked) => ({
  reply: {
    status: 200,
    headers: [['content-type', 'application/json']],
    body: new TextEncoder().encode('{}'),
    ms: 1,
    url: asked.filled.url,
  },
  tries: 1,
});

/** A routine that has a service write what was added. */
async function world(onceAtMost: boolean): Promise<RunsWorld> {
  const step = make.step('request', { request: 'n_goods00000', values: [{ field: INPUT, value: `${me}.${F.name}` }], ...(onceAtMost && { onceAtMost: true }) }); // prettier-ignore
  const note = make.step('add', { table: T.visits, values: [{ field: F.hiveTag, value: '"done"' }] });
  const w = new RunsWorld((await RunsWorld.of(routine('Order', 'record changed', { how: 'added' }, [step, note]))).app);
  const request = goodsRequest({ method: 'POST', inputs: [{ id: INPUT, name: 'Name', type: 'text' }], body: { is: 'json', json: `{"name":"{${INPUT}}"}` } }); // prettier-ignore
  w.app.services = [supplier({ requests: [request] })];
  w.answers = ANSWERED;
  await w.start();
  return w;
}
/** What is fetched late takes time that the world’s clock does not count. */
async function until(w: RunsWorld, holds: () => boolean): Promise<void> {
  for (const end = Date.now() + 20_000; Date.now() < end && !holds();) await w.settle();
}
const keys = (w: RunsWorld): (string | undefined)[] =>
  w.asked.map((a) => a.filled.headers.find(([name]) => name.toLowerCase() === 'idempotency-key')?.[1]);

it('a request is asked again after a stop, by the same key', async () => {
  const w = await world(false);
  // Killed after the service has taken it, and before that is known.
  w.answers = () => {
    w.kill();
    return new Promise<never>(() => undefined);
  };
  await w.set('oak', { [F.name]: 'Oak' });
  await until(w, () => w.killed);
  w.answers = ANSWERED;
  await w.start();
  await until(w, () => w.ended.length > 0);
  await w.settle();
  expect(w.asked).toHaveLength(2);
  expect(new Set(keys(w)).size).toBe(1);
  expect(keys(w)[0]).toBeTruthy();
});

it('one that is to be asked once at most is not, and fails in words; by hand it is asked again', async () => {
  const w = await world(true);
  w.answers = () => {
    w.kill();
    return new Promise<never>(() => undefined);
  };
  await w.set('oak', { [F.name]: 'Oak' });
  await until(w, () => w.killed);
  await w.start();
  await until(w, () => w.ended.length > 0);
  expect(w.asked).toHaveLength(1);
  const [failed] = [...w.runs.now.live.values()];
  expect(failed).toMatchObject({
    stands: 'failed',
    error: expect.stringContaining('nobody knows whether it was done'),
  });
  w.answers = () => ({ failed: { sort: 'refused', words: 'No.' } });
  await w.runs.runAgain(failed!.id);
  await until(w, () => w.asked.length > 1);
  expect(w.asked).toHaveLength(2);
});

it('a failure that may pass is tried again with growing pauses, then for good', async () => {
  const w = await world(false);
  w.answers = () => ({ failed: { sort: 'refused', words: 'Nobody answers.' } });
  await w.set('oak', { [F.name]: 'Oak' });
  await until(w, () => [...w.runs.now.live.values()][0]?.stands === 'retries');
  const asked = w.asked.length;
  expect([...w.runs.now.live.values()][0]!.stands).toBe('retries');
  await w.pass(16_000);
  expect(w.asked.length).toBe(asked * 2);
  w.kill();
  await w.start();
  expect(w.asked.length).toBe(asked * 2);
  await w.pass(61_000);
  expect(w.asked.length).toBe(asked * 3);
});
