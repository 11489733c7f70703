import { describe, expect, it } from 'vitest';
import { stepKinds } from './kinds.ts';
import { NOTES } from '../../kinds/notes/index.ts';
import type { Step } from '../app/schema.ts';
import { allOf } from '../document/queries.ts';
import { Looking } from '../preflight/note.ts';
import { F, T, hiveApp } from '../records/fixture.ts';
import { make, run, say, set, world } from './fixture.ts';
import { endKey, namedTooEarly, stepReach } from './reach.ts';

const workOut = (result: string, value: string): Step =>
  make.step('work out', { value, result, resultName: result.replace('v_', '').replace(/0+$/, '') });
const when = { match: 'all' as const, conditions: [{ left: '1', op: 'is' as const, right: '1' }] };
const [A, B, C] = ['v_first000', 'v_second00', 'v_third000'];
const early = (...steps: Step[]): string[] => [...namedTooEarly(stepKinds, steps).values()].flat().map((e) => e.said);

describe('a result', () => {
  it('is not in reach of the step that gives it, nor of one before it', async () => {
    const own = workOut(A, `${A} + 1`);
    expect(early(own)).toEqual(['“first” is what this step gives, so it is not there yet where the step begins.']);
    expect(early(set(A), workOut(A, '4'))).toEqual(['“first” is used here, and given only by a later step.']);
    expect(early(workOut(A, '4'), set(A))).toEqual([]);
    // What it would have been set to nothing by stays as it is.
    const w = world([set('4'), own, set(A)]);
    const { state } = await run(w);
    expect(state.ended?.error).toContain('is what this step gives');
    expect(w.records.row(T.hives, 'bramble')!.cells[F.weight]).toBe(4);
  });
  it('is in reach inside the step that gives it, and of one way not on another', () => {
    const each = make.step('each', { query: allOf(T.hives), result: A, steps: [set(A)] });
    expect(early(each)).toEqual([]);
    const loop = { ...each, query: { ...allOf(T.hives), limit: A } } as unknown as Step;
    expect(early(loop)).toHaveLength(1);
    const iff = make.step('if', { when, then: [workOut(A, '1')], otherwise: [set(A)] });
    expect(early(iff)).toEqual(['“first” is used here, and not given on the way that leads here.']);
    expect(early(make.step('if', { when, then: [workOut(A, '1')], otherwise: [] }), set(A))).toEqual([]);
    const menu = make.step('menu', {
      words: 'w',
      choices: [
        make.step('choice', { words: 'a', steps: [workOut(A, '1')] }),
        make.step('choice', { words: 'b', steps: [set(A)] }),
      ],
    });
    expect(early(menu)).toHaveLength(1);
    expect(early(menu, set(A))).toHaveLength(1);
  });
  it('is not given by a step that is off, nor where it failed', () => {
    expect(early({ ...workOut(A, '1'), off: true } as Step, set(A))).toHaveLength(1);
    const get = make.step('get', { query: allOf(T.hives), result: A });
    expect(early({ ...get, ifFails: [set(A)] } as Step)).toHaveLength(1);
    const failing = { ...get, reason: B, ifFails: [say(`{${B}}`)] } as Step;
    expect(early(failing, say(`{${B}}`))).toEqual([
      '“the reason” is used here, and not given on the way that leads here.',
    ]);
  });
  it('of the lines of a mail is in reach in its line alone', () => {
    const mail = make.step('mail', {
      to: '"a@b.example"',
      query: allOf(T.hives),
      line: `{${A}.${F.name}}`,
      result: A,
      resultName: 'first',
      after: '',
    });
    expect(early(mail)).toEqual([]);
    expect(early({ ...mail, after: `{${A}.${F.name}}` } as Step)).toHaveLength(1);
    expect(early(mail, say(`{${A}.${F.name}}`))).toHaveLength(1);
  });
  it('is offered at the end of each list as far as it has been given', () => {
    const iff = make.step('if', { when, then: [workOut(A, '1')], otherwise: [workOut(B, '1')] });
    const { ends, at } = stepReach(stepKinds, [iff, workOut(C, '1')]);
    const names = (key: string): string[] => [...(ends.get(key) ?? [])].sort();
    expect(names(endKey(iff.id, 'then'))).toEqual([A]);
    expect(names(endKey(iff.id, 'otherwise'))).toEqual([B]);
    expect(names(endKey(null))).toEqual([A, B, C].sort());
    expect([...at.get(iff.id)!]).toEqual([]);
  });
  it('that is named too early stops a release of a routine that is started', () => {
    const app = hiveApp();
    app.routines = [
      {
        id: 'q_first0000',
        name: 'Count',
        given: T.hives,
        steps: [workOut(A, `${A} + 1`)],
        starts: [{ on: 'app started' }],
      },
    ] as never;
    const note = NOTES.find((n) => n.name === 'steps in an order that cannot be meant')!;
    expect(note.find(new Looking(app))).toMatchObject([
      { severity: 'stops', said: expect.stringContaining('Count: “first” is what') },
    ]);
  });
});
