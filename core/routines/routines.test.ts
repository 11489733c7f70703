import { describe, expect, it } from 'vitest';
import { ElementMaker } from '../app/make.ts';
import { thisId } from '../document/ids.ts';
import type { App, Routine, Step } from '../app/schema.ts';
import { F, T, hiveApp, someRecords } from '../records/fixture.ts';
import { Records } from '../records/store.ts';
import { stepKinds } from './kinds.ts';
import type { Ports } from './asks.ts';
import { Machine } from './machine.ts';
import { driveRun } from './run.ts';

const me = thisId(T.hives);
const make = new ElementMaker();
const step = <K extends Step['do']>(kind: K, more: Partial<Extract<Step, { do: K }>>): Step =>
  ({ ...make.step(kind), ...more }) as Step;

async function run(
  steps: Step[],
  record: string | null = 'bramble',
  given: string | null = T.hives,
  change: (app: App) => void = () => {},
) {
  const app = hiveApp();
  change(app);
  const records = new Records(app);
  someRecords(records);
  const done: unknown[] = [];
  let n = 0;
  const ports: Ports = {
    element: () => undefined,
    history: () => undefined,
    refresh: () => undefined,
    words: () => undefined,
    service: () => undefined,
    'sign out': () => undefined,
    write({ drafts }) {
      for (const d of drafts) {
        done.push(d);
        if (d.do === 'set') records.set(d.table, d.record, { ...d.cells });
        else records.remove(d.table, d.record);
      }
    },
    send({ to, subject, body }) {
      done.push({ mail: { to, subject, body } });
    },
    open: ({ screen, record: r }) => void done.push({ open: screen, record: r }),
    back: () => void done.push('back'),
    question: ({ question }) => void done.push(question),
    timer: () => undefined,
    person: () => undefined,
    device: ({ what }) => void done.push(what),
    variable: ({ variable, cell }) => void done.push({ variable, cell }),
    message: ({ words }) => void done.push({ says: words }),
    wait: () => undefined,
  };
  const routine: Routine = { id: 'q_test0000', name: 'Test', given, steps };
  app.routines.push(routine);
  app.screens[0]!.given = T.hives;
  for (const s of steps) if (s.do === 'open') s.screen = app.screens[0]!.id;
  const machine = new Machine(app, records, stepKinds, { now: () => 0, newId: () => `new${++n}` });
  const begun = { routine: routine.id, name: routine.name, given: '', steps: [], ms: 0 };
  const trace = await driveRun(machine, routine, machine.begin(routine, record), begun, ports);
  return { trace, done, records, app };
}
const nearby = (then: Step[], otherwise: Step[]): Step =>
  step('if', {
    when: { match: 'all', conditions: [{ left: `${me}.${F.keeper}.${F.nearby}`, op: 'is', right: 'true' }] },
    then,
    otherwise,
  });

