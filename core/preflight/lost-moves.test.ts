import { describe, expect, it } from 'vitest';
import { ElementMaker } from '../app/make.ts';
import type { Step } from '../app/schema.ts';
import { thisId } from '../document/ids.ts';
import { allOf } from '../document/queries.ts';
import { Model } from '../records/model.ts';
import { F, hiveApp, T } from '../records/fixture.ts';
import { NOTES } from '../../kinds/notes/index.ts';
import { lostMoves, moveIn } from './lost-moves.ts';
import { Looking } from './note.ts';

const make = new ElementMaker();
const me = thisId(T.hives);
const own = `${me}.${F.weight}`;
const set = (value: string, field: string = F.weight): Step =>
  make.step('set', { record: me, values: [{ field, value }] });
const fields = (id: string) => new Model(hiveApp()).field(id);

describe('a number that is set to itself and something more', () => {
  it.each([
    [`${own} + 5`, 'raise', '5'],
    [`5 + ${own}`, 'raise', '5'],
    [`${own} - 5`, 'lower', '5'],
    [`${own} - 5 - 2`, 'lower', '5 + 2'],
    [`${own} - (5 - 2)`, 'lower', '(5 - 2)'],
    [`${own} + 5 - 2 * 3`, 'raise', '5 - 2 * 3'],
    [`1 + ${own} - v_amount00`, 'raise', '1 - v_amount00'],
  ])('%s', (formula, how, amount) => expect(moveIn(formula, own)).toEqual({ how, amount }));
  it.each([own, '5', `5 - ${own}`, `${own} * 2`, `${own} + ${own}`, `${own} + 2 * ${own}`, `${own}x + 1`, '(', ''])(
    'is not %s',
    (formula) => expect(moveIn(formula, own)).toBeNull(),
  );
  it('is told where its change gets lost, and mended in place, at any depth', () => {
    const inner = set(`${own} + 1`);
    inner.note = 'One more';
    const steps = [
      set('5'),
      set(`${own} + 1`, F.name),
      make.step('each', { query: allOf(T.hives), steps: [inner] }),
      { ...set(`${own} - 1`), off: true } as Step,
    ];
    const [mistake, ...more] = lostMoves(steps, fields);
    expect(more).toEqual([]);
    expect(mistake).toMatchObject({
      step: inner.id,
      said: 'When two phones do this at the same time, one change of Weight is lost.',
    });
    const routine = { id: 'q_1', name: 'R', given: T.hives, steps };
    mistake!.mend!.do(routine);
    const [, , each] = routine.steps as [Step, Step, Extract<Step, { do: 'each' }>];
    expect(each.steps).toEqual([
      {
        id: inner.id,
        do: 'raise',
        how: 'raise',
        record: me,
        values: [{ field: F.weight, value: '1' }],
        note: 'One more',
      },
    ]);
    expect(lostMoves(routine.steps, fields)).toEqual([]);
  });
  it('is a note of preflight', () => {
    const app = hiveApp();
    app.routines = [{ id: 'q_first0000', name: 'Count', given: T.hives, steps: [set(`${own} + 1`)] }];
    const note = NOTES.find((n) => n.name === 'numbers whose changes get lost')!;
    expect(note.find(new Looking(app)).map((n) => n.said)).toEqual([
      'Count: When two phones do this at the same time, one change of Weight is lost. Raise or lower it by the amount instead.',
    ]);
  });
});
