import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { App, Step } from '../app/schema.ts';
import { stepLists, walkSteps } from '../document/walk.ts';
import { F, T } from '../records/fixture.ts';
import { allOf } from '../document/queries.ts';
import { anyStep } from './any-step.fixture.ts';
import { answersTo, type RunAsk } from './asks.ts';
import { keeper, make, me, say, set, world } from './fixture.ts';
import { driveRun, resumeRun } from './run.ts';
import type { RunState, StepTrace } from './state.ts';

/** A run that waits while a new release of its routine comes. */

const INSIDE = /undefined|null|reading|is not a|Cannot|Maximum/;
const MINUTE = make.step('wait', { time: 'duration("PT1M")' });

/** Every list of steps of a routine, the routine's own first. */
const listsOf = (steps: Step[]): Step[][] => {
  const lists = [steps];
  walkSteps<Step>(steps, (s) => void lists.push(...stepLists(s).map(([, list]) => list)));
  return lists;
};

/** Runs the steps to the ask with this number; then goes on with the changed steps from JSON. Null when it ends before. */
async function over(
  steps: Step[],
  asks: number,
  change: (steps: Step[], path: string[]) => Step[],
  ifStepGone?: 'next',
) {
  const open = (list: Step[]): ReturnType<typeof world> => {
    const w = world(list);
    if (ifStepGone) w.routine.ifStepGone = ifStepGone;
    return w;
  };
  const w = open(structuredClone(steps));
  let { state, ask } = w.machine.advance(w.machine.begin(w.routine, 'bramble'));
  for (let i = 0; i < asks && ask; i++) ({ state, ask } = w.machine.advance(state, await answersTo(ask, w.ports)));
  if (!ask) return null;
  const kept = JSON.parse(JSON.stringify({ state, ask })) as { state: RunState; ask: NonNullable<typeof ask> };
  const rest = async (changed: Step[]) => {
    const next = open(changed);
    for (const t of [T.hives, T.visits, T.keepers]) {
      for (const r of next.records.rows(t).slice()) next.records.remove(t, r.id);
      for (const r of w.records.rows(t)) next.records.set(t, r.id, { ...r.cells });
    }
    const told: StepTrace[] = [];
    let now = kept.state;
    let waits: RunAsk | null = kept.ask;
    for (let i = 0; waits; i++) {
      if (i > 5000) throw new Error('It does not end.');
      const went = next.machine.advance(now, await answersTo(waits, next.ports));
      told.push(...went.did);
      [now, waits] = [went.state, went.ask];
    }
    return { told, ended: now.ended };
  };
  const pathOf = (at: RunState): string[] => [
    ...at.frames.map((f) => f.step!),
    ...(at.several?.strands ?? []).flatMap((turn) => pathOf(turn.state)),
  ];
  const path = pathOf(kept.state);
  return { path, same: await rest(structuredClone(steps)), changed: await rest(change(structuredClone(steps), path)) };
}

const isSay = (s: Step): boolean => s.do === 'message';
const ids = (steps: Step[]): Set<string> => {
  const all = new Set<string>();
  walkSteps<Step>(steps, (s) => void all.add(s.id));
  return all;
};