describe('routines', () => {
  it('send one mail or the other, by a value along a link', async () => {
    const mail = (subject: string): Step =>
      step('mail', { to: `${me}.${F.keeper}.${F.mail}`, subject, body: `Hello {${me}.${F.keeper}.${F.keeperName}}` });
    const { done, trace } = await run([nearby([mail('Tea?')], [mail('The pack')])]);
    expect(done).toEqual([{ mail: { to: ['odile@heatherfield.example'], subject: 'Tea?', body: 'Hello Odile' } }]);
    expect(trace.steps.map((s) => s.gave)).toEqual(['yes', 'sent to 1']);
    expect(trace.error).toBeUndefined();
  });
  it('set fields and say what they were set to', async () => {
    const { records, trace } = await run([
      step('set', {
        record: me,
        values: [
          { field: F.weight, value: `${me}.${F.weight} + 1` },
          { field: F.status, value: '"Retired"' },
        ],
      }),
    ]);
    expect(records.row(T.hives, 'bramble')!.cells[F.weight]).toBe(15.2);
    expect(trace.steps[0]!.said).toBe('Set Bramble › Weight to 15.2, Status to Retired');
  });
  it('add a record with a matched link, and use it afterwards', async () => {
    const add = step('add', {
      table: T.visits,
      values: [
        { field: F.hive, value: me },
        { field: F.fed, value: '2' },
      ],
      resultName: 'new visit',
    }) as Extract<Step, { do: 'add' }>;
    const { done, records, trace } = await run([
      add,
      step('message', { words: `Fed {${add.result}.${F.fed}} to {${add.result}.${F.hive}.${F.name}}` }),
    ]);
    expect(done[0]).toMatchObject({ do: 'set', table: T.visits, cells: { [F.hiveTag]: 'HB-1', [F.fed]: 2 } });
    expect(done[1]).toEqual({ says: 'Fed 2 litres to Bramble' });
    expect(records.row(T.hives, 'bramble')!.get('Fed in all')).toBe(5.3);
    expect(trace.error).toBeUndefined();
  });
  it('open a screen with a record, remove, go back', async () => {
    const { done, app } = await run([step('open', { give: me }), step('remove', { record: me }), step('back', {})]);
    expect(done[0]).toEqual({ open: app.screens[0]!.id, record: 'bramble' });
    expect(done.slice(1)).toEqual([{ do: 'remove', table: T.hives, record: 'bramble' }, 'back']);
  });
  it.each<[string, Step, string]>([
    [
      'an empty address',
      step('mail', { to: `${me}.${F.keeper}.${F.mail}`, subject: 'x', body: '' }),
      'The mail has nowhere to go: this hive.Keeper.Mail is empty.',
    ],
    [
      'a place that is not filled in',
      step('set', { record: me, values: [{ field: F.weight, value: '' }] }),
      'The value for Weight is not filled in yet.',
    ],
    [
      'a value of the wrong kind',
      step('set', { record: me, values: [{ field: F.weight, value: '"much"' }] }),
      '“much” is not a number for Weight.',
    ],
    ['a table not chosen', step('add', {}), 'The table to add to is not chosen yet.'],
    ['a message without words', step('message', {}), 'The message has no words yet.'],
    [
      'a link that leads nowhere',
      step('remove', { record: `${me}.${F.keeper}` }),
      'The record to remove is empty: this hive.Keeper leads to no record.',
    ],
  ])('stop at %s, say why, and leave the rest undone', async (_what, bad, words) => {
    const { trace, done } = await run([bad, step('message', { words: 'never' })], 'clover');
    expect(trace.error).toBe(words);
    expect(trace.steps.at(-1)!.error).toBe(words);
    expect(done).toEqual([]);
  });
  it('say that a record is missing', async () =>
    expect((await run([step('back', {})], null)).trace.error).toBe('This routine needs a hive, and none was given.'));
  it('add a record, or change the one that has the same key', async () => {
    const add = (status: string): Step =>
      step('add', {
        table: T.hives,
        update: true,
        values: [
          { field: F.name, value: '"bramble"' },
          { field: F.tag, value: '"hb-1"' },
          { field: F.status, value: `"${status}"` },
        ],
      });
    const keyed = (app: App): void => {
      app.tables[0]!.key = [F.name, F.tag];
    };
    const { records, trace } = await run([add('Retired')], 'bramble', T.hives, keyed);
    expect(records.rows(T.hives)).toHaveLength(2);
    expect(records.row(T.hives, 'bramble')!.get('Status')).toBe('Retired');
    expect(trace.steps[0]!.said).toMatch(/^Changed the hive/);
    const plain = await run([{ ...add('Retired'), update: false } as Step], 'bramble', T.hives, keyed);
    expect(plain.trace.error).toMatch(/already/);
  });
  it('stop at a check of the maker with its words', async () => {
    const { trace, records } = await run(
      [step('set', { record: me, values: [{ field: F.weight, value: '99' }] })],
      'bramble',
      T.hives,
      (app) => {
        app.tables[0]!.fields.find((f) => f.id === F.weight)!.check = {
          formula: `${F.weight} < 50`,
          words: 'Too heavy.',
        };
      },
    );
    expect(trace.error).toBe('Too heavy.');
    expect(records.row(T.hives, 'bramble')!.get('Weight')).toBe(14.2);
  });
});
