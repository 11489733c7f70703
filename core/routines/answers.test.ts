import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { stepKinds } from './kinds.ts';
import { ElementMaker } from '../app/make.ts';
import { AppSchema, type App, type Step } from '../app/schema.ts';
import { thisId } from '../document/ids.ts';
import { allOf } from '../document/queries.ts';
import { copyOf } from '../document/copy.ts';
import { F, T, hiveApp, someRecords } from '../records/fixture.ts';
import { Records } from '../records/store.ts';
import { answersTo, type Ask, type Ports } from './asks.ts';
import { Machine } from './machine.ts';
import type { StepTrace } from './state.ts';
import type { KeptValue } from '../records/kept-value.ts';

const make = new ElementMaker();
const me = thisId(T.hives);
const say = (words: string): Step => make.step('message', { words });
const whether = (left: string, right: string) => ({
  match: 'all' as const,
  conditions: [{ left, op: 'is' as const, right }],
});

interface Ran {
  messages: string[];
  asked: Ask[];
  steps: StepTrace[];
  error: string | undefined;
  records: Records;
}

/** Runs a routine with answers to its questions. With `away` another machine goes on after every ask, from JSON. */
async function run(
  steps: Step[],
  answers: (KeptValue | Error)[] = [],
  more: { change?: (app: App) => void; record?: string; away?: boolean; refuse?: (ask: Ask) => boolean } = {},
): Promise<Ran> {
  const app = hiveApp();
  app.routines = [{ id: 'q_first0000', name: 'First', given: more.record ? T.hives : null, steps }];
  more.change?.(app);
  expect(AppSchema.safeParse(app).error).toBeUndefined();
  const records = new Records(app);
  someRecords(records);
  const messages: string[] = [];
  const asked: Ask[] = [];
  const left = [...answers];
  const note = (ask: Ask): KeptValue | void => {
    asked.push(ask);
    if (more.refuse?.(ask)) throw new Error('Refused.');
    if (ask.ask === 'message') messages.push(ask.words);
    if (ask.ask === 'write')
      for (const d of ask.drafts) if (d.do === 'set') records.set(d.table, d.record, { ...d.cells });
    if (ask.ask !== 'question' && ask.ask !== 'device') return undefined;
    const answer = left.shift();
    if (answer instanceof Error) throw answer;
    return answer;
  };
  const ports = Object.fromEntries(
    [
      'write',
      'open',
      'back',
      'message',
      'variable',
      'send',
      'wait',
      'question',
      'device',
      'timer',
      'element',
      'refresh',
    ].map((k) => [k, note]),
  ) as unknown as Ports;
  let n = 0;
  let now = 0;
  const world = { now: () => (now += 200), newId: () => `r_${n++}` };
  const machine = (): Machine => new Machine(app, records, stepKinds, world);
  let m = machine();
  let state = m.begin(app.routines[0]!, more.record ?? null);
  let answer = null;
  const done: StepTrace[] = [];
  for (let i = 0; i < 2000; i++) {
    const next = m.advance(state, answer);
    done.push(...next.did);
    state = more.away ? (JSON.parse(JSON.stringify(next.state)) as typeof state) : next.state;
    if (more.away) m = machine();
    if (!next.ask) break;
    answer = await answersTo(next.ask, ports);
  }
  return { messages, asked, steps: done, error: state.ended?.error, records };
}

