import { appendFile, readFile } from 'node:fs/promises';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { App } from '../core/app/schema.ts';
import { thisId } from '../core/document/ids.ts';
import { F, hiveApp, T } from '../core/records/fixture.ts';
import type { BoardMessage } from '../core/runs/board.ts';
import { make, routine, where } from '../core/runs/fixture.ts';
import type { RunTrace } from '../core/routines/run.ts';
import { change, KEY, OTHER, TestServer } from './fixture.ts';

const me = thisId(T.hives);
const note = (value: string) => make.step('add', { table: T.visits, values: [{ field: F.hiveTag, value }] });
let server: TestServer;
beforeAll(async () => {
  server = await TestServer.start();
});
afterAll(() => server.stop());

function app(): App {
  const made = hiveApp();
  made.routines.push(
    routine('Greet', 'record changed', { how: 'added' }, [
      note(`"hello " + ${me}.${F.name}`),
      make.step('mail', { to: '"keeper@example.org"', subject: `New: {${me}.${F.name}}`, body: 'Look.' }),
    ]),
    routine('Wait', 'record changed', { how: 'changed' }, [
      make.step('hold', {
        when: where(`${me}.${F.status}`, 'is', '"Retired"'),
        time: 'duration("P7D")',
        late: [],
      }),
      note(`"retired " + ${me}.${F.name}`),
    ]),
    routine('Fail', 'record changed', { how: 'removed' }, [make.step('mail', { to: '""', subject: 'x', body: 'x' })], {
      given: null,
    }),
  );
  return made;
}
const board = async (name: string): Promise<BoardMessage> =>
  (await server.call(`/api/apps/${name}/runs`, { key: KEY })).body as BoardMessage;
const hand = (name: string, json: object, key = KEY) =>
  server.call(`/api/apps/${name}/runs`, { method: 'POST', json, key });
/** Waits until something is so. */
async function until<R>(work: () => Promise<R | false | undefined>): Promise<R> {
  for (let i = 0; i < 200; i++) {
    const found = await work();
    if (found) return found;
    await new Promise((done) => setTimeout(done, 25));
  }
  throw new Error('It never came.');
}
const tags = async (name: string): Promise<unknown[]> => {
  const { body } = await server.call(`/api/apps/${name}/changes?since=0`);
  const { states = [], changes = [] } = body as { states?: { table: string; cells: Record<string, unknown> }[]; changes?: { table: string; cells: Record<string, unknown> }[] }; // prettier-ignore
  return [...states, ...changes].filter((s) => s.table === T.visits).map((s) => s.cells[F.hiveTag]);
};

describe('a release while runs are under way', () => {
  const hold = routine('Hold', 'record changed', { how: 'added' }, [
    make.step('hold', { when: where(`${me}.${F.status}`, 'is', '"Retired"'), time: 'duration("P7D")', late: [] }),
    note('"as it began"'),
  ]);
  const released = (words: string): App => {
    const made = hiveApp();
    made.routines = [structuredClone(hold)];
    Object.assign(made.routines[0]!.steps[1]!, { values: [{ field: F.hiveTag, value: `"${words}"` }] });
    return made;
  };
  const put = (words: string, runs: string, key = KEY) =>
    server.call(`/api/apps/over?runs=${runs}`, { method: 'PUT', json: { app: released(words), icons: null }, key });
  const holds = (count: number) => until(async () => (await board('over')).counts['holds'] === count);

  it('lets them go on as they began, or with the newest, as the holder of the key says', async () => {
    await put('as it began', 'newest');
    await server.push('over', change({ [F.name]: 'Oak' }, 'oak'));
    await holds(1);
    // Nobody else touches them, and what cannot be understood changes nothing.
    expect((await put('not ours', 'as-begun', OTHER)).status).toBe(409);
    expect((await put('not said', 'somehow')).status).toBe(422);
    expect((await board('over')).earlier).toBe(0);
    expect((await put('newer', 'as-begun')).status).toBe(200);
    await server.push('over', change({ [F.name]: 'Elm' }, 'elm'));
    await holds(2);
    const { earlier, live } = await board('over');
    expect([earlier, live.map((r) => [r.given, r.earlier])]).toEqual([1, [['Oak', true], ['Elm', false]]]); // prettier-ignore
    await server.restart();
    await server.push('over', change({ [F.status]: 'Retired' }, 'oak'), change({ [F.status]: 'Retired' }, 'elm'));
    await until(async () => (await tags('over')).length === 2);
    expect((await tags('over')).sort()).toEqual(['as it began', 'newer']);
  });

  it('moves them to the newest also where the app has rules from then on, and so begins anew', async () => {
    await put('as it began', 'newest');
    await server.push('over', change({ [F.name]: 'Ash' }, 'ash'));
    await holds(1);
    await put('newer', 'as-begun');
    expect((await board('over')).earlier).toBe(1);
    const ruled = { ...released('newest'), people: T.keepers, access: { opens: 'people', mail: F.mail, roles: [], rules: [] } };
    const { status } = await server.call('/api/apps/over?runs=newest', { method: 'PUT', json: { app: ruled, icons: null }, key: KEY });
    expect(status).toBe(200);
    expect(await board('over')).toMatchObject({ earlier: 0, counts: { holds: 1 } });
  }); // prettier-ignore
});

