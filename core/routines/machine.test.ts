import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { stepKinds } from './kinds.ts';
import type { Step } from '../app/schema.ts';
import { CalendarDate, DateTime, DaysDuration, Range } from '../formula/values.ts';
import { F, T } from '../records/fixture.ts';
import { MOST_TOGETHER } from '../document/limits.ts';
import { anyStep } from './any-step.fixture.ts';
import { contents, keeper, make, me, run, say, set, timeless, world } from './fixture.ts';
import { answersTo } from './asks.ts';
import { STEP_BUDGET } from './state.ts';
import { driveRun, resumeRun } from './run.ts';
import { defineStep, type StepKinds } from './step.ts';
import { keptValue, valueOf } from '../records/kept-value.ts';

describe('the machine', () => {
  it('gives what it gives uninterrupted when it is put away as JSON at every ask (property)', async () => {
    await fc.assert(
      fc.asyncProperty(fc.array(anyStep, { maxLength: 6 }), async (steps) => {
        const [a, b] = [world(steps), world(steps)];
        const whole = await run(a);
        const again = await run(b, (s) => JSON.parse(JSON.stringify(s)) as typeof s);
        expect(timeless(again.steps)).toEqual(timeless(whole.steps));
        expect(b.asked).toEqual(a.asked);
        expect(contents(b.records)).toEqual(contents(a.records));
        expect(again.state.ended).toEqual(whole.state.ended);
      }),
      { numRuns: 200 },
    );
  });
  it('looked at step by step, it gives what it gives at once, and stands before every step that is taken (property)', async () => {
    await fc.assert(
      fc.asyncProperty(fc.array(anyStep, { maxLength: 6 }), async (steps) => {
        const [a, b] = [world(steps), world(steps)];
        const whole = await run(a);
        const stood: string[] = [];
        const done: string[] = [];
        let state = b.machine.begin(b.routine, 'bramble');
        let answer = null;
        for (;;) {
          const next = b.machine.advance(state, answer, () => true);
          done.push(...next.did.map((d) => d.step));
          state = JSON.parse(JSON.stringify(next.state)) as typeof state;
          if (state.paused) stood.push(state.paused);
          else if (!next.ask) break;
          answer = next.ask && (await answersTo(next.ask, b.ports));
        }
        expect(done).toEqual(whole.steps.map((s) => s.step));
        expect(new Set(stood)).toEqual(new Set(done));
        expect(b.asked).toEqual(a.asked);
        expect(contents(b.records)).toEqual(contents(a.records));
        expect(state.ended).toEqual(whole.state.ended);
      }),
      { numRuns: 100 },
    );
  });
  it('changes neither the state it is given nor the records (property)', async () => {
    await fc.assert(
      fc.asyncProperty(fc.array(anyStep, { maxLength: 5 }), async (steps) => {
        const w = world(steps);
        let { state, ask } = w.machine.advance(w.machine.begin(w.routine, 'bramble'));
        while (ask) {
          const [before, cells] = [JSON.stringify(state), JSON.stringify(contents(w.records))];
          w.machine.advance(state, { ok: true });
          expect(JSON.stringify(state)).toBe(before);
          expect(JSON.stringify(contents(w.records))).toBe(cells);
          ({ state, ask } = w.machine.advance(state, await answersTo(ask, w.ports)));
        }
      }),
      { numRuns: 100 },
    );
  });
  it('tells each step with the way to it', async () => {
    const inner = say('in');
    const outer = make.step('if', {
      when: { match: 'all', conditions: [{ left: `${me}.${F.weight}`, op: 'over', right: '1' }] },
      then: [inner],
      otherwise: [],
    });
    const { steps } = await run(world([outer, say('after')]));
    expect(steps.map((s) => s.path.length)).toEqual([1, 2, 1]);
    expect(steps[1]!.path).toEqual([outer.id, inner.id]);
    expect(steps[1]!.turns).toEqual([0]);
  });
  it('counts the turns of a slot that is entered again', async () => {
    const twice = defineStep({
      do: 'twice',
      said: { name: 'Twice', hint: '' },
      properties: stepKinds.get('together')!.properties,
    }).does({
      begin: () => ({}) as never,
      start: () => ({ enter: 'steps', kept: 1 }),
      nextTurn: (_s, _scope, kept) => (kept === 1 ? { enter: 'steps', kept: 2 } : { did: { said: 'Twice', gave: '' } }),
    });
    const step = { id: 'p_twice0000', do: 'twice', steps: [say('hello')] } as unknown as Step;
    const { steps } = await run(world([step], { kinds: new Map([...stepKinds, ['twice', twice]]) }));
    expect(steps.map((s) => s.turns)).toEqual([[0], [1], []]);
  });
  it('is stopped when it takes too many steps, and says so', async () => {
    const forever = defineStep({
      do: 'forever',
      said: { name: 'Forever', hint: '' },
      properties: stepKinds.get('together')!.properties,
    }).does({
      begin: () => ({}) as never,
      start: () => ({ enter: 'steps' }),
      nextTurn: () => ({ enter: 'steps' }),
    });
    const step = { id: 'p_forever00', do: 'forever', steps: [make.step('if')] } as unknown as Step;
    const w = world([step], { kinds: new Map([...stepKinds, ['forever', forever]]) });
    const { state } = await run(w);
    expect(state.ended?.error).toBe(`The routine was stopped after ${STEP_BUDGET.toLocaleString('en-GB')} steps.`);
  });
  it('says what is not there any more: the routine, a kind of step', async () => {
    const w = world([{ id: 'p_gone00000', do: 'dance' } as unknown as Step]);
    expect((await run(w)).state.ended?.error).toBe('There is no step of the kind “dance” here.');
    const gone = w.machine.advance({ ...w.machine.begin(w.routine, 'bramble'), routine: 'q_gone00000' });
    expect(gone.state.ended?.error).toBe('The routine is not part of the app any more.');
    expect(w.machine.advance(gone.state)).toMatchObject({ ask: null, did: [] });
  });
  it('looks records up at each use: one that is gone meanwhile is nothing', async () => {
    const w = world([make.step('wait', { time: 'duration("PT1M")' }), set('1')]);
    const begun = w.machine.advance(w.machine.begin(w.routine, 'bramble'));
    w.records.remove(T.hives, 'bramble');
    const { state } = w.machine.advance(begun.state, { ok: true });
    expect(state.ended?.error).toContain('The record to set is empty');
  });
  it('tells why the world refused, at the step that asked', async () => {
    const w = world([set('5'), say('never')], { refuse: (a) => (a.ask === 'write' ? 'Not today.' : null) });
    const { state, steps } = await run(w);
    expect(state.ended?.error).toBe('Not today.');
    expect(steps.at(-1)).toMatchObject({ error: 'Not today.', said: 'Set fields' });
    expect(w.asked).toEqual([]);
  });
  it('waits for as long as the formula says, and refuses what is no length of time', async () => {
    const w = world([make.step('wait', { time: 'duration("PT10M")' })]);
    await run(w);
    expect(w.asked).toEqual([{ ask: 'wait', until: 601_000 }]);
    expect((await run(world([make.step('wait', { time: '5' })]))).state.ended?.error).toContain(
      'is not a length of time',
    );
  });
});

