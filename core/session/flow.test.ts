import { describe, expect, it } from 'vitest';
import { ElementMaker } from '../app/make.ts';
import type { App, Step } from '../app/schema.ts';
import { Machine } from '../routines/machine.ts';
import { answersTo } from '../routines/asks.ts';
import { F, hiveApp, someRecords, T } from '../records/fixture.ts';
import { Records } from '../records/store.ts';
import { allOf } from '../document/queries.ts';
import { allKinds, openSession } from './fixture.ts';

const make = new ElementMaker();
const EACH = 'v_each000000';

function appWith(...steps: Step[]): App {
  const app = hiveApp();
  app.routines = [{ id: 'q_routine000', name: 'Go', given: null, steps }];
  return app;
}
async function run(app: App) {
  const { session, effects, records } = openSession(app);
  const trace = await session.runNow(app.routines[0]!, null);
  const messages = effects.flatMap((e) => (e.do === 'message' && e.tone === 'plain' ? [e.words] : []));
  return { trace, records, messages };
}
const say = (words: string): Step => make.step('message', { words });
const each = (steps: Step[], more: object = {}): Step =>
  make.step('each', { query: { ...allOf(T.hives), ...more }, result: EACH, resultName: 'this hive', steps });
const setWeight = (value: string): Step => make.step('set', { record: EACH, values: [{ field: F.weight, value }] });

describe('For each', () => {
  it('takes one turn for each record that fits, in order, and the steps see which', async () => {
    const { messages, trace } = await run(
      appWith(each([say(`{${EACH}.${F.name}}`)], { order: [{ by: F.weight, descending: true }] }), say('done')),
    );
    expect(messages).toEqual(['Clover', 'Bramble', 'done']);
    expect(trace.error).toBeUndefined();
    expect(trace.steps.map((s) => s.said)).toEqual([
      'Turn 1 of 2: Clover',
      expect.stringContaining('Clover'),
      'Turn 2 of 2: Bramble',
      expect.stringContaining('Bramble'),
      'Went through 2 turns',
      expect.stringContaining('done'),
    ]);
    expect(trace.steps[3]!.turns).toEqual([1]);
  });
  it('goes through what was found at its beginning, and passes over what is gone', async () => {
    const app = appWith(
      each([make.step('remove', { record: `all_${T.hives}[${F.name} = "Clover"][1]` }), say(`{${EACH}.${F.name}}`)], {
        where: { match: 'all', conditions: [{ left: F.weight, op: 'under', right: '100' }] },
      }),
    );
    // The second turn would fail in removing Clover again: it is not taken.
    const { messages, trace } = await run(app);
    expect([messages, trace.error]).toEqual([['Bramble'], undefined]);
  });
  it('with a limit takes the first, with none that fits none', async () => {
    expect((await run(appWith(each([say('x')], { limit: 1 })))).messages).toHaveLength(1);
    const none = await run(
      appWith(each([say('x')], { where: { match: 'all', conditions: [{ left: F.weight, op: 'over', right: '99' }] } })),
    );
    expect([none.messages, none.trace.steps[0]!.said]).toEqual([[], 'There was no hive']);
  });
  it('together writes all of them or none', async () => {
    const good = await run(appWith(make.step('together', { steps: [each([setWeight(`${EACH}.${F.weight} + 1`)])] })));
    expect(good.records.rows(T.hives).map((r) => r.cells[F.weight])).toEqual([15.2, 22]);
    const bad = await run(
      appWith(
        make.step('together', {
          steps: [each([setWeight(`if ${EACH}.${F.name} = "Clover" then "much" else 1`)])],
        }),
      ),
    );
    expect(bad.trace.error).toContain('much');
    expect(bad.records.rows(T.hives).map((r) => r.cells[F.weight])).toEqual([14.2, 21]);
  });
  it('put away at any ask and taken up from its JSON, it comes to the same end', async () => {
    const app = appWith(each([setWeight(`${EACH}.${F.weight} * 2`), say(`{${EACH}.${F.weight}}`)]), say('done'));
    const told: string[] = [];
    const records = new Records(app);
    someRecords(records);
    const ports = {
      write: ({ drafts }: { drafts: { do: string; table: string; record: string; cells?: object }[] }) => {
        for (const d of drafts) records.set(d.table, d.record, d.cells as never);
      },
      message: ({ words }: { words: string }) => void told.push(words),
    } as never;
    let n = 0;
    const world = { now: () => 0, newId: () => `r_${n++}` };
    let state = new Machine(app, records, allKinds.steps, world).begin(app.routines[0]!, null);
    let answer = null;
    for (let i = 0; i < 50; i++) {
      // Another machine each time, and the state by way of JSON: as after a reload.
      const machine = new Machine(app, records, allKinds.steps, world);
      const next = machine.advance(JSON.parse(JSON.stringify(state)), answer);
      state = next.state;
      if (!next.ask) break;
      answer = await answersTo(next.ask, ports);
    }
    expect(state.ended).toEqual({});
    expect(told).toEqual(['28.4 kg', '42 kg', 'done']);
  });
});

describe('Repeat while', () => {
  const over = (n: string) => ({
    match: 'all' as const,
    conditions: [{ left: `max(all_${T.hives}.${F.weight})`, op: 'under' as const, right: n }],
  });
  const heavier = (): Step =>
    make.step('set', {
      record: `all_${T.hives}[${F.name} = "Clover"][1]`,
      values: [{ field: F.weight, value: `max(all_${T.hives}.${F.weight}) + 10` }],
    });
  it('goes on as long as its condition holds', async () => {
    const { records, trace } = await run(
      appWith(make.step('repeat', { when: over('50'), most: 10, steps: [heavier()] })),
    );
    expect(records.row(T.hives, 'clover')!.cells[F.weight]).toBe(51);
    expect(trace.steps.at(-1)!.said).toBe('Repeated 3 times');
  });
  it('stops with words when it would never end', async () => {
    const { trace } = await run(appWith(make.step('repeat', { when: over('500'), most: 3, steps: [heavier()] })));
    expect(trace.error).toContain('It was repeated 3 times');
  });
});

describe('Stop here', () => {
  it('ends the routine, from inside of branches and loops too', async () => {
    const { messages, trace } = await run(appWith(each([say('once'), make.step('stop')]), say('never')));
    expect([messages, trace.error]).toEqual([['once'], undefined]);
  });
  it('inside Together nothing is written, and the reason is told', async () => {
    const { records, trace } = await run(
      appWith(make.step('together', { steps: [each([setWeight('1'), make.step('stop')])] })),
    );
    expect(trace.error).toContain('cannot stop half-way');
    expect(records.rows(T.hives).map((r) => r.cells[F.weight])).toEqual([14.2, 21]);
  });
});
