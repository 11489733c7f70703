import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { thisId } from '../document/ids.ts';
import { walkSteps } from '../document/walk.ts';
import { orderMistakes } from '../preflight/step-order.ts';
import { F, hiveApp, someRecords, T } from '../records/fixture.ts';
import { Records } from '../records/store.ts';
import { Machine } from '../routines/machine.ts';
import { thingsInRoutine } from '../routines/program.ts';
import { allOf } from '../document/queries.ts';
import { stepKinds } from '../routines/kinds.ts';
import { inlineSteps, extractRoutine } from './extract-routine.ts';
import { ElementMaker } from './make.ts';
import { AppSchema, type Routine, type Step } from './schema.ts';
import {
  duplicateSteps,
  fitsIn,
  gapsIn,
  insertSteps,
  moveSteps,
  numberSteps,
  removeSteps,
  setIfFails,
  shiftSteps,
  slotsIn,
  topSteps,
} from './steps.ts';

const make = new ElementMaker();
const say = (words: string): Step => make.step('message', { words });
const routineOf = (...steps: Step[]): Routine => ({ id: 'q_routine000', name: 'Go', given: T.hives, steps });
/** The words of messages with brackets around branches: "a [b] c". */
const shape = (steps: readonly Step[]): string =>
  steps
    .map((s) => [s.do === 'message' ? s.words : s.do, ...slotsIn(s).map((slot) => `[${shape(slot.list)}]`)].join(''))
    .join(' ');
const branches = (): Routine =>
  routineOf(say('a'), make.step('if', { then: [say('b')], others: [], otherwise: [say('c')] }), say('d'));

describe('steps', () => {
  it('are numbered as they are read; those that hold others have no number', () => {
    const r = branches();
    setIfFails(r.steps[0]!, true);
    r.steps[0]!.ifFails!.push(say('x'));
    expect([...numberSteps(r.steps).values()]).toEqual([1, 2, 3, 4, 5]);
  });
  it('go by keys into branches and out of them, gap by gap, and back the same way', () => {
    const r = branches();
    const d = r.steps[2]!.id;
    const ways = [shape(r.steps)];
    while (shiftSteps(r, [d], -1)) ways.push(shape(r.steps));
    expect(ways).toEqual([
      'a if[b][][c] d',
      'a if[b][][c d]',
      'a if[b][][d c]',
      'a if[b d][][c]',
      'a if[d b][][c]',
      'a d if[b][][c]',
      'd a if[b][][c]',
    ]);
    while (shiftSteps(r, [d], 1)) expect(ways).toContain(shape(r.steps));
    expect(shape(r.steps)).toBe('a if[b][][c] d');
  });
  it('stand only where their kind may', () => {
    const menu = make.step('menu', { choices: [make.step('choice', { words: 'One', steps: [say('x')] })] });
    const r = routineOf(menu, say('y'));
    const branch = { of: menu.id, slot: 'choices' };
    expect([fitsIn(r, branch, 'choice'), fitsIn(r, branch, 'message'), fitsIn(r, null, 'choice')]).toEqual([
      true,
      false,
      false,
    ]);
    expect(moveSteps(r, [r.steps[1]!.id], { branch, at: 0 })).toBe(false);
    expect(insertSteps(r, [say('z'), make.step('choice')], { branch, at: 0 })).toHaveLength(1);
    // A step is not put into itself.
    expect(moveSteps(r, [menu.id], { branch, at: 0 })).toBe(false);
  });
  it('are copied and removed together; what stands in another goes with it', () => {
    const r = branches();
    const ids = [r.steps[0]!.id, r.steps[1]!.id, slotsIn(r.steps[1]!)[0]!.list[0]!.id];
    expect(topSteps(r.steps, ids)).toHaveLength(2);
    duplicateSteps(r, ids);
    expect(shape(r.steps)).toBe('a a if[b][][c] if[b][][c] d');
    removeSteps(r, ids);
    expect(shape(r.steps)).toBe('a if[b][][c] d');
  });
  it('are never lost or doubled by moving them (property)', () => {
    fc.assert(
      fc.property(fc.array(fc.nat(5), { minLength: 1, maxLength: 3 }), fc.nat(30), (picked, to) => {
        const r = branches();
        const all: Step[] = [];
        walkSteps(r.steps, (s) => void all.push(s));
        const gaps = gapsIn(r.steps, new Set());
        moveSteps(
          r,
          picked.map((i) => all[i % all.length]!.id),
          gaps[to % gaps.length]!,
        );
        const left: string[] = [];
        walkSteps(r.steps, (s) => void left.push(s.id));
        expect(left.sort()).toEqual(all.map((s) => s.id).sort());
      }),
    );
  });
});

