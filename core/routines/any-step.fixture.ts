import fc from 'fast-check';
import type { Step } from '../app/schema.ts';
import { allOf } from '../document/queries.ts';
import { F, T } from '../records/fixture.ts';
import { make, me, say, set } from './fixture.ts';

/** Steps of many kinds, one in another. For tests. */
export const anyStep: fc.Arbitrary<Step> = fc.letrec<{ step: Step; list: Step[] }>((tie) => ({
  list: fc.array(tie('step'), { maxLength: 3 }),
  step: fc.oneof(
    { depthSize: 'small' },
    fc.integer({ min: 1, max: 60 }).map((n) => set(String(n))),
    fc.constant(null).map(() => set(`${me}.${F.weight} + 1`)),
    fc.constantFrom('{count(all_t_visits0)} visits', `{${me}.${F.name}} weighs {${me}.${F.weight}}`).map(say),
    fc.integer({ min: 1, max: 9 }).map((n) =>
      make.step('add', {
        table: T.visits,
        values: [
          { field: F.hive, value: me },
          { field: F.fed, value: String(n) },
        ],
        resultName: 'new visit',
      }),
    ),
    fc.constant(null).map(() => make.step('wait', { time: 'duration("PT1M")' })),
    fc.constant(null).map(() => make.step('mail', { to: `${me}.${F.keeper}.${F.mail}`, subject: 's', body: 'b' })),
    fc.tuple(tie('list'), tie('list')).map(([then, otherwise]) =>
      make.step('if', {
        when: { match: 'all', conditions: [{ left: `${me}.${F.weight}`, op: 'over', right: '15' }] },
        then,
        otherwise,
      }),
    ),
    tie('list').map((steps) => make.step('together', { steps })),
    fc
      .tuple(tie('list'), fc.constantFrom(undefined, 2, 3))
      .map(([steps, atOnce]) =>
        make.step('each', { query: allOf(T.keepers), resultName: 'this keeper', steps, ...(atOnce && { atOnce }) }),
      ),
  ),
})).step;
