import { describe, expect, it } from 'vitest';
import { ElementMaker } from '../app/make.ts';
import { AppSchema, type App, type Step } from '../app/schema.ts';
import { thisId } from '../document/ids.ts';
import { allOf } from '../document/queries.ts';
import { F, hiveApp, T } from '../records/fixture.ts';
import { openSession } from './fixture.ts';

const make = new ElementMaker();
const me = thisId(T.hives);
const visit = (): Step => make.step('add', { table: T.visits, values: [{ field: F.hive, value: me }] });

/** An app whose form of hives starts routines with these steps, as part of its save or afterwards. */
function open(within: 'part' | 'after' | undefined, ...routines: Step[][]) {
  const app: App = hiveApp();
  app.routines = routines.map((steps, i) => ({
    id: `q_routine${String(i).padStart(3, '0')}`,
    name: `Routine ${i}`,
    given: T.hives,
    steps,
    starts: [{ on: 'form', table: T.hives, how: 'saved', ...(within && { within }) }],
  })) as App['routines'];
  expect(AppSchema.safeParse(app).error).toBeUndefined();
  const opened = openSession(app);
  const { records } = opened;
  const writes: [number, boolean][] = [];
  const { write } = opened.device;
  opened.device.write = (drafts, together = false) => {
    writes.push([drafts.length, together]);
    return write.call(opened.device, drafts, together);
  };
  const save = async (record: string | null, weight: number) =>
    (await opened.session.actions()).saveForm(T.hives, record, { [F.name]: 'Ash', [F.weight]: weight });
  const settle = () => new Promise((r) => setTimeout(r, 20));
  return { ...opened, records, writes, save, settle, visits: () => records.rows(T.visits).length };
}

describe('a routine that is part of a save', () => {
  it('writes with the form as one, and sees the record as it will be', async () => {
    const set = make.step('set', { record: me, values: [{ field: F.weight, value: `${me}.${F.weight} + 1` }] });
    const o = open('part', [visit(), set], [visit()]);
    const before = o.visits();
    const answer = await o.save(null, 20);
    expect(answer).toHaveProperty('saved');
    expect(o.writes).toEqual([[4, true]]);
    expect(o.visits()).toBe(before + 2);
    const id = (answer as { saved: string }).saved;
    expect(o.records.row(T.hives, id)!.cells[F.weight]).toBe(21);
    await o.settle();
    // It does not run once more afterwards.
    expect(o.writes).toHaveLength(1);
  });
  it('that fails leaves nothing of the save, and the form says why', async () => {
    const o = open(
      'part',
      [visit()],
      [visit(), make.step('set', { record: 'null', values: [{ field: F.weight, value: '1' }] })],
    );
    const [hives, visits] = [o.records.rows(T.hives).length, o.visits()];
    expect(await o.save(null, 20)).toEqual({
      problems: { '': expect.stringContaining('Nothing was saved: The record to set is empty') },
    });
    expect([o.records.rows(T.hives).length, o.visits(), o.writes]).toEqual([hives, visits, []]);
  });
  it('runs afterwards where the maker has not said otherwise', async () => {
    for (const within of [undefined, 'after'] as const) {
      const o = open(within, [visit()]);
      await o.save('bramble', 20);
      await o.settle();
      expect(o.writes).toEqual([
        [1, false],
        [1, false],
      ]);
    }
  });
});

describe('finding one record', () => {
  const none = {
    ...allOf(T.hives),
    where: { match: 'all' as const, conditions: [{ left: F.name, op: 'is' as const, right: '"None"' }] },
  };
  const get = (more: Partial<Step> = {}): Step =>
    ({ ...make.step('get', { query: none, result: 'v_found0000', resultName: 'found' }), ...more }) as Step;
  const ask = make.step('if', {
    when: { match: 'all', conditions: [{ left: 'v_found0000', op: 'is empty', right: '' }] },
    then: [make.step('message', { words: 'None' })],
    otherwise: [make.step('message', { words: 'One' })],
  });
  it('gives nothing that can be asked about, and the routine goes on', async () => {
    const o = open(undefined, [get(), ask]);
    await o.save('bramble', 20);
    await o.settle();
    expect(o.effects).toEqual([{ do: 'message', words: 'None', tone: 'plain' }]);
  });
  it('fails where the maker says what happens then', async () => {
    const o = open(undefined, [
      get({ ifFails: [make.step('message', { words: 'Not there' }), make.step('stop')] }),
      ask,
    ]);
    await o.save('bramble', 20);
    await o.settle();
    expect(o.effects).toEqual([{ do: 'message', words: 'Not there', tone: 'plain' }]);
  });
});
