import { describe, expect, it } from 'vitest';
import { stepKinds } from './kinds.ts';
import type { App, Routine, Step } from '../app/schema.ts';
import { MOST_LETTERS_TOGETHER } from '../document/limits.ts';
import { fromJson } from '../formula/json.ts';
import { F, T, hiveApp, someRecords } from '../records/fixture.ts';
import { Records } from '../records/store.ts';
import { make, me, say, world } from './fixture.ts';
import { Machine } from './machine.ts';
import { Program, thingsInRoutine } from './program.ts';
import { driveRun } from './run.ts';
import { defineStep, StepError, type StepKinds } from './step.ts';
import { defineTrigger, startedBy, type TriggerKinds } from './trigger.ts';
import { keptValue, valueOf } from '../records/kept-value.ts';

interface More {
  given?: string | null;
  record?: string | null;
  kinds?: StepKinds;
  change?: (app: App) => void;
}

/** A routine with its machine, and what was asked of the world when it ran to its end. */
async function ran(steps: Step[], more: More = {}) {
  const w = world(steps, more);
  const { app, records, routine, machine, ports, asked } = w;
  const state = machine.begin(routine, more.record === undefined ? 'bramble' : more.record);
  const begun = { routine: routine.id, name: routine.name, given: '', steps: [], ms: 0 };
  const trace = await driveRun(machine, routine, state, begun, ports);
  const words = asked.flatMap((a) => (a.ask === 'message' ? [a.words] : []));
  return { app, records, routine, machine, state, trace, asked, words };
}
/** A step of a kind that is only there for a test. */
const only = (
  does: Parameters<ReturnType<typeof defineStep>['does']>[0],
  data: object = {},
): { kinds: StepKinds; step: Step } => ({
  kinds: new Map([
    ...stepKinds,
    ['odd', defineStep({ do: 'odd', said: { name: 'Odd', hint: '' }, properties: {}, ...data }).does(does) as never],
  ]),
  step: { id: 'p_odd00000', do: 'odd' } as unknown as Step,
});

describe('what a routine is given', () => {
  it('is needed at its first step, and said by its name', async () => {
    expect((await ran([say('x')], { record: null })).trace.error).toContain('hive');
    expect((await ran([say('x')], { record: 'nobody' })).trace.error).toContain('hive');
    expect((await ran([], { record: null })).trace.error).toBe('This routine needs a hive, and none was given.');
  });
  it('is nothing for a routine that is given nothing, also when a record is at hand', async () => {
    const { state, words, trace } = await ran([say('ok')], { given: null, record: 'bramble' });
    expect([state.given, words, trace.error]).toEqual([null, ['ok'], undefined]);
    expect((await ran([say('ok')], { given: T.hives, record: null })).state.given).toBeNull();
  });
  it('may go on its way: what reads it then reads nothing', async () => {
    const app = hiveApp();
    const records = new Records(app);
    someRecords(records);
    const routine: Routine = {
      id: 'q_test00000',
      name: 'Test',
      given: T.hives,
      steps: [make.step('wait', { time: '@"PT1S"' }), say(`Hive {${me}.${F.name}}!`)],
    };
    app.routines.push(routine);
    const machine = new Machine(app, records, stepKinds, { now: () => 0, newId: () => 'new' });
    const first = machine.advance(machine.begin(routine, 'bramble'));
    records.remove(T.hives, 'bramble');
    expect(machine.advance(first.state, { ok: true }).ask).toMatchObject({ ask: 'message', words: 'Hive !' });
  });
});

describe('a run that has ended', () => {
  it('stays ended, and asks and tells nothing more', async () => {
    const { machine, routine } = await ran([say('x')]);
    let { state, ask } = machine.advance(machine.begin(routine, 'bramble'));
    ({ state, ask } = machine.advance(state, { ok: true }));
    expect([state.ended, ask]).toEqual([{}, null]);
    expect(machine.advance(state, { ok: true })).toEqual({ state, ask: null, did: [] });
  });
  it('waits for its answer before it goes on', async () => {
    const { machine, routine } = await ran([say('x')]);
    const { state } = machine.advance(machine.begin(routine, 'bramble'));
    expect(machine.advance(state).state.ended).toEqual({ error: 'The run waits for an answer.' });
  });
});