describe('mistakes of order', () => {
  const found = (r: Routine) => orderMistakes(r, () => 'Score');
  const mended = (r: Routine): string => {
    found(r)[0]!.mend!.do(r);
    return shape(r.steps);
  };
  const get = (): Step => make.step('get', { result: 'v_found0000', resultName: 'the hive' });
  it('a value that is used before the step that gives it', () => {
    const r = routineOf(say('{v_found0000}'), make.step('if', { then: [get()], otherwise: [] }));
    expect(found(r).map((m) => [m.step, m.said])).toEqual([
      [r.steps[0]!.id, '“the hive” is used here, and given only by a later step.'],
    ]);
    expect(mended(r)).toBe('get {v_found0000} if[][][]');
    expect(found(r)).toEqual([]);
  });
  it('a variable that is cleared before it is read', () => {
    const clear = make.step('variable', { how: 'clear', variable: 'v_score0000' });
    const r = routineOf(clear, say('x'), say('{v_score0000}'), say('y'));
    expect(found(r)[0]).toMatchObject({ step: r.steps[2]!.id, said: 'Score is cleared before it is read here.' });
    expect(mended(r)).toBe('x {v_score0000} variable y');
    expect(found(r)).toEqual([]);
    // Set anew between, or read by nobody, it is meant.
    const set = make.step('variable', { how: 'set', variable: 'v_score0000', value: '1' });
    expect(found(routineOf(clear, set, say('{v_score0000}')))).toEqual([]);
    expect(found(routineOf({ ...clear, off: true }, say('{v_score0000}')))).toEqual([]);
    const add = make.step('variable', { how: 'add', variable: 'v_score0000', value: '1' });
    expect(found(routineOf(clear, add))).toHaveLength(1);
  });
  it('a result that nothing uses, and what is never reached', () => {
    const r = routineOf(get(), make.step('photo', { resultName: 'photo' }), make.step('stop'), say('x'), say('y'));
    expect(found(r).map((m) => m.said)).toEqual([
      'Nothing uses “the hive”, so this step is for nothing.',
      'Nothing uses “photo”, so this step is for nothing.',
      'This is never reached: the routine ends before it.',
    ]);
    found(r)[2]!.mend!.do(r);
    expect(shape(r.steps)).toBe('get photo x y stop');
  });
  it('in a routine without mistakes are none', () =>
    expect(found(routineOf(get(), say('{v_found0000}'), make.step('stop')))).toEqual([]));
});