describe('a run that waits over a release', () => {
  it('goes on with the step it waited at, wherever the release has put it', async () => {
    const steps = [say('one'), set('20'), MINUTE, say('two'), set('30')];
    const went = await over(steps, 2, ([, ...later]) => [say('new'), say('newer'), ...later]);
    expect(went!.changed.told.map((s) => s.said)).toEqual(went!.same.told.map((s) => s.said));
    const shorter = await over(steps, 2, (s) => s.slice(2));
    expect(shorter!.changed.told.map((s) => s.said)).toEqual(went!.same.told.map((s) => s.said));
  });
  it('ends in words when its step is gone', async () => {
    const gone = 'Test was changed while it waited: the step it stood at is not there any more, so it ended.';
    const all = make.step('each', { query: allOf(T.keepers), steps: [MINUTE, say('after')] });
    for (const change of [() => [], (s: Step[]) => s.filter((x) => x.do !== 'each'), () => [say('other')]]) {
      const went = await over([say('one'), all, set('30')], 1, change);
      expect(went!.changed).toEqual({ told: [], ended: { error: gone } });
    }
  });
  describe('where it is to go on with the next step left', () => {
    const GONE = 'A release has removed the step that this waited at';
    const told = async (steps: Step[], change: (s: Step[]) => Step[], asks = 0) => {
      const { changed } = (await over(steps, asks, change, 'next'))!;
      return { told: changed.told.map((s) => s.said), error: changed.ended?.error };
    };
    const [one, two, three] = [say('one'), say('two'), say('three')];
    it('does what is left behind the step that is gone, and says so', async () => {
      expect(await told([MINUTE, one, two, three], (s) => s.slice(1))).toEqual({
        told: [GONE, 'Showed “one”', 'Showed “two”', 'Showed “three”'],
        error: undefined,
      });
      // The next of those that were behind it, wherever others have come.
      expect(await told([MINUTE, one, two], ([, , t]) => [say('new'), t!, say('later')])).toEqual({
        told: [GONE, 'Showed “two”', 'Showed “later”'],
        error: undefined,
      });
      expect(await told([MINUTE, one], () => [say('other')])).toEqual({ told: [GONE], error: undefined });
    });
    it('leaves the branch that is gone, with what was gathered in it', async () => {
      const all = make.step('each', { query: allOf(T.keepers), steps: [MINUTE, one] });
      expect(await told([all, two], ([, t]) => [t!])).toEqual({ told: [GONE, 'Showed “two”'], error: undefined });
      const beside = make.step('each', { query: allOf(T.keepers), atOnce: 3, steps: [MINUTE, one] } as never);
      expect(await told([beside, two], ([, t]) => [t!])).toEqual({ told: [GONE, 'Showed “two”'], error: undefined });
      // A turn goes on within its branch.
      const went = await told([all, two], ([e, t]) => [{ ...e!, steps: [one] } as Step, t!]);
      expect(went.told.slice(0, 2)).toEqual([GONE, 'Showed “one”']);
      expect(went.told.at(-1)).toBe('Showed “two”');
    });
    it('nobody is asked for a step that is gone', async () => {
      const ask = make.step('question', { words: 'How heavy?', as: 'text', result: 'v_heavy0000', resultName: 'h' });
      const before = world([ask, one]);
      before.routine.ifStepGone = 'next';
      const { keep } = keeper();
      const { state, ask: waits } = before.machine.advance(before.machine.begin(before.routine, 'bramble'));
      const after = world([one]);
      after.routine.ifStepGone = 'next';
      const trace = { routine: after.routine.id, name: 'Test', given: '', steps: [], ms: 0 };
      const went = await resumeRun(after.machine, { state, ask: waits!, trace }, after.ports, keep);
      expect([after.asked.map((a) => a.ask), went.error]).toEqual([['message'], undefined]);
    });
  });
  it('goes on after the routine that it ran, where a release has put other steps before it', async () => {
    const inner = { id: 'q_inner0000', name: 'Inner', given: null, steps: [MINUTE] };
    const first = [make.step('run', { routine: inner.id, resultName: 'r' }), say('after')];
    const change = (app: App): void => void app.routines.push(inner);
    const w = world(first, { change });
    const { state, ask } = w.machine.advance(w.machine.begin(w.routine, 'bramble'));
    expect(ask?.ask).toBe('wait');
    const kept = JSON.parse(JSON.stringify(state)) as RunState;
    const next = world([say('new'), say('newer'), ...first], { change });
    const went = next.machine.advance(kept, { ok: true });
    expect(went.ask).toMatchObject({ ask: 'message', words: 'after' });
    const without = world([say('new')], { change });
    expect(without.machine.advance(kept, { ok: true }).state.ended?.error).toContain(
      'the step it stood at is not there',
    );
  });
  it('takes no other way of an If than the one it was on, though a way before it was removed', async () => {
    const way = (right: string, steps: Step[]): Step =>
      make.step('otherwise if', {
        when: { match: 'all', conditions: [{ left: '2', op: 'is', right }] },
        steps,
      } as never);
    const ways = [way('1', [say('one')]), way('2', [MINUTE, say('two')]), way('2', [say('three')])];
    const branch = make.step('if', {
      when: { match: 'all', conditions: [{ left: '1', op: 'is', right: '2' }] },
      others: ways,
    } as never);
    const went = await over([branch, say('end')], 0, ([first, ...later]) => [
      { ...first, others: ways.slice(1) } as Step,
      ...later,
    ]);
    expect(went!.changed.told.map((s) => s.said)).toEqual(went!.same.told.map((s) => s.said));
    expect(went!.changed.told.map((s) => s.gave)).not.toContain('three');
    expect(went!.changed.told).toHaveLength(3);
  });
  it('chooses from a menu what was pressed, though a choice before it was removed', async () => {
    const choices = ['Photo', 'Gallery', 'Neither'].map((w) => make.step('choice', { words: w, steps: [say(w)] }));
    const menu = make.step('menu', { words: 'From where?', choices });
    const w = world([menu]);
    const { state } = w.machine.advance(w.machine.begin(w.routine, 'bramble'));
    const next = world([{ ...menu, choices: choices.slice(1) } as Step]);
    const went = next.machine.advance(state, { ok: true, value: choices[1]!.id });
    expect(went.ask).toMatchObject({ ask: 'message', words: 'Gallery' });
    const without = world([{ ...menu, choices: choices.slice(2) } as Step]);
    expect(without.machine.advance(state, { ok: true, value: choices[1]!.id }).state.ended?.error).toBe(
      'What was chosen is not there any more.',
    );
  });
  it('does all that it would have done, where only messages came and went (property)', async () => {
    await fc.assert(
      fc.asyncProperty(
        fc.array(anyStep, { minLength: 1, maxLength: 6 }),
        fc.nat(8),
        fc.array(fc.tuple(fc.boolean(), fc.nat(30), fc.nat(5)), { maxLength: 6 }),
        async (steps, asks, edits) => {
          const went = await over(steps, asks, (next, path) => {
            for (const [removes, list, at] of edits) {
              const lists = listsOf(next);
              const target = lists[list % lists.length]!;
              const i = target.length ? at % (target.length + 1) : 0;
              const there = target[i];
              if (!removes) target.splice(i, 0, say('new'));
              else if (there && isSay(there) && !path.includes(there.id)) target.splice(i, 1);
            }
            return next;
          });
          if (!went) return;
          const real = (told: StepTrace[]): string[] => {
            const says = new Set<string>();
            walkSteps<Step>(steps, (s) => void (isSay(s) && says.add(s.id)));
            const known = ids(steps);
            return told.filter((s) => known.has(s.step) && !says.has(s.step)).map((s) => `${s.step} ${s.said}`);
          };
          expect(real(went.changed.told)).toEqual(real(went.same.told));
          expect(went.changed.ended).toEqual(went.same.ended);
        },
      ),
      { numRuns: 400 },
    );
  });
  it('ends, and never in words of the inside, whatever the release has changed (property)', async () => {
    await fc.assert(
      fc.asyncProperty(
        fc.array(anyStep, { minLength: 1, maxLength: 5 }),
        fc.nat(6),
        fc.array(fc.tuple(fc.constantFrom('remove', 'add', 'move', 'table'), fc.nat(30), fc.nat(5), anyStep), {
          minLength: 1,
          maxLength: 4,
        }),
        fc.constantFrom('next' as const, undefined),
        async (steps, asks, edits, ifStepGone) => {
          const went = await over(
            steps,
            asks,
            (next) => {
              for (const [how, list, at, step] of edits) {
                const lists = listsOf(next);
                const target = lists[list % lists.length]!;
                const i = target.length ? at % target.length : 0;
                if (how === 'add') target.splice(i, 0, step);
                else if (how === 'remove') target.splice(i, 1);
                else if (how === 'move') target.unshift(...target.splice(i, 1));
                else
                  walkSteps<Step>(next, (s) => {
                    const { query } = s as Step & { query?: { table: string } };
                    if (query) query.table = T.hives;
                  });
              }
              return next;
            },
            ifStepGone,
          );
          if (went?.changed.ended?.error) expect(went.changed.ended.error).not.toMatch(INSIDE);
        },
      ),
      { numRuns: 400 },
    );
  });
});

describe('what a step fails with', () => {
  it('is said without words of the inside', async () => {
    const { state } = world([set('20', `${me}.${F.keeper}`)]).machine.advance(
      world([set('20')]).machine.begin(world([set('20')]).routine, 'bramble'),
    );
    expect(state.ended?.error ?? '').not.toMatch(INSIDE);
    const w = world([MINUTE]);
    const { kept, keep } = keeper();
    const begun = { routine: w.routine.id, name: 'Test', given: '', steps: [], ms: 0 };
    await driveRun(w.machine, w.routine, w.machine.begin(w.routine, 'bramble'), begun, w.ports, keep);
    const spoilt = structuredClone(kept[0]!);
    spoilt.state.frames[0] = { slot: 'steps', at: 5 } as never;
    const trace = await resumeRun(w.machine, spoilt, w.ports, keep);
    expect(trace.error).not.toMatch(INSIDE);
    expect(kept.at(-1)).toBeNull();
  });
});
