import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { allOf } from '../document/queries.ts';
import { T } from '../records/fixture.ts';
import { make, run, say, world } from './fixture.ts';
import type { StepTrace } from './state.ts';
import { addSteps, FIRST_STEPS, LAST_STEPS } from './trace.ts';

const step = (n: number): StepTrace => ({ step: 'p', path: [], turns: [], said: String(n), gave: '', ms: 0 });
const counted = (trace: readonly StepTrace[]): number => trace.reduce((n, s) => n + (s.leftOut ?? 1), 0);

describe('a trace', () => {
  it('counts every step, has the first and the last, and stays small, however it was put together (property)', () => {
    fc.assert(
      fc.property(fc.array(fc.nat(5000), { maxLength: 12 }), (parts) => {
        const trace: StepTrace[] = [];
        let n = 0;
        for (const size of parts) {
          const part: StepTrace[] = [];
          addSteps(
            part,
            Array.from({ length: size }, () => step(n++)),
          );
          addSteps(trace, part);
        }
        expect(counted(trace)).toBe(n);
        expect(trace.length).toBeLessThanOrEqual(FIRST_STEPS + 2 * LAST_STEPS);
        if (n === 0) return;
        expect([trace[0]!.said, trace.at(-1)!.said]).toEqual(['0', String(n - 1)]);
        const listed = trace.filter((s) => !s.leftOut).map((s) => Number(s.said));
        expect(listed).toEqual(listed.toSorted((a, b) => a - b));
      }),
    );
  });
});

describe('For each in For each', () => {
  const visits = (count: number) => {
    const inner = make.step('each', { query: allOf(T.visits), steps: [] });
    const w = world([make.step('each', { query: allOf(T.visits), steps: [inner] }), say('done')]);
    for (let i = 0; i < count; i++) w.records.set(T.visits, `v${i}`, {});
    return w;
  };
  it('tells its first and last turns, with a number for those between', async () => {
    const { state, steps } = await run(visits(150));
    expect(state.ended).toEqual({});
    const there = (steps[0]!.said.match(/of (\d+)/) ?? [])[1];
    expect(Number(there)).toBeGreaterThan(149);
    expect(steps.some((s) => s.leftOut)).toBe(true);
    expect(counted(steps)).toBe(Number(there) * (Number(there) + 2) + 2);
    expect(steps.at(-1)!.said).toContain('done');
  });
  it('over thousands is stopped in words, though no step stands in it', async () => {
    const { state, steps } = await run(visits(1000));
    expect(state.ended?.error).toBe('The routine was stopped after 200,000 turns of its loops.');
    expect(steps.length).toBeLessThan(FIRST_STEPS + 2 * LAST_STEPS + 1);
  });
});

describe('a step that is tried again', () => {
  it('has all its tries in each turn', async () => {
    let sends = 0;
    const mail = make.step('mail', { to: '"a@b.example"', subject: 's', body: 'b' });
    const tried = make.step('if', {
      when: { match: 'all', conditions: [{ left: '1', op: 'is', right: '1' }] },
      then: [{ ...mail, again: 2 }],
      ifFails: [say('failed')],
    });
    const w = world([make.step('each', { query: { ...allOf(T.hives), limit: 2 }, steps: [tried] })], {
      refuse: (a) => (a.ask === 'send' && ++sends ? 'No.' : null),
    });
    const { state } = await run(w);
    expect(state.ended).toEqual({});
    expect(sends).toBe(6);
  });
  it('has all of them again once it has been done', async () => {
    let sends = 0;
    const mail = { ...make.step('mail', { to: '"a@b.example"', subject: 's', body: 'b' }), again: 1 };
    const w = world([make.step('each', { query: { ...allOf(T.hives), limit: 2 }, steps: [mail] })], {
      refuse: (a) => (a.ask === 'send' && ++sends % 2 ? 'No.' : null),
    });
    expect((await run(w)).state.ended).toEqual({});
    expect(sends).toBe(4);
  });
  it('has them again when what stands around it is tried again', async () => {
    let sends = 0;
    const mail = { ...make.step('mail', { to: '"a@b.example"', subject: 's', body: 'b' }), again: 1 };
    const around = {
      ...make.step('if', {
        when: { match: 'all', conditions: [{ left: '1', op: 'is', right: '1' }] },
        then: [mail],
      }),
      again: 2,
    };
    const w = world([around], { refuse: (a) => (a.ask === 'send' && ++sends ? 'No.' : null) });
    expect((await run(w)).state.ended?.error).toBe('No.');
    expect(sends).toBe(6);
  });
});