describe('together', () => {
  it('is seen by later steps at once, and sent as one', async () => {
    const add = make.step('add', {
      table: T.visits,
      values: [
        { field: F.hive, value: me },
        { field: F.fed, value: '2' },
      ],
      resultName: 'new visit',
    });
    const w = world([
      make.step('together', {
        steps: [add, set('30'), say(`{${me}.${F.total}} and {${me}.${F.weight}}, {${add.result}.${F.fed}}`)],
      }),
    ]);
    await run(w);
    expect(w.asked.map((a) => a.ask)).toEqual(['message', 'write']);
    expect(w.asked[0]).toMatchObject({ words: '5.3 and 30 kg, 2 litres' });
    expect(w.asked[1]).toMatchObject({ together: true, drafts: [{ table: T.visits }, { table: T.hives }] });
  });
  it('leaves all or nothing, also when the host refuses (property)', async () => {
    await fc.assert(
      fc.asyncProperty(
        fc.array(anyStep, { maxLength: 5 }),
        fc.boolean(),
        fc.boolean(),
        async (steps, fails, refuses) => {
          const inside = fails ? [...steps, say('')] : steps;
          const w = world([make.step('together', { steps: inside })], {
            refuse: (a) => (refuses && a.ask === 'write' ? 'refused' : null),
          });
          const before = JSON.stringify(contents(w.records));
          const { state } = await run(w);
          const groups = w.asked.filter((a) => a.ask === 'write');
          expect(groups.length).toBeLessThanOrEqual(1);
          if (state.ended?.error !== undefined) {
            expect(groups).toEqual([]);
            expect(JSON.stringify(contents(w.records))).toBe(before);
          }
        },
      ),
      { numRuns: 150 },
    );
  });
  it('holds as much as a host takes at once, and says so when it is more', async () => {
    const flood = (changes: number) =>
      defineStep({ do: 'flood', said: { name: 'Flood', hint: '' }, properties: {} }).does({
        begin: () => ({}) as never,
        start: (_step, scope) => ({
          ask: {
            ask: 'write',
            drafts: Array.from({ length: changes }, () => ({
              do: 'set',
              table: T.visits,
              record: scope.newId(),
              cells: {},
            })),
            together: false,
          },
        }),
      });
    const flooded = async (changes: number) => {
      const step = { id: 'p_flood0000', do: 'flood' } as unknown as Step;
      const kinds: StepKinds = new Map([...stepKinds, ['flood', flood(changes)]]);
      const w = world([make.step('together', { steps: [step, step] })], { kinds });
      return { w, error: (await run(w)).state.ended?.error };
    };
    const most = await flooded(MOST_TOGETHER / 2);
    expect(most.error).toBeUndefined();
    expect(most.w.records.rows(T.visits)).toHaveLength(3 + MOST_TOGETHER);
    const more = await flooded(MOST_TOGETHER / 2 + 1);
    expect(more.error).toBe('At most 10,000 changes can be written together.');
    expect(more.w.records.rows(T.visits)).toHaveLength(3);
  });
  it('a group in a group is sent with the outer one', async () => {
    const w = world([
      make.step('together', { steps: [set('1'), make.step('together', { steps: [set('2')] }), set('3')] }),
    ]);
    await run(w);
    expect(w.asked).toHaveLength(1);
    expect(w.asked[0]).toMatchObject({ drafts: [{}, {}, {}], together: true });
  });
  it('checks see what was gathered: a value twice in one group is refused', async () => {
    const tag = (code: string): Step =>
      make.step('add', { table: T.hives, values: [{ field: F.tag, value: `"${code}"` }], resultName: 'hive' });
    const w = world([make.step('together', { steps: [tag('HB-9'), tag('HB-9')] })], {
      change: (app) => {
        app.tables[0]!.fields[1]!.unique = true;
      },
    });
    expect((await run(w)).state.ended?.error).toBe('Tag code “HB-9” is taken by another hive.');
    expect(w.asked).toEqual([]);
  });
});

