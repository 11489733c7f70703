import 'fake-indexeddb/auto';
import { Dexie } from 'dexie';
import { afterEach, describe, expect, it, vi } from 'vitest';
import type { KeptRun } from '../core/routines/run.ts';
import type { StepTrace } from '../core/routines/state.ts';
import { KeptRuns, type Pages } from '../core/phone/kept-runs.ts';
import { DeviceDb } from './storage.ts';

/** Locks as one browser has them for all of its pages; a page that closes lets go of those that it holds. */
function browser() {
  const waiting = new Map<string, (() => void)[]>();
  const busy = new Set<string>();
  const next = (name: string): void => {
    busy.delete(name);
    waiting.get(name)?.shift()?.();
  };
  const channel = `runs ${Math.random()}`;
  return () => {
    const closed: (() => void)[] = [];
    const locks = {
      request: (name: string, work: () => Promise<void>) =>
        new Promise<void>((resolve) => {
          const take = (): void => {
            busy.add(name);
            closed.push(() => next(name));
            void work().then(() => {
              next(name);
              resolve();
            });
          };
          if (!busy.has(name)) take();
          else waiting.set(name, [...(waiting.get(name) ?? []), take]);
        }),
    };
    const others = new BroadcastChannel(channel);
    const pages: Pages = {
      locked: locks.request,
      // oxlint-disable-next-line unicorn/require-post-message-target-origin -- a channel has no target origin
      tell: (id) => others.postMessage(id),
      hear: (take) => others.addEventListener('message', ({ data }) => take(data)),
    };
    return { pages, close: () => (others.close(), closed.forEach((c) => c())) };
  };
}
const step = (said: string): StepTrace => ({ step: 'p_1', path: ['p_1'], turns: [], said, gave: '', ms: 0 });
const run = (id: string): KeptRun => ({
  state: {
    id,
    routine: 'q_wait00000',
    release: 1,
    given: null,
    frames: [{ slot: null, at: 0, turn: 0, kept: null, gathers: false }],
    results: {},
    asking: { kept: null, said: '', gave: '', began: 0 },
    gathered: null,
    budget: 10,
    ended: null,
  },
  ask: { ask: 'wait', until: 5 },
  trace: { routine: 'q_wait00000', name: 'Wait', given: '', steps: [], ms: 0 },
});
let n = 0;
let db = new DeviceDb(`runs-${n}`);
afterEach(async () => {
  db.close();
  await Dexie.delete(db.name);
  db = new DeviceDb(`runs-${++n}`);
});

describe('a run that is kept', () => {
  it('is taken up by one page only, and by another when that page has closed', async () => {
    const page = browser();
    const [first, second, third] = [page(), page(), page()];
    const runs = (p: { pages: Pages }): KeptRuns => new KeptRuns(() => db, p.pages);
    await runs(first).keep('one', run('one'), [step('begun')]);
    const taken: string[] = [];
    const takeUp = (p: typeof first, name: string): Promise<void> =>
      runs(p).takeUp(
        async (kept) => {
          taken.push(`${name} ${kept.trace.steps.map((s) => s.said).join()}`);
          await new Promise(() => undefined);
        },
        () => taken.push('lost'),
      );
    await takeUp(second, 'second');
    await takeUp(third, 'third');
    await new Promise((r) => setTimeout(r, 20));
    expect(taken).toEqual([]);
    first.close();
    await vi.waitFor(() => expect(taken).toEqual(['second begun']));
    await new Promise((r) => setTimeout(r, 20));
    expect(taken).toHaveLength(1);
  });
  it('is taken up also where it was begun after the other page was opened', async () => {
    const page = browser();
    const [first, second] = [page(), page()];
    const taken: string[] = [];
    const takeUp = (p: typeof first, name: string): Promise<void> =>
      new KeptRuns(() => db, p.pages).takeUp(
        async (kept) => void taken.push(`${name} ${kept.state.id}`),
        () => taken.push('lost'),
      );
    await takeUp(second, 'second');
    const had = new KeptRuns(() => db, first.pages);
    await had.keep('late', run('late'), []);
    await had.keep('late', run('late'), []);
    await new Promise((r) => setTimeout(r, 50));
    expect(taken).toEqual([]);
    first.close();
    await vi.waitFor(() => expect(taken).toEqual(['second late']));
  });
  it('is not taken up by a page that waited for it and finds it ended', async () => {
    const page = browser();
    const [first, second] = [page(), page()];
    const had = new KeptRuns(() => db, first.pages);
    await had.keep('one', run('one'), []);
    const taken: string[] = [];
    await new KeptRuns(() => db, second.pages).takeUp(
      async (kept) => taken.push(kept.state.id),
      () => taken.push('lost'),
    );
    await had.keep('one', null, []);
    await new Promise((r) => setTimeout(r, 20));
    expect([taken, await db.runIds()]).toEqual([[], []]);
  });
  it('is forgotten and said where what is kept cannot be a run', async () => {
    await db.put('run:bad', { state: { id: 'bad' }, ask: null });
    let lost = 0;
    await new KeptRuns(() => db).takeUp(
      async () => undefined,
      () => lost++,
    );
    await vi.waitFor(() => expect(lost).toBe(1));
    expect(await db.runIds()).toEqual([]);
  });
  it('keeps each of its steps once, and of very many the first and the last', async () => {
    for (let i = 0; i < 1000; i++) await db.keepRun('long', run('long'), [step(`turn ${i}`)]);
    const kept = (await db.keptRun('long')) as KeptRun;
    const said = kept.trace.steps.map((s) => s.said);
    expect([said[0], said.at(-1)]).toEqual(['turn 0', 'turn 999']);
    expect(kept.trace.steps.reduce((sum, s) => sum + (s.leftOut ?? 1), 0)).toBe(1000);
    expect(said.length).toBeLessThan(500);
    await db.keepRun('long', null, []);
    expect(await db.meta.count()).toBe(0);
  });
  it('opens with all its steps as an earlier version kept it', async () => {
    const old = run('old');
    old.trace.steps = [step('begun')];
    await db.put('run:old', old);
    await db.keepRun('old', { ...old, trace: { ...old.trace, steps: [] } }, [step('went on')]);
    expect(((await db.keptRun('old')) as KeptRun).trace.steps.map((s) => s.said)).toEqual(['begun', 'went on']);
  });
});
