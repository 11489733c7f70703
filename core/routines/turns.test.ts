import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { Step } from '../app/schema.ts';
import { allOf } from '../document/queries.ts';
import { F, T } from '../records/fixture.ts';
import { answersTo, type Ask, type Ports, type RunAsk } from './asks.ts';
import { contents, keeper, make, me, run, say, set, timeless, world } from './fixture.ts';
import { driveRun, resumeRun } from './run.ts';

const EACH = 'v_each000000';
const each = (atOnce: number | undefined, steps: Step[], more: object = {}): Step =>
  make.step('each', {
    query: allOf(T.visits),
    result: EACH,
    resultName: 'this visit',
    steps,
    ...(atOnce && { atOnce }),
    ...more,
  });
/** So many visits, the first fed 1, the second 2 and so on. */
const visits = (w: ReturnType<typeof world>, n: number): void => {
  for (const r of w.records.rows(T.visits)) w.records.remove(T.visits, r.id);
  for (let i = 1; i <= n; i++) w.records.set(T.visits, `visit${i}`, { [F.hive]: 'bramble', [F.fed]: i });
};
const mail = make.step('mail', { to: '"a@example.test"', subject: `{${EACH}.${F.fed}}`, body: 'b' });
const begun = { routine: 'q_test00000', name: 'Test', given: 'Bramble', steps: [], ms: 0 };
const wordsOf = (asked: readonly Ask[]): string[] =>
  asked.flatMap((a) => (a.ask === 'message' ? [a.words.replaceAll(' litres', '')] : []));