describe('what is written together', () => {
  it('is bounded by its letters, each group by itself', async () => {
    const large = 'x'.repeat(MOST_LETTERS_TOGETHER / 2 - 10);
    const write = (letters: string) =>
      only({
        begin: () => ({}) as never,
        start: () => ({
          ask: {
            ask: 'write',
            together: false,
            drafts: [
              { do: 'set', table: T.keepers, record: 'odile', cells: { [F.keeperName]: letters } },
              { do: 'remove', table: T.visits, record: 'v1' },
            ],
          },
        }),
      });
    const { kinds, step } = write(large);
    const together = (n: number): Step => make.step('together', { steps: Array.from({ length: n }, () => step) });
    expect((await ran([together(2)], { kinds })).trace.error).toBeUndefined();
    expect((await ran([together(2), together(2)], { kinds })).trace.error).toBeUndefined();
    expect((await ran([together(3)], { kinds })).trace.error).toBe(
      'The files and texts written together are too large; write fewer at once.',
    );
  });
  it('is counted and seen also when the run was put away inside it', async () => {
    const set = (value: string): Step => make.step('set', { record: me, values: [{ field: F.weight, value }] });
    const { machine, routine, records } = await ran([
      make.step('together', { steps: [set('30'), say(`{${me}.${F.weight}}`), set(`${me}.${F.weight} + 1`)] }),
    ]);
    records.set(T.hives, 'bramble', { [F.weight]: 1 });
    let { state, ask } = machine.advance(machine.begin(routine, 'bramble'));
    expect(ask).toMatchObject({ ask: 'message', words: '30 kg' });
    ({ state, ask } = machine.advance(JSON.parse(JSON.stringify(state)) as typeof state, { ok: true }));
    expect(ask).toMatchObject({
      ask: 'write',
      together: true,
      drafts: [{ cells: { [F.weight]: 30 } }, { cells: { [F.weight]: 31 } }],
    });
  });
  it('of nothing is not sent', async () => {
    const { asked, trace } = await ran([make.step('together', { steps: [] }), say('on')]);
    expect([asked.map((a) => a.ask), trace.error]).toEqual([['message'], undefined]);
  });
  it('is no place for a step that asks again after it has written', async () => {
    const { kinds, step } = only({
      begin: () => ({}) as never,
      start: () => ({ ask: { ask: 'write', drafts: [], together: false } }),
      answered: () => ({ ask: { ask: 'back' } }),
    });
    expect((await ran([make.step('together', { steps: [step] })], { kinds })).trace.error).toBe(
      'A step that writes is done when it has written.',
    );
  });
});

describe('a condition', () => {
  const when = (left: string, match: 'all' | 'any' = 'all', right = 'true'): Step =>
    make.step('if', {
      when: {
        match,
        conditions: [
          { left, op: 'is', right },
          { left: `${me}.${F.name}`, op: 'is', right: '"Bramble"' },
        ],
      },
      then: [say('yes')],
      otherwise: [say('no')],
    });
  it('says what it asked, and with which word between', async () => {
    const said = async (match: 'all' | 'any') =>
      (await ran([when(`${me}.${F.keeper}.${F.nearby}`, match)])).trace.steps[0]!.said;
    expect(await said('all')).toContain('this hive › Keeper › Lives nearby is true and this hive › Name is Bramble');
    expect(await said('any')).toContain('this hive › Keeper › Lives nearby is true or this hive › Name is Bramble');
  });
  it('that cannot be worked out stops the routine, and goes neither way', async () => {
    for (const left of ['1 +', 'for x in 1..1000000000 return x']) {
      const { words, trace } = await ran([when(left)]);
      expect([words, trace.error]).toEqual([[], expect.stringMatching(/^The condition: /)]);
    }
    expect((await ran([when(`${me}.${F.keeper}.${F.nearby}`)])).words).toEqual(['yes']);
  });
  it('is asked anew each time it is come to', async () => {
    const again = when(`${me}.${F.weight}`, 'all', '7');
    const set = make.step('set', { record: me, values: [{ field: F.weight, value: '7' }] });
    expect((await ran([again, set, { ...again, id: 'p_again0000' }])).words).toEqual(['no', 'yes']);
  });
});