describe('routines on the host', () => {
  it('run without a phone, go on after a restart, and are seen on the board by the holder of the key alone', async () => {
    await server.release('bees', KEY, app());
    await server.push('bees', change({ [F.name]: 'Oak' }, 'oak'));
    await until(async () => (await tags('bees')).includes('hello Oak'));
    await server.push('bees', change({ [F.weight]: 4 }, 'oak'));
    const held = await until(async () => {
      const { live } = await board('bees');
      return live.find((r) => r.stands === 'holds');
    });
    expect(held).toMatchObject({ given: 'Oak', holdsFor: 'until this hive › Status is Retired, at most 7 days' });
    expect((await server.call('/api/apps/bees/runs')).status).toBe(401);
    expect((await server.call('/api/apps/bees/runs', { key: OTHER })).status).toBe(403);
    expect((await hand('bees', { do: 'end', id: held.id }, OTHER)).status).toBe(403);

    // A line cut off by a power cut, and the server stopped: the run goes on by itself when what it waits for comes.
    await server.restart(() => appendFile(join(server.folder, 'data/bees/runs.jsonl'), '{"do":"kep'));
    await server.push('bees', change({ [F.status]: 'Retired' }, 'oak'));
    await until(async () => (await tags('bees')).includes('retired Oak'));
    const past = await until(async () => (await board('bees')).past.find((p) => p.said === 'Oak was added'));
    const trace = (await server.call(`/api/apps/bees/runs/${past.id}`, { key: KEY })).body as unknown as RunTrace;
    expect(trace.steps.map((s) => s.said)).toEqual(['Added a visit: Hive tag hello Oak', expect.stringContaining('keeper@example.org')]); // prettier-ignore
    const mails = (await server.call('/api/apps/bees/outbox', { key: KEY })).text;
    expect(mails).toContain('New: Oak');
    expect(await readFile(join(server.folder, 'data/bees/runs.jsonl'), 'utf8')).not.toContain('{"do":"kep{');
  });

  it('are held up and let go on, and what failed is run again or ended by hand', async () => {
    await server.release('hand', KEY, app());
    const greet = (await board('hand')).paused;
    expect(greet).toEqual([]);
    await hand('hand', { do: 'pause', routine: '' });
    await server.push('hand', change({ [F.name]: 'Elm' }, 'elm'));
    await until(async () => (await board('hand')).counts['waits'] === 1);
    expect(await tags('hand')).toEqual([]);
    await hand('hand', { do: 'go on', routine: '' });
    await until(async () => (await tags('hand')).includes('hello Elm'));
    await server.push('hand', { ...change({}, 'elm'), do: 'remove', cells: undefined });
    const failed = await until(async () => (await board('hand')).live.find((r) => r.stands === 'failed'));
    expect(failed.error).toContain('nowhere to go');
    expect((await hand('hand', { do: 'run again', id: failed.id })).body).toEqual({ done: true });
    await until(async () => (await board('hand')).live.find((r) => r.stands === 'failed'));
    expect((await hand('hand', { do: 'end', id: failed.id })).body).toEqual({ done: true });
    expect((await board('hand')).live).toEqual([]);
    expect((await hand('hand', { do: 'end', id: failed.id })).body).toEqual({ done: false });
    expect((await hand('hand', { do: 'nonsense' })).status).toBe(422);
  });

  it('leave nothing of themselves in what phones are given', async () => {
    await server.release('half', KEY, app());
    const { body } = await server.call('/api/apps/half/app');
    const text = JSON.stringify(body);
    expect(text).not.toContain('keeper@example.org');
    expect(text).not.toContain('record changed');
  });
});