describe('a routine made of steps', () => {
  const app = () => {
    const a = hiveApp();
    a.routines = [routineOf(say('a'), make.step('get', { result: 'v_found0000' }), say('{v_found0000}'), say('b'))];
    return a;
  };
  const thingsOf = (a: ReturnType<typeof app>) => thingsInRoutine(stepKinds, new Records(a).model, a.routines[0]!);
  const lift = (a: ReturnType<typeof app>, ...at: number[]): string | null => {
    const [r] = a.routines as [Routine];
    return extractRoutine(
      a,
      r,
      at.map((i) => r.steps[i]!.id),
      thingsOf(a),
    );
  };
  it('runs where they stood, given the same record', () => {
    const a = app();
    const [r] = a.routines as [Routine];
    expect(lift(a, 1, 2)).toBeNull();
    expect(shape(r.steps)).toBe('a run b');
    expect(a.routines[1]).toMatchObject({ name: 'Part of Go', given: T.hives });
    expect(shape(a.routines[1]!.steps)).toBe('get {v_found0000}');
    expect(r.steps[1]).toMatchObject({ routine: a.routines[1]!.id, record: thisId(T.hives) });
  });
  it('is given what they use of earlier steps, and gives back what later steps use', () => {
    const a = app();
    const [r] = a.routines as [Routine];
    r.steps[1] = make.step('get', { query: allOf(T.visits), result: 'v_found0000', resultName: 'the visit' });
    expect(lift(a, 2)).toBeNull();
    const [input] = a.routines[1]!.inputs!;
    expect(input).toMatchObject({ name: 'the visit', type: 'link', link: { table: T.visits } });
    expect(shape(a.routines[1]!.steps)).toBe(`{${input!.id}}`);
    expect(r.steps[2]).toMatchObject({ do: 'run', values: [{ field: input!.id, value: 'v_found0000' }] });
    const b = app();
    expect(lift(b, 1)).toBeNull();
    expect(shape(b.routines[1]!.steps)).toBe('get give');
    expect(b.routines[0]!.steps[1]).toMatchObject({ do: 'run', result: 'v_found0000' });
  });
  it('is not made of steps apart', () => {
    const a = app();
    expect(lift(a, 0, 3)).toContain('below one another');
    expect(a.routines).toHaveLength(1);
  });
  it('is not put back where it ends in the middle, or runs itself', () => {
    const a = app();
    expect(lift(a, 1, 2)).toBeNull();
    a.routines[1]!.steps.unshift(make.step('stop'));
    const [r] = a.routines as [Routine];
    expect(inlineSteps(a, r, r.steps[1]!.id)).toBe('Part of Go ends in the middle, which would end this routine too.');
    (r.steps[1] as Extract<Step, { do: 'run' }>).routine = r.id;
    expect(inlineSteps(a, r, r.steps[1]!.id)).toBe('It runs this routine itself.');
  });

  /** What a routine tells and asks for, as it runs for the first hive. */
  async function told(a: ReturnType<typeof app>): Promise<string[]> {
    expect(AppSchema.safeParse(a).error).toBeUndefined();
    const records = new Records(a);
    someRecords(records);
    const machine = new Machine(a, records, stepKinds, { now: () => 0, newId: () => 'r_1' });
    const words: string[] = [];
    let next = machine.advance(machine.begin(a.routines[0]!, 'bramble'));
    while (next.ask) {
      words.push(JSON.stringify(next.ask));
      next = machine.advance(next.state, { ok: true, ...(next.ask.ask === 'question' && { value: '3' }) });
    }
    return [...words, next.state.ended?.error ?? 'ended'];
  }
  it('does what they did, and so do its steps when they are put back in their place (property)', async () => {
    const me = thisId(T.hives);
    const numbers = ['v_first00000', 'v_second0000', 'v_third00000'];
    const value = (before: number): fc.Arbitrary<string> =>
      fc.constantFrom('1 + 2', `${me}.${F.weight}`, ...numbers.slice(0, before).map((v) => `${v} * 2`));
    const anyStep = (i: number): fc.Arbitrary<Step> =>
      fc.oneof(
        value(i).map((v) => say(`{${v}}`)),
        value(i).map((v) => make.step('question', { words: `{${v}}?`, as: 'number', first: v })),
        value(i).map((v) =>
          make.step('if', {
            when: { match: 'all', conditions: [{ left: v, op: 'over', right: '4' }] },
            then: [say(`more {${v}}`)],
            others: [],
            otherwise: [say(`less {${v}}`)],
          }),
        ),
      );
    await fc.assert(
      fc.asyncProperty(
        fc.tuple(...[0, 1, 2, 3].map(anyStep)),
        fc.nat(4),
        fc.integer({ min: 1, max: 3 }),
        async (middle, from, count) => {
          const a = app();
          const work = (i: number): Step => {
            const step = make.step('find', { query: allOf(T.visits), result: numbers[i]!, resultName: `n${i}` });
            return { ...step, do: 'find' } as Step;
          };
          const r = routineOf(...middle.flatMap((s, i) => (i < 3 ? [s, work(i)] : [s])));
          // What was found is counted, so that it is a number wherever it is used.
          r.steps = JSON.parse(
            JSON.stringify(r.steps).replace(/(v_(?:first|second|third)0+) \* 2/g, 'count($1) * 2'),
          ) as Step[];
          a.routines = [r];
          const before = await told(a);
          if (lift(a, ...Array.from({ length: count }, (_, i) => from + i)) !== null) return;
          expect(await told(a)).toEqual(before);
          const run = r.steps.find((s) => s.do === 'run')!;
          expect(inlineSteps(a, r, run.id)).toBeNull();
          expect(r.steps.some((s) => s.do === 'run')).toBe(false);
          expect(await told(a)).toEqual(before);
        },
      ),
      { numRuns: 150 },
    );
  });
});