describe('asking', () => {
  it('yes or no goes one way or the other; nothing said is no', async () => {
    const ask = make.step('ask', { words: 'Feed {1 + 1}?', yes: 'Feed', then: [say('fed')], otherwise: [say('left')] });
    const yes = await run([ask, say('end')], [true]);
    expect(yes.messages).toEqual(['fed', 'end']);
    expect(yes.asked[0]).toEqual({
      ask: 'question',
      question: { words: 'Feed 2?', wants: 'yes or no', yes: 'Feed', no: 'No' },
    });
    expect(yes.steps[0]).toMatchObject({ said: 'Asked “Feed 2?”', gave: 'Feed' });
    expect((await run([ask], [false])).messages).toEqual(['left']);
    expect((await run([ask], [null])).messages).toEqual(['left']);
  });
  it('for a value gives what was typed, read as what was asked for', async () => {
    const question = (as: 'text' | 'number' | 'date'): Step =>
      make.step('question', { words: 'How much?', as, result: 'v_typed0000', resultName: 'typed' });
    const gave = async (as: 'text' | 'number' | 'date', typed: string, then: string): Promise<string> => {
      const { messages, error } = await run([question(as), say(`{${then}}`)], [typed]);
      return messages[0] ?? error!;
    };
    expect(await gave('text', ' so ', 'v_typed0000 + "!"')).toBe('so!');
    expect(await gave('number', '2,5', 'v_typed0000 * 2')).toBe('5');
    expect(await gave('date', '2026-11-23', 'v_typed0000 + duration("P1D")')).toBe('Tue 24 Nov 2026');
    expect(await gave('number', 'much', '1')).toBe('“much” is no number.');
    expect(await gave('text', '  ', '1')).toBe('Nothing was answered.');
  });
  it('by a menu goes on with the choice, and with nothing else', async () => {
    const choices = ['Photo', 'Gallery', 'Neither'].map((w) => make.step('choice', { words: w, steps: [say(w)] }));
    (choices[2] as Step).off = true;
    const menu = make.step('menu', { words: 'From where?', choices, result: 'v_chosen000', resultName: 'chosen' });
    const ran = await run([menu, say('{v_chosen000}')], [1]);
    expect(ran.messages).toEqual(['Gallery', 'Gallery']);
    expect((ran.asked[0] as { question: object }).question).toMatchObject({
      choices: [
        { value: menu.choices[0]!.id, label: 'Photo' },
        { value: menu.choices[1]!.id, label: 'Gallery' },
      ],
    });
    expect((await run([menu], [9])).error).toContain('not there any more');
    expect((await run([menu], [new Error('Nothing was chosen.')])).error).toBe('Nothing was chosen.');
  });
  it('by a menu of records gives the record', async () => {
    const query = { ...allOf(T.hives), order: [{ by: F.weight, descending: true }] };
    const menu = make.step('menu', { words: 'Which?', from: 'records', query, result: 'v_chosen000' });
    const ran = await run([menu, say(`{v_chosen000.${F.weight}}`)], [{ table: T.hives, record: 'clover' }]);
    expect(ran.messages).toEqual(['21 kg']);
    const none = { ...allOf(T.hives), where: whether(F.name, '"Nobody"') };
    expect((await run([{ ...menu, query: none } as Step])).error).toBe('There is nothing to choose from.');
  });
});

describe('ways', () => {
  const many = (n: string): Step =>
    make.step('if', {
      when: whether(n, '1'),
      then: [say('one')],
      others: [
        make.step('otherwise if', { when: whether(n, '2'), steps: [say('two')] }),
        make.step('otherwise if', { when: whether(n, '2'), steps: [say('never')] }),
        { ...make.step('otherwise if', { when: whether(n, '3'), steps: [say('off')] }), off: true },
      ],
      otherwise: [say('many')],
    });
  it.each([
    ['1', 'one'],
    ['2', 'two'],
    ['3', 'many'],
  ])('if %s goes one way and no other', async (n, word) =>
    expect((await run([many(n), say('end')])).messages).toEqual([word, 'end']),
  );
  it('by value goes the first way that is the same', async () => {
    const choose = (value: string): Step =>
      make.step('choose', {
        value,
        cases: [
          make.step('case', { value: '"a"', steps: [say('A')] }),
          make.step('case', { value: '1 + 1', steps: [say('two')] }),
        ],
        otherwise: [say('else')],
      });
    const went = async (v: string): Promise<string[]> => (await run([choose(v)])).messages;
    expect([await went('"a"'), await went('2'), await went('null')]).toEqual([['A'], ['two'], ['else']]);
  });
  it('holds until something is so, or for as long as was said', async () => {
    const hold = make.step('hold', {
      when: whether(`count(all_${T.hives})`, '2'),
      time: 'duration("PT2S")',
      late: [say('late')],
    });
    expect((await run([hold, say('end')])).messages).toEqual(['end']);
    const never = { ...hold, when: whether('1', '2') } as Step;
    const ran = await run([never, say('end')], [], { away: true });
    expect(ran.messages).toEqual(['late', 'end']);
    // It looks every half second until the time is over, which began when it was first looked; never past its end. The
    // clock of this test goes on by a fifth of a second at each look.
    const waits = ran.asked.flatMap((a) => (a.ask === 'wait' ? [a.until] : []));
    expect(Math.max(...waits)).toBe(200 + 2000);
    expect(waits).toHaveLength(9);
  });
  it('passes over what is switched off', async () =>
    expect(
      (
        await run([
          { ...say('a'), off: true },
          make.step('if', { when: whether('1', '1'), then: [say('b'), { ...say('c'), off: true }, say('d')] }),
        ])
      ).messages,
    ).toEqual(['b', 'd']));
});

