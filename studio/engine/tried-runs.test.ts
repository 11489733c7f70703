import '../../kinds/elements/list/arranged.ts';
import { describe, expect, it } from 'vitest';
import { ElementMaker } from '../../core/app/make.ts';
import { AppSchema, type Step } from '../../core/app/schema.ts';
import { thisId } from '../../core/document/ids.ts';
import { stampText } from '../../core/host/clock.ts';
import { Replica } from '../../core/host/replica.ts';
import type { Effect, Happened } from '../../core/session/effects.ts';
import { F, hiveApp, someRecords, T } from '../../core/records/fixture.ts';
import { Records } from '../../core/records/store.ts';
import { TriedRuns } from './tried-runs.ts';

const make = new ElementMaker();
const me = thisId(T.hives);

/** Runs that are tried over some records. */
function open(steps: Step[]) {
  const app = hiveApp();
  app.variables = [{ id: 'v_score00000', name: 'Score', type: 'number', lasts: 'app', first: '1' }];
  app.routines = [{ id: 'q_first0000', name: 'First', given: T.hives, steps }];
  expect(AppSchema.safeParse(app).error).toBeUndefined();
  const filled = new Records(app);
  someRecords(filled);
  const records = new Records(app);
  const replica = new Replica(records);
  replica.load(
    app.tables.flatMap((t) =>
      filled.rows(t.id).map((r) => ({ table: t.id, id: r.id, cells: r.cells, stamp: stampText(1, 0, 'test') })),
    ),
  );
  const effects: Effect[] = [];
  const told: Happened[] = [];
  const tried = new TriedRuns({
    app: () => app,
    records,
    replica,
    file: async () => null,
    effect: (e) => effects.push(e),
    happened: (h) => told.push(h),
    looks: { pauses: () => false, paused: async () => 'go on' },
    asks: () => Promise.reject(new Error('Nobody answers.')),
  });
  const all = (): string =>
    JSON.stringify([[...replica.all()], app.tables.map((t) => records.rows(t.id).map((r) => [r.id, r.cells]))]);
  const run = async () => {
    await tried.run(app.routines[0]!, 'bramble');
    return told.at(-1)!.run!;
  };
  return { records, tried, effects, told, all, run };
}
const set = (value: string): Step => make.step('set', { record: me, values: [{ field: F.weight, value }] });

describe('a run that is tried', () => {
  it('changes nothing, and says what it would change and send', async () => {
    const o = open([
      set('50'),
      make.step('raise', { how: 'raise', record: me, values: [{ field: F.weight, value: '2.5' }] }),
      make.step('add', { table: T.visits, values: [{ field: F.hive, value: me }] }),
      make.step('each', {
        query: { ...allHives(), where: { match: 'all', conditions: [{ left: F.name, op: 'is', right: '"Clover"' }] } },
        result: 'v_other0000',
        steps: [make.step('remove', { record: 'v_other0000' })],
      }),
      make.step('mail', { to: '"a@b.example"', subject: 'Hello', body: 'b' }),
      make.step('back'),
      make.step('message', { words: '{count(all_t_hives00)} left' }),
    ]);
    const before = o.all();
    const run = await o.run();
    expect(o.all()).toBe(before);
    expect(run.error).toBeUndefined();
    expect(run.tried!.changes.map((c) => c.said)).toEqual([
      'Bramble › Weight from 14.2 kg to 52.5 kg',
      'New visit: Hive tag HB-1',
      'Clover, hive, is removed',
    ]);
    expect(run.tried!.sends).toEqual(['A mail to a@b.example: Hello']);
    expect(o.told.map((h) => h.said)).toEqual(['Tried First for Bramble']);
    // Messages are seen; screens are not opened, since they show other records.
    expect(o.effects).toEqual([{ do: 'message', words: '1 left', tone: 'plain' }]);
  });
  it('gives for real what it wrote, once, as long as the records are as they were', async () => {
    const o = open([set('50'), make.step('mail', { to: '"a@b.example"', subject: 'Hello', body: 'b' })]);
    const first = (await o.run()).tried!.id;
    const second = (await o.run()).tried!.id;
    const { groups, sends } = o.tried.take(first);
    expect(groups.map((g) => g.drafts)).toEqual([
      [{ do: 'set', table: T.hives, record: 'bramble', cells: { [F.weight]: 50 } }],
    ]);
    expect(sends.map((m) => m.to)).toEqual([['a@b.example']]);
    expect(() => o.tried.take(first)).toThrow('done for real already');
    o.records.set(T.hives, 'bramble', { [F.name]: 'Thorn' });
    expect(() => o.tried.take(second)).toThrow('Thorn was changed since this was tried. Try it again.');
  });
  it('has the variables as they are, and leaves them so', async () => {
    const o = open([
      make.step('variable', { how: 'add', variable: 'v_score00000', value: '1' }),
      make.step('message', { words: '{v_score00000}' }),
    ]);
    const variables = (): unknown => o.records.row('t_variables', 'r_variables')?.cells;
    const before = variables();
    await o.run();
    expect(o.effects).toMatchObject([{ words: '2' }]);
    expect(variables()).toEqual(before);
  });
  it('that stops says so, with what it had written by then', async () => {
    const o = open([set('50'), set('"much"')]);
    const run = await o.run();
    expect(run.tried!.changes).toHaveLength(1);
    expect(o.told[0]!.said).toContain('Tried, and it stopped: First for Bramble:');
  });
});

function allHives() {
  return { table: T.hives, where: { match: 'all' as const, conditions: [] }, order: [], limit: null };
}