describe('fields that are set', () => {
  const set = (field: string, value: string): Step => make.step('set', { record: me, values: [{ field, value }] });
  it('say when none is chosen, when a formula is stopped, and when they become nothing', async () => {
    expect((await ran([set('f_gone00000', '1')])).trace.error).toBe('A field to set is not chosen yet.');
    expect((await ran([set(F.weight, 'count(for x in 1..1000000000 return x)')])).trace.error).toMatch(
      /^The value for Weight: .*too many steps/,
    );
    expect(JSON.stringify((await ran([set(F.weight, 'null')])).trace.steps)).toContain('nothing');
  });
  it('take a picked link by its record, a list of one where there may be several, and nothing to empty it', async () => {
    const several = (app: App): void => {
      app.tables[0]!.fields.find((f) => f.id === F.keeper)!.several = true;
    };
    const cells = async (value: string, change?: More['change']) => {
      const { asked } = await ran([set(F.keeper, value)], change ? { change } : {});
      return asked
        .flatMap((a) => (a.ask === 'write' ? a.drafts : []))
        .map((d) => (d.do === 'set' ? d.cells[F.keeper] : d));
    };
    expect(await cells(`all_${T.keepers}[1]`)).toEqual(['odile']);
    expect(await cells(`all_${T.keepers}[1]`, several)).toEqual(['["odile"]']);
    expect(await cells('null')).toEqual([null]);
  });
  it('are set in every record of a list, all of them or none', async () => {
    const { asked, trace, records } = await ran([
      make.step('set', { record: `all_${T.hives}`, values: [{ field: F.weight, value: '1' }] }),
    ]);
    expect(trace.error).toBeUndefined();
    expect(asked).toMatchObject([{ ask: 'write', together: true }]);
    expect(records.rows(T.hives).every((r) => r.get(F.weight) === 1)).toBe(true);
    const gone = await ran([make.step('remove', { record: `all_${T.hives}` })]);
    expect(gone.asked).toMatchObject([
      { drafts: ['bramble', 'clover'].map((record) => ({ do: 'remove', record })), together: true },
    ]);
    expect(gone.records.rows(T.hives)).toEqual([]);
    const none = await ran([make.step('remove', { record: `all_${T.hives}[1 = 2]` })]);
    expect(none.trace).toMatchObject({ steps: [{ gave: 'none' }] });
  });
  it('need a record to be set in', async () => {
    const at = (record: string): Promise<string | undefined> =>
      ran([make.step('set', { record, values: [{ field: F.weight, value: '1' }] })]).then((r) => r.trace.error);
    expect(await at('[1, 2]')).toMatch(/is a list of other things\.$/);
    expect(await at(`all_${T.hives}[9]`)).toContain('leads to no record');
    expect(await at('5')).toMatch(/is not one record\.$/);
  });
});