describe('finding', () => {
  const where = { match: 'all' as const, conditions: [{ left: F.weight, op: 'over' as const, right: '15' }] };
  it('one record, or says that there is none', async () => {
    const get = make.step('get', { query: { ...allOf(T.hives), where }, result: 'v_found0000' });
    expect((await run([get, say(`{v_found0000.${F.name}}`)])).messages).toEqual(['Clover']);
    const none = { ...get, query: { ...allOf(T.hives), where: whether(F.name, '"Nobody"') } } as Step;
    expect((await run([none])).error).toBeUndefined();
    const failing = { ...none, ifFails: [make.step('message', { words: 'None' }), make.step('stop')] } as Step;
    expect((await run([failing])).messages).toEqual(['None']);
  });
  it('several in order, and figures of them', async () => {
    const find = make.step('find', {
      query: { ...allOf(T.hives), order: [{ by: F.name, descending: true }] },
      result: 'v_found0000',
    });
    const figure = make.step('work out', { value: `sum(v_found0000.${F.weight})`, result: 'v_figure000' });
    expect((await run([find, figure, say(`{v_found0000[1].${F.name}} {v_figure000}`)])).messages).toEqual([
      'Clover 35.2',
    ]);
  });
});

describe('running another routine', () => {
  const second = (steps: Step[]) => (app: App) => {
    app.routines.push({ id: 'q_second000', name: 'Second', given: T.hives, steps });
  };
  const call = (more: object = {}): Step =>
    make.step('run', { routine: 'q_second000', record: `all_${T.hives}[2]`, result: 'v_given0000', ...more });
  it('gives it a record and takes back what it gives, whatever branch that is in', async () => {
    const change = second([
      make.step('if', {
        when: whether('1', '1'),
        then: [make.step('give', { value: `${me}.${F.weight} * 2` }), say('never')],
      }),
      say('never'),
    ]);
    const ran = await run([call(), say('{v_given0000}')], [], { change, away: true });
    expect(ran.messages).toEqual(['42']);
    expect(ran.steps.map((s) => [s.said, s.within ?? ''])).toEqual([
      ['If 1 is 1', 'q_second000'],
      ['Gave back 42', 'q_second000'],
      ['Ran Second for Clover', ''],
      ['Showed “42”', ''],
    ]);
  });
  it('goes on where it was, in a turn of a loop too, and “Stop” ends only the one it stands in', async () => {
    const each = make.step('each', { query: allOf(T.visits), result: 'v_each00000', steps: [call(), say('turn')] });
    const change = second([say('in'), make.step('stop', {}), say('never')]);
    const ran = await run([each, say('end')], [], { change, away: true });
    expect(ran.messages).toEqual(['in', 'turn', 'in', 'turn', 'in', 'turn', 'end']);
  });
  it('is bounded in depth, and says where it was stopped', async () => {
    const ran = await run([call()], [], { change: second([call()]) });
    expect(ran.error).toBe('Routines ran one another 50 deep, and were stopped in Second.');
  });
  it('needs the record it is given', async () => {
    expect((await run([call({ record: `all_${T.visits}[1]` })], [], { change: second([]) })).error).toBe(
      'Second needs another record.',
    );
    expect((await run([make.step('run', {})])).error).toBe('The routine to run is not chosen yet.');
  });
});

