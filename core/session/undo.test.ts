import { describe, expect, it } from 'vitest';
import { ElementMaker } from '../app/make.ts';
import { AppSchema, type App, type Step } from '../app/schema.ts';
import { thisId } from '../document/ids.ts';
import { F, hiveApp, T } from '../records/fixture.ts';
import { openSession } from './fixture.ts';

const make = new ElementMaker();
const me = thisId(T.hives);

/** A session that has run these steps for a hive, and whose message can be pressed. */
async function ran(steps: Step[], more: { id: string; steps: Step[] }[] = [], change: (app: App) => void = () => {}) {
  const app = hiveApp();
  change(app);
  app.routines = [
    { id: 'q_first0000', name: 'First', given: T.hives, steps },
    ...more.map((m) => ({ ...m, name: m.id, given: T.hives })),
  ];
  expect(AppSchema.safeParse(app).error).toBeUndefined();
  const opened = openSession(app);
  const { records } = opened;
  const all = (): unknown => [T.hives, T.visits].map((t) => records.rows(t).map((r) => [r.id, { ...r.cells }]));
  const before = all();
  const run = await opened.session.runNow(app.routines[0]!, 'bramble');
  expect(run.error).toBeUndefined();
  const settle = async (): Promise<void> => {
    for (let i = 0; i < 20; i++) await new Promise((r) => setTimeout(r, 0));
  };
  const press = async (): Promise<void> => {
    const press = opened.effects.flatMap((e) => (e.do === 'message' && e.press ? [e.press] : []));
    opened.session.answered(press.at(-1)!.id, { ok: true });
    await settle();
  };
  const messages = (): string[] => opened.effects.flatMap((e) => (e.do === 'message' ? [e.words] : []));
  return { ...opened, records, before, all, press, messages };
}
const changes = (): Step[] => [
  make.step('set', { record: me, values: [{ field: F.weight, value: '50' }] }),
  make.step('set', { record: me, values: [{ field: F.weight, value: '51' }] }),
  make.step('add', { table: T.visits, values: [{ field: F.hive, value: me }] }),
  make.step('each', {
    query: {
      table: T.hives,
      where: { match: 'all', conditions: [{ left: F.name, op: 'is not', right: `${me}.${F.name}` }] },
      order: [],
      limit: 1,
    },
    result: 'v_other0000',
    steps: [make.step('remove', { record: 'v_other0000' })],
  }),
];

describe('a message with a button', () => {
  it('undoes all that its run has written, the last first', async () => {
    const o = await ran([...changes(), make.step('message', { words: 'Done', has: 'undo' })]);
    expect(o.all()).not.toEqual(o.before);
    await o.press();
    expect(o.all()).toEqual(o.before);
    expect(o.messages()).toEqual(['Done', 'Undone']);
  });
  it('undoes nothing where something was changed meanwhile, and says so', async () => {
    const o = await ran([...changes(), make.step('message', { words: 'Done', has: 'undo' })]);
    await (await o.session.actions()).saveForm(T.hives, 'bramble', { [F.weight]: 60 }, true);
    const now = o.all();
    await o.press();
    expect(o.all()).toEqual(now);
    expect(o.messages().at(-1)).toBe('It could not be undone: Weight of Bramble was changed meanwhile.');
  });
  it('takes back a record that began with an id and times of its own', async () => {
    const steps = [
      make.step('add', { table: T.visits, values: [{ field: F.hive, value: me }] }),
      make.step('message', { words: 'Done', has: 'undo' }),
    ];
    const o = await ran(steps, [], (app) => {
      const visits = app.tables.find((t) => t.id === T.visits)!;
      visits.fields.push(
        { id: 'f_ident000', name: 'Number', type: 'id' },
        { id: 'f_made0000', name: 'Made', type: 'created' },
        { id: 'f_changed0', name: 'Changed', type: 'changed' },
        { id: 'f_first000', name: 'First', type: 'datetime', default: 'now()' },
      );
    });
    expect(o.records.rows(T.visits).at(-1)!.cells).toHaveProperty('f_first000');
    await new Promise((r) => setTimeout(r, 1100));
    await o.press();
    expect(o.all()).toEqual(o.before);
    expect(o.messages()).toEqual(['Done', 'Undone']);
  });
  it('runs a routine for the same record', async () => {
    const o = await ran(
      [make.step('message', { words: 'Weighed', has: 'run', button: 'Again {1 + 1}', routine: 'q_again0000' })],
      [{ id: 'q_again0000', steps: [make.step('message', { words: `Again {${me}.${F.name}}` })] }],
    );
    expect(o.effects.find((e) => e.do === 'message')).toMatchObject({ press: { button: 'Again 2' } });
    await o.press();
    expect(o.messages()).toEqual(['Weighed', 'Again Bramble']);
  });
});