describe('runs that outlive the page', () => {
  it('are kept before each ask, taken up again, and forgotten at the end', async () => {
    const steps = [set('20'), make.step('wait', { time: 'duration("PT1M")' }), say('done')];
    const w = world(steps);
    const { kept, keep } = keeper();
    const begun = { routine: w.routine.id, name: 'Test', given: 'Bramble', steps: [], ms: 0 };
    const trace = await driveRun(w.machine, w.routine, w.machine.begin(w.routine, 'bramble'), begun, w.ports, keep);
    expect(kept.map((k) => k && `${k.ask.ask}${k.answered ? ' answered' : ''}`)).toEqual([
      'write',
      'wait',
      'message',
      'message answered',
      null,
    ]);
    const second = world(steps);
    second.records.set(T.hives, 'bramble', { [F.weight]: 20 });
    const again = await resumeRun(second.machine, kept[1]!, second.ports, keep);
    expect(second.asked.map((a) => a.ask)).toEqual(['wait', 'message']);
    expect(timeless(again.steps)).toEqual(timeless(trace.steps));
    expect(again.error).toBeUndefined();
    // What was answered is not asked again.
    const third = world(steps);
    await resumeRun(third.machine, kept[3]!, third.ports, keep);
    expect(third.asked).toEqual([]);
  });
  it('are not kept when nothing in them waits', async () => {
    const w = world([set('20')]);
    let kept = 0;
    const begun = { routine: w.routine.id, name: 'Test', given: '', steps: [], ms: 0 };
    await driveRun(
      w.machine,
      w.routine,
      w.machine.begin(w.routine, 'bramble'),
      begun,
      w.ports,
      async () => void kept++,
    );
    expect(kept).toBe(0);
  });
});

it('values are kept as plain data and come back the same; what cannot be kept says so', () => {
  const { records } = world([]);
  const row = records.row(T.hives, 'bramble')!;
  for (const v of [
    null,
    true,
    1.5,
    'x',
    new CalendarDate(20_000),
    new DateTime(1e12),
    new DaysDuration(90_000),
    row,
    [row, 'a', [1]],
  ])
    expect(valueOf(JSON.parse(JSON.stringify(keptValue(v))) as never, records)).toEqual(v);
  expect(valueOf({ table: T.hives, record: 'gone' }, records)).toBeNull();
  expect(valueOf(undefined, records)).toBeNull();
  expect(() => keptValue(new Range(1, 2, true, true))).toThrow('This cannot be kept');
});

describe('what may outlive the page', () => {
  it('is a run whose routine lasts itself or through those that it runs, however deep and in a circle', async () => {
    const runs = (routine: string): Step => make.step('run', { routine, resultName: 'r' });
    const keptOf = async (steps: Step[]): Promise<number> => {
      const w = world(steps, {
        change: (app) =>
          app.routines.push(
            { id: 'q_waits0000', name: 'Waits', given: null, steps: [make.step('wait', { time: 'duration("PT9S")' })] },
            {
              id: 'q_middle000',
              name: 'Middle',
              given: null,
              steps: [make.step('if', { then: [runs('q_waits0000')] })],
            },
            { id: 'q_quick0000', name: 'Quick', given: null, steps: [say('quick')] },
            { id: 'q_circle000', name: 'Circle', given: null, steps: [{ ...runs('q_circle000'), off: true } as Step] },
          ),
      });
      const { kept, keep } = keeper();
      const trace = { routine: 'q_test00000', name: 'Test', given: 'Bramble', steps: [], ms: 0 };
      await driveRun(w.machine, w.routine, w.machine.begin(w.routine, 'bramble'), trace, w.ports, keep);
      return kept.length;
    };
    expect(await keptOf([say('a'), runs('q_middle000')])).toBeGreaterThan(0);
    expect(await keptOf([say('a'), runs('q_waits0000')])).toBeGreaterThan(0);
    expect(await keptOf([say('a'), runs('q_quick0000'), runs('q_circle000')])).toBe(0);
  });
});