describe('If it fails', () => {
  const fails = (more: Partial<Step> = {}): Step => ({ ...make.step('message', { words: '' }), ...more }) as Step;
  it('goes on with what was said for it, and tells why', async () => {
    const ran = await run([fails({ ifFails: [say('why: {v_reason000}')], reason: 'v_reason000' }), say('end')]);
    expect([ran.messages, ran.error]).toEqual([['why: The message has no words yet.', 'end'], undefined]);
    expect(ran.steps[0]!.error).toBe('The message has no words yet.');
  });
  it('tries again so many times before that', async () => {
    let tries = 0;
    const mail = { ...make.step('mail', { to: '"a@b.example"', subject: 's', body: 'b' }), again: 2 };
    const refuse = (ask: Ask): boolean => ask.ask === 'send' && ++tries < 3;
    expect((await run([mail, say('end')], [], { refuse, away: true })).messages).toEqual(['end']);
    expect(tries).toBe(3);
    tries = -9;
    const caught = await run([{ ...mail, ifFails: [say('not sent')] }], [], { refuse });
    expect([caught.messages, tries]).toEqual([['not sent'], -6]);
  });
  it('of a step that holds others catches what fails inside, and drops what was gathered there', async () => {
    const set = (hive: number, value: string): Step =>
      make.step('set', { record: `all_${T.hives}[${hive}]`, values: [{ field: F.weight, value }] });
    const together = { ...make.step('together', { steps: [set(1, '1'), fails()] }), ifFails: [say('none')] };
    const ran = await run([together, set(2, '2'), say('end')]);
    expect(ran.messages).toEqual(['none', 'end']);
    expect(ran.records.rows(T.hives).map((r) => r.get(F.weight))).toEqual([14.2, 2]);
    // A group in a group: only the inner one is dropped.
    const outer = make.step('together', { steps: [set(1, '5'), together, set(2, '6')] });
    const nested = await run([{ ...outer, steps: [set(1, '5'), { ...together, ifFails: [] }, set(2, '6')] } as Step]);
    expect(nested.records.rows(T.hives).map((r) => r.get(F.weight))).toEqual([5, 6]);
    expect(nested.asked.filter((a) => a.ask === 'write')).toHaveLength(1);
  });
  it('of a run catches what fails in the other routine', async () => {
    const change = (app: App): void => {
      app.routines.push({ id: 'q_second000', name: 'Second', given: null, steps: [fails()] });
    };
    const call = {
      ...make.step('run', { routine: 'q_second000' }),
      ifFails: [say('{v_reason000}')],
      reason: 'v_reason000',
    };
    expect((await run([call, say('end')], [], { change, away: true })).messages).toEqual([
      'The message has no words yet.',
      'end',
    ]);
  });
  it('is not done again for what fails while it is done, nor when the run is out of steps', async () => {
    const ran = await run([fails({ ifFails: [fails()] })]);
    expect([ran.error, ran.steps]).toEqual(['The message has no words yet.', expect.objectContaining({ length: 2 })]);
    const forever = make.step('repeat', { when: whether('1', '1'), most: 1000 });
    expect((await run([{ ...forever, ifFails: [say('no')] } as Step])).messages.length).toBeLessThan(2);
  });
  it('a copy has a reason of its own', () => {
    const step = fails({ ifFails: [say('{v_reason000}')], reason: 'v_reason000' });
    const copy = copyOf(step);
    expect(copy.reason).not.toBe(step.reason);
    expect(JSON.stringify(copy)).not.toContain('v_reason000');
  });
});

it('put away after any ask and taken up elsewhere, it comes to the same end (property)', async () => {
  const leaf = fc.constantFrom<() => Step>(
    () => say('a'),
    () => make.step('message', { words: '' }),
    () => ({ ...make.step('message', { words: '' }), ifFails: [say('caught')] }),
    () => make.step('ask', { words: 'q', then: [say('yes')], otherwise: [say('no')] }),
    () =>
      make.step('set', {
        record: `all_${T.hives}[1]`,
        values: [{ field: F.weight, value: `all_${T.hives}[1].${F.weight} + 1` }],
      }),
    () => make.step('run', { routine: 'q_second000' }),
    () => make.step('stop', {}),
  );
  const tree = fc.array(leaf, { minLength: 1, maxLength: 3 });
  const outer = fc.constantFrom<(steps: Step[]) => Step>(
    (steps) => make.step('each', { query: allOf(T.hives), result: 'v_each00000', steps }),
    (steps) => make.step('together', { steps }),
    (steps) => ({ ...make.step('together', { steps }), ifFails: [say('dropped')], again: 1 }),
    (steps) => make.step('if', { when: whether('1', '2'), then: [], otherwise: steps }),
  );
  const list = fc.array(fc.tuple(outer, tree), { minLength: 1, maxLength: 3 });
  await fc.assert(
    fc.asyncProperty(list, fc.array(fc.boolean(), { maxLength: 12 }), async (parts, answers) => {
      const steps = parts.map(([o, inner]) => o(inner.map((f) => f())));
      const change = (app: App): void => {
        app.routines.push({
          id: 'q_second000',
          name: 'Second',
          given: null,
          steps: [say('second'), make.step('give', { value: '1' })],
        });
      };
      const said = [...answers, ...Array.from({ length: 40 }, () => false)];
      const [at, away] = [await run(steps, said, { change }), await run(steps, said, { change, away: true })];
      expect(away.messages).toEqual(at.messages);
      expect(away.error).toBe(at.error);
      expect(away.records.rows(T.hives).map((r) => r.cells)).toEqual(at.records.rows(T.hives).map((r) => r.cells));
    }),
    { numRuns: 150 },
  );
});