describe('For each, several at once', () => {
  it('has no more under way than it may, and begins the next where one ends', async () => {
    const w = world([each(3, [mail, mail])]);
    visits(w, 7);
    const sizes: number[] = [];
    let { state, ask } = w.machine.advance(w.machine.begin(w.routine, 'bramble'));
    while (ask) {
      expect(ask.ask).toBe('several');
      sizes.push(ask.ask === 'several' ? ask.asks.length : 0);
      ({ state, ask } = w.machine.advance(state, await answersTo(ask, w.ports)));
    }
    expect(state.ended).toEqual({});
    // Two mails each: three turns twice, three turns twice, the last one twice.
    expect(sizes).toEqual([3, 3, 3, 3, 1, 1]);
    expect(w.asked.map((a) => a.ask === 'send' && a.subject.replace(' litres', ''))).toEqual([
      '1',
      '2',
      '3',
      '1',
      '2',
      '3',
      '4',
      '5',
      '6',
      '4',
      '5',
      '6',
      '7',
      '7',
    ]);
  });

  it('sends at once and asks people one after another', async () => {
    let [now, most] = [0, 0];
    const busy = async (): Promise<void> => {
      most = Math.max(most, ++now);
      await new Promise((r) => setTimeout(r, 5));
      now--;
    };
    const go = async (step: Step): Promise<number> => {
      const w = world([each(4, [step])]);
      visits(w, 4);
      [now, most] = [0, 0];
      const ports: Ports = { ...w.ports, send: busy, question: () => busy().then(() => 'yes') };
      const trace = await driveRun(w.machine, w.routine, w.machine.begin(w.routine, 'bramble'), begun, ports);
      expect(trace.error).toBeUndefined();
      return most;
    };
    expect(await go(mail)).toBe(4);
    expect(await go(make.step('question', { words: 'Well?' }))).toBe(1);
  });

  it('writes what turns in order write, whatever their number and how many at once (property)', async () => {
    const weigh = make.step('add', {
      table: T.visits,
      values: [{ field: F.fed, value: `${EACH}.${F.fed} * 100` }],
      resultName: 'copy',
    });
    await fc.assert(
      fc.asyncProperty(fc.integer({ min: 0, max: 9 }), fc.integer({ min: 2, max: 6 }), async (n, atOnce) => {
        const both = [undefined, atOnce].map((k) => world([each(k, [weigh, mail])]));
        const fed: number[][] = [];
        for (const w of both) {
          visits(w, n);
          const { state } = await run(w);
          expect(state.ended).toEqual({});
          fed.push(
            w.records
              .rows(T.visits)
              .map((r) => Number(r.cells[F.fed]))
              .sort((a, b) => a - b),
          );
        }
        expect(fed[1]).toEqual(fed[0]);
        expect(fed[1]).toHaveLength(2 * n);
      }),
      { numRuns: 40 },
    );
  });

  it('gives on what the last turn gave, whichever ends last', async () => {
    const INNER = 'v_inner00000';
    const inner = make.step('work out', { value: `${EACH}.${F.fed} * 10`, result: INNER, resultName: 'ten of it' });
    const slow = make.step('if', {
      when: { match: 'all', conditions: [{ left: `${EACH}.${F.fed}`, op: 'under', right: '3' }] },
      then: [mail, mail],
    });
    for (const atOnce of [undefined, 2, 5])
      for (const n of [1, 3, 4]) {
        const w = world([each(atOnce, [inner, mail, slow]), say(`{${INNER}}`)]);
        visits(w, n);
        const { state } = await run(w);
        expect(state.ended).toEqual({});
        expect([atOnce, wordsOf(w.asked)]).toEqual([atOnce, [String(n * 10)]]);
      }
  });

  it('has one bound for the steps and turns of all', async () => {
    const again = (steps: Step[]): Step =>
      make.step('repeat', {
        when: { match: 'all', conditions: [{ left: '1', op: 'at most', right: '2' }] },
        most: 10_000,
        steps,
      });
    const some = Array.from({ length: 4 }, () => make.step('work out', { value: '1', resultName: 'one' }));
    const stays = { ifFails: [make.step('work out', { value: '1', resultName: 'one' })] };
    const error = async (steps: Step[]): Promise<string | undefined> => {
      const w = world([each(2, steps)]);
      visits(w, 3);
      return (await run(w)).state.ended?.error;
    };
    expect(await error([{ ...again(some), ...stays } as Step])).toBe('The routine was stopped after 100,000 steps.');
    const many = Array.from({ length: 8 }, () => ({ ...again([]), ...stays }) as Step);
    expect(await error(many)).toBe('The routine was stopped after 200,000 turns of its loops.');
  });
  it('gives back what a turn of it gave back', async () => {
    for (const atOnce of [undefined, 2]) {
      const inner = {
        id: 'q_inner0000',
        name: 'Inner',
        given: null,
        steps: [each(atOnce, [mail, make.step('give', { value: `${EACH}.${F.fed} * 10` })])],
      };
      const GAVE = 'v_gave000000';
      const w = world(
        [make.step('run', { routine: inner.id, result: GAVE, resultName: 'it gave' }), say(`{${GAVE}}`)],
        {
          change: (app) => app.routines.push(inner),
        },
      );
      visits(w, 3);
      expect((await run(w)).state.ended).toEqual({});
      expect(wordsOf(w.asked)).toEqual(['10']);
    }
  });
  it('what was answered is not asked again after a reload; what was not is', async () => {
    const steps = [each(3, [mail, make.step('wait', { time: 'duration("PT1M")' })]), say('done')];
    const w = world(steps);
    visits(w, 3);
    const { kept, keep } = keeper();
    const whole = await driveRun(w.machine, w.routine, w.machine.begin(w.routine, 'bramble'), begun, w.ports, keep);
    const half = kept.find((k) => k?.ask.ask === 'several' && k.ask.answers.filter(Boolean).length === 2)!;
    const second = world(steps);
    visits(second, 3);
    const again = await resumeRun(second.machine, half, second.ports, async () => {});
    expect(second.asked.filter((a) => a.ask === 'send')).toHaveLength(1);
    expect(timeless(again.steps)).toEqual(timeless(whole.steps));
  });

  it('one that fails ends the others where they are, and goes to what the step says for that', async () => {
    const fails = set('"much"', `all_${T.hives}[1]`);
    const only3 = make.step('if', {
      when: { match: 'all', conditions: [{ left: `${EACH}.${F.fed}`, op: 'is', right: '3' }] },
      then: [fails],
    });
    const caught = world([
      each(2, [mail, only3, say(`{${EACH}.${F.fed}}`)], { ifFails: [say('caught')], reason: 'v_reason0000' }),
      say('on'),
    ]);
    visits(caught, 6);
    const { state } = await run(caught);
    expect(state.ended).toEqual({});
    expect(wordsOf(caught.asked)).toEqual(['1', '2', 'caught', 'on']);
    expect(state.several).toBeUndefined();

    const loud = world([each(2, [mail, only3]), say('on')]);
    visits(loud, 6);
    const ended = await run(loud);
    expect(ended.state.ended?.error).toContain('much');
    expect(wordsOf(loud.asked)).toEqual([]);

    // A failure that a turn deals with itself is no failure of the others.
    const own = world([each(2, [{ ...fails, ifFails: [say('own')] } as Step, mail]), say('on')]);
    visits(own, 3);
    expect((await run(own)).state.ended).toEqual({});
    expect(wordsOf(own.asked)).toEqual(['own', 'own', 'own', 'on']);
  });

  it('Stop in a turn ends the routine; what is written together is one, all or nothing', async () => {
    const stops = world([each(2, [mail, make.step('stop')]), say('never')]);
    visits(stops, 5);
    expect((await run(stops)).state.ended).toEqual({});
    expect(stops.asked.map((a) => a.ask)).toEqual(['send', 'send']);

    const together = world([make.step('together', { steps: [each(3, [set(`${EACH}.${F.fed}`)])] })]);
    visits(together, 5);
    await run(together);
    expect(together.asked.map((a) => a.ask === 'write' && a.drafts.length)).toEqual([5]);

    const inside = world([each(3, [make.step('together', { steps: [set(`${me}.${F.weight} + 1`)] })])]);
    visits(inside, 5);
    const before = inside.records.row(T.hives, 'bramble')!.cells[F.weight] as number;
    await run(inside);
    // Each turn of a round reads what was there before the round: two rounds, two more.
    expect(inside.records.row(T.hives, 'bramble')!.cells[F.weight]).toBe(before + 2);
  });

  it('a routine run in each turn gives back to its own turn', async () => {
    const w = world(
      [
        each(3, [
          make.step('run', {
            routine: 'q_double0000',
            values: [{ field: 'v_input00000', value: `${EACH}.${F.fed}` }],
            result: 'v_twice00000',
            resultName: 'twice',
          }),
          say(`{${EACH}.${F.fed}} {v_twice00000}`),
        ]),
      ],
      {
        change: (app) => {
          app.routines.push({
            id: 'q_double0000',
            name: 'Double',
            given: null,
            inputs: [{ id: 'v_input00000', name: 'n', type: 'number', first: '' }] as never,
            steps: [mailPlain, make.step('give', { value: 'v_input00000 * 2' })],
          });
        },
      },
    );
    visits(w, 4);
    expect((await run(w)).state.ended).toEqual({});
    expect(wordsOf(w.asked)).toEqual(['1 2', '2 4', '3 6', '4 8']);
  });

  it('several inside of several', async () => {
    const w = world([
      each(2, [
        make.step('each', {
          query: allOf(T.hives),
          result: 'v_inner00000',
          resultName: 'inner',
          atOnce: 2,
          steps: [mailPlain],
        }),
        say(`{${EACH}.${F.fed}}`),
      ]),
    ]);
    visits(w, 3);
    const asks: RunAsk[] = [];
    let { state, ask } = w.machine.advance(w.machine.begin(w.routine, 'bramble'));
    while (ask) {
      asks.push(ask);
      ({ state, ask } = w.machine.advance(
        JSON.parse(JSON.stringify(state)) as typeof state,
        await answersTo(ask, w.ports),
      ));
    }
    expect(state.ended).toEqual({});
    expect(asks[0]).toMatchObject({ asks: [{ asks: [{ ask: 'send' }, { ask: 'send' }] }, { asks: [{}, {}] }] });
    expect(w.asked.filter((a) => a.ask === 'send')).toHaveLength(3 * w.records.rows(T.hives).length);
    expect(contents(w.records)).toBeTruthy();
  });
});
const mailPlain = make.step('mail', { to: '"a@example.test"', subject: 's', body: 'b' });