describe('results of steps', () => {
  it('are things that later steps can name, when their table is there', () => {
    const app = hiveApp();
    const { model } = new Records(app);
    const add = (table: string, resultName?: string): Step =>
      make.step('add', { table, values: [], ...(resultName !== undefined && { resultName }) });
    const things = (...steps: Step[]) =>
      thingsInRoutine(stepKinds, model, { id: 'q_x', name: 'x', given: null, steps }).map((t) => [t.name, t.type]);
    expect(things(add(T.hives, 'new hive'))).toEqual([['new hive', { k: 'record', table: T.hives }]]);
    expect(things(add('t_gone0000', 'x'), say('y'))).toEqual([]);
  });
  it('cannot be named before the step has run, and are its own afterwards', async () => {
    const add = make.step('add', {
      table: T.keepers,
      values: [{ field: F.keeperName, value: '"Ned"' }],
      resultName: 'keeper',
    });
    const result = (add as Step & { result: string }).result;
    const named = say(`[{${result}.${F.keeperName}}]`);
    expect((await ran([add, named])).words).toEqual(['[Ned]']);
    const early = await ran([named, add]);
    expect([early.words, early.trace.error]).toEqual([[], '“keeper” is used here, and given only by a later step.']);
  });
  it('that a step does not give are not kept', async () => {
    const { kinds, step } = only({ begin: () => ({}) as never, start: () => ({ did: { said: 'Odd', gave: '' } }) });
    const { trace } = await ran([{ ...step, result: 'p_res00000' } as Step, say('on')], { kinds });
    expect([trace.steps.map((s) => s.said), trace.error]).toEqual([['Odd', expect.any(String)], undefined]);
  });
});

describe('values that are kept', () => {
  const { records } = (() => {
    const r = new Records(hiveApp());
    someRecords(r);
    return { records: r };
  })();
  it('are contexts with all that is in them, and come back the same', () => {
    const value = fromJson({ a: 1, b: { c: ['x', null, true], d: '"@' } });
    expect(JSON.parse(JSON.stringify(valueOf(keptValue(value), records)))).toEqual({
      a: 1,
      b: { c: ['x', null, true], d: '"@' },
    });
  });
  it('are nothing when nothing was kept', () => {
    expect([valueOf(undefined, records), valueOf(null, records)]).toEqual([null, null]);
  });
});

describe('steps and triggers are what was said of them', () => {
  it('what they are and what they do together', () => {
    const step = defineStep({ do: 'x', said: { name: 'X', hint: 'h' }, properties: {}, lasts: true }).does({
      begin: () => ({}) as never,
      start: () => ({ did: { said: 's', gave: '' } }),
    });
    expect([step.do, step.said.name, step.lasts, typeof step.start]).toEqual(['x', 'X', true, 'function']);
    const trigger = defineTrigger({ on: 'y', said: { name: 'Y', group: '' }, properties: {} }).does({
      begin: () => ({}) as never,
      starters: () => [{ said: 'y' }],
    });
    expect([trigger.on, trigger.starters({} as App, 'q', () => '')]).toEqual(['y', [{ said: 'y' }]]);
  });
  it('routines without triggers, or with ones that nobody knows or that answer nothing, are not started', () => {
    const app = hiveApp();
    const happening = { on: 'screen opened' as const, screen: 's_home00000', record: null };
    const silent = defineTrigger({ on: 'silent', said: { name: 'S', group: '' }, properties: {} }).does({
      begin: () => ({}) as never,
      starters: () => [],
    });
    const kinds = new Map([['silent', silent]]) as unknown as TriggerKinds;
    app.routines = [
      { id: 'q_a0000000', name: 'A', given: null, steps: [] },
      { id: 'q_b0000000', name: 'B', given: null, steps: [], starts: [{ on: 'silent' }, { on: 'unknown' }] as never },
    ];
    expect([...startedBy(kinds, app, happening)]).toEqual([]);
  });
  it('a kind of step that is not there is said, and keeps nothing', async () => {
    const { trace } = await ran([{ id: 'p_odd00000', do: 'unheard of' } as unknown as Step]);
    expect(trace.error).toBeTruthy();
    expect(StepError.name).toBe('StepError');
  });
});

it('a program reads no record of its own before one is put in place', () => {
  const app = hiveApp();
  const records = new Records(app);
  someRecords(records);
  const routine = { id: 'q_p', name: 'p', given: null, steps: [] };
  const program = new Program(stepKinds, records, routine, [], [], { now: () => 5, newId: () => 'id' });
  expect([program.now(), program.newId(), program.words('{1 + 1}')]).toEqual([5, 'id', '2']);
  expect(() => program.value('', 'It')).toThrow('It is not filled in yet.');
});
